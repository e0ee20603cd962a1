using ClearTide.Core.Data;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Formats.Tables;

namespace ClearTide.Web.Curves;

/// <summary>All series of data on a model downwards by time, each with what the run expects of it.</summary>
public static class ObservedTable
{
    /// <summary>The times at which any series has a row.</summary>
    public static IReadOnlyList<double> Times(StudyRun run) =>
        [.. run.Observed.SelectMany(curve => curve.Series.Data.Rows).Select(row => row.End).Distinct().Order()];

    /// <summary>For each series what was observed and what is expected at these times; empty where it has no row.</summary>
    public static IReadOnlyList<TableColumn> Columns(StudyRun run)
    {
        var times = Times(run);
        var alone = run.Observed.Count == 1;
        return
        [
            .. run.Observed.SelectMany(curve =>
            {
                var rows = curve.Series.Data.Rows.GroupBy(row => row.End).ToDictionary(group => group.Key, group => group.First());
                double[] expected = [.. curve.Expected];
                var name = alone ? "" : $"{curve.Series.Observation.Label}, ";
                TableColumn seen = new(
                    $"{name}observed",
                    [.. times.Select(time => rows.TryGetValue(time, out var row) ? row.Value : double.NaN)]
                );
                // What is below a limit has the limit as its value, and says so beside it.
                TableColumn[] below = rows.Values.Any(row => row.Below)
                    ?
                    [
                        new(
                            $"{name}below that",
                            [.. times.Select(time => rows.TryGetValue(time, out var row) ? (row.Below ? 1 : 0) : double.NaN)]
                        ),
                    ]
                    : [];
                return expected.Length == 0
                    ? [seen, .. below]
                    : (TableColumn[])
                        [
                            seen,
                            .. below,
                            new(
                                $"{name}expected",
                                [
                                    .. times.Select(time =>
                                        rows.ContainsKey(time) ? ExploreData.Between(curve.Times, expected, time) : double.NaN
                                    ),
                                ]
                            ),
                        ];
            }),
        ];
    }
}
