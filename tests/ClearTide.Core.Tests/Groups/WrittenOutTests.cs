using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Groups;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests;

/// <summary>Models with groups against the same written by hand, and against what is known of them.</summary>
public class WrittenOutTests
{
    private static readonly double[] Times = [0, 10, 30, 60, 100];

    private const string ByAge = """
        group age = child, adult, old
        S -> E : lambda * S
        E -> I after 3 days
        I -> R at gamma
        lambda[age] = q * sum(j in age, C[age, j] * I[j] / N[j])
        N[age] = S + E + I + R
        C[age, age] = table 7.4 4.9 0.7, 2.1 6.7 1.1, 0.6 2.5 2.0 per day
        q = 0.04
        gamma[age] = 1/5 per day
        gamma[old] = 1/8 per day
        S[age](0) = 0
        E[age](0) = 0
        I[age](0) = 1
        R[age](0) = 0
        S[child](0) = 4200
        S[adult](0) = 9900
        S[old](0) = 4300
        """;

    // In the order of the other, so that the same sums are made in the same order.
    private const string ByHand = """
        Sc(0) = 4200; Sa(0) = 9900; So(0) = 4300
        Ec(0) = 0; Ea(0) = 0; Eo(0) = 0
        Ic(0) = 1; Ia(0) = 1; Io(0) = 1
        q = 0.04
        g = 1/5 per day
        go = 1/8 per day
        Sc -> Ec : q * ((7.4 per day) * Ic / Nc + (4.9 per day) * Ia / Na + (0.7 per day) * Io / No) * Sc
        Sa -> Ea : q * ((2.1 per day) * Ic / Nc + (6.7 per day) * Ia / Na + (1.1 per day) * Io / No) * Sa
        So -> Eo : q * ((0.6 per day) * Ic / Nc + (2.5 per day) * Ia / Na + (2.0 per day) * Io / No) * So
        Ec -> Ic after 3 days
        Ea -> Ia after 3 days
        Eo -> Io after 3 days
        Ic -> Rc at g
        Ia -> Ra at g
        Io -> Ro at go
        Nc = Sc + Ec + Ic + Rc
        Na = Sa + Ea + Ia + Ra
        No = So + Eo + Io + Ro
        """;

    private static double[] Amounts(Trajectory run, string symbol)
    {
        var k = run.Network.Amounts.ToList().FindIndex(one => one.Symbol == symbol);
        if (k >= 0)
            return run.AmountColumn(k);
        k = run.Network.Quantities.ToList().FindIndex(one => one.Symbol == symbol);
        Assert.True(k >= 0, $"There is no {symbol}.");
        return run.QuantityColumn(k);
    }

    [Fact]
    public void A_model_by_age_is_the_same_written_by_hand()
    {
        var (grouped, hand) = (Runs.OfLines(ByAge, Times), Runs.OfLines(ByHand, Times));
        foreach (var symbol in new[] { "S", "E", "I", "R" })
        {
            foreach (var (member, letter) in new[] { ("child", "c"), ("adult", "a"), ("old", "o") })
                Assert.Equal(Amounts(hand, symbol + letter), Amounts(grouped, $"{symbol}[{member}]"));
        }
        var totals = Amounts(grouped, "I");
        for (var k = 0; k < Times.Length; k++)
            Assert.Equal(Amounts(hand, "Ic")[k] + Amounts(hand, "Ia")[k] + Amounts(hand, "Io")[k], totals[k]);
    }

    [Fact]
    public void A_split_in_shares_does_what_the_whole_did()
    {
        var whole = Studies.Of(Studies.Latent);
        var split = Studies.Of("group age = child, adult, old; split all by age", whole);
        var (a, b) = (Run(whole), Run(split));
        foreach (var symbol in new[] { "S", "E", "I", "R" })
        {
            var (was, now) = (Amounts(a, symbol), Amounts(b, symbol));
            for (var k = 0; k < Times.Length; k++)
                // Both runs are held to a relative 1e-8 a step: what they differ by is that and not the split.
                Assert.Equal(was[k], now[k], 1e-6 * Math.Max(1, was[k]));
        }
    }

    [Fact]
    public void Equal_members_are_the_unsplit_model_to_ten_digits()
    {
        var whole = Studies.Of(Studies.Latent);
        var split = Studies.Of("group age = child, adult; split all by age", whole);
        var settings = SolverSettings.Default with { RelativeTolerance = 1e-13, AbsoluteTolerance = 1e-13 };
        var (a, b) = (Runs.Run(Lowering.Lower(whole).Compiled, Times, settings), Runs.Run(Lowering.Lower(split).Compiled, Times, settings));
        foreach (var symbol in new[] { "S", "E", "I", "R" })
        {
            var (was, now) = (Amounts(a, symbol), Amounts(b, symbol));
            for (var k = 0; k < Times.Length; k++)
                Assert.Equal(was[k], now[k], 1e-10 * Math.Max(1, was[k]));
        }
    }

    [Theory]
    [InlineData("K = 500; r = 0.3 per day; A -> : r * A * A / K; -> A : r * A; A(0) = 90")]
    [InlineData("A -> B : 3 * A * A / 100; B -> A after 4 days; A(0) = 30; B(0) = 60")]
    [InlineData("W -> A at 0.1; A -> D 30%, W : 0.2 * A; W(0) = 1000; A(0) = 0")]
    [InlineData("-> A : 5; A -> B after 3 days in 4 stages; B -> : 0.1 * B; A(0) = 10")]
    [InlineData("A -> B : 40 limited; A(0) = 100; B(0) = 20; B -> at 0.2")]
    public void Whatever_the_rate_a_split_keeps_the_totals(string lines)
    {
        var whole = Studies.Of(lines);
        var study = Studies.Of("group place = east, west", whole);
        var split = new SplitParts(study.Groups[0].Id, [study.CompartmentBySymbol("A")!.Id, .. Also(study, "B")], [0.3, 0.7]).Apply(study);
        Assert.Null(split.Refusal);
        var (a, b) = (Run(whole), Run(split.Document!));
        foreach (var part in whole.Compartments)
        {
            var (was, now) = (Amounts(a, part.Symbol), Amounts(b, part.Symbol));
            for (var k = 0; k < Times.Length; k++)
                // The tolerance of both runs, a hundred times over.
                Assert.Equal(was[k], now[k], 1e-6 * Math.Max(1, was[k]));
        }
    }

    private static string[] Also(StudyDocument study, string symbol) => study.CompartmentBySymbol(symbol) is { } part ? [part.Id] : [];

    private static Trajectory Run(StudyDocument study)
    {
        var lowered = Lowering.Lower(study);
        Assert.False(lowered.IsProvisional, string.Join("; ", lowered.Findings.Select(finding => finding.Message)));
        return Runs.Run(lowered.Compiled, Times);
    }

    [Fact]
    public void Ageing_along_an_order_is_the_chain_of_exponential_stays()
    {
        // A cohort that ages at 1/w each: the second class holds w (t/w) e^(-t/w) / w of it, the last all that is left.
        var run = Runs.OfLines("group age = a, b, c; N[age](0) = 0; N[a](0) = 1000; along age after 20", Times);
        for (var k = 0; k < Times.Length; k++)
        {
            var x = Times[k] / 20;
            // The run's own relative tolerance of 1e-8, over some hundred steps.
            Assert.Equal(1000 * Math.Exp(-x), Amounts(run, "N[a]")[k], 1e-4);
            Assert.Equal(1000 * x * Math.Exp(-x), Amounts(run, "N[b]")[k], 1e-4);
            Assert.Equal(1000 * (1 - Math.Exp(-x) * (1 + x)), Amounts(run, "N[c]")[k], 1e-4);
        }
    }

    [Fact]
    public void Births_go_into_the_first_and_travel_follows_a_matrix()
    {
        var run = Runs.OfLines(
            "group place = x, y, z; M[place, place] = table 0 0.1 0, 0 0 0.2, 0.3 0 0; N[place](0) = 0; N[x](0) = 60; "
                + "among place at M[place, to]; -> N[y] : 2; N[z] -> : 2",
            Times
        );
        var network = run.Network;
        // Zero entries of the matrix move nothing, so that they cost nothing.
        Assert.Equal(5, network.Flows.Count);
        var (x, y, z) = (Amounts(run, "N[x]"), Amounts(run, "N[y]"), Amounts(run, "N[z]"));
        for (var k = 0; k < Times.Length; k++)
            Assert.Equal(60, x[k] + y[k] + z[k], 1e-9 * 60);
        // At rest as much enters each as leaves it: 0.1 x = 0.3 z, and 0.2 y = 0.1 x + 2. What is left of the way there falls by e^-0.3 a
        // day.
        var rest = (60 - 10) / (1 + 0.5 + 1 / 3.0);
        Assert.Equal(rest, x[4], 1e-4);
        Assert.Equal(0.5 * rest + 10, y[4], 1e-4);
    }

    [Fact]
    public void One_number_for_all_stays_one_value_and_a_member_may_have_its_own()
    {
        var lowered = Lowering.Lower(Studies.Of(ByAge));
        Assert.True(lowered.Network.IndexOf("gamma") >= 0);
        Assert.True(lowered.Network.IndexOf("gamma[old]") >= 0);
        Assert.Equal(-1, lowered.Network.IndexOf("gamma[child]"));
        Assert.True(lowered.Network.IndexOf("S[adult].start") >= 0);
        Assert.True(lowered.Network.IndexOf("C[adult,old]") >= 0);
    }

    [Theory]
    [InlineData("x = I[baby]", "“baby” is no member of age (child, adult, old)")]
    [InlineData("x = I[chid]", "Did you mean child?")]
    [InlineData("x = gamma * 2", "gamma is split by age, and this line is not: say which")]
    [InlineData("x = q[child]", "q is not split")]
    [InlineData("x = sum(j in place, I[j])", "There is no group place")]
    [InlineData("x = C[child]", "C is split by age")]
    [InlineData("x = I[child, old]", "it takes one index")]
    [InlineData("x = total(2 * I)", "total takes the name of one part")]
    [InlineData("at 3: -> S : 20", "say which member, as in S[child]")]
    public void An_index_that_cannot_be_filled_in_is_told(string line, string said)
    {
        var lowered = Lowering.Lower(Studies.Of(line, Studies.Of(ByAge)));
        Assert.Contains(lowered.Findings, finding =>
            finding.Message.Contains(said, StringComparison.Ordinal) && finding.PartId is not null
        );
        Assert.All(lowered.Findings, finding => Assert.NotNull(lowered.Study.Part(finding.PartId)));
    }

    [Fact]
    public void A_fix_of_a_finding_changes_what_was_typed()
    {
        var study = Studies.Of("x = 1 + gamma", Studies.Of(ByAge));
        var finding = Lowering.Lower(study).Findings.First(one => one.Message.Contains("gamma is split", StringComparison.Ordinal));
        var mended = finding.Fixes[0].Edit.Apply(study).Document!;
        Assert.Equal("1 + gamma[child]", mended.DefinitionBySymbol("x")!.Text);
        Assert.False(Lowering.Lower(mended).IsProvisional);
    }

    [Fact]
    public void A_move_out_of_a_split_compartment_is_shared_in_proportion()
    {
        var run = Runs.OfLines(
            "group age = child, adult; S[age](0) = 0; S[child](0) = 300; S[adult](0) = 100; V[age](0) = 0; at 20: S -> V : 40",
            Times
        );
        Assert.Equal(30, Amounts(run, "V[child]")[2], 1e-9);
        Assert.Equal(10, Amounts(run, "V[adult]")[2], 1e-9);
    }

    [Fact]
    public void What_a_finding_says_of_every_member_is_said_once()
    {
        var lowered = Lowering.Lower(Studies.Of("group age = a, b, c; S[age](0) = 10; S -> : 3 * oops"));
        Assert.Single(lowered.Findings, finding => finding.Message.Contains("oops is not defined", StringComparison.Ordinal));
    }

    [Fact]
    public void Two_groups_cross()
    {
        var lines = """
            group age = young, old
            group place = east, west
            I[age, place](0) = 1
            I[young, east](0) = 5
            I -> at r
            r[place] = 0.1
            r[west] = 0.2
            here[place] = sum(a in age, I[a])
            all = total(I)
            oldies = total(I[old])
            """;
        var run = Runs.OfLines(lines, 0, 10);
        // Exponential decay at the rate of each place; the run's relative tolerance is 1e-8.
        var (slow, fast) = (Math.Exp(-1.0), Math.Exp(-2.0));
        Assert.Equal(6 * slow, Amounts(run, "here[east]")[1], 1e-6);
        Assert.Equal(2 * fast, Amounts(run, "here[west]")[1], 1e-6);
        Assert.Equal(6 * slow + 2 * fast, Amounts(run, "all")[1], 1e-6);
        Assert.Equal(slow + fast, Amounts(run, "oldies")[1], 1e-6);
    }

    [Fact]
    public void A_model_with_groups_as_text_is_read_back_as_itself()
    {
        var study = Studies.Of(ByAge);
        var text = LineText.Of(study);
        var again = Studies.Of(text);
        Assert.Equal(text, LineText.Of(again));
        Assert.Equal(Amounts(Run(study), "I[old]"), Amounts(Run(again), "I[old]"));
    }

    [Fact]
    public void Sums_longer_than_what_may_be_typed_are_computed()
    {
        var members = Enumerable.Range(0, 200).Select(k => $"a{k}").ToList();
        var study = Studies.Of(
            $"group age = {string.Join(", ", members)}; I[age](0) = 1; w[age] = 0.5; "
                + "p = sum(j in age, w[j] * I[j] * I[j] / (1 + I[j]) + 0 * I[j] * I[j])"
        );
        // Each of 200 terms is 1/4.
        Assert.Equal(50, Amounts(Run(study), "p")[0], 1e-12);
    }

    [Fact]
    public void A_study_without_groups_is_itself()
    {
        var study = Studies.Of(Studies.Latent);
        Assert.Same(study, WrittenOut.Of(study).Document);
        Assert.Same(study, Lowering.Lower(study).Document);
    }
}
