using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Nodes;
using ClearTide.Core.Model;

namespace ClearTide.Formats.Studies;

/// <summary>
/// Fields beside the study in its file that this version does not know. While the study is worked on they travel as one field of the study
/// itself; in a file they stand where they stood.
/// </summary>
internal static class BesideFields
{
    private const string Name = "beside";
    private static readonly ImmutableArray<string> Known = ["format", "version", "study", "dataSets"];

    public static StudyDocument Read(JsonObject root, StudyDocument document)
    {
        var found = root.Where(field => !Known.Contains(field.Key)).ToDictionary(field => field.Key, field => field.Value);
        if (found.Count == 0)
            return document;
        var unknown = new Dictionary<string, object>(document.Unknown ?? new Dictionary<string, object>())
        {
            [Name] = JsonSerializer.SerializeToElement(found),
        };
        return document with { Unknown = unknown };
    }

    public static void Write(JsonObject root)
    {
        if (root["study"] is not JsonObject study || study[Name] is not JsonObject beside)
            return;
        study.Remove(Name);
        foreach (var (key, value) in beside.ToList())
        {
            beside.Remove(key);
            if (!root.ContainsKey(key))
                root[key] = value;
        }
    }
}
