using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Inference;

/// <summary>What a model expects of each row of a data set, and how that changes with each chosen value.</summary>
/// <param name="Mean">Expected counts, one for each row.</param>
/// <param name="Gradient">Row by row, the derivative by each chosen value in its own units.</param>
public sealed record Prediction(double[] Mean, double[,] Gradient);

/// <summary>
/// A model with one observation on it. Predictions come from one solve of states, the observed flow's running total, and the tangents
/// of all of them (forward sensitivity equations; Hairer, Nørsett, Wanner, Solving Ordinary Differential Equations I, 2nd ed., I.14), all
/// from
/// the same graph. At the tolerance used, error control on the states alone leaves the tangents good to nine digits. Where a value moves
/// a jump (events, delays, limits, conditions on amounts), tangents do
/// not hold, and derivatives are central differences of whole solves.
/// </summary>
public sealed class ObservedModel
{
    /// <summary>Relative step of differences: a solve is good to about 1e-9, so that rounding and truncation both stay near 1e-6.</summary>
    private const double DifferenceStep = 3e-4;

    private readonly DataSet _data;
    private readonly int[] _chosen;
    private readonly int[] _reporting;
    private readonly ExpressionGraph _graph;
    private readonly CompiledModel _model;
    private readonly bool _byTangents;
    private readonly int _total;
    private readonly int _block;
    private readonly double _start;
    private readonly double[] _values;
    private readonly double[] _times;
    private readonly SolverSettings _settings = SolverSettings.Default with
    {
        RelativeTolerance = 1e-9,
        AbsoluteTolerance = 1e-10,
        MaximumSteps = 200_000,
    };

    /// <param name="lowered">A finished model.</param>
    /// <param name="chosen">Addresses of the values that predictions are differentiated by.</param>
    /// <param name="controlTangents">Whether the tangents take part in error control too.</param>
    /// <exception cref="ArgumentException">The observation or an address does not fit the model; the message says what to do.</exception>
    public ObservedModel(
        LoweredModel lowered,
        Observation observation,
        DataSet data,
        IReadOnlyList<ValueAddress> chosen,
        bool controlTangents = false
    )
    {
        // Tangents are nodes too: they go into a graph of their own.
        var network = lowered.Network.Fork();
        var flow = Reporting.FlowOf(network, observation);
        _data = data;
        _graph = network.Graph;
        _values = network.ValueVector();
        _chosen =
        [
            .. chosen.Select(address =>
                network.IndexOf(address) is var index && index >= 0
                    ? index
                    : throw new ArgumentException($"There is no value “{address}” in the model any more. Take it out of the fit.")
            ),
        ];
        _start = Math.Min(lowered.Document.Start, data.Rows[0].Start);
        if (data.Rows[0].Start < lowered.Document.Start)
        {
            throw new ArgumentException(
                $"The first row begins at {data.Rows[0].Start:0.###}, before the model does at {lowered.Document.Start:0.###}. Begin "
                    + "the span earlier, or mark the times as the end of each interval."
            );
        }
        var observed = network.Flows.Concat(network.Quantities).ElementAt(flow);
        _times = [.. data.Rows.SelectMany(row => new[] { row.Start, row.End }).Append(_start).Distinct().Order()];
        _total = network.States.Count;
        _block = _total + 1;
        var reporting = Reporting.NodeOf(network, lowered.Document, observation);
        _byTangents = _chosen.Length > 0 && SensitivityNetwork.Holds(network, _chosen);
        _reporting =
        [
            reporting,
            .. _chosen.Select(index =>
                new Differentiation(_graph, node => node.Operation == Operation.Parameter && node.A == index ? _graph.Constant(1) : -1).Of(
                    reporting
                )
            ),
        ];
        if (_byTangents && !controlTangents)
            _settings = _settings with
            {
                AbsoluteTolerances =
                [
                    .. Enumerable
                        .Range(0, _block * (_chosen.Length + 1))
                        .Select(k => k < _block ? _settings.AbsoluteTolerance : double.PositiveInfinity),
                ],
            };
        _model = new CompiledModel(
            _byTangents
                ? SensitivityNetwork.WithTangents(network, observed.Node, _chosen)
                : SensitivityNetwork.WithTotal(network, observed.Node)
        );
    }

    /// <summary>All values of the model as the document gives them.</summary>
    public IReadOnlyList<double> Values => _values;

    /// <summary>The data that are expected.</summary>
    public DataSet Data => _data;

    /// <summary>Position of each chosen value among all values.</summary>
    public IReadOnlyList<int> Chosen => _chosen;

    /// <summary>Expected counts and their derivatives for values of the chosen parameters.</summary>
    /// <param name="chosen">In the order of the addresses, in the model's units.</param>
    /// <exception cref="SimulationException">The model cannot be run at these values.</exception>
    public Prediction Predict(ReadOnlySpan<double> chosen, CancellationToken cancel = default)
    {
        var values = (double[])_values.Clone();
        for (var j = 0; j < chosen.Length; j++)
            values[_chosen[j]] = chosen[j];
        var k = _chosen.Length;
        var run = Run(values, cancel);
        var reporting = _reporting.Select(node => _graph.Evaluate(node, _start, [], values)).ToArray();
        var rows = _data.Rows;
        var mean = new double[rows.Count];
        var gradient = new double[rows.Count, k];
        for (var row = 0; row < rows.Count; row++)
        {
            var moved = Moved(run, row, 0);
            mean[row] = reporting[0] * moved;
            if (!_byTangents)
                continue;
            for (var j = 0; j < k; j++)
                gradient[row, j] = reporting[j + 1] * moved + reporting[0] * Moved(run, row, j + 1);
        }
        if (!_byTangents)
            Differences(values, gradient, cancel);
        return new(mean, gradient);
    }

    private Trajectory Run(double[] values, CancellationToken cancel)
    {
        cancel.ThrowIfCancellationRequested();
        if (_times.Length < 2)
            throw new ArgumentException("The data hold no interval of time.");
        return Engines.Run(new(_model, values, _times) { Settings = _settings }, cancel: cancel);
    }

    /// <summary>What the running total, or its tangent by one value, gains over a row's interval.</summary>
    private double Moved(Trajectory run, int row, int block)
    {
        var state = block * _block + _total;
        return run.State(At(_data.Rows[row].End), state) - run.State(At(_data.Rows[row].Start), state);
    }

    private int At(double time) => Array.BinarySearch(_times, time);

    private void Differences(double[] values, double[,] gradient, CancellationToken cancel)
    {
        var rows = _data.Rows.Count;
        for (var j = 0; j < _chosen.Length; j++)
        {
            var step = DifferenceStep * Math.Max(Math.Abs(values[_chosen[j]]), 1e-3);
            double[] Shifted(double by)
            {
                var shifted = (double[])values.Clone();
                shifted[_chosen[j]] += by;
                var (run, reporting) = (Run(shifted, cancel), _graph.Evaluate(_reporting[0], _start, [], shifted));
                return [.. Enumerable.Range(0, rows).Select(row => reporting * Moved(run, row, 0))];
            }
            var (above, below) = (Shifted(step), Shifted(-step));
            for (var row = 0; row < rows; row++)
                gradient[row, j] = (above[row] - below[row]) / (2 * step);
        }
    }
}
