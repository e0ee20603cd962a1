using System.Globalization;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;
using CsvHelper;
using CsvHelper.Configuration;

namespace ClearTide.Formats.Tables;

/// <summary>A column of results: its head, and a number for each time.</summary>
public sealed record TableColumn(string Head, double[] Values);

/// <summary>
/// Results as CSV: numbers with the fewest digits that give the same bits when they are read back; empty where there is none.
/// </summary>
public static class ResultTable
{
    /// <summary>A run: <c>time</c>, then the columns in their order.</summary>
    /// <param name="first">Head of the first column, where that is something else than time.</param>
    /// <param name="between">What stands between columns; a tab for what is pasted into a spreadsheet.</param>
    public static void Write(
        TextWriter output,
        IReadOnlyList<double> times,
        IReadOnlyList<TableColumn> columns,
        string first = "time",
        string between = ","
    )
    {
        using var csv = Writer(output, between);
        csv.WriteField(Name(first));
        foreach (var column in columns)
            csv.WriteField(Name(column.Head));
        csv.NextRecord();
        for (var k = 0; k < times.Count; k++)
        {
            csv.WriteField(Exact(times[k]));
            foreach (var column in columns)
                csv.WriteField(Exact(column.Values[k]));
            csv.NextRecord();
        }
    }

    /// <summary>Several runs, tidy: a row for each run and time.</summary>
    /// <param name="runs">For each run its columns, in the order of the names.</param>
    /// <param name="what">What a run is: a replicate by chance, or a subject.</param>
    /// <param name="from">The number of the first.</param>
    public static void Write(
        TextWriter output,
        IReadOnlyList<double> times,
        IReadOnlyList<string> names,
        IReadOnlyList<IReadOnlyList<double[]>> runs,
        string what = "replicate",
        int from = 0
    )
    {
        using var csv = Writer(output);
        csv.WriteField(what);
        csv.WriteField("time");
        foreach (var name in names)
            csv.WriteField(Name(name));
        csv.NextRecord();
        for (var run = 0; run < runs.Count; run++)
        {
            for (var row = 0; row < times.Count; row++)
            {
                csv.WriteField(from + run);
                csv.WriteField(Exact(times[row]));
                foreach (var column in runs[run])
                    csv.WriteField(Exact(column[row]));
                csv.NextRecord();
            }
        }
    }

    /// <summary>An ensemble, tidy: a row for each time and variable, with mean, standard deviation and quantiles over replicates.</summary>
    /// <param name="names">Of the variables, in the order of the tallies.</param>
    /// <param name="tallies">For each variable and time.</param>
    public static void Write(TextWriter output, IReadOnlyList<double> times, IReadOnlyList<string> names, Tally[][] tallies)
    {
        using var csv = Writer(output);
        foreach (var heading in (string[])["time", "variable", "mean", "sd", "p05", "p25", "p50", "p75", "p95"])
            csv.WriteField(heading);
        csv.NextRecord();
        for (var row = 0; row < times.Count; row++)
        {
            for (var k = 0; k < names.Count; k++)
            {
                var tally = tallies[k][row];
                csv.WriteField(Exact(times[row]));
                csv.WriteField(Name(names[k]));
                csv.WriteField(Exact(tally.Mean));
                csv.WriteField(double.IsFinite(tally.Deviation) ? Exact(tally.Deviation) : "");
                foreach (var quantile in tally.Quantiles(0.05, 0.25, 0.5, 0.75, 0.95))
                    csv.WriteField(Exact(quantile));
                csv.NextRecord();
            }
        }
    }

    /// <summary>A fit: one row for each estimate; an end of an interval is empty where the data give none.</summary>
    public static void Write(TextWriter output, FitResult fit)
    {
        using var csv = Writer(output);
        foreach (var heading in (string[])["value", "estimate", "standard_error", "low_95", "high_95", "knowledge", "words"])
            csv.WriteField(heading);
        csv.NextRecord();
        foreach (var estimate in fit.Estimates)
        {
            csv.WriteField(Name(estimate.Address.ToString()));
            foreach (var number in (double?[])[estimate.Value, estimate.StandardError, estimate.Low, estimate.High])
                csv.WriteField(number is { } known ? Exact(known) : "");
            csv.WriteField(estimate.Knowledge.ToString());
            csv.WriteField(estimate.Sentence);
            csv.NextRecord();
        }
    }

    /// <summary>A projection: one row for each scenario and interval with its bands.</summary>
    public static void Write(TextWriter output, ProjectionSummary projection)
    {
        using var csv = Writer(output);
        foreach (
            var heading in (string[])
                ["scenario", "interval_start", "interval_end", "p5", "p25", "median", "p75", "p95", "share_above_level"]
        )
            csv.WriteField(heading);
        csv.NextRecord();
        foreach (var scenario in projection.Scenarios)
        {
            for (var k = 0; k < scenario.Intervals.Count; k++)
            {
                csv.WriteField(Name(scenario.Name));
                csv.WriteField(Exact(projection.Times[k]));
                csv.WriteField(Exact(projection.Times[k + 1]));
                var band = scenario.Intervals[k];
                foreach (var value in (double[])[band.P5, band.P25, band.Median, band.P75, band.P95])
                    csv.WriteField(Exact(value));
                csv.WriteField(k < scenario.Above.Count ? Exact(scenario.Above[k]) : "");
                csv.NextRecord();
            }
        }
    }

    /// <summary>Shares of sources in the variance of a projection, tidy: a row for each interval and source, with its standard
    /// error.</summary>
    /// <param name="times">Where the future begins, then the end of each interval.</param>
    public static void Write(TextWriter output, IReadOnlyList<double> times, SpreadShares shares)
    {
        using var csv = Writer(output);
        foreach (var heading in (string[])["interval_start", "interval_end", "source", "share", "standard_error"])
            csv.WriteField(heading);
        csv.NextRecord();
        for (var k = 0; k + 1 < times.Count; k++)
        {
            foreach (var one in shares.Sources)
            {
                csv.WriteField(Exact(times[k]));
                csv.WriteField(Exact(times[k + 1]));
                csv.WriteField(one.Source.ToString().ToLowerInvariant());
                csv.WriteField(Exact(one.Share[k]));
                csv.WriteField(Exact(one.Error[k]));
                csv.NextRecord();
            }
        }
    }

    private static readonly Dictionary<ProjectedOutcome, string> OutcomeNames = new()
    {
        [ProjectedOutcome.Peak] = "peak",
        [ProjectedOutcome.PeakInterval] = "interval_of_peak",
        [ProjectedOutcome.Total] = "total",
        [ProjectedOutcome.TimeAbove] = "above_level",
        [ProjectedOutcome.FirstAbove] = "first_above_level",
        [ProjectedOutcome.Cost] = "cost",
    };

    /// <summary>The outcome table of a projection: one row for each scenario and outcome, with the paired difference from the
    /// baseline.</summary>
    public static void WriteOutcomes(TextWriter output, ProjectionSummary projection)
    {
        using var csv = Writer(output);
        foreach (
            var heading in (string[])
                [
                    "scenario",
                    "outcome",
                    "p5",
                    "p25",
                    "median",
                    "p75",
                    "p95",
                    "difference_p5",
                    "difference_p25",
                    "difference_median",
                    "difference_p75",
                    "difference_p95",
                    "share_lower",
                    "share_having",
                    "share_true",
                    "share_true_low",
                    "share_true_high",
                ]
        )
            csv.WriteField(heading);
        csv.NextRecord();
        foreach (var scenario in projection.Scenarios)
        {
            foreach (var outcome in scenario.Outcomes)
            {
                csv.WriteField(Name(scenario.Name));
                csv.WriteField(outcome.Formula.Length > 0 ? Name(outcome.Formula) : OutcomeNames[outcome.Kind]);
                foreach (var band in new[] { outcome.Value, outcome.Difference })
                {
                    foreach (
                        var value in band is null
                            ? [null, null, null, null, null]
                            : (double?[])[band.P5, band.P25, band.Median, band.P75, band.P95]
                    )
                        csv.WriteField(value is { } number ? Exact(number) : "");
                }
                csv.WriteField(outcome.Lower is { } lower ? Exact(lower) : "");
                csv.WriteField(Exact(outcome.Having));
                foreach (
                    var share in outcome.Share is { } truth
                        ? [truth.Share, truth.Low, truth.High]
                        : (double[])[double.NaN, double.NaN, double.NaN]
                )
                    csv.WriteField(Exact(share));
                csv.NextRecord();
            }
        }
    }

    /// <summary>The profiles of a fit as CSV: for each value how far the log-likelihood falls where it is held there.</summary>
    public static void WriteProfiles(TextWriter output, FitResult result)
    {
        using var csv = Writer(output);
        foreach (var head in new[] { "name", "value", "fall" })
            csv.WriteField(head);
        csv.NextRecord();
        for (var k = 0; k < result.Estimates.Length; k++)
        {
            foreach (var point in result.Detail?.Profiles[k] ?? [])
            {
                csv.WriteField(Name(result.Estimates[k].Address.ToString()));
                csv.WriteField(Exact(point.Value));
                csv.WriteField(Exact(point.Fall));
                csv.NextRecord();
            }
        }
    }

    internal static CsvWriter Writer(TextWriter output, string between = ",") =>
        new(output, new CsvConfiguration(CultureInfo.InvariantCulture) { NewLine = "\n", Delimiter = between }, leaveOpen: true);

    /// <summary>A name that a spreadsheet would take for a formula gets a quotation mark before it. Numbers never do: a minus is part of
    /// them.</summary>
    internal static string Name(string name) => name.Length > 0 && "=@+-\t\r".Contains(name[0]) ? $"'{name}" : name;

    internal static string Exact(double value) => double.IsNaN(value) ? "" : TypedNumber.Exact(value);
}
