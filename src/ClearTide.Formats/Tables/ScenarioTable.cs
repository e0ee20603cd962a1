using ClearTide.Core.Interventions;

namespace ClearTide.Formats.Tables;

/// <summary>What scenarios come to without chance, as CSV: a row for each scenario and outcome, with its change from the baseline.</summary>
public static class ScenarioTable
{
    /// <param name="output">Takes the text.</param>
    /// <param name="runs">The baseline and its scenarios. One whose run failed has no rows.</param>
    /// <param name="isFlow">Whether a flow is followed, which has a total; else what is left at the end is told.</param>
    /// <param name="withCost">Whether any scenario has a cost.</param>
    /// <param name="rows">The study's own outcomes, as typed, in the order of the runs' <see cref="ScenarioCurve.Rows"/>.</param>
    public static void Write(TextWriter output, ScenarioRuns runs, bool isFlow, bool withCost, IReadOnlyList<string> rows)
    {
        using var csv = ResultTable.Writer(output);
        foreach (var head in (string[])["scenario", "outcome", "value", "change"])
            csv.WriteField(head);
        csv.NextRecord();
        var baseline = Outcomes(runs.Curves[0], isFlow, withCost, rows);
        foreach (var (s, curve) in runs.Curves.Index())
        {
            foreach (var (k, (name, value)) in Outcomes(curve, isFlow, withCost, rows).Index())
            {
                csv.WriteField(ResultTable.Name(curve.Name));
                csv.WriteField(ResultTable.Name(name));
                csv.WriteField(ResultTable.Exact(value));
                csv.WriteField(ResultTable.Exact(s == 0 || baseline.Count == 0 ? double.NaN : value - baseline[k].Value));
                csv.NextRecord();
            }
        }
    }

    private static List<(string Name, double Value)> Outcomes(ScenarioCurve curve, bool isFlow, bool withCost, IReadOnlyList<string> rows)
    {
        if (curve.Outcomes is not { } found)
            return [];
        List<(string, double)> all =
        [
            ("peak", found.Maximum),
            ("time of peak", found.MaximumTime),
            isFlow ? ("total", found.Integral) : ("at the end", found.Final),
        ];
        if (withCost)
            all.Add(("cost", curve.Cost));
        all.AddRange(rows.Zip(curve.Rows));
        return all;
    }
}
