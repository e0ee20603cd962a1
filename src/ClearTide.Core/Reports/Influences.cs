using ClearTide.Core.Expressions;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Reports;

/// <summary>Which way one part moves another along a run: more of it makes more, makes less, or now one and now the other.</summary>
public enum InfluenceSign
{
    /// <summary>More of one makes more of the other.</summary>
    More,

    /// <summary>More of one makes less of the other.</summary>
    Less,

    /// <summary>It depends on where the model is.</summary>
    Both,
}

/// <summary>One part moves another.</summary>
/// <param name="From">Id of the part that moves the other.</param>
/// <param name="To">Id of the part that is moved.</param>
/// <param name="Sign">Whether more of one makes more or less of the other.</param>
public sealed record Influence(string From, string To, InfluenceSign Sign);

/// <summary>
/// What moves what in a model: the sign, along a run, of the derivative of each part with respect to another, through all quantities
/// between
/// them and holding amounts fixed. Parts that never move each other along the run are left out.
/// </summary>
public sealed class Influences
{
    /// <summary>A derivative this much smaller than its own greatest size is rounding error, and has no sign.</summary>
    private const double Negligible = 1e-11;

    private readonly StudyDocument _document;
    private readonly ReactionNetwork _network;
    private readonly Trajectory _run;
    private readonly Dictionary<string, string> _ids;
    private readonly Dictionary<string, HashSet<string>> _closures = [];

    private Influences(StudyDocument document, ReactionNetwork network, Trajectory run)
    {
        (_document, _network, _run) = (document, network, run);
        _ids = document.SymbolParts.GroupBy(part => part.Symbol).ToDictionary(group => group.Key, group => group.First().Id);
    }

    /// <summary>What a part is moved by, and what it moves. A compartment is moved by the flows that enter and leave it.</summary>
    /// <param name="run">A run with its model.</param>
    /// <param name="partId">Id of the part.</param>
    public static IReadOnlyList<Influence> Of(StudyRun run, string partId)
    {
        if (Read(run) is not { } all || all._document.Part(partId) is not { } part)
            return [];
        var used = all.Closure(part).Where(id => id != partId).SelectMany(id => all.Signs(id, [part]));
        var users = all.Signs(partId, [.. all.Moved().Where(other => other.Id != partId && all.Closure(other).Contains(partId))]);
        return [.. used, .. users, .. all.Ends(part)];
    }

    /// <summary>How every compartment moves the flows, but for what a flow takes from its own compartment.</summary>
    /// <param name="run">A run with its model.</param>
    public static IReadOnlyList<Influence> OnFlows(StudyRun run)
    {
        if (Read(run) is not { } all)
            return [];
        return
        [
            .. all._document.Compartments.SelectMany(part =>
                all.Signs(part.Id, [.. all._document.Flows.Where(flow => flow.From != part.Id && all.Closure(flow).Contains(part.Id))])
            ),
        ];
    }

    // The graph grows by derivatives: that of a run is shared by all who look at it.
    private static Influences? Read(StudyRun run) =>
        run.Run is { } trajectory ? new(run.Lowered.Document, run.Lowered.Network.Fork(), trajectory) : null;

    private IEnumerable<IPart> Moved() =>
        _document
            .Flows.Concat<IPart>(_document.Reactions)
            .Concat(_document.Definitions)
            .Concat(_document.Inputs)
            .Concat(_document.RandomInputs);

    /// <summary>The parts that a part's formula names, and those that they name in turn; amounts stand for themselves.</summary>
    private HashSet<string> Closure(IPart part)
    {
        if (_closures.TryGetValue(part.Id, out var known))
            return known;
        var closure = _closures[part.Id] = [];
        if (part is Flow { Kind: not RateKind.Whole, From: { } from })
            closure.Add(from);
        if (part is Compartment)
            return closure;
        foreach (var name in LineNames.Of(part))
        {
            if (!_ids.TryGetValue(name.Name, out var id) || !closure.Add(id) || _document.Part(id) is not { } inner || inner is Compartment)
                continue;
            closure.UnionWith(Closure(inner));
        }
        return closure;
    }

    /// <summary>A flow moves the compartments at its ends.</summary>
    private IEnumerable<Influence> Ends(IPart part) =>
        part switch
        {
            Flow flow => Ends(flow),
            Reaction reaction => Ends(reaction),
            Compartment compartment => _document
                .Flows.Where(flow => flow.Touches(compartment.Id))
                .SelectMany(Ends)
                .Concat(_document.Reactions.SelectMany(Ends))
                .Where(end => end.To == compartment.Id),
            _ => [],
        };

    private IEnumerable<Influence> Ends(Reaction reaction)
    {
        if (ReactionLine.Read(reaction.Text).Line is not { } line)
            yield break;
        foreach (var end in line.Ends)
        {
            if (_ids.TryGetValue(end.Name.Name, out var id))
                yield return new(reaction.Id, id, line.Makes.Contains(end) ? InfluenceSign.More : InfluenceSign.Less);
        }
    }

    private static IEnumerable<Influence> Ends(Flow flow)
    {
        if (flow.From is not null)
            yield return new(flow.Id, flow.From, InfluenceSign.Less);
        foreach (var target in flow.To)
        {
            if (target.Id is not null)
                yield return new(flow.Id, target.Id, InfluenceSign.More);
        }
    }

    /// <summary>The node that stands for a part's value along a run, or -1.</summary>
    private int Node(IPart part)
    {
        NamedExpression? Named(IEnumerable<NamedExpression> all) => all.FirstOrDefault(one => one.PartId == part.Id);
        if (
            Named(
                part is Compartment ? _network.Amounts
                : part is Flow ? _network.Flows
                : _network.Quantities
            ) is
            { } named
        )
            return named.Node;
        for (var k = 0; k < _network.Values.Count; k++)
        {
            if (part is Definition && _network.Values[k].PartId == part.Id)
                return _network.Graph.Parameter(k);
        }
        return -1;
    }

    private unsafe List<Influence> Signs(string fromId, IReadOnlyList<IPart> targets)
    {
        var found = new List<Influence>();
        if (_document.Part(fromId) is not { } source)
            return found;
        var node = Node(source);
        var wanted = targets
            .Select(target => (target.Id, Node: Node(target)))
            .Where(target => target.Node >= 0 && target.Node != node)
            .ToList();
        if (node < 0 || wanted.Count == 0)
            return found;
        var graph = _network.Graph;
        Differentiation? along = null;
        var open = new HashSet<int>();
        int Seed(GraphNode leaf)
        {
            if (leaf.Operation == Operation.State && source is Compartment)
                return _network.States[leaf.A].PartId == source.Id && _network.States[leaf.A].IsAmount ? graph.Constant(1) : -1;
            // What was delayed moves as what it is delayed from does.
            if (
                leaf.Operation == Operation.Parameter
                && _network.Delays.FirstOrDefault(delay => delay.Slot == leaf.A) is { } delay
                && open.Add(leaf.A)
            )
                return along!.Of(delay.Expression);
            return -1;
        }
        along = new Differentiation(graph, Seed);
        if (source is not Compartment)
            along.Fix(node, graph.Constant(1));
        var derivatives = wanted.Select(target => along.Of(target.Node)).ToList();
        var function = GraphCompiler.Compile(graph, derivatives);
        var (positive, negative) = (new double[derivatives.Count], new double[derivatives.Count]);
        var results = new double[derivatives.Count];
        var (state, values) = (new double[Math.Max(1, _network.States.Count)], _network.ValueVector());
        if (values.Length == 0)
            values = [0];
        for (var time = 0; time < _run.Times.Count; time++)
        {
            for (var k = 0; k < _network.States.Count; k++)
                state[k] = _run.State(time, k);
            fixed (double* y = state)
            fixed (double* p = values)
            fixed (double* r = results)
            {
                function(_run.Times[time], y, p, r);
            }
            for (var k = 0; k < results.Length; k++)
            {
                if (results[k] > positive[k])
                    positive[k] = results[k];
                if (-results[k] > negative[k])
                    negative[k] = -results[k];
            }
        }
        for (var k = 0; k < results.Length; k++)
        {
            var least = Negligible * Math.Max(positive[k], negative[k]);
            var (more, less) = (positive[k] > least, negative[k] > least);
            if (more || less)
                found.Add(
                    new(
                        fromId,
                        wanted[k].Id,
                        more && less ? InfluenceSign.Both
                            : more ? InfluenceSign.More
                            : InfluenceSign.Less
                    )
                );
        }
        return found;
    }
}
