using ClearTide.Core.Formulas;

namespace ClearTide.Core.Simulation;

/// <summary>A state variable: its symbol and the part it stands for.</summary>
public sealed record StateVariable(string Symbol, string PartId);

/// <summary>A plain number of the model, by address, in the study's units.</summary>
public sealed record ModelValue(string Address, double Value, string PartId);

/// <summary>What happens at a rate: each unit of it changes states by the coefficients given.</summary>
/// <param name="Id">The part it stands for; names its random stream.</param>
/// <param name="Rate">Node of the rate, in amount per unit of time.</param>
/// <param name="Changes">Pairs of state index and coefficient.</param>
public sealed record Process(string Id, string Name, int Rate, IReadOnlyList<(int State, int Coefficient)> Changes);

/// <summary>A named expression that is computed along a run.</summary>
public sealed record NamedExpression(string Symbol, string PartId, int Node);

/// <summary>
/// The form that solvers know: states moved by processes at rates, initial amounts as expressions of the values. Any model lowers into it.
/// </summary>
public sealed class GeneralForm
{
    public required ExpressionGraph Graph { get; init; }

    public required IReadOnlyList<StateVariable> States { get; init; }

    /// <summary>The parameter vector, in the order of the graph's parameter indices.</summary>
    public required IReadOnlyList<ModelValue> Values { get; init; }

    /// <summary>For each state the node of its initial amount, over parameters alone.</summary>
    public required IReadOnlyList<int> Initial { get; init; }

    public required IReadOnlyList<Process> Processes { get; init; }

    public required IReadOnlyList<NamedExpression> Quantities { get; init; }

    /// <summary>Index of the value with this address, or -1.</summary>
    public int IndexOf(string address)
    {
        for (var k = 0; k < Values.Count; k++)
        {
            if (Values[k].Address == address) return k;
        }
        return -1;
    }

    public double[] ValueVector() => [.. Values.Select(value => value.Value)];

    /// <summary>The nodes of the right-hand side: for each state the sum of what its processes bring and take.</summary>
    public int[] Derivatives()
    {
        var nodes = Enumerable.Repeat(Graph.Constant(0), States.Count).ToArray();
        foreach (var process in Processes)
        {
            foreach (var (state, coefficient) in process.Changes)
            {
                nodes[state] = coefficient switch
                {
                    1 => Graph.Add(nodes[state], process.Rate),
                    -1 => Graph.Subtract(nodes[state], process.Rate),
                    _ => Graph.Add(nodes[state], Graph.Multiply(Graph.Constant(coefficient), process.Rate)),
                };
            }
        }
        return nodes;
    }
}
