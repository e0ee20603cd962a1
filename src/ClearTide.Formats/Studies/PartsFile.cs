using System.Text.Json;
using System.Text.Json.Nodes;
using ClearTide.Core.Conversion;
using ClearTide.Core.Units;

namespace ClearTide.Formats.Studies;

/// <summary>Parts on their way from one study to another, as a text for the clipboard: the same form as in a study file.</summary>
public static class PartsFile
{
    public const string Format = "clear-tide-parts";

    public static string Write(PartSelection selection) =>
        new JsonObject
        {
            ["format"] = Format,
            ["version"] = StudyFile.Version,
            ["study"] = JsonSerializer.SerializeToNode(selection.Parts, StudyFile.Options),
            ["units"] = JsonSerializer.SerializeToNode(selection.Units, StudyFile.Options),
        }.ToJsonString(StudyFile.Options);

    /// <exception cref="StudyFileException">The text holds no parts of a study.</exception>
    public static PartSelection Read(string text)
    {
        var (document, root) = StudyFile.ReadRoot(text, Format, "These are not parts of a study: copy some in the ledger first.");
        return new(document, root["units"]?.Deserialize<System.Collections.Immutable.ImmutableArray<UnitRule>>(StudyFile.Options) ?? []);
    }
}
