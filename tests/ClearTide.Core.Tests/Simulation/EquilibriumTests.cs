using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Inference;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Simulation;

/// <summary>Initial amounts at equilibrium, against equilibria known in closed form.</summary>
public class EquilibriumTests
{
    // Newton's steps end at the rounding of the formulas: twelve digits of a number of order a thousand leave room.
    private const double Close = 1e-9;

    private static double[] Start(string lines, Action<ReactionNetwork, double[]>? set = null)
    {
        var model = Runs.Compile(lines);
        var values = model.Network.ValueVector();
        set?.Invoke(model.Network, values);
        return model.InitialState(values);
    }

    private const string Endemic =
        "S -> I : beta * S * I / 1000; I -> S at gamma; beta = 0.5 per day; gamma = 0.2 per day; S(0) = the rest of 1000; I(0) = at "
        + "equilibrium";

    [Fact]
    public void Inflow_and_decay_balance() => Assert.Equal(7 / 0.05, Start("-> A : 7; A -> at 0.05; A(0) = at equilibrium")[0], Close);

    [Fact]
    public void An_infection_that_stays_is_found_with_the_rest_beside_it()
    {
        var start = Start(Endemic);
        Assert.Equal(400, start[0], Close);
        Assert.Equal(600, start[1], Close);
    }

    [Fact]
    public void What_cannot_stay_dies_out_to_nothing() =>
        Assert.Equal(0, Start(Endemic, (form, values) => values[form.IndexOf("beta")] = 0.1)[1], Close);

    [Fact]
    public void Another_value_gives_another_equilibrium() =>
        Assert.Equal(1000 * (1 - 0.2 / 0.8), Start(Endemic, (form, values) => values[form.IndexOf("beta")] = 0.8)[1], Close);

    [Fact]
    public void Nothing_moves_along_the_run_that_begins_there()
    {
        var run = Runs.OfLines(Endemic, 0, 50, 300);
        Assert.All(run.AmountColumn(1), amount => Assert.Equal(600, amount, 1e-6));
    }

    [Fact]
    public void Waning_immunity_has_its_closed_form()
    {
        // S* = N / R0; I* = (N - S*) / (1 + gamma / omega); R* = I* gamma / omega.
        var start = Start(
            "S -> I : 0.6 * S * I / 5000; I -> R at 0.2; R -> S at 0.01; S(0) = the rest of 5000; I(0) = at equilibrium; R(0) = at "
                + "equilibrium"
        );
        var infected = (5000 - 5000 / 3.0) / (1 + 20);
        Assert.Equal(5000 / 3.0, start[0], Close);
        Assert.Equal(infected, start[1], Close);
        Assert.Equal(20 * infected, start[2], Close);
    }

    [Fact]
    public void Stages_each_hold_their_share_of_the_stay()
    {
        var start = Start("-> E : 6; E -> I after 4 days in 3 stages; I -> at 0.5; E(0) = at equilibrium; I(0) = at equilibrium");
        Assert.All(start[..3], amount => Assert.Equal(8, amount, Close));
        Assert.Equal(12, start[3], Close);
    }

    [Fact]
    public void Of_several_equilibria_the_nearest_that_a_run_reaches_is_taken()
    {
        // P' = P (P - 20) (100 - P) / 1000: extinct below 20, full above it.
        const string Allee = "-> P : P * (P - 20) * (100 - P) / 1000; P(0) = at equilibrium near ";
        Assert.Equal(100, Start(Allee + "30")[0], Close);
        Assert.Equal(0, Start(Allee + "15")[0], Close);
    }

    [Fact]
    public void Delayed_quantities_are_what_they_always_were()
    {
        // A' = 10 - 0.1 A(t - 3) rests at 100.
        Assert.Equal(100, Start("-> A : 10; A -> : 0.1 * delay(A, 3 days); A(0) = at equilibrium")[0], Close);
        var run = Runs.OfLines("-> A : 10; A -> : 0.1 * delay(A, 3 days); A(0) = at equilibrium", 0, 30);
        Assert.Equal(100, run.Amount(1, 0), 1e-6);
    }

    [Fact]
    public void Other_amounts_may_follow_from_it()
    {
        var start = Start("-> A : 7; A -> at 0.05; A(0) = at equilibrium; B -> : 0 * B; B(0) = A / 2");
        Assert.Equal(70, start[1], Close);
    }

    [Fact]
    public void A_long_chain_is_found_too()
    {
        var lines =
            "-> x0 : 3; "
            + string.Join(
                "; ",
                Enumerable
                    .Range(0, 120)
                    .Select(k =>
                        $"x{k} -> {(k == 119 ? "" : $"x{k + 1}")} at "
                        + $"{(0.1 + 0.01 * k).ToString(System.Globalization.CultureInfo.InvariantCulture)}"
                    )
            )
            + "; "
            + string.Join("; ", Enumerable.Range(0, 120).Select(k => $"x{k}(0) = at equilibrium"));
        var start = Start(lines);
        for (var k = 0; k < 120; k++)
            Assert.Equal(3 / (0.1 + 0.01 * k), start[k], Close);
    }

    [Theory]
    [InlineData("-> A : 0.1 * A; A(0) = at equilibrium", "A")]
    [InlineData("-> A : 5; A(0) = at equilibrium", "A")]
    [InlineData(
        "-> H : 0.5 * H; H -> : 0.02 * H * P; -> P : 0.01 * H * P; P -> : 0.4 * P; H(0) = at equilibrium near 60; P(0) = at "
            + "equilibrium near 10",
        ""
    )]
    public void What_never_settles_is_told_with_what_to_do(string lines, string symbol)
    {
        var run = StudyRun.Of(Studies.Of(lines));
        Assert.Contains($"No equilibrium was found for {symbol}", run.Failure, StringComparison.Ordinal);
        Assert.Contains("near", run.Failure, StringComparison.Ordinal);
    }

    [Fact]
    public void A_total_that_nothing_states_is_found()
    {
        var lowered = Lowering.Lower(Studies.Of("A -> B at 0.1; B -> A at 0.2; A(0) = at equilibrium; B(0) = at equilibrium"));
        Assert.Contains(
            "keeps any total",
            Assert.Single(lowered.Findings, finding => finding.Severity == Severity.Unfinished).Message,
            StringComparison.Ordinal
        );
        var stated = Start("A -> B at 0.1; B -> A at 0.2; A(0) = at equilibrium; B(0) = the rest of 90");
        Assert.Equal(60, stated[0], Close);
    }

    [Fact]
    public void Fits_see_the_equilibrium_move_with_their_values()
    {
        // Cases flow at beta S I / N = gamma I at equilibrium: a day's count is 200 (1 - 0.2 / beta) of a thousand, whatever the day.
        var document = Studies.Of(Endemic + "; rho = 1", 40);
        var observation = new Observation("o", "data", "cases", document.Flows[0].Id, "rho");
        var data = new DataSet("data", "cases", [.. Enumerable.Range(0, 10).Select(day => new DataRow(day, day + 1, 0))]);
        var prediction = new ObservedModel(Lowering.Lower(document), [new(observation, data)], ["beta"]).Predict([0.5]);
        Assert.All(prediction.Mean, mean => Assert.Equal(120, mean, 1e-5));
        // By beta: 200 * 0.2 / beta^2 * 1000 / 1000 = 160 at 0.5; differences of runs at 1e-9 leave five digits.
        for (var row = 0; row < 10; row++)
            Assert.Equal(160, prediction.Gradient[row, 0], 0.01);
    }

    [Theory]
    [InlineData("I(0) = at equilibrium near 40 people", "at equilibrium near 40 people")]
    [InlineData("I = at equilibrium", "at equilibrium")]
    public void The_line_is_kept_as_typed(string line, string kept) =>
        Assert.Equal(kept, Studies.Of("S -> I : 0.1 * S; " + line).CompartmentBySymbol("I")!.Start);

    [Fact]
    public void Renaming_reaches_what_it_is_near() =>
        Assert.Equal(
            "at equilibrium near K2 / 2",
            LineNames
                .Rename(Studies.Of("-> P : 0.1 * P * (1 - P / K); K = 100; P(0) = at equilibrium near K / 2"), "K", "K2")
                .Compartments[0]
                .Start
        );
}
