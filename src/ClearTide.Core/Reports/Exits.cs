using ClearTide.Core.Compilation;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Core.Reports;

/// <summary>One way out of a compartment.</summary>
/// <param name="FlowId">Id of the flow.</param>
/// <param name="To">Symbols of where it leads.</param>
/// <param name="Rate">Its rate per head, in the study's unit of time.</param>
/// <param name="Share">The share of all that leaves by it, where all exits are known.</param>
public sealed record Exit(string FlowId, string To, double Rate, double Share);

/// <summary>
/// The exits of a compartment together: which share leaves by each, and the mean stay that they make jointly. Rates compete, so that one
/// over
/// the sum of the rates is the joint mean stay (the minimum of exponential waits; Feller, An Introduction to Probability Theory II, I.3);
/// for a
/// stay in stages the exits beside it act on every stage.
/// </summary>
/// <param name="All">In the order of the ledger.</param>
/// <param name="MeanStay">In the study's unit of time.</param>
public sealed record Exits(IReadOnlyList<Exit> All, double MeanStay)
{
    /// <summary>Null where an exit's rate is a whole formula or does not follow from values alone.</summary>
    /// <param name="lowered">The compiled model.</param>
    /// <param name="compartmentId">Id of the compartment.</param>
    public static Exits? Of(LoweredModel lowered, string compartmentId)
    {
        var document = lowered.Document;
        var flows = document.Flows.Where(flow => flow.From == compartmentId).ToList();
        if (flows.Count == 0 || flows.Any(flow => flow.Kind == RateKind.Whole))
            return null;
        var rates = new List<double>();
        foreach (var flow in flows)
        {
            if (RateOf(lowered, flow) is not { } rate || !(rate >= 0) || !double.IsFinite(rate))
                return null;
            rates.Add(rate);
        }
        var staged = flows.FindIndex(flow => flow.Stages > 1);
        var beside = rates.Where((_, k) => k != staged).Sum();
        // Through n stages at n times the rate each, against the others at every stage.
        var passes =
            staged < 0
                ? 0
                : Math.Pow(flows[staged].Stages * rates[staged] / (flows[staged].Stages * rates[staged] + beside), flows[staged].Stages);
        if (rates.Sum() <= 0)
            return null;
        var stay =
            staged < 0 ? 1 / rates.Sum()
            : beside > 0 ? (1 - passes) / beside
            : 1 / rates[staged];
        var exits = new List<Exit>();
        for (var k = 0; k < flows.Count; k++)
        {
            var share =
                staged < 0 ? rates[k] / rates.Sum()
                : k == staged ? passes
                : (1 - passes) * rates[k] / beside;
            foreach (var (to, part) in Ends(lowered, flows[k]))
                exits.Add(new(flows[k].Id, to, rates[k], share * part));
        }
        return new(exits, stay);
    }

    private static double? RateOf(LoweredModel lowered, Flow flow)
    {
        if (ValueOf(lowered, flow.Rate) is not { } value)
            return null;
        return flow.Kind == RateKind.MeanStay ? 1 / value : value;
    }

    /// <summary>The value of a line made of plain values alone.</summary>
    private static double? ValueOf(LoweredModel lowered, string line)
    {
        var document = lowered.Document;
        if (Formula.Read(line).Tree is not { } tree)
            return null;
        if (
            tree.Names().Any(name => document.DefinitionBySymbol(name.Name) is not { } definition || Formula.Read(definition.Text).HasNames)
        )
            return null;
        var network = lowered.Network;
        var graph = new ExpressionGraph();
        var node = new FormulaBinder(graph, document.UnitTable(), name =>
            network.IndexOf(new(name)) is var index && index >= 0 ? graph.Constant(network.Values[index].Value) : -1
        ).Bind(tree);
        return graph.Evaluate(node, document.Start, [], []);
    }

    private static IEnumerable<(string To, double Share)> Ends(LoweredModel lowered, Flow flow)
    {
        string Name(Target target) => lowered.Document.Compartment(target.Id)?.Symbol ?? "outside";
        if (!flow.FansOut)
            return [(Name(flow.To[0]), 1)];
        var given = flow.To.Select(target => target.Share.Length == 0 ? null : ValueOf(lowered, target.Share)).ToList();
        var rest = 1 - given.Sum(share => share ?? 0);
        return flow.To.Select((target, k) => (Name(target), given[k] ?? (target.Share.Length == 0 ? rest : double.NaN)));
    }
}
