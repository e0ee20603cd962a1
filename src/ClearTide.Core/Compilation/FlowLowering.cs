using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Expressions;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Compilation;

/// <summary>Lowers flows to processes: fan-outs to shared changes, stages to a chain, limited flows to a demand and a factor.</summary>
internal sealed partial class FlowLowering(ModelBuilder build, ValueReader values, NameScope scope)
{
    public List<Process> Processes { get; } = [];

    /// <summary>The rate of each flow as it leaves its compartment.</summary>
    public List<NamedExpression> Rates { get; } = [];

    private StudyDocument Document => build.Document;

    private ExpressionGraph Graph => build.Graph;

    public void Add(Flow flow)
    {
        var from = Document.Compartment(flow.From);
        var ends = Ends(flow);
        var line = Line(flow, from);
        var first = Processes.Count;
        if (from is null || build.Stages(from.Id) == 1)
            AddSimple(flow, from, line, ends);
        else if (IsStagedExit(flow, from))
            AddChain(flow, from, line, ends);
        else
            AddBeside(flow, from, line, ends);
        var rate = Graph.Constant(0);
        foreach (var process in Processes.Skip(first).Where(process => process.IsExit))
            rate = Graph.Add(rate, process.Rate);
        Rates.Add(new(Document.Describe(flow), flow.Id, rate));
    }

    private bool IsStagedExit(Flow flow, Compartment from) =>
        flow.Stages > 1
        && flow.Kind != RateKind.Whole
        && Document.Flows.First(other => other.From == from.Id && other.Stages > 1).Id == flow.Id;

    /// <summary>The node of the rate's line; zero where it is unfinished.</summary>
    private int Line(Flow flow, Compartment? from)
    {
        var formula = values.Formula(flow.Id, PartField.Rate);
        if (formula.Tree is not { } tree)
            return flow.Kind == RateKind.MeanStay ? Graph.Constant(double.PositiveInfinity) : Graph.Constant(0);
        if (IsDiscrete)
            ShorterThanStep(flow, tree);
        if (RateDimension.Misuse(Document, flow.Kind, tree, flow.Rate) is { } misuse)
        {
            build.Findings.Add(
                flow.Id,
                PartField.Rate,
                Severity.Unfinished,
                misuse.Span,
                misuse.Message,
                [.. misuse.Fixes.Select(fix => (fix.Label, fix.Replacement))]
            );
        }
        if (flow.Kind == RateKind.PerHead && from is not null && tree.Names().Any(name => name.Name == from.Symbol))
            TwicePerHead(flow, from, tree);
        if (SplitFlow.Terms(Document, flow, tree) is not null)
        {
            build.Findings.AddWithEdits(
                flow.Id,
                PartField.Rate,
                Severity.Doubt,
                null,
                "This rate is a net of two terms. A run without chance is the same either way; with chance, two flows would make "
                    + "more noise than their net.",
                [new("Split into two flows", new SplitFlow(flow.Id))]
            );
        }
        if (flow.Kind == RateKind.Whole && from is not null && !flow.Limited && formula.HasNames && !Mentions(tree, from.Symbol, []))
            TakesWhatIsNotThere(flow, from);
        else if (flow.Kind == RateKind.Whole && from is not null && !flow.Limited && !formula.HasNames)
            TakesWhatIsNotThere(flow, from);
        if (flow.Kind != RateKind.Whole && from is null)
        {
            build.Findings.Add(
                flow.Id,
                PartField.Rate,
                Severity.Unfinished,
                null,
                "A flow from outside has nothing to be per head of. Write its amount per unit of time.",
                ("As a whole formula", ": " + flow.Rate)
            );
            return Graph.Constant(0);
        }
        if (values.Value(flow.Id, PartField.Rate) is var own && own >= 0)
            return own;
        var node = scope.Bind(tree, flow.Id, PartField.Rate, flow.Rate);
        // With a name that nothing has, the flow counts as zero; no value is made up.
        return scope.IsWhole(tree) ? node : Graph.Constant(flow.Kind == RateKind.MeanStay ? double.PositiveInfinity : 0);
    }

    /// <summary>A per-unit rate times an amount, or an amount over a stay.</summary>
    private int OfAmount(Flow flow, int line, int amount) =>
        flow.Kind == RateKind.PerHead
            ? Graph.Multiply(line, amount)
            : Graph.Divide(IsDiscrete ? Graph.Multiply(Graph.Constant(Document.Solver.Step), amount) : amount, line);

    private bool IsDiscrete => Document.Solver.IsDiscrete;

    private void AddSimple(Flow flow, Compartment? from, int line, IReadOnlyList<StateChange> ends)
    {
        var leaves = from is null ? (StateChange[])[] : [new(build.FirstState(from.Id), -1)];
        var process = Make(
            flow,
            flow.Kind == RateKind.Whole || from is null ? line : OfAmount(flow, line, build.Stage(from.Id, 0)),
            [.. leaves, .. ends]
        );
        Processes.Add(flow.Limited ? Limited(flow, from, process) : process);
    }

    /// <summary>The stay before this exit is passed stage by stage, each at as many times the rate as there are stages.</summary>
    private void AddChain(Flow flow, Compartment from, int line, IReadOnlyList<StateChange> ends)
    {
        var (first, stages) = (build.FirstState(from.Id), build.Stages(from.Id));
        var count = Graph.Constant(stages);
        for (var stage = 0; stage < stages; stage++)
        {
            var rate = Graph.Multiply(count, OfAmount(flow, line, build.Stage(from.Id, stage)));
            var last = stage == stages - 1;
            IReadOnlyList<StateChange> next = last ? ends : [new(first + stage + 1, 1)];
            Processes.Add(
                Make(flow, rate, [new(first + stage, -1), .. next]) with
                {
                    Stage = stage,
                    IsExit = last,
                    SharesSum = !last || SharesSum(flow),
                }
            );
        }
    }

    /// <summary>An exit beside a staged one leaves every stage: per head from each, a whole formula in proportion to what each
    /// holds.</summary>
    private void AddBeside(Flow flow, Compartment from, int line, IReadOnlyList<StateChange> ends)
    {
        var (first, stages, amount) = (build.FirstState(from.Id), build.Stages(from.Id), build.Amount(from));
        for (var stage = 0; stage < stages; stage++)
        {
            var held = build.Stage(from.Id, stage);
            var rate =
                flow.Kind != RateKind.Whole ? OfAmount(flow, line, held)
                : GraphFactors.Replace(Graph, line, amount, held) is var factored && factored >= 0 ? factored
                : Graph.Choose(
                    Graph.Binary(Operation.Equal, amount, Graph.Constant(0)),
                    stage == 0 ? line : Graph.Constant(0),
                    Graph.Multiply(line, Graph.Divide(held, amount))
                );
            Processes.Add(Make(flow, rate, [new(first + stage, -1), .. ends]) with { Stage = stage });
        }
        if (flow.Limited)
            build.Findings.Add(
                flow.Id,
                PartField.Limited,
                Severity.Doubt,
                null,
                $"{from.Symbol} has stages, which a limit does not reach. Give this rate per head, so that it needs none."
            );
    }

    private Process Make(Flow flow, int rate, IReadOnlyList<StateChange> changes) =>
        new(flow.Id, Document.Describe(flow), rate, changes) { SharesSum = SharesSum(flow), Noise = flow.NoiseIntensity };

    /// <summary>One-way, and held back by a factor that all limited exits of the compartment share while it is empty.</summary>
    private Process Limited(Flow flow, Compartment? from, Process process)
    {
        var demand = Graph.Binary(Operation.Max, process.Rate, Graph.Constant(0));
        if (from is null)
        {
            build.Findings.AddWithEdits(
                flow.Id,
                PartField.Limited,
                Severity.Doubt,
                null,
                "A flow from outside takes from nothing that could run empty, so there is nothing to limit.",
                [new("Make it free", new SetField(flow.Id, PartField.Limited, "false"))]
            );
            return process with { Rate = demand };
        }
        // A rate per head ends by itself when nothing is left.
        if (flow.Kind != RateKind.Whole)
            return process;
        if (IsDiscrete)
            return process with { Rate = demand };
        var slot = build.LimitSlot(from.Id);
        return process with { Rate = Graph.Multiply(Graph.Parameter(slot), demand), Demand = demand, Limit = slot };
    }
}
