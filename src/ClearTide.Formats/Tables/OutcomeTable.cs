using System.Globalization;
using ClearTide.Core.Ensembles;

namespace ClearTide.Formats.Tables;

/// <summary>What formulas over runs come to, as CSV with a row for each: of a statement the mean is the share of runs in which it is
/// true.</summary>
public static class OutcomeTable
{
    private static readonly double[] Shares = [0.05, 0.25, 0.5, 0.75, 0.95];

    /// <param name="formulas">As typed, in the order of what was found.</param>
    public static void Write(TextWriter output, IReadOnlyList<string> formulas, IReadOnlyList<ChanceOutcomes> found)
    {
        using var csv = ResultTable.Writer(output);
        foreach (var head in (string[])["outcome", "runs", "without", "mean", "low", "high", "sd", "p05", "p25", "p50", "p75", "p95"])
            csv.WriteField(head);
        csv.NextRecord();
        for (var k = 0; k < formulas.Count; k++)
        {
            var (mean, one) = (found[k].Mean(), found[k]);
            csv.WriteField(ResultTable.Name(formulas[k]));
            csv.WriteField(one.Runs.ToString(CultureInfo.InvariantCulture));
            csv.WriteField(one.Without.ToString(CultureInfo.InvariantCulture));
            foreach (var number in (double[])[mean.Value, mean.Low, mean.High, mean.Deviation, .. one.Quantiles(Shares)])
                csv.WriteField(ResultTable.Exact(number));
            csv.NextRecord();
        }
    }
}
