using System.Text.Json.Nodes;
using ClearTide.Core.Language;
using Json.Schema;

namespace ClearTide.Formats.Studies;

/// <summary>Holds a file against the schema that ships, and says where it departs and how.</summary>
internal static class SchemaCheck
{
    private static readonly Lazy<JsonSchema> Study = new(() => JsonSchema.FromText(StudySchema.Text)),
        Parts = new(() => JsonSchema.FromText(StudySchema.Parts));

    private static readonly Lock Turn = new();

    /// <summary>So many departures are told; the rest of a file that is of another kind throughout is not.</summary>
    private const int Told = 3;

    /// <exception cref="StudyFileException">The file departs from the schema; the message has the places, as JSON Pointers (RFC
    /// 6901).</exception>
    public static void Require(JsonNode root, string format)
    {
        if (Infinite(root, "") is { } number)
            throw new StudyFileException($"{number} holds a number that is too large. Correct it there.");
        EvaluationResults found;
        // The library prepares a schema while it is first used, which is not made for several at once.
        lock (Turn)
            found = (format == PartsFile.Format ? Parts : Study).Value.Evaluate(
                root,
                new EvaluationOptions { OutputFormat = OutputFormat.List }
            );
        if (found.IsValid)
            return;
        var departures = found
            .Details.Where(detail => detail.HasErrors)
            .SelectMany(detail =>
                detail.Errors!.Select(error => (Where: detail.InstanceLocation.ToString(), Keyword: error.Key, Words: error.Value))
            )
            .Select(one => $"{(one.Where.Length > 0 ? one.Where : "the file itself")}: {Say(one.Keyword, one.Words)}")
            .Distinct()
            .ToList();
        var more = departures.Count > Told ? $" And {departures.Count - Told} more." : "";
        throw new StudyFileException(
            $"This file does not fit the schema of studies. "
                + $"{string.Join(' ', departures.Take(Told))}{more} Correct it there, or export it again where it came from."
        );
    }

    /// <summary>The library's words, as a sentence.</summary>
    private static string Say(string keyword, string words) =>
        keyword switch
        {
            "required" => $"what is required is missing ({Shortened(words)}).",
            "type" => $"something of another kind stands here ({Shortened(words)}).",
            _ => $"{Shortened(words).TrimEnd('.')}.",
        };

    private static string Shortened(string words) => words.Length <= 160 ? words : words[..159] + "…";

    /// <summary>The place of a number past the largest that a run can count with; null where there is none. The schema's own bounds are
    /// decimal.</summary>
    private static string? Infinite(JsonNode? node, string path) =>
        node switch
        {
            JsonObject fields => fields
                .Select(field => Infinite(field.Value, $"{path}/{field.Key}"))
                .FirstOrDefault(found => found is not null),
            JsonArray entries => entries.Select((entry, k) => Infinite(entry, $"{path}/{k}")).FirstOrDefault(found => found is not null),
            JsonValue value
                when value.GetValueKind() == System.Text.Json.JsonValueKind.Number
                    && !(value.TryGetValue<double>(out var number) && double.IsFinite(number)) => path,
            _ => null,
        };
}
