using ClearTide.Core.Data;

namespace ClearTide.Web.Curves;

/// <summary>Which rows of a long series a chart shows: of each stretch the lowest and the highest, so that no peak is lost and no page has
/// more points than it can draw. Fits look at all of them.</summary>
public static class ShownRows
{
    /// <summary>More points than this lie on one another on any screen.</summary>
    public const int Most = 2000;

    /// <summary>Places of the rows that are shown, ascending; all of them where they are not many.</summary>
    public static IReadOnlyList<int> Of(IReadOnlyList<DataRow> rows)
    {
        if (rows.Count <= Most)
            return [.. Enumerable.Range(0, rows.Count)];
        const int stretches = Most / 2;
        var shown = new SortedSet<int> { 0, rows.Count - 1 };
        for (var k = 0; k < stretches; k++)
        {
            var from = (int)((long)rows.Count * k / stretches);
            var until = (int)((long)rows.Count * (k + 1) / stretches);
            var (low, high) = (from, from);
            for (var row = from + 1; row < until; row++)
            {
                if (rows[row].Value < rows[low].Value)
                    low = row;
                if (rows[row].Value > rows[high].Value)
                    high = row;
            }
            shown.Add(low);
            shown.Add(high);
        }
        return [.. shown];
    }
}
