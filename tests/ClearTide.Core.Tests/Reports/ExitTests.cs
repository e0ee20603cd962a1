using ClearTide.Core.Compilation;
using ClearTide.Core.Reports;

namespace ClearTide.Core.Tests.Reports;

public class ExitTests
{
    private static Exits? Of(string lines, string symbol)
    {
        var lowered = Lowering.Lower(Studies.Of(lines));
        return Exits.Of(lowered, lowered.Document.PartBySymbol(symbol)!.Id);
    }

    [Fact]
    public void Rates_compete()
    {
        var exits = Of("I -> R after 5 days; I -> D at 0.05 per day", "I")!;
        Assert.Equal(4, exits.MeanStay, 1e-12);
        Assert.Equal([0.8, 0.2], exits.All.Select(exit => Math.Round(exit.Share, 12)));
    }

    [Fact]
    public void One_in_a_hundred_dies_is_not_dying_at_one_in_a_hundred()
    {
        var share = Of("I -> R 99%, D the rest after 5 days", "I")!;
        var rate = Of("I -> R after 5 days; I -> D at 0.01 per day", "I")!;
        Assert.Equal(0.01, share.All[1].Share, 1e-12);
        Assert.Equal(0.01 / 0.21, rate.All[1].Share, 1e-12);
        Assert.Equal(5, share.MeanStay, 1e-12);
    }

    [Fact]
    public void Stages_are_left_as_the_run_leaves_them()
    {
        const string Lines = "I -> R after 5 days in 3 stages; I -> D at 0.05 per day; I(0) = 1000";
        var exits = Of(Lines, "I")!;
        var run = Runs.OfLines(Lines, 0, 400);
        // After 80 mean stays nothing is left to speak of.
        Assert.Equal(run.Amount(1, 1) / 1000, exits.All[0].Share, 1e-6);
        Assert.Equal(run.Amount(1, 2) / 1000, exits.All[1].Share, 1e-6);
    }

    [Fact]
    public void A_whole_formula_has_no_share_of_its_own() => Assert.Null(Of("I -> R : 0.2 * I", "I"));
}
