using System.Globalization;
using System.Net;
using System.Text.Json;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;

namespace ClearTide.Web.Words;

/// <summary>Findings as the ledger writes them: the text with its faulty stretch marked, and fixes as values to post.</summary>
public static class FindingText
{
    /// <summary>The line that a finding's span counts in, with the stretch marked; null where it marks nothing.</summary>
    public static string? Mark(IPart part, Finding finding)
    {
        if (finding.Span is not { } span || Line(part, finding) is not { Length: > 0 } text)
            return null;
        var start = Math.Clamp(span.Start, 0, text.Length);
        var end = Math.Clamp(span.End, start, text.Length);
        return $"{WebUtility.HtmlEncode(text[..start])}<mark>{WebUtility.HtmlEncode(text[start..end])}</mark>{WebUtility.HtmlEncode(text[end..])}";
    }

    private static string? Line(IPart part, Finding finding) => PartKinds.Text(part, finding.Field, finding.At);

    /// <summary>Which handler makes a fix, and the values it is posted with.</summary>
    public static (string Handler, string Values)? Post(FindingFix fix) =>
        fix.Edit switch
        {
            SetField set => (
                "Field",
                JsonSerializer.Serialize(
                    new
                    {
                        partId = set.PartId,
                        field = set.Field.ToString(),
                        value = set.Value,
                        at = set.At.ToString(CultureInfo.InvariantCulture),
                    }
                )
            ),
            AddParameter add => ("Define", JsonSerializer.Serialize(new { symbol = add.Symbol })),
            DropFileNote noted => ("Noted", JsonSerializer.Serialize(new { note = noted.Note })),
            SplitParts parts => (
                "SplitBy",
                JsonSerializer.Serialize(new { groupId = parts.GroupId, partIds = string.Join(',', parts.PartIds) })
            ),
            SplitFlow split => ("Split", JsonSerializer.Serialize(new { partId = split.PartId })),
            SetSolver solver => (
                "Solver",
                JsonSerializer.Serialize(
                    new
                    {
                        method = solver.Method.ToString(),
                        step = TypedNumber.Exact(solver.Step),
                        tolerance = TypedNumber.Exact(solver.Tolerance),
                    }
                )
            ),
            SetSpan span => (
                "Span",
                JsonSerializer.Serialize(new { start = TypedNumber.Exact(span.Start), end = TypedNumber.Exact(span.End) })
            ),
            SetUnit unit => ("Unit", JsonSerializer.Serialize(new { word = unit.Word, meaning = unit.Meaning })),
            _ => null,
        };
}
