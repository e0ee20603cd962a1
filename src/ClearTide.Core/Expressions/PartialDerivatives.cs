namespace ClearTide.Core.Expressions;

/// <summary>One partial derivative that is not zero by structure.</summary>
/// <param name="Row">Which expression.</param>
/// <param name="Column">By which state.</param>
/// <param name="Node">Its node.</param>
internal readonly record struct PartialDerivative(int Row, int Column, int Node);

/// <summary>
/// The partial derivatives of expressions by all states and by time, those alone that are not zero by structure. Along each direction
/// only the
/// nodes that depend on it are visited, so that the work grows with the number of entries and not with states times nodes.
/// </summary>
internal static class PartialDerivatives
{
    /// <param name="graph">Not frozen.</param>
    /// <param name="roots">The expressions; derivatives are added to the graph.</param>
    /// <param name="stateCount">How many states there are derivatives by.</param>
    /// <returns>The entries column by column, and for each expression the node of its derivative by time.</returns>
    public static (IReadOnlyList<PartialDerivative> Entries, IReadOnlyList<int> ByTime) Of(
        ExpressionGraph graph,
        IReadOnlyList<int> roots,
        int stateCount
    )
    {
        var needed = graph.Reachable(roots);
        var users = new List<int>?[graph.Count];
        var rows = new List<int>?[graph.Count];
        for (var row = 0; row < roots.Count; row++)
            (rows[roots[row]] ??= []).Add(row);
        var (leaves, time, count) = (new int[stateCount], -1, needed.Length);
        Array.Fill(leaves, -1);
        for (var node = 0; node < count; node++)
        {
            if (!needed[node])
                continue;
            foreach (var operand in ExpressionGraph.Operands(graph[node]))
                (users[operand] ??= []).Add(node);
            if (graph[node].Operation == Operation.State && graph[node].A < stateCount)
                leaves[graph[node].A] = node;
            if (graph[node].Operation == Operation.Time)
                time = node;
        }
        var entries = new List<PartialDerivative>();
        for (var column = 0; column < stateCount; column++)
        {
            if (leaves[column] < 0)
                continue;
            foreach (var (row, node) in Along(graph, leaves[column], users, rows))
                entries.Add(new(row, column, node));
        }
        var byTime = Enumerable.Repeat(graph.Constant(0), roots.Count).ToArray();
        if (time >= 0)
        {
            foreach (var (row, node) in Along(graph, time, users, rows))
                byTime[row] = node;
        }
        return (entries, byTime);
    }

    private static IEnumerable<(int Row, int Node)> Along(ExpressionGraph graph, int leaf, List<int>?[] users, List<int>?[] rows)
    {
        var dependents = new SortedSet<int> { leaf };
        var open = new Stack<int>([leaf]);
        while (open.TryPop(out var node))
        {
            foreach (var user in users[node] ?? [])
            {
                if (dependents.Add(user))
                    open.Push(user);
            }
        }
        var derivative = new Differentiation(graph, node => node.Operation is Operation.State or Operation.Time ? graph.Constant(1) : -1);
        derivative.Take(dependents);
        foreach (var node in dependents)
        {
            if (rows[node] is not { } found || derivative.Taken(node) is not (>= 0 and var known))
                continue;
            foreach (var row in found)
                yield return (row, known);
        }
    }
}
