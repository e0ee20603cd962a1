using ClearTide.Core.Formulas;

namespace ClearTide.Formats.Sbml;

/// <summary>
/// Solves equations g(u) = 0 for as many unknowns, as nodes: by elimination where they are linear in the unknowns together, else by Newton's method
/// (Deuflhard, Newton Methods for Nonlinear Problems, section 1.1) written out for a fixed number of steps from what the file gives at the start.
/// </summary>
internal sealed class AlgebraicSolution(ExpressionGraph graph)
{
    /// <summary>Newton doubles its digits a step once it is near; the rest is for the way there.</summary>
    private const int NewtonSteps = 30;

    /// <summary>Elimination written out at each of the steps grows as the cube of this.</summary>
    private const int MostNonlinear = 2;

    /// <param name="equations">Their nodes, with the unknowns as <paramref name="unknowns"/>.</param>
    /// <param name="unknowns">Nodes that stand for them; none of what is returned depends on these.</param>
    /// <param name="starts">Nodes from which Newton begins.</param>
    /// <returns>The nodes of the unknowns, or null where the equations cannot be solved.</returns>
    public int[]? Solve(int[] equations, int[] unknowns, int[] starts)
    {
        var size = unknowns.Length;
        var slopes = new int[size, size];
        for (var j = 0; j < size; j++)
        {
            var differentiation = new Differentiation(graph, _ => -1);
            differentiation.Fix(unknowns[j], graph.Constant(1));
            for (var i = 0; i < size; i++) slopes[i, j] = differentiation.Of(equations[i]);
        }
        var depends = graph.Reachable(slopes.Cast<int>());
        if (!unknowns.Any(unknown => depends[unknown])) return Eliminate(slopes, [.. equations.Select(node => graph.Negate(At(node, unknowns, [.. unknowns.Select(_ => graph.Constant(0))])))]);
        if (size > MostNonlinear) return null;
        var at = starts;
        for (var step = 0; step < NewtonSteps; step++)
        {
            var here = new int[size, size];
            for (var i = 0; i < size; i++)
            {
                for (var j = 0; j < size; j++) here[i, j] = At(slopes[i, j], unknowns, at);
            }
            if (Eliminate(here, [.. equations.Select(node => graph.Negate(At(node, unknowns, at)))]) is not { } change) return null;
            at = [.. at.Zip(change, graph.Add)];
        }
        return at;
    }

    /// <summary>A node with other nodes in the place of the unknowns.</summary>
    private int At(int root, int[] unknowns, int[] values)
    {
        var made = new Dictionary<int, int>();
        for (var k = 0; k < unknowns.Length; k++) made[unknowns[k]] = values[k];
        var needed = graph.Reachable([root]);
        for (var node = 0; node <= root; node++)
        {
            if (needed[node] && !made.ContainsKey(node)) made[node] = graph.Make(graph, graph[node], operand => made[operand]);
        }
        return made[root];
    }

    /// <summary>Gaussian elimination on nodes; a pivot is one that is not zero for its structure, a plain number rather than a formula.</summary>
    private int[]? Eliminate(int[,] matrix, int[] right)
    {
        var size = right.Length;
        for (var column = 0; column < size; column++)
        {
            var rows = Enumerable.Range(column, size - column).Where(row => !(graph.IsConstant(matrix[row, column], out var value) && value == 0)).ToList();
            if (rows.Count == 0) return null;
            var pivot = rows.Find(row => graph.IsConstant(matrix[row, column], out _)) is var plain && rows.Contains(plain) ? plain : rows[0];
            (right[column], right[pivot]) = (right[pivot], right[column]);
            for (var k = 0; k < size; k++) (matrix[column, k], matrix[pivot, k]) = (matrix[pivot, k], matrix[column, k]);
            for (var row = column + 1; row < size; row++)
            {
                var factor = graph.Divide(matrix[row, column], matrix[column, column]);
                for (var k = column; k < size; k++) matrix[row, k] = graph.Subtract(matrix[row, k], graph.Multiply(factor, matrix[column, k]));
                right[row] = graph.Subtract(right[row], graph.Multiply(factor, right[column]));
            }
        }
        var solved = new int[size];
        for (var row = size - 1; row >= 0; row--)
        {
            var rest = right[row];
            for (var k = row + 1; k < size; k++) rest = graph.Subtract(rest, graph.Multiply(matrix[row, k], solved[k]));
            solved[row] = graph.Divide(rest, matrix[row, row]);
        }
        return solved;
    }
}
