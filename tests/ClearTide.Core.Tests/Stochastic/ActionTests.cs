using ClearTide.Core.Compilation;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Core.Stochastic;
using MathNet.Numerics.Distributions;

namespace ClearTide.Core.Tests.Stochastic;

/// <summary>Events with conditions, delays and durations, random inputs and flowing amounts in runs by chance, against their exact
/// laws.</summary>
public class ActionTests
{
    private const int Replicates = 2000;

    /// <param name="flowing">Symbols of compartments that are not counted in whole units.</param>
    private static StudyDocument Study(string lines, double end, params string[] flowing)
    {
        var study = Studies.Of(lines, end);
        foreach (var symbol in flowing)
            study = study.With(study.CompartmentBySymbol(symbol)! with { WholeUnits = false });
        var lowered = Lowering.Lower(study);
        Assert.False(lowered.IsProvisional, string.Join("; ", lowered.Findings.Select(finding => finding.Message)));
        Assert.Null(ChanceRefusal.Of(lowered));
        return study;
    }

    /// <summary>The amounts of one compartment at one time, in many runs.</summary>
    private static double[] Draws(StudyDocument study, string symbol, double time)
    {
        var lowered = Lowering.Lower(study);
        var place = lowered.Network.Amounts.ToList().FindIndex(amount => amount.Symbol == symbol);
        var engine = new ExactEngine();
        return
        [
            .. Enumerable
                .Range(0, Replicates)
                .Select(replicate =>
                    engine
                        .Run(StudyRequest.Of(lowered) with { Times = [study.Start, time], Seed = 5, Replicate = replicate })
                        .Amount(1, place)
                ),
        ];
    }

    /// <summary>4.5 standard errors of the mean and of the variance: a right sampler fails once in about 100 000 runs.</summary>
    private static void HasMoments(double[] draws, double mean, double variance)
    {
        Assert.Equal(mean, draws.Average(), 4.5 * Math.Sqrt(variance / draws.Length) + 1e-9);
        var squares = draws.Select(draw => (draw - mean) * (draw - mean)).ToList();
        var spread = squares.Average();
        Assert.Equal(
            variance,
            spread,
            4.5 * Math.Sqrt(squares.Sum(square => (square - spread) * (square - spread)) / draws.Length / draws.Length) + 1e-9
        );
    }

    [Fact]
    public void A_condition_acts_at_the_transition_that_makes_it_true()
    {
        // Arrivals are Poisson, and the store is emptied at each tenth: what it holds is their number modulo ten.
        var draws = Draws(Study("-> X : 2 per day; when X > 9: X = 0", 10), "X", 10);
        var law = Enumerable.Range(0, 200).Select(n => (Held: n % 10, Chance: Poisson.PMF(20, n))).ToList();
        var mean = law.Sum(one => one.Held * one.Chance);
        HasMoments(draws, mean, law.Sum(one => one.Held * one.Held * one.Chance) - mean * mean);
    }

    [Fact]
    public void A_delayed_amount_comes_when_it_is_due()
    {
        // Forty come on day 5 and each leaves at 0.2 a day: a binomial number is there on day 10.
        var still = Math.Exp(-1.0);
        HasMoments(Draws(Study("B -> C at 0.2; at 3: -> B : 40 after 2 days", 10), "B", 10), 40 * still, 40 * still * (1 - still));
    }

    [Fact]
    public void A_condition_may_act_later()
    {
        // The first arrival comes after an exponential time T, and inflow begins two days behind it: given T, X is Poisson.
        var draws = Draws(Study("-> A : 0.5 per day; -> X : F; F = 0; when A > 0: -> X : 7 after 2 days", 10), "X", 6);
        // The seven are there if T is below 4.
        var there = 1 - Math.Exp(-2.0);
        HasMoments(draws, 7 * there, 49 * there * (1 - there));
    }

    [Fact]
    public void A_lasting_amount_comes_evenly_and_whole()
    {
        var lines = "at 2: -> B : 30 over 3 days; B -> C at 0.3";
        // Unit i comes at a known time and is still there with its own chance: a Poisson binomial number.
        var still = Enumerable.Range(0, 30).Select(i => Math.Exp(-0.3 * (10 - 2 - 3 * (i + 0.5) / 30))).ToList();
        HasMoments(Draws(Study(lines, 10), "B", 10), still.Sum(), still.Sum(p => p * (1 - p)));
        var run = new ExactEngine().Run(
            StudyRequest.Of(Lowering.Lower(Study(lines.Replace("0.3", "0"), 10))) with
            {
                Times = [0, 2, 3.5, 5, 10],
            }
        );
        Assert.Equal([0, 0, 15, 30, 30], run.AmountColumn(0));
    }

    [Fact]
    public void Lasting_amounts_that_do_not_come_out_even_lose_nothing_in_the_long_run()
    {
        // Doses of 2.4 units: ten of them are 24.
        var run = new ExactEngine().Run(
            StudyRequest.Of(Lowering.Lower(Study("B(0) = 0; every 2 days from 0 until 18 days: -> B : 2.4 over 1 day", 30))) with
            {
                Times = [0, 30],
            }
        );
        Assert.Equal(24, run.Amount(1, 0));
    }

    [Fact]
    public void A_lasting_amount_takes_no_more_than_is_there_and_says_so()
    {
        var run = new ExactEngine().Run(
            StudyRequest.Of(Lowering.Lower(Study("S(0) = 25; V(0) = 0; at 1: S -> V : 40 over 4 days", 10))) with
            {
                Times = [0, 10],
            }
        );
        Assert.Equal((0.0, 25.0), (run.Amount(1, 0), run.Amount(1, 1)));
        var note = Assert.Single(run.Notes);
        Assert.Equal(RunNoteKind.Limited, note.Kind);
        // The twenty-sixth is due at 25.5 tenths of a day behind the start.
        Assert.Equal(1 + 25.5 / 10, note.From, 1e-9);
    }

    [Fact]
    public void A_random_input_is_drawn_anew_in_each_run()
    {
        // Rates drawn each day mix Poisson numbers: the variance is the mean and that of the rates' sum.
        HasMoments(Draws(Study("-> X : luck; luck = uniform(0, 10) every day", 3), "X", 3), 15, 15 + 3 * 100.0 / 12);
    }

    [Fact]
    public void A_condition_of_time_acts_between_transitions() =>
        HasMoments(Draws(Study("-> X : F; F = 0; when t > 3: F = 4", 10), "X", 10), 28, 28);

    [Fact]
    public void What_is_counted_makes_what_flows()
    {
        // Each of twenty sheds three a day until it recovers, and what is shed decays: a sum of independent functions of recovery times.
        var study = Study("I -> R at 0.2; -> V : 3 per day * I; V -> at 0.5; I(0) = 20", 8, "V");
        double Shed(double recovers) => 6 * Math.Exp(-0.5 * 8) * (Math.Exp(0.5 * Math.Min(recovers, 8)) - 1);
        // Midpoints of a fine grid of quantiles: the fourth digit of the moments.
        var values = Enumerable.Range(0, 100_000).Select(k => Shed(-Math.Log(1 - (k + 0.5) / 100_000) / 0.2)).ToList();
        var mean = values.Average();
        HasMoments(Draws(study, "V", 8), 20 * mean, 20 * (values.Average(value => value * value) - mean * mean));
    }

    [Fact]
    public void What_flows_moves_what_is_counted()
    {
        // V is 10 exp(-t/2), and each of 100 escapes it with chance exp(-k * integral of V).
        var study = Study("S -> I : 0.02 * V * S; V -> at 0.5; V(0) = 10; S(0) = 100", 6, "V");
        var escape = Math.Exp(-0.02 * 20 * (1 - Math.Exp(-3)));
        HasMoments(Draws(study, "S", 6), 100 * escape, 100 * escape * (1 - escape));
    }

    [Fact]
    public void A_condition_of_what_flows_acts_where_it_is_crossed()
    {
        // V falls below two at 2 ln 5, and from then on four arrive a day.
        var study = Study("V -> at 0.5; V(0) = 10; -> X : F; F = 0; when V < 2: F = 4", 10, "V");
        var mean = 4 * (10 - 2 * Math.Log(5));
        HasMoments(Draws(study, "X", 10), mean, mean);
    }

    [Fact]
    public void A_quantity_that_follows_smoothly_can_drive_chance()
    {
        // The follower m of a constant 8, set to 0 at first by an input that is 0 until day 2, is 8 (1 - exp(-(t-2)/3)).
        var study = Study("-> X : smooth(drive(t), 3 days); drive = points 0 0, 2 8 step then hold", 10);
        var mean = 8 * (8 - 3 * (1 - Math.Exp(-8 / 3.0)));
        HasMoments(Draws(study, "X", 10), mean, mean);
    }

    [Fact]
    public void A_net_flow_that_turns_round_has_a_clock_for_each_way()
    {
        // Between V and 5 the rate V - 5 changes its sign once: arrivals and departures are Poisson on either side of it.
        var study = Study("-> X : V - 5; V -> at 0.5; V(0) = 10; X(0) = 1000", 6, "V");
        var turn = 2 * Math.Log(2);
        double Integral(double from, double until) => 20 * (Math.Exp(-from / 2) - Math.Exp(-until / 2)) - 5 * (until - from);
        var (up, down) = (Integral(0, turn), -Integral(turn, 6));
        HasMoments(Draws(study, "X", 6), 1000 + up - down, up + down);
    }
}
