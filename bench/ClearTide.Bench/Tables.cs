using System.Diagnostics;
using System.Text;
using ClearTide.Core.Language;
using ClearTide.Formats.Tables;

namespace ClearTide.Bench;

/// <summary>How long a large table takes to be read, guessed and mapped: 100,000 rows of two series, and a million rows, which are
/// refused.</summary>
internal static class Tables
{
    public static void Run()
    {
        var text = Made(100_000);
        for (var pass = 0; pass < 5; pass++)
        {
            var begun = Stopwatch.GetTimestamp();
            var table = CountTable.Read(text);
            var roles = ColumnRoles.Guess(table);
            var series = ColumnRoles.Series(table, roles);
            var read = Stopwatch.GetElapsedTime(begun);
            begun = Stopwatch.GetTimestamp();
            var rows = series.Sum(one => Map(table, one).Rows.Length);
            var mapped = Stopwatch.GetElapsedTime(begun);
            begun = Stopwatch.GetTimestamp();
            Map(table, series[0], SameTime.Mean);
            Console.WriteLine(
                $"{table.Rows.Length:N0} rows: read and guessed in {read.TotalMilliseconds:0} ms, {rows:N0} values mapped in "
                    + $"{mapped.TotalMilliseconds:0} ms, one series again by another choice in "
                    + $"{Stopwatch.GetElapsedTime(begun).TotalMilliseconds:0} ms"
            );
        }
        var many = Made(1_000_000);
        var started = Stopwatch.GetTimestamp();
        var words = "";
        try
        {
            CountTable.Read(many);
        }
        catch (TableException refusal)
        {
            words = refusal.Message;
        }
        Console.WriteLine($"1,000,000 rows: {Stopwatch.GetElapsedTime(started).TotalMilliseconds:0} ms, “{words}”");
    }

    private static MappedCounts Map(CountTable table, TableSeries series, SameTime same = SameTime.First) =>
        CountMapper.Map(table, new(0, series.Value, Same: same) { AtOneTime = true }, new(null, TimeUnit.Hour));

    private static string Made(int rows)
    {
        var (random, text) = (new Random(5), new StringBuilder("hours;north;south\n"));
        for (var k = 0; k < rows; k++)
            text.Append(
                FormattableString
                    .Invariant($"{0.01 * k:0.00};{50 + 10 * random.NextDouble():0.00};{20 + random.NextDouble():0.000}\n")
                    .Replace('.', ',')
            );
        return text.ToString();
    }
}
