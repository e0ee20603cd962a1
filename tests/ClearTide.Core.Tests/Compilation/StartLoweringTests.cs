using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Compilation;

/// <summary>Where a run starts: amounts, formulas, rests, stages and equilibria.</summary>
public class StartLoweringTests
{
    private static double[] Starts(string lines)
    {
        var lowered = Lowering.Lower(Studies.Of(lines));
        Assert.False(lowered.IsProvisional, string.Join("; ", lowered.Findings.Select(finding => finding.Message)));
        var network = lowered.Network;
        double[] values = [.. network.ValueVector(), .. network.Slots];
        return [.. network.Initial.Select(node => network.Graph.Evaluate(node, 0, [], values))];
    }

    [Fact]
    public void Amounts_may_be_numbers_formulas_of_values_and_of_each_other() =>
        Assert.Equal([100.0, 50, 8], Starts("A(0) = 100; B(0) = A / 2; C(0) = 4 * k; k = 2; A -> B at 0.1; B -> C at 0.1"));

    [Fact]
    public void The_rest_is_what_the_others_leave_of_the_total() =>
        Assert.Equal([90.0, 7, 3], Starts("S(0) = the rest of 100; I(0) = 7; R(0) = 3; S -> I at 0.1; I -> R at 0.1"));

    [Fact]
    public void What_starts_in_stages_starts_in_the_first_unless_it_is_spread()
    {
        const string lines = "E -> I after 6 days in 3 stages; E(0) = 9; I(0) = 1";
        Assert.Equal([9.0, 0, 0, 1], Starts(lines));
        var document = Studies.Of(lines);
        document = document.With(document.Flows[0] with { SpreadStart = true });
        var network = Lowering.Lower(document).Network;
        Assert.Equal([3.0, 3, 3, 1], network.Initial.Select(node => network.Graph.Evaluate(node, 0, [], network.ValueVector())));
    }

    [Fact]
    public void Amounts_above_the_total_leave_less_than_nothing_and_it_is_said_by_how_much()
    {
        var lowered = Lowering.Lower(Studies.Of("S(0) = the rest of 10; I(0) = 17; S -> I at 0.1"));
        Assert.Contains("come to 7 more", Assert.Single(lowered.Findings, finding => finding.Message.Contains("stated total")).Message);
    }

    [Fact]
    public void An_equilibrium_of_a_kept_total_needs_a_rest_and_has_one_where_it_is_given()
    {
        var open = Lowering.Lower(Studies.Of("A(0) = at equilibrium; B(0) = at equilibrium; A -> B at 0.1; B -> A at 0.3"));
        Assert.Contains(open.Findings, finding => finding.Message.Contains("keeps any total"));
        var closed = Lowering.Lower(Studies.Of("A(0) = at equilibrium; B(0) = the rest of 80; A -> B at 0.1; B -> A at 0.3"));
        Assert.DoesNotContain(closed.Findings, finding => finding.Severity == Severity.Unfinished);
        Assert.Single(closed.Network.Equilibria);
    }

    [Fact]
    public void A_next_value_is_a_rule_of_discrete_steps_and_not_used_in_continuous_time()
    {
        var document = Studies.Of("N(0) = 10; M(0) = 1; r = 2");
        document = document.With(document.CompartmentBySymbol("N")! with { Next = "r * N" });
        Assert.Contains(Lowering.Lower(document).Findings, finding => finding.Message.Contains("it is not used"));
        var stepped = Lowering.Lower(document with { Solver = new(Method.Discrete, 1, 1e-8) }).Network;
        var (state, node) = Assert.Single(stepped.Rules);
        Assert.Equal(0, state);
        // The rule says the change: twice ten is ten more.
        Assert.Equal(10, stepped.Graph.Evaluate(node, 0, [10, 1], stepped.ValueVector()));
    }

    [Fact]
    public void A_next_value_of_what_is_passed_in_stages_says_nothing_about_them()
    {
        var document = Studies.Of("E -> I after 6 days in 2 stages; E(0) = 9; I(0) = 1") with { Solver = new(Method.Discrete, 1, 1e-8) };
        document = document.With(document.CompartmentBySymbol("E")! with { Next = "5" });
        var finding = Assert.Single(Lowering.Lower(document).Findings, one => one.Message.Contains("passed in stages"));
        Assert.Equal(Severity.Unfinished, finding.Severity);
        var without = finding.Fixes[0].Edit.Apply(document).Document!;
        Assert.Equal("", without.CompartmentBySymbol("E")!.Next);
    }

    [Fact]
    public void Two_parts_of_one_symbol_cannot_be_told_apart_and_those_that_print_alike_hardly()
    {
        var document = Studies.Of("beta = 2; A(0) = beta");
        var twice = document with { Definitions = document.Definitions.Add(new Definition("d9", "beta", "Again", "3")) };
        Assert.Contains(Lowering.Lower(twice).Findings, finding => finding.Message.Contains("the symbol of two parts"));
        var alike = document with { Definitions = document.Definitions.Add(new Definition("d9", "β", "Again", "3")) };
        var finding = Assert.Single(Lowering.Lower(alike).Findings, one => one.Message.Contains("print alike"));
        Assert.Equal(Severity.Doubt, finding.Severity);
    }

    [Fact]
    public void Bounds_are_numbers_and_a_value_outside_them_is_doubted()
    {
        var document = Studies.Of("k = 5; A -> at k; A(0) = 1");
        Definition With(string lower, string upper) => document.DefinitionBySymbol("k")! with { Lower = lower, Upper = upper };
        Assert.Contains(Lowering.Lower(document.With(With("6", ""))).Findings, one => one.Message.Contains("below its lower bound of 6"));
        Assert.Contains(Lowering.Lower(document.With(With("", "4"))).Findings, one => one.Message.Contains("above its upper bound of 4"));
        Assert.Contains(Lowering.Lower(document.With(With("A", ""))).Findings, one => one.Message.Contains("is a plain number"));
        Assert.Empty(Lowering.Lower(document.With(With("5", "5"))).Findings);
    }
}
