using ClearTide.Core.Expressions;
using ClearTide.Core.Language;

namespace ClearTide.Formats.Sbml;

/// <summary>
/// Solves equations g(u) = 0 for as many unknowns, as nodes, where they are linear in the unknowns together: by elimination. Of several
/// equations no
/// factor may change along a run, since a pivot that is sound now may be zero later.
/// </summary>
internal sealed class AlgebraicSolution(ExpressionGraph graph)
{
    /// <param name="equations">Their nodes, with the unknowns as <paramref name="unknowns"/>.</param>
    /// <param name="unknowns">Nodes that stand for them; none of what is returned depends on these.</param>
    /// <returns>The nodes of the unknowns, or null where the equations are of another kind, or have no solution.</returns>
    public int[]? Solve(int[] equations, int[] unknowns)
    {
        var size = unknowns.Length;
        var slopes = new int[size, size];
        for (var j = 0; j < size; j++)
        {
            var differentiation = new Differentiation(graph, _ => -1);
            differentiation.Fix(unknowns[j], graph.Constant(1));
            for (var i = 0; i < size; i++)
                slopes[i, j] = differentiation.Of(equations[i]);
        }
        var depends = graph.Reachable(slopes.Cast<int>());
        var isLinear = !unknowns.Any(unknown => depends[unknown]);
        if (isLinear && (size == 1 || slopes.Cast<int>().All(node => graph.IsConstant(node, out _))))
            return Eliminate(
                slopes,
                [.. equations.Select(node => graph.Negate(At(node, unknowns, [.. unknowns.Select(_ => graph.Constant(0))])))]
            );
        return null;
    }

    /// <summary>A node with other nodes in the place of the unknowns.</summary>
    public int At(int root, int[] unknowns, int[] values)
    {
        var made = new Dictionary<int, int>();
        for (var k = 0; k < unknowns.Length; k++)
            made[unknowns[k]] = values[k];
        var needed = graph.Reachable([root]);
        for (var node = 0; node <= root; node++)
        {
            if (needed[node] && !made.ContainsKey(node))
                made[node] = graph.Make(graph, graph[node], operand => made[operand]);
        }
        return made[root];
    }

    /// <summary>Gaussian elimination on nodes; a pivot is one that is not zero for its structure, a plain number rather than a
    /// formula.</summary>
    private int[]? Eliminate(int[,] matrix, int[] right)
    {
        var size = right.Length;
        for (var column = 0; column < size; column++)
        {
            var rows = Enumerable
                .Range(column, size - column)
                .Where(row => !(graph.IsConstant(matrix[row, column], out var value) && value == 0))
                .ToList();
            if (rows.Count == 0)
                return null;
            var pivot =
                rows.Find(row => graph.IsConstant(matrix[row, column], out _)) is var plain && rows.Contains(plain) ? plain : rows[0];
            (right[column], right[pivot]) = (right[pivot], right[column]);
            for (var k = 0; k < size; k++)
                (matrix[column, k], matrix[pivot, k]) = (matrix[pivot, k], matrix[column, k]);
            for (var row = column + 1; row < size; row++)
            {
                var factor = graph.Divide(matrix[row, column], matrix[column, column]);
                for (var k = column; k < size; k++)
                    matrix[row, k] = graph.Subtract(matrix[row, k], graph.Multiply(factor, matrix[column, k]));
                right[row] = graph.Subtract(right[row], graph.Multiply(factor, right[column]));
            }
        }
        var solved = new int[size];
        for (var row = size - 1; row >= 0; row--)
        {
            var rest = right[row];
            for (var k = row + 1; k < size; k++)
                rest = graph.Subtract(rest, graph.Multiply(matrix[row, k], solved[k]));
            solved[row] = graph.Divide(rest, matrix[row, row]);
        }
        return solved;
    }
}
