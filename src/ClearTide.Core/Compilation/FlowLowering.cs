using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;

namespace ClearTide.Core.Compilation;

/// <summary>Lowers flows to processes: fan-outs to shared changes, stages to a chain, limited flows to a demand and a factor.</summary>
internal sealed class FlowLowering(ModelBuilder build, ValueReader values, NameScope scope)
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

    /// <summary>Limited flows in a circle are legal, and nothing flows in an empty one that nothing feeds: worth a sentence.</summary>
    public void CheckCircles()
    {
        var limited = Document.Flows.Where(flow => flow is { Limited: true, Kind: RateKind.Whole, From: not null }).ToList();
        foreach (var first in limited)
        {
            var (path, seen) = (new List<Flow> { first }, new HashSet<string> { first.From! });
            if (!Closes(first.From!, first, limited, path, seen))
                continue;
            var circle = string.Join(
                " → ",
                path.Select(flow => Document.Compartment(flow.From)?.Symbol).Append(Document.Compartment(first.From)?.Symbol)
            );
            build.Findings.AddWithEdits(
                first.Id,
                PartField.Limited,
                Severity.Doubt,
                null,
                $"Limited flows run in a circle here: {circle}. Once all of it is empty, only what comes from elsewhere goes round.",
                [new($"Make {Document.Describe(first)} free", new SetField(first.Id, PartField.Limited, "false"))]
            );
            return;
        }
    }

    private static bool Closes(string goal, Flow flow, IReadOnlyList<Flow> limited, List<Flow> path, HashSet<string> seen)
    {
        foreach (var end in flow.To.Select(target => target.Id).OfType<string>())
        {
            if (end == goal)
                return true;
            if (!seen.Add(end))
                continue;
            foreach (var next in limited.Where(other => other.From == end))
            {
                path.Add(next);
                if (Closes(goal, next, limited, path, seen))
                    return true;
                path.RemoveAt(path.Count - 1);
            }
        }
        return false;
    }

    private bool IsStagedExit(Flow flow, Compartment from) =>
        flow.Stages > 1
        && flow.Kind != RateKind.Whole
        && Document.Flows.First(other => other.From == from.Id && other.Stages > 1).Id == flow.Id;

    /// <summary>
    /// A rate per head that has its own compartment in it is most often the whole flow, typed where a rate per head is asked for.
    /// </summary>
    private void TwicePerHead(Flow flow, Compartment from, Syntax tree)
    {
        var product = tree is BinarySyntax { Operator: BinaryOperator.Add or BinaryOperator.Subtract } ? $"({flow.Rate})" : flow.Rate;
        build.Findings.AddWithEdits(
            flow.Id,
            PartField.Rate,
            Severity.Doubt,
            null,
            $"“at” takes a rate for each {from.Symbol}, so that {from.Symbol} counts twice here: {product} * {from.Symbol} moves in "
                + $"all. Is {flow.Rate} the whole flow?",
            [
                new($"The whole flow is {flow.Rate}", new SetField(flow.Id, PartField.Rate, RateLine.Write(RateKind.Whole, flow.Rate))),
                new(
                    $"Per head is meant: {product} * {from.Symbol}",
                    new SetField(flow.Id, PartField.Rate, RateLine.Write(RateKind.Whole, $"{product} * {from.Symbol}"))
                ),
            ]
        );
    }

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

    /// <summary>In discrete steps 1/D of a compartment leaves per step: a stay is no shorter than one.</summary>
    private void ShorterThanStep(Flow flow, Syntax tree)
    {
        if (flow.Kind != RateKind.MeanStay || tree.Names().Any())
            return;
        var (stay, step) = (FormulaBinder.ValueOf(tree, build.Units) / Math.Max(1, flow.Stages), Document.Solver.Step);
        if (!(stay > 0) || stay >= step)
            return;
        var unit = Document.TimeUnit.Plural;
        string Say(double number) => number.ToString("G6", System.Globalization.CultureInfo.InvariantCulture);
        build.Findings.AddWithEdits(
            flow.Id,
            PartField.Rate,
            Severity.Doubt,
            null,
            $"{(flow.Stages > 1 ? "A stage" : "This stay")} of {Say(stay)} {unit} is shorter than a step of {Say(step)}, so that "
                + "more leaves in a step than is there. Take a shorter step.",
            [new($"Step of {Say(stay)} {unit}", new SetSolver(Document.Solver.Method, stay, Document.Solver.Tolerance))]
        );
    }

    private void TakesWhatIsNotThere(Flow flow, Compartment from) =>
        build.Findings.AddWithEdits(
            flow.Id,
            PartField.Rate,
            Severity.Doubt,
            null,
            $"This takes from {from.Symbol} however little is left there, since the formula does not mention {from.Symbol}.",
            [
                new($"Per head of {from.Symbol}", new SetField(flow.Id, PartField.Rate, RateLine.Write(RateKind.PerHead, flow.Rate))),
                new("Limit it to what is there", new SetField(flow.Id, PartField.Limited, "true")),
            ]
        );

    private bool Mentions(Syntax tree, string symbol, HashSet<string> seen)
    {
        foreach (var name in tree.Names())
        {
            if (name.Name == symbol)
                return true;
            if (
                seen.Add(name.Name)
                && build.Part(name.Name) is Definition part
                && values.Formula(part.Id, PartField.Text).Tree is { } inner
                && Mentions(inner, symbol, seen)
            )
                return true;
        }
        return false;
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
        new(flow.Id, Document.Describe(flow), rate, changes) { SharesSum = SharesSum(flow) };

    private static bool SharesSum(Flow flow) => flow.To.All(target => target.Id is not null);

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

    private IReadOnlyList<StateChange> Ends(Flow flow)
    {
        if (!flow.FansOut)
            return flow.Target is { } only && Document.Compartment(only) is not null ? [new(build.FirstState(only), 1)] : [];
        var shares = new int[flow.To.Length];
        var rest = Graph.Constant(1);
        var (rests, plain) = (0, 0.0);
        var allPlain = true;
        for (var k = 0; k < flow.To.Length; k++)
        {
            shares[k] = Share(flow, k);
            if (flow.To[k].Share.Length == 0)
            {
                rests++;
                continue;
            }
            rest = Graph.Subtract(rest, shares[k]);
            if (values.Value(flow.Id, PartField.Share, k) is var own && own >= 0)
                plain += CheckShare(flow, k, build.Values[Graph[own].A].Value);
            else
                allPlain = false;
        }
        CheckSum(flow, rests, plain, allPlain);
        var changes = new List<StateChange>();
        for (var k = 0; k < flow.To.Length; k++)
        {
            var share = flow.To[k].Share.Length == 0 ? rest : shares[k];
            if (!Graph.IsConstant(share, out _))
                build.Ranges.Add(new(flow.Id, share, 0, 1) { Stops = true });
            if (flow.To[k].Id is { } id && Document.Compartment(id) is not null)
                changes.Add(new(build.FirstState(id), 1, share));
        }
        return changes;
    }

    private int Share(Flow flow, int k)
    {
        if (flow.To[k].Share.Length == 0)
            return -1;
        if (values.Value(flow.Id, PartField.Share, k) is var own && own >= 0)
            return own;
        return values.Formula(flow.Id, PartField.Share, k).Tree is { } tree
            ? scope.Bind(tree, flow.Id, PartField.Share, flow.To[k].Share, k)
            : Graph.Constant(0);
    }

    private double CheckShare(Flow flow, int k, double share)
    {
        if (share is >= 0 and <= 1)
            return share;
        var percent = (100 * share).ToString("0.####", System.Globalization.CultureInfo.InvariantCulture);
        build.Findings.AddWithEdits(
            flow.Id,
            PartField.Share,
            Severity.Unfinished,
            null,
            $"A share lies between 0 and 1, and this one is {percent}%. "
                + $"{(share is > 1 and <= 100 ? "Did you mean percent?" : "Type another.")}",
            share is > 1 and <= 100 ? [new($"{flow.To[k].Share}%", new SetField(flow.Id, PartField.Share, flow.To[k].Share + "%", k))] : [],
            k
        );
        return share;
    }

    private void CheckSum(Flow flow, int rests, double plain, bool allPlain)
    {
        var last = flow.To.Length - 1;
        FindingFix Rest() =>
            new(
                $"{Document.Compartment(flow.To[last].Id)?.Symbol ?? "Outside"} takes the rest",
                new SetField(flow.Id, PartField.Share, "", last)
            );
        if (rests > 1)
        {
            build.Findings.AddWithEdits(
                flow.Id,
                PartField.Share,
                Severity.Unfinished,
                null,
                "Two ends of this flow take the rest; only one can. Type a share for the others.",
                [],
                last
            );
            return;
        }
        if (rests == 1)
        {
            if (plain > 1 + 1e-9)
                build.Findings.AddWithEdits(
                    flow.Id,
                    PartField.Share,
                    Severity.Unfinished,
                    null,
                    "The shares come to more than all, so that less than nothing is left for the rest. Lower one of them.",
                    [],
                    last
                );
            return;
        }
        // Percents with few digits add up to one but for rounding of the last bit.
        if (allPlain && Math.Abs(plain - 1) > 1e-9)
        {
            build.Findings.AddWithEdits(
                flow.Id,
                PartField.Share,
                Severity.Unfinished,
                null,
                "The shares of this flow come to "
                    + $"{(100 * plain).ToString("0.####", System.Globalization.CultureInfo.InvariantCulture)}%, not to 100%.",
                [Rest()],
                last
            );
        }
        else if (!allPlain)
            build.Findings.AddWithEdits(
                flow.Id,
                PartField.Share,
                Severity.Doubt,
                null,
                "Nothing makes sure that these shares come to one. Let the last end take the rest.",
                [Rest()],
                last
            );
    }
}
