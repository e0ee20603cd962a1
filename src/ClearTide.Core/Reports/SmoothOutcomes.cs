using ClearTide.Core.Compilation;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Reports;

/// <summary>
/// Formulas over one run without chance, to the accuracy of the run: what they ask about along it are outputs of the model that is run, so
/// that peaks and totals come from the continuous output of each step, and conditions end steps where they turn. It serves one run.
/// </summary>
internal sealed class SmoothOutcomes : ISegmentObserver
{
    private const int Nodes = InterpolantSegment.NodeCount;

    private readonly IReadOnlyList<OutcomeFormula> _formulas;
    private readonly SmoothReduction[][] _tallies;
    private readonly int[] _firstOutput;
    private readonly double[] _values;
    private readonly double _from,
        _flowScale;
    private readonly double[] _sum = new double[Nodes];

    /// <param name="lowered">The model that the formulas were read for.</param>
    /// <param name="formulas">At least one.</param>
    /// <param name="values">All parameters of the network, as the run has them.</param>
    /// <param name="from">What lies before is not looked at; a step of the run has to end there.</param>
    public SmoothOutcomes(LoweredModel lowered, IReadOnlyList<OutcomeFormula> formulas, double[] values, double from)
    {
        (_formulas, _values, _from) = (formulas, values, from);
        var network = lowered.Network.Fork();
        var quantities = network.Quantities.ToList();
        _firstOutput = new int[formulas.Count];
        for (var k = 0; k < formulas.Count; k++)
        {
            _firstOutput[k] = network.Amounts.Count + network.Flows.Count + quantities.Count;
            foreach (var node in formulas[k].Rows(network.Graph))
                quantities.Add(new($"row {quantities.Count}", "", node));
        }
        Model = new(network with { Quantities = quantities, LocatesOutputs = true });
        _tallies = [.. formulas.Select(formula => formula.FollowSmooth(values))];
        // In discrete steps a flow is the amount of a step.
        _flowScale = network.DiscreteStep > 0 ? 1 / network.DiscreteStep : 1;
    }

    /// <summary>The model that is to be run: outputs, values and states of the one that was given stand where they did.</summary>
    public CompiledModel Model { get; }

    /// <inheritdoc/>
    public void Take(double from, double until, ReadOnlySpan<double> values)
    {
        if (from < _from)
            return;
        for (var k = 0; k < _tallies.Length; k++)
        {
            foreach (var tally in _tallies[k])
            {
                if (tally.Row >= 0)
                {
                    tally.Take(new(from, until, values.Slice((_firstOutput[k] + tally.Row) * Nodes, Nodes)));
                    continue;
                }
                for (var node = 0; node < Nodes; node++)
                {
                    _sum[node] = 0;
                    foreach (var flow in tally.Flows)
                        _sum[node] += _flowScale * values[flow * Nodes + node];
                }
                tally.Take(new(from, until, _sum));
            }
        }
    }

    /// <summary>What one of the formulas has come to, when the run has ended: 1 or 0 for a statement.</summary>
    /// <param name="formula">Its place among the formulas.</param>
    public double Of(int formula) => _formulas[formula].Of(_tallies[formula], _values);
}
