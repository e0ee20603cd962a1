using ClearTide.Core.Data;
using ClearTide.Web.Curves;

namespace ClearTide.Web.Tests.Screens;

public class ShownRowsTests
{
    [Fact]
    public void A_short_series_is_shown_whole() =>
        Assert.Equal([0, 1, 2], ShownRows.Of([.. Enumerable.Range(0, 3).Select(k => new DataRow(k, k, 7))]));

    [Fact]
    public void Of_a_long_one_every_peak_and_every_low_is_shown_and_both_ends()
    {
        var rows = Enumerable.Range(0, 100_000).Select(k => new DataRow(k, k, Math.Sin(k))).ToArray();
        rows[70_007] = new(70_007, 70_007, 50);
        rows[31] = new(31, 31, -9);
        var shown = ShownRows.Of(rows);
        Assert.InRange(shown.Count, 1000, ShownRows.Most + 2);
        Assert.Contains(70_007, shown);
        Assert.Contains(31, shown);
        Assert.Equal((0, 99_999), (shown[0], shown[^1]));
        Assert.Equal(shown.Order().Distinct(), shown);
    }
}
