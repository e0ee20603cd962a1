using ClearTide.Core.Data;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Formats.Tables;

namespace ClearTide.Web.Curves;

/// <summary>All series of data on a model downwards by time, each with what the run expects of it.</summary>
public static class ObservedTable
{
    /// <summary>The times at which any series has a row; one at which a series has several as often as that.</summary>
    public static IReadOnlyList<double> Times(StudyRun run) => [.. Places(run).Select(place => place.Time)];

    /// <summary>Rows of one series at one time stand one below the other.</summary>
    private static IReadOnlyList<(double Time, int Turn)> Places(StudyRun run) =>
        [.. run.Observed.SelectMany(curve => Placed(curve.Series.Data.Rows)).Select(one => one.Place).Distinct().Order()];

    private static IEnumerable<((double Time, int Turn) Place, DataRow Row)> Placed(IEnumerable<DataRow> rows) =>
        rows.GroupBy(row => row.End).SelectMany(group => group.Select((row, turn) => ((group.Key, turn), row)));

    /// <summary>For each series what was observed and what is expected at these times; empty where it has no row.</summary>
    public static IReadOnlyList<TableColumn> Columns(StudyRun run)
    {
        var places = Places(run);
        var alone = run.Observed.Count == 1;
        return
        [
            .. run.Observed.SelectMany(curve =>
            {
                var rows = Placed(curve.Series.Data.Rows).ToDictionary(one => one.Place, one => one.Row);
                double[] expected = [.. curve.Expected];
                var name = alone ? "" : $"{curve.Series.Observation.Label}, ";
                TableColumn Column(string title, Func<(double Time, int Turn), DataRow, double> value) =>
                    new(
                        $"{name}{title}",
                        [.. places.Select(place => rows.TryGetValue(place, out var row) ? value(place, row) : double.NaN)]
                    );
                var seen = Column("observed", static (_, row) => row.Value);
                // What is below a limit has the limit as its value, and says so beside it.
                TableColumn[] below = rows.Values.Any(row => row.Below) ? [Column("below that", static (_, row) => row.Below ? 1 : 0)] : [];
                return expected.Length == 0
                    ? [seen, .. below]
                    : (TableColumn[])
                        [seen, .. below, Column("expected", (place, _) => ExploreData.Between(curve.Times, expected, place.Time))];
            }),
        ];
    }
}
