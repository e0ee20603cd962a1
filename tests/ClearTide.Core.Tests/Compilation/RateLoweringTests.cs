using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Compilation;

/// <summary>What flows become in the reaction network, read off its expressions at a state.</summary>
public class RateLoweringTests
{
    private static ReactionNetwork Network(string lines, SolverChoice? solver = null)
    {
        var document = Studies.Of(lines);
        var lowered = Lowering.Lower(solver is null ? document : document with { Solver = solver });
        var unfinished = lowered.Findings.FirstOrDefault(finding => finding.Severity == Severity.Unfinished);
        Assert.True(unfinished is null, unfinished?.Message);
        return lowered.Network;
    }

    private static double At(ReactionNetwork network, int node, double time, params double[] state) =>
        network.Graph.Evaluate(node, time, state, [.. network.ValueVector(), .. network.Slots]);

    [Theory]
    [InlineData("A -> B at 0.2; A(0) = 50; B(0) = 0", 10)]
    [InlineData("A -> B after 5 days; A(0) = 50; B(0) = 0", 10)]
    [InlineData("A -> B : 0.2 * A; A(0) = 50; B(0) = 0", 10)]
    [InlineData("A -> B at 1.4 per week; A(0) = 50; B(0) = 0", 10)]
    [InlineData("A -> B at 200 per 1000 per day; A(0) = 50; B(0) = 0", 10)]
    [InlineData("A -> B after 120 hours; A(0) = 50; B(0) = 0", 10)]
    public void The_ways_to_give_a_rate_come_to_the_same(string lines, double expected)
    {
        var network = Network(lines);
        var process = Assert.Single(network.Processes);
        // A week and an hour are whole numbers of the study's unit or its parts: only the last bit may differ.
        Assert.Equal(expected, At(network, process.Rate, 0, 50, 0), 1e-14 * expected);
        Assert.Equal([new StateChange(0, -1), new StateChange(1, 1)], process.Changes);
        Assert.Equal(process.Rate, Assert.Single(network.Flows).Node);
    }

    [Fact]
    public void Flows_from_and_to_the_outside_change_one_state_each()
    {
        var network = Network("-> A : 3; A -> at 0.1; A(0) = 5");
        Assert.Equal([new StateChange(0, 1)], network.Processes[0].Changes);
        Assert.Equal([new StateChange(0, -1)], network.Processes[1].Changes);
        Assert.Equal(3, At(network, network.Processes[0].Rate, 0, 5));
        Assert.Equal(0.5, At(network, network.Processes[1].Rate, 0, 5));
    }

    [Fact]
    public void A_fan_out_is_one_process_whose_shares_add_up_to_one()
    {
        var network = Network("I -> R 70%, D 20%, H the rest at 0.5; I(0) = 10; R(0) = 0; D(0) = 0; H(0) = 0");
        var process = Assert.Single(network.Processes);
        var shares = process
            .Changes.Where(change => change.Share >= 0)
            .Select(change => At(network, change.Share, 0, 10, 0, 0, 0))
            .ToList();
        // Three decimal shares: their sum is one but for rounding.
        Assert.Equal([0.7, 0.2, 0.1], shares.Select(share => Math.Round(share, 12)));
        Assert.True(process.SharesSum);
        Assert.Equal(5, At(network, process.Rate, 0, 10, 0, 0, 0));
    }

    [Fact]
    public void Stages_are_a_chain_of_states_each_left_at_as_many_times_the_rate()
    {
        var network = Network("E -> I after 6 days in 3 stages; E(0) = 9; I(0) = 0");
        Assert.Equal(4, network.States.Count);
        Assert.Equal(3, network.Processes.Count);
        Assert.Equal([false, false, true], network.Processes.Select(process => process.IsExit));
        Assert.All(network.Processes, (process, stage) => Assert.Equal(stage, process.Stage));
        // Each stage holds 2: it is left at 3 / 6 days of it.
        Assert.All(network.Processes, process => Assert.Equal(1, At(network, process.Rate, 0, 2, 2, 2, 0)));
        // What the flow is worth is what leaves the compartment, and the compartment is the sum of its stages.
        Assert.Equal(1, At(network, network.Flows[0].Node, 0, 5, 4, 2, 0));
        Assert.Equal(11, At(network, network.Amounts[0].Node, 0, 5, 4, 2, 0));
    }

    [Fact]
    public void An_exit_beside_a_staged_one_leaves_every_stage_in_proportion()
    {
        var network = Network("E -> I after 6 days in 2 stages; E -> D : 0.1 * E; E(0) = 9; I(0) = 0; D(0) = 0");
        var beside = network.Processes.Where(process => process.Name == "E → D").ToList();
        Assert.Equal(2, beside.Count);
        Assert.Equal(0.7, At(network, beside[0].Rate, 0, 7, 3, 0, 0), 1e-15);
        Assert.Equal(0.3, At(network, beside[1].Rate, 0, 7, 3, 0, 0), 1e-15);
    }

    [Fact]
    public void A_limited_whole_flow_has_a_demand_and_a_factor_and_one_per_head_needs_none()
    {
        var network = Network("A -> B : 5 limited; A -> C at 0.1 limited; A(0) = 50; B(0) = 0; C(0) = 0");
        Assert.True(network.Processes[0].Limit >= 0);
        Assert.Equal(5, At(network, network.Processes[0].Demand, 0, 50, 0, 0));
        Assert.Equal(-1, network.Processes[1].Limit);
    }

    [Fact]
    public void In_discrete_steps_limited_flows_share_what_the_free_ones_leave()
    {
        var network = Network(
            "A -> B : 30 limited; A -> C : 60 limited; A -> D at 0.5; A(0) = 50; B(0) = 0; C(0) = 0; D(0) = 0",
            new(Method.Discrete, 1, 1e-8)
        );
        double[] Rates(double there) => [.. network.Flows.Select(flow => At(network, flow.Node, 0, there, 0, 0, 0))];
        // Of 100 the free exit takes 50, and 30 and 60 share the other 50 as 1 to 2; of 400 there is enough for all.
        var shared = Rates(100);
        Assert.Equal(50.0 / 3, shared[0], 1e-12);
        Assert.Equal(100.0 / 3, shared[1], 1e-12);
        Assert.Equal(50, shared[2], 1e-12);
        Assert.Equal([30.0, 60, 200], Rates(400));
        // Nothing is there: nothing goes, and no division by what is not there.
        Assert.Equal([0.0, 0, 0], Rates(0));
    }

    [Fact]
    public void A_stay_in_discrete_steps_leaves_a_step_over_the_stay()
    {
        var network = Network("A -> B after 10 days; A(0) = 50; B(0) = 0", new(Method.Discrete, 2, 1e-8));
        Assert.Equal(10, At(network, network.Processes[0].Rate, 0, 50, 0));
        Assert.Equal(2, network.DiscreteStep);
    }

    [Fact]
    public void A_flow_without_a_rate_counts_as_nothing_and_says_so()
    {
        var document = Studies.Of("A -> B at 0.1; A(0) = 50; B(0) = 0");
        var lowered = Lowering.Lower(document.With(document.Flows[0] with { Rate = "" }));
        Assert.Equal(0, lowered.Network.Graph.Evaluate(lowered.Network.Processes[0].Rate, 0, [50, 0], lowered.Network.ValueVector()));
        Assert.Contains(lowered.Findings, finding =>
            finding.Severity == Severity.Unfinished && finding.Message.Contains("has no rate yet")
        );
    }

    [Fact]
    public void A_rate_per_head_of_the_outside_is_no_rate_and_its_fix_makes_it_whole()
    {
        var document = Studies.Of("-> A : 0.3; A(0) = 1");
        document = document.With(document.Flows[0] with { Kind = RateKind.PerHead });
        var finding = Assert.Single(Lowering.Lower(document).Findings, one => one.Severity == Severity.Unfinished);
        var mended = finding.Fixes[0].Edit.Apply(document).Document!;
        Assert.Equal(RateKind.Whole, mended.Flows[0].Kind);
        Assert.DoesNotContain(Lowering.Lower(mended).Findings, one => one.Severity == Severity.Unfinished);
    }

    [Fact]
    public void A_net_rate_is_doubted_and_splits_into_two_that_come_to_the_same()
    {
        var document = Studies.Of("A -> B : 0.3 * A - 0.1 * B; A(0) = 50; B(0) = 20");
        var finding = Assert.Single(Lowering.Lower(document).Findings, one => one.Message.Contains("net of two terms"));
        var split = Lowering.Lower(finding.Fixes[0].Edit.Apply(document).Document!).Network;
        Assert.Equal(2, split.Processes.Count);
        var (one, two) = (At(split, split.Processes[0].Rate, 0, 50, 20), At(split, split.Processes[1].Rate, 0, 50, 20));
        Assert.Equal(15, one, 1e-12);
        Assert.Equal(2, two, 1e-12);
    }

    [Fact]
    public void Limited_flows_in_a_circle_are_told_once()
    {
        var lowered = Lowering.Lower(
            Studies.Of("A -> B : 1 limited; B -> C : 1 limited; C -> A : 1 limited; A(0) = 3; B(0) = 0; C(0) = 0")
        );
        Assert.Contains("A → B → C → A", Assert.Single(lowered.Findings, finding => finding.Message.Contains("circle")).Message);
    }

    [Fact]
    public void A_reaction_consumes_and_makes_by_its_numbers()
    {
        var network = Network("reaction meet: A + 2 B -> 3 C : 0.5 * A * B; A(0) = 4; B(0) = 6; C(0) = 0");
        var process = Assert.Single(network.Processes);
        Assert.Equal([(0, -1), (1, -2), (2, 3)], process.Changes.Select(change => (change.State, change.Coefficient)));
        Assert.Equal(12, At(network, process.Rate, 0, 4, 6, 0));
    }

    [Fact]
    public void The_same_document_is_lowered_once_and_its_graph_takes_no_more_nodes()
    {
        var document = Studies.Of("A -> B at 0.2; A(0) = 50; B(0) = 0");
        var lowered = Lowering.Lower(document);
        Assert.Same(lowered, Lowering.Lower(document));
        Assert.True(lowered.Network.Graph.IsFrozen);
        Assert.Throws<InvalidOperationException>(() => lowered.Network.Graph.Constant(0.123456789));
        var fork = lowered.Network.Graph.Fork();
        Assert.True(fork.Constant(0.123456789) >= lowered.Network.Graph.Count);
    }

    [Fact]
    public void Units_of_a_large_study_are_found_beside_the_rest_and_come_to_the_same()
    {
        // More flows than are checked within the same task, and one wrong unit among them.
        var chain = string.Join("; ", Enumerable.Range(0, 60).Select(k => $"C{k}(0) = {k} people; C{k} -> C{k + 1} at 0.1 per day"));
        var large = Lowering.Lower(Studies.Of(chain + "; C60(0) = 4 mg"));
        var small = Lowering.Lower(Studies.Of("C0(0) = 1 people; C0 -> C1 at 0.1 per day; C1(0) = 4 mg"));
        var (many, few) = (
            large.Findings.Single(finding => finding.Message.Contains("joins")),
            small.Findings.Single(finding => finding.Message.Contains("joins"))
        );
        Assert.Equal(few.Message.Replace("C0", "C59").Replace("C1", "C60"), many.Message);
        Assert.Equal("people", large.Units.Of(large.Document.CompartmentBySymbol("C30")!.Id).Unit!.Text());
    }
}
