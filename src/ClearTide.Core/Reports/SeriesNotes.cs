using ClearTide.Core.Data;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Reports;

/// <summary>Tells which data do not lie on the run: points outside the span, times that are likely in another unit, and series whose
/// flow or formula is gone.</summary>
internal static class SeriesNotes
{
    /// <summary>Data that span this many times more or less than the model are likely in another unit of time.</summary>
    private const double FarApart = 100;

    public static IEnumerable<Finding> Of(StudyDocument document, IReadOnlyList<ObservedCurve> curves)
    {
        foreach (var curve in curves)
        {
            var (observation, data) = curve.Series;
            if (curve.Problem is { } problem)
                yield return Doubt($"{observation.Label}: {problem}");
            if (SeriesUnits.Of(document, observation) is { Unit: { } seen } units && (units.Problem is not null || units.Factor != 1))
                yield return Doubt(
                    units.Problem
                        ?? $"{observation.Label} are in {observation.Unit}, and what they have seen is in {SeriesUnits.Words(seen)} now. "
                            + "Say under Data how they were seen once more, and they are converted."
                );
            if (OfUnit(document, observation.Label, data.Rows) is { } unit)
                yield return unit;
            else if (Outside(document, observation.Label, data.Rows) is { } outside)
                yield return outside;
        }
    }

    private static Finding? OfUnit(StudyDocument document, string label, IReadOnlyList<DataRow> rows)
    {
        var (span, until) = (document.End - document.Start, rows.Max(row => row.End) - rows.Min(row => row.Start));
        if (rows.Count < 3 || !(until > 0) || until <= span * FarApart && span <= until * FarApart)
            return null;
        var unit = document.TimeUnit;
        return Doubt(
            $"{label} spans {unit.Length(until)}, and the model {unit.Length(span)}. Its times are likely in another unit: bring the table "
                + "again in the study’s, or change the unit of time beside the span."
        );
    }

    private static Finding? Outside(StudyDocument document, string label, IReadOnlyList<DataRow> rows)
    {
        var (first, last) = (rows.Min(row => row.Start), rows.Max(row => row.End));
        var count = rows.Count(row => row.Start < document.Start || row.End > document.End);
        if (count == 0)
            return null;
        var (start, end) = (Math.Min(document.Start, Math.Floor(first)), Math.Max(document.End, Math.Ceiling(last)));
        var unit = document.TimeUnit;
        return Doubt(
            $"{count} {(count == 1 ? "point" : "points")} of {label} {(count == 1 ? "lies" : "lie")} outside the span, which goes from "
                + $"{unit.Singular} {NumberWords.Of(document.Start)} to {NumberWords.Of(document.End)}.",
            new FindingFix(
                $"{(start < document.Start ? "Run from" : "Run to")} {NumberWords.Of(start < document.Start ? start : end)}",
                new SetSpan(start, end)
            )
        );
    }

    private static Finding Doubt(string message, params FindingFix[] fixes) =>
        new(null, PartField.Text, Severity.Doubt, null, message, fixes);
}
