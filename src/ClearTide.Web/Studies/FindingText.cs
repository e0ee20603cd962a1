using System.Net;
using System.Text.Json;
using ClearTide.Core.Formulas;
using ClearTide.Core.Models;

namespace ClearTide.Web.Studies;

/// <summary>Findings as the ledger writes them: the text with its faulty stretch marked, and fixes as values to post.</summary>
public static class FindingText
{
    public static string Mark(LedgerLine line, TextSpan span)
    {
        // Spans count from the rate itself; the typed line has its word before it.
        var text = line.Field == PartField.Rate ? RateLine.Read(line.Typed, RateKind.Whole).Line : line.Typed;
        var start = Math.Clamp(span.Start, 0, text.Length);
        var end = Math.Clamp(span.End, start, text.Length);
        return $"{WebUtility.HtmlEncode(text[..start])}<mark>{WebUtility.HtmlEncode(text[start..end])}</mark>{WebUtility.HtmlEncode(text[end..])}";
    }

    public static string Values(SetField fix) => JsonSerializer.Serialize(new { partId = fix.PartId, field = fix.Field.ToString(), value = fix.Value });

    public static string Values(AddParameter fix) => JsonSerializer.Serialize(new { symbol = fix.Symbol });
}
