using ClearTide.Core.Compilation;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Core.Stochastic;

namespace ClearTide.Core.Tests.Stochastic;

/// <summary>Runs by chance that go on where a run without chance ended.</summary>
public class GoingOnTests
{
    private static double[] On(string lines, double now, double end, string symbol, int replicates)
    {
        var lowered = Lowering.Lower(Studies.Of(lines, end));
        var request = StudyRequest.Of(lowered);
        var before = Engines.Run(request with { Times = [0, now] });
        var state = Enumerable.Range(0, lowered.Network.States.Count).Select(k => before.State(1, k)).ToArray();
        WholeUnits.Round(lowered.Network, state, 0.5);
        var place = lowered.Network.Amounts.ToList().FindIndex(amount => amount.Symbol == symbol);
        var engine = new ExactEngine();
        return
        [
            .. Enumerable
                .Range(0, replicates)
                .Select(replicate =>
                    engine
                        .Run(
                            request with
                            {
                                Times = [now, end],
                                Start = state,
                                Values = before.End!.Parameters,
                                After = before.End,
                                Seed = 3,
                                Replicate = replicate,
                            }
                        )
                        .Amount(1, place)
                ),
        ];
    }

    [Fact]
    public void What_an_event_has_set_before_holds_on()
    {
        // From day 5 on eight arrive a day: five days of them behind day 10, a Poisson number beside the forty of the days before.
        var draws = On("-> X : F; F = 0; at 5: F = 8", 10, 15, "X", 1500);
        Assert.Equal(80, draws.Average(), 4.5 * Math.Sqrt(40.0 / 1500));
    }

    [Fact]
    public void A_lasting_amount_that_has_begun_ends_when_it_was_to() =>
        Assert.All(On("B(0) = 0; at 2: -> B : 30 over 6 days", 5, 40, "B", 3), amount => Assert.Equal(30, amount));

    [Fact]
    public void A_delayed_amount_that_is_on_its_way_comes() =>
        Assert.All(On("B(0) = 0; at 2: -> B : 30 after 6 days", 5, 40, "B", 3), amount => Assert.Equal(30, amount));

    [Fact]
    public void A_condition_that_was_true_before_does_not_become_so_again() =>
        Assert.All(On("B(0) = 7; when B > 5: B = 9; C(0) = 1; when C > 0: B = 3", 5, 9, "B", 3), amount => Assert.Equal(7, amount));
}
