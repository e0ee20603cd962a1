using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>What limited flows need to know of the model, compiled once.</summary>
/// <param name="States">For each compartment with limited exits its state.</param>
/// <param name="Slots">For each of them the parameter that scales its limited exits.</param>
/// <param name="Names">For each of them the part its notes stand at.</param>
/// <param name="Compartments">For each of them the compartment that runs empty.</param>
/// <param name="Between">Limited flows from one of them to another, as pairs of positions.</param>
/// <param name="Flows">
/// Three numbers for each: what flows in from elsewhere, what free exits take, what limited exits demand; then the full rate of each pair.
/// </param>
internal sealed record LimitedFlows(
    int[] States,
    int[] Slots,
    string[] Names,
    string[] Compartments,
    (int From, int To)[] Between,
    VectorFunction Flows
)
{
    public static LimitedFlows? Of(ReactionNetwork network, SwitchRewriting switches)
    {
        var limited = network.Processes.Where(process => process.Limit >= 0).GroupBy(process => process.Limit).ToList();
        if (limited.Count == 0)
            return null;
        var graph = network.Graph;
        var slots = limited.Select(group => group.Key).ToArray();
        var states = limited.Select(group => group.First().Changes.First(change => change.Coefficient < 0).State).ToArray();
        var nodes = new List<int>();
        var pairs = new List<(int From, int To, int Node)>();
        for (var k = 0; k < states.Length; k++)
        {
            var (arrives, leaves, demand) = (graph.Constant(0), graph.Constant(0), graph.Constant(0));
            foreach (var process in network.Processes)
            {
                foreach (var change in process.Changes.Where(change => change.State == states[k]))
                {
                    var full = process.Limit >= 0 ? process.Demand : process.Rate;
                    var rate = graph.Multiply(
                        graph.Constant(Math.Abs(change.Coefficient)),
                        change.Share < 0 ? full : graph.Multiply(change.Share, full)
                    );
                    if (change.Coefficient > 0 && process.Limit >= 0)
                        pairs.Add((Array.IndexOf(slots, process.Limit), k, rate));
                    else if (change.Coefficient > 0)
                        arrives = graph.Add(arrives, rate);
                    else if (process.Limit >= 0)
                        demand = graph.Add(demand, rate);
                    else
                        leaves = graph.Add(leaves, rate);
                }
            }
            nodes.AddRange([arrives, leaves, demand]);
        }
        nodes.AddRange(pairs.Select(pair => pair.Node));
        return new(
            states,
            slots,
            [.. limited.Select(group => group.First().Id)],
            [.. states.Select(state => network.States[state].PartId)],
            [.. pairs.Select(pair => (pair.From, pair.To))],
            switches.Compile(nodes)
        );
    }
}
