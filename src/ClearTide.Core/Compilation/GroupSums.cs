using ClearTide.Core.Expressions;
using ClearTide.Core.Groups;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Compilation;

/// <summary>What the members of split flows come to, so that a flow of the study can be looked at as one.</summary>
internal static class GroupSums
{
    /// <summary>The quantities of a model, with the sum of each split flow behind them.</summary>
    public static IReadOnlyList<NamedExpression> Of(
        WrittenOut written,
        ExpressionGraph graph,
        IReadOnlyList<NamedExpression> rates,
        IReadOnlyList<NamedExpression> quantities
    )
    {
        if (!written.HasGroups)
            return quantities;
        var rateOf = new Dictionary<string, int>();
        foreach (var rate in rates)
            rateOf.TryAdd(rate.PartId, rate.Node);
        var all = quantities.ToList();
        foreach (var flow in written.Study.Flows)
        {
            var members = written.Members(flow.Id);
            if (members.Count > 0)
                all.Add(new(written.Study.Describe(flow), flow.Id, members.Select(member => rateOf[member.Id]).Aggregate(graph.Add)));
        }
        return all;
    }

    /// <summary>The flows of all members, by the flow of the study.</summary>
    public static IReadOnlyDictionary<string, IReadOnlyList<string>> Members(WrittenOut written) =>
        written
            .Study.Flows.DistinctBy(flow => flow.Id)
            .Where(flow => written.Members(flow.Id).Count > 0)
            .ToDictionary(flow => flow.Id, flow => (IReadOnlyList<string>)[.. written.Members(flow.Id).Select(member => member.Id)]);
}
