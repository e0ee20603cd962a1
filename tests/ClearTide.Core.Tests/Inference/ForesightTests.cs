using ClearTide.Core.Data;
using ClearTide.Core.Inference;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Inference;

public class ForesightTests
{
    private static Series Levels(string formula, params (double Time, double Error)[] rows) =>
        new(
            new("o", "d", "Level", "", "1")
            {
                Seen = ObservedAs.Standing,
                Formula = formula,
                Law = ErrorLaw.Normal,
            },
            // What was seen counts for nothing.
            new("d", "levels", [.. rows.Select(row => new DataRow(row.Time, row.Time, 7) { Error = row.Error })])
        );

    private static IReadOnlyList<string> Told(string lines, Series series, params FitParameter[] parameters) =>
        Foresight.Of(Studies.Of(lines, 20) with { Fit = new(ErrorLaw.Normal, [.. parameters]) }, [series]);

    [Fact]
    public void A_mean_is_known_as_the_errors_of_its_rows_say()
    {
        // Four rows of error 2 around 40: 1.96 · 2 / √4 / 40 is five per cent.
        var told = Told("m = 40; y = m + 0 * t", Levels("y", (1, 2), (2, 2), (3, 2), (4, 2)), new FitParameter("m", 0, 1000));
        Assert.Equal("m to within 5 %", Assert.Single(told));
        // A value that may be negative is uncertain by so much.
        told = Told("m = 40; y = m + 0 * t", Levels("y", (1, 2), (2, 2), (3, 2), (4, 2)), new FitParameter("m", -1000, 1000));
        Assert.Equal("m to within ±2", Assert.Single(told));
    }

    [Fact]
    public void What_stands_only_as_a_product_is_told_only_together()
    {
        var told = Told(
            "a = 3; b = 5; y = a * b * exp(-0.1 * t)",
            Levels("y", (1, 0.1), (5, 0.1), (9, 0.1)),
            new("a", 0.1, 100),
            new("b", 0.1, 100)
        );
        Assert.Equal("a and b only together, as a × b", Assert.Single(told));
        told = Told("a = 3; b = 5; y = a / b + 0 * t", Levels("y", (1, 0.1), (5, 0.1)), new("a", 0.1, 100), new("b", 0.1, 100));
        Assert.Equal("a and b only together, as a ÷ b", Assert.Single(told));
    }

    [Fact]
    public void What_does_nothing_is_hardly_told_at_all_and_what_a_fit_refuses_is_refused()
    {
        var told = Told("a = 3; b = 5; y = a + 0 * b * t", Levels("y", (1, 0.1), (5, 0.1)), new("a", 0.1, 100), new("b", 0.1, 100));
        Assert.Equal(["b hardly at all", "a to within 5 %"], told);
        var refused = Assert.Throws<FitRefusedException>(() =>
            Told("a = 3; y = a + 0 * t", Levels("y", (1, 1), (50, 1)), new FitParameter("a", 1, 9))
        );
        Assert.Contains("Lengthen the span", refused.Message);
    }
}
