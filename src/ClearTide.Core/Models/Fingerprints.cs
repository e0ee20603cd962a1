using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using ClearTide.Core.Data;

namespace ClearTide.Core.Models;

/// <summary>Hashes of the content that numbers depend on: formulas, amounts, data and settings, not labels, notes or positions.</summary>
public static class Fingerprints
{
    /// <summary>The content behind a fit: the values that it estimates count by their address alone, so that adopting estimates does not outdate it.</summary>
    public static string Of(StudyDocument document, Observation observation, DataSet data)
    {
        var text = new StringBuilder();
        Content(text, document, observation, data, [.. document.Fit.Parameters.Select(parameter => parameter.Address)]);
        text.Append(document.Fit.Law).Append('\n');
        foreach (var parameter in document.Fit.Parameters) text.Append(CultureInfo.InvariantCulture, $"{parameter.Address} {parameter.Lower:R} {parameter.Upper:R}\n");
        return Hash(text.ToString());
    }

    /// <summary>Model, observation and data as text for hashing, every value included.</summary>
    public static string OfContent(StudyDocument document, Observation observation, DataSet data)
    {
        var text = new StringBuilder();
        Content(text, document, observation, data, []);
        return text.ToString();
    }

    private static void Content(StringBuilder text, StudyDocument document, Observation observation, DataSet data, HashSet<string> estimated)
    {
        Model(text, document, estimated);
        text.Append(observation.FlowId).Append(' ').Append(observation.Reporting).Append('\n');
        foreach (var row in data.Rows) text.Append(CultureInfo.InvariantCulture, $"{row.Start:R} {row.End:R} {row.Value:R}\n");
    }

    private static void Model(StringBuilder text, StudyDocument document, HashSet<string> estimated)
    {
        text.Append(document.TimeUnit.Singular).Append(CultureInfo.InvariantCulture, $" {document.Start:R}\n");
        foreach (var part in document.Compartments) text.Append(part.Symbol).Append(' ').Append(Shown($"{part.Symbol}.start", part.Start, estimated)).Append('\n');
        foreach (var part in document.Flows)
        {
            var stay = $"{document.Compartment(part.From)?.Symbol}.{(part.Kind == RateKind.MeanStay ? "stay" : "rate")}";
            text.Append(part.Id).Append(' ').Append(document.Describe(part)).Append(' ').Append(part.Kind).Append(' ').Append(Shown(stay, part.Rate, estimated)).Append('\n');
        }
        foreach (var part in document.Definitions) text.Append(part.Symbol).Append(' ').Append(Shown(part.Symbol, part.Text, estimated)).Append('\n');
    }

    private static string Shown(string address, string text, HashSet<string> estimated) => estimated.Contains(address) ? "?" : text;

    public static string Hash(string text) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text)));
}
