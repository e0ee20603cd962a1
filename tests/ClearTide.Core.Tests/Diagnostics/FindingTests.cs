using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Inference;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;

namespace ClearTide.Core.Tests.Diagnostics;

public class FindingTests
{
    private static IReadOnlyList<Finding> Of(StudyDocument document) => Lowering.Lower(document).Findings;

    [Fact]
    public void An_unknown_name_offers_the_nearest_and_a_definition()
    {
        var document = Studies.Of("S -> I : bata * S; beta = 0.4");
        var finding = Assert.Single(Of(document));
        Assert.Equal(Severity.Unfinished, finding.Severity);
        Assert.Equal(0, finding.Span!.Value.Start);
        Assert.Equal(["Use beta", "Add bata as a parameter"], finding.Fixes.Select(fix => fix.Label));
        Assert.Empty(Of(finding.Fixes[0].Edit.Apply(document).Document!));
        Assert.Contains("has no value yet", Assert.Single(Of(finding.Fixes[1].Edit.Apply(document).Document!)).Message);
    }

    [Fact]
    public void A_circle_is_spelled_out() =>
        Assert.Contains(Of(Studies.Of("a = b; b = c; c = a")), finding => finding.Message.Contains("a → b → c → a"));

    [Fact]
    public void Starts_that_lean_on_each_other_are_a_circle_too() =>
        Assert.Contains(Of(Studies.Of("A(0) = B; B(0) = A")), finding => finding.Message.Contains("A → B → A"));

    [Fact]
    public void Two_rests_are_one_too_many() =>
        Assert.Contains(Of(Studies.Of("A(0) = the rest of 5; B(0) = the rest of 5")), finding =>
            finding.Message.Contains("only one compartment can")
        );

    [Fact]
    public void A_whole_formula_that_ignores_its_source_is_doubted_not_stopped()
    {
        var lowered = Lowering.Lower(Studies.Of("S -> I : 5; S(0) = 100"));
        Assert.Equal(Severity.Doubt, Assert.Single(lowered.Findings).Severity);
        Assert.False(lowered.IsProvisional);
        Assert.Empty(Of(Studies.Of("S -> I : lambda * N; N = S + I; lambda = 0.1")));
    }

    [Fact]
    public void What_depends_on_an_unfinished_part_is_provisional()
    {
        var document = Studies.Of("A -> B : k * A; C -> D : 0.1 * C; q = 2 * B");
        var lowered = Lowering.Lower(document);
        string Id(string symbol) => document.CompartmentBySymbol(symbol)?.Id ?? document.DefinitionBySymbol(symbol)!.Id;
        Assert.Superset(new HashSet<string> { Id("A"), Id("B"), Id("q") }, lowered.Unfinished.ToHashSet());
        Assert.DoesNotContain(Id("C"), lowered.Unfinished);
        Assert.DoesNotContain(Id("D"), lowered.Unfinished);
    }

    [Fact]
    public void Renaming_reaches_formulas_fits_observations_and_measures()
    {
        var document = Studies.Of(Studies.Latent);
        document = new SetFit(new(ErrorLaw.Poisson, [new("beta", 0, 1), new("I.start", 0, 9)])).Apply(document).Document!;
        document = new AddScenario("Pause").Apply(document).Document!;
        document = new SetMeasure(document.Scenarios[0].Id, null, "Pause", "beta", 0.5, 1, 2).Apply(document).Document!;
        document = new SetField(document.DefinitionBySymbol("beta")!.Id, PartField.Symbol, "b").Apply(document).Document!;
        document = new SetField(document.CompartmentBySymbol("I")!.Id, PartField.Symbol, "J").Apply(document).Document!;
        Assert.Equal("b * S * J / N", document.Flows[0].Rate);
        Assert.Equal(["b", "J.start"], document.Fit.Parameters.Select(parameter => parameter.Address));
        Assert.Equal("b", document.Scenarios[0].Measures[0].Address);
        Assert.Empty(Of(document));
        Assert.NotNull(new SetField(document.CompartmentBySymbol("J")!.Id, PartField.Symbol, "S").Apply(document).Refusal);
    }

    [Fact]
    public void Removing_a_part_marks_its_users_and_keeps_them()
    {
        var document = Studies.Of(Studies.Latent);
        document = new RemoveParts(document.DefinitionBySymbol("N")!.Id).Apply(document).Document!;
        Assert.Contains(Of(document), finding => finding.Message.StartsWith("N is not defined", StringComparison.Ordinal));
        document = new RemoveParts(document.CompartmentBySymbol("R")!.Id).Apply(document).Document!;
        Assert.Equal(2, document.Flows.Length);
    }

    [Fact]
    public void A_failed_run_names_flow_time_and_values()
    {
        var run = StudyRun.Of(Studies.Of("A -> B : 1 / (A - 5); A(0) = 5"));
        Assert.Null(run.Run);
        Assert.Contains("the flow A → B", run.Failure);
        Assert.Contains("A = 5", run.Failure);
        Assert.Contains("without bound", StudyRun.Of(Studies.Of("-> X : X^2; X(0) = 1")).Failure);
    }

    [Theory]
    [InlineData("A -> B : k * A - m * B; A(0) = 9; k = 0.1; m = 0.2", "k * A", "m * B")]
    [InlineData("-> A : b * A - d * A * A; A(0) = 9; b = 0.3; d = 0.01", "b * A", "d * A * A")]
    [InlineData("A -> B : k * (A / 2 - B / 3); A(0) = 9; k = 0.1", "k * (A / 2)", "k * (B / 3)")]
    [InlineData("A -> B : (A - B) * k / 4; A(0) = 9; k = 0.1", "A * k / 4", "B * k / 4")]
    public void A_net_rate_offers_to_be_two_flows_with_the_same_mean(string lines, string first, string second)
    {
        var document = Studies.Of(lines);
        var finding = Assert.Single(Of(document), finding => finding.Message.Contains("net of two terms"));
        var split = finding.Fixes[0].Edit.Apply(document).Document!;
        Assert.Equal([first, second], split.Flows.Select(flow => flow.Rate));
        Assert.Equal((split.Flows[0].From, split.Flows[0].Target), (split.Flows[1].Target, split.Flows[1].From));
        Assert.DoesNotContain(Of(split), finding => finding.Message.Contains("net of two terms"));
        var (before, after) = (StudyRun.Of(document).Run!, StudyRun.Of(split).Run!);
        // Both solve the same equations; what differs is the order in which terms are added, far below the solver's tolerance.
        Assert.Equal(before.AmountColumn(0)[^1], after.AmountColumn(0)[^1], 1e-9 * before.AmountColumn(0)[0]);
    }

    [Theory]
    [InlineData("A -> B : k * A - 1; A(0) = 9; k = 0.1")]
    [InlineData("A -> B : k * (N - A); A(0) = 9; k = 0.1; N = A + B + 5")]
    [InlineData("A -> B : (1 - k) * A * B / 10; A(0) = 9; k = 0.1")]
    [InlineData("A -> B : k * A * (B - A); A(0) = 9; B(0) = 20; k = 0.1; N = A + B + 5")]
    [InlineData("A -> B : k * A - m * B limited; A(0) = 9; k = 0.1; m = 0.2")]
    public void Other_rates_are_no_net_of_two_flows(string lines) =>
        Assert.DoesNotContain(Of(Studies.Of(lines)), finding => finding.Message.Contains("net of two terms"));

    [Theory]
    [InlineData("A -> B : k * A; A(0) = 5", "Dashed curves leave out A → B: its rate is unfinished and counts as zero.")]
    [InlineData("A -> B at 0.1; A(0) = c", "Dashed curves take A as zero until it has a value.")]
    [InlineData("A(0) = 5", "There are no flows yet, so amounts stay as they start.")]
    [InlineData("S -> I : 0.1 * S * I; S(0) = 9", "Nothing moves: every rate is zero, and I starts with nothing. Type an initial amount.")]
    [InlineData("-> A : 2; A -> at 0.5; A(0) = 4", "What flows in flows out again: no amount changes along this run.")]
    [InlineData("A -> B at 0.1; A(0) = 5", null)]
    public void Curves_that_do_not_speak_for_themselves_get_a_sentence(string lines, string? sentence) =>
        Assert.Equal(sentence, CurveRemark.Of(StudyRun.Of(Studies.Of(lines))));

    [Theory]
    [InlineData("9% * A", "9% * A * A")]
    [InlineData("k * A / K", "k * A / K * A")]
    [InlineData("k + A / K", "(k + A / K) * A")]
    public void A_rate_per_head_that_names_its_own_compartment_is_asked_about(string rate, string perHead)
    {
        var document = Studies.Of($"A(0) = 100; k = 0.1 per day; K = 200; A -> at {rate}");
        var finding = Assert.Single(Of(document), finding => finding.Message.Contains("counts twice"));
        Assert.Equal(2, finding.Fixes.Count);
        var whole = finding.Fixes[0].Edit.Apply(document).Document!.Flows[0];
        Assert.Equal((RateKind.Whole, rate), (whole.Kind, whole.Rate));
        var meant = finding.Fixes[1].Edit.Apply(document).Document!;
        Assert.Equal((RateKind.Whole, perHead), (meant.Flows[0].Kind, meant.Flows[0].Rate));
        Assert.DoesNotContain(Of(meant), other => other.Message.Contains("twice"));
        // The second reading moves what the rate per head moved, to rounding.
        Assert.Equal(StudyRun.Of(document).Run!.AmountColumn(0)[^1], StudyRun.Of(meant).Run!.AmountColumn(0)[^1], 1e-9);
    }

    [Fact]
    public void The_way_a_rate_is_given_changes_by_itself()
    {
        var document = Studies.Of("A(0) = 100; A -> at 0.2 per day");
        var flow = new SetField(document.Flows[0].Id, PartField.RateKind, "Whole").Apply(document).Document!.Flows[0];
        Assert.Equal((RateKind.Whole, "0.2 per day"), (flow.Kind, flow.Rate));
        Assert.NotNull(new SetField(document.Flows[0].Id, PartField.RateKind, "sideways").Apply(document).Refusal);
    }

    [Theory]
    [InlineData(3)]
    [InlineData(40)]
    public void Parts_are_found_by_id_and_symbol_in_short_and_long_lists(int count)
    {
        var document = Studies.Of(string.Join("; ", Enumerable.Range(0, count).Select(k => $"C{k}(0) = {k}")));
        foreach (var part in document.Compartments)
        {
            Assert.Same(part, document.Compartment(part.Id));
            Assert.Same(part, document.CompartmentBySymbol(part.Symbol));
            Assert.Same(part, document.Part(part.Id));
        }
        Assert.Null(document.Compartment("nothing"));
        // Of two with one id, as a broken file may have them, the first is found.
        var doubled = document with { Compartments = document.Compartments.Add(document.Compartments[0] with { Label = "again" }) };
        Assert.Same(document.Compartments[0], doubled.Compartment(document.Compartments[0].Id));
    }
}
