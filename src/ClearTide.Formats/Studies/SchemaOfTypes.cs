using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Schema;
using ClearTide.Core.Data;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Formats.Studies;

/// <summary>
/// Makes the JSON Schema of study files from the types they are read into. That takes half a second at a start, so that what it makes ships
/// with the application; a test holds the two against each other, so that the schema cannot fall behind the types.
/// </summary>
internal static class SchemaOfTypes
{
    /// <summary>The schema of study files as text.</summary>
    public static string Study() => For(StudyFile.Format);

    /// <summary>The schema of parts on the clipboard as text.</summary>
    public static string Parts() =>
        For(
            PartsFile.Format,
            (
                "units",
                new JsonObject
                {
                    ["type"] = "array",
                    ["maxItems"] = SetUnit.MostUnits,
                    ["items"] = Of(typeof(UnitRule), "#/properties/units/items"),
                }
            )
        );

    private static string For(string format, params (string Name, JsonNode Schema)[] more)
    {
        var properties = new JsonObject
        {
            ["format"] = new JsonObject { ["const"] = format },
            ["version"] = new JsonObject
            {
                ["type"] = "integer",
                ["minimum"] = 1,
                ["maximum"] = StudyFile.Version,
            },
            ["study"] = Of(typeof(StudyDocument), "#/properties/study"),
            ["dataSets"] = new JsonObject
            {
                ["type"] = "array",
                ["maxItems"] = FileLimits.MostDataSets,
                ["items"] = Of(typeof(DataSet), "#/properties/dataSets/items"),
            },
        };
        foreach (var (name, schema) in more)
            properties[name] = schema;
        return new JsonObject
            {
                ["$schema"] = "https://json-schema.org/draft/2020-12/schema",
                ["title"] = "Clear Tide study",
                ["description"] =
                    "A study with the data it refers to. What is left out has its usual value: empty texts and lists, "
                    + "switches in their usual position.",
                ["type"] = "object",
                ["required"] = new JsonArray("format", "version", "study"),
                ["properties"] = properties,
            }.ToJsonString(new JsonSerializerOptions { WriteIndented = true, NewLine = "\n" }) + "\n";
    }

    /// <param name="place">Where it stands in the whole schema: what it says of itself by reference is to be found there.</param>
    private static JsonNode Of(Type type, string place)
    {
        var schema = StudyFile.Options.GetJsonSchemaAsNode(
            type,
            new() { TreatNullObliviousAsNonNullable = true, TransformSchemaNode = Shape }
        );
        Move(schema, place);
        return schema;
    }

    private static JsonNode Shape(JsonSchemaExporterContext context, JsonNode node)
    {
        var shaped = Ends(context.TypeInfo.Type, node);
        if (shaped is JsonObject schema)
            FileLimits.Add(context, schema);
        return shaped;
    }

    private static void Move(JsonNode? node, string place)
    {
        if (node is JsonArray entries)
            foreach (var entry in entries)
                Move(entry, place);
        if (node is not JsonObject fields)
            return;
        if (fields["$ref"] is JsonValue reference)
            fields["$ref"] = place + reference.GetValue<string>()[1..];
        foreach (var (_, value) in fields)
            Move(value, place);
    }

    /// <summary>What own converters write, which the exporter cannot see.</summary>
    private static JsonNode Ends(Type type, JsonNode node)
    {
        if (type == typeof(System.Collections.Immutable.ImmutableArray<Target>))
        {
            return new JsonObject
            {
                ["description"] = "Where a flow leads: the id of a compartment, null for the outside, or a list of ends with shares.",
                ["type"] = new JsonArray("string", "null", "array"),
                ["items"] = new JsonObject
                {
                    ["type"] = "object",
                    ["properties"] = new JsonObject
                    {
                        ["id"] = new JsonObject { ["type"] = new JsonArray("string", "null") },
                        ["share"] = new JsonObject { ["type"] = "string" },
                    },
                },
            };
        }
        if (type == typeof(TimeUnit))
        {
            return new JsonObject { ["description"] = "A unit of time by its name, as in day.", ["type"] = "string" };
        }
        return node;
    }
}
