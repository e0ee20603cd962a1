using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Schema;
using ClearTide.Core.Data;
using ClearTide.Core.Models;

namespace ClearTide.Formats.Studies;

/// <summary>The JSON Schema of study files, taken from the types they are read into, so that it cannot fall behind them.</summary>
public static class StudySchema
{
    private static readonly Lazy<string> Whole = new(() => new JsonObject
    {
        ["$schema"] = "https://json-schema.org/draft/2020-12/schema",
        ["title"] = "Clear Tide study",
        ["description"] = "A study with the data it refers to. What is left out has its usual value: empty texts and lists, switches in their usual position.",
        ["type"] = "object",
        ["required"] = new JsonArray("format", "version", "study"),
        ["properties"] = new JsonObject
        {
            ["format"] = new JsonObject { ["const"] = StudyFile.Format },
            ["version"] = new JsonObject { ["type"] = "integer", ["minimum"] = 1, ["maximum"] = StudyFile.Version },
            ["study"] = Of(typeof(StudyDocument)),
            ["dataSets"] = new JsonObject { ["type"] = "array", ["items"] = Of(typeof(DataSet)) },
        },
    }.ToJsonString(new JsonSerializerOptions { WriteIndented = true, NewLine = "\n" }) + "\n");

    /// <summary>The schema as text.</summary>
    public static string Text => Whole.Value;

    private static JsonNode Of(Type type) => StudyFile.Options.GetJsonSchemaAsNode(type, new()
    {
        TreatNullObliviousAsNonNullable = true,
        TransformSchemaNode = (context, node) => Ends(context.TypeInfo.Type, node),
    });

    /// <summary>What own converters write, which the exporter cannot see.</summary>
    private static JsonNode Ends(Type type, JsonNode node)
    {
        if (type == typeof(System.Collections.Immutable.ImmutableArray<Target>))
        {
            return new JsonObject
            {
                ["description"] = "Where a flow leads: the id of a compartment, null for the outside, or a list of ends with shares.",
                ["type"] = new JsonArray("string", "null", "array"),
                ["items"] = new JsonObject { ["type"] = "object", ["properties"] = new JsonObject { ["id"] = new JsonObject { ["type"] = new JsonArray("string", "null") }, ["share"] = new JsonObject { ["type"] = "string" } } },
            };
        }
        if (type == typeof(Core.Units.TimeUnit)) return new JsonObject { ["description"] = "A unit of time by its name, as in day.", ["type"] = "string" };
        return node;
    }
}
