using ClearTide.Core.Models;

namespace ClearTide.Core.Tests.Models;

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
    public void A_circle_is_spelled_out() => Assert.Contains(Of(Studies.Of("a = b; b = c; c = a")), finding => finding.Message.Contains("a → b → c → a"));

    [Fact]
    public void Starts_that_lean_on_each_other_are_a_circle_too() => Assert.Contains(Of(Studies.Of("A(0) = B; B(0) = A")), finding => finding.Message.Contains("A → B → A"));

    [Fact]
    public void Two_rests_are_one_too_many() => Assert.Contains(Of(Studies.Of("A(0) = the rest of 5; B(0) = the rest of 5")), finding => finding.Message.Contains("only one compartment can"));

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
}
