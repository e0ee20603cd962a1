using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Inference;

/// <summary>What a model expects of each row of its series, and how that changes with each chosen value.</summary>
/// <param name="Mean">Expected values, one for each row that is used, series by series.</param>
/// <param name="Gradient">Row by row, the derivative by each chosen value in its own units.</param>
public sealed record Prediction(double[] Mean, double[,] Gradient);

/// <summary>
/// A model with series of data on it. Predictions come from one solve of states, of the running totals of what is seen over intervals, and
/// the tangents of all of them (forward sensitivity equations; Hairer, Nørsett, Wanner, Solving Ordinary Differential Equations I, 2nd
/// ed., I.14), all from the same graph. At the tolerance used, error control on the states alone leaves the tangents good to nine digits.
/// Where a value moves a jump (events, delays, limits, conditions on amounts), tangents do not hold, and derivatives are central
/// differences of whole solves.
/// </summary>
public sealed class ObservedModel
{
    /// <summary>Relative step of differences: a solve is good to about 1e-9, so that rounding and truncation both stay near 1e-6.</summary>
    private const double DifferenceStep = 3e-4;

    /// <summary>How the rows of one series are read off a solve.</summary>
    /// <param name="Total">Place of the running total in a block of states; -1 where rows stand at one time.</param>
    /// <param name="Read">What stands at a time, then its derivatives along the run, as one compiled function of time, states and values;
    /// null where there is a total.</param>
    private sealed record Reader(Series Series, int Total, VectorFunction? Read);

    private readonly List<Reader> _readers = [];
    private readonly List<(Reader Reader, DataRow Row)> _rows = [];
    private readonly int[] _chosen;
    private readonly ExpressionGraph _graph;
    private readonly CompiledModel _model;
    private readonly bool _byTangents;
    private readonly int _states;
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

    private readonly SolverSettings _coarse;

    /// <param name="lowered">A finished model.</param>
    /// <param name="series">At least one; rows that are left out of fits are not expected.</param>
    /// <param name="chosen">Addresses of the values that predictions are differentiated by.</param>
    /// <param name="controlTangents">Whether the tangents take part in error control too.</param>
    /// <exception cref="ArgumentException">A series or an address does not fit the model; the message says what to do.</exception>
    public ObservedModel(
        LoweredModel lowered,
        IReadOnlyList<Series> series,
        IReadOnlyList<ValueAddress> chosen,
        bool controlTangents = false
    )
    {
        // Tangents are nodes too: they go into a graph of their own.
        var network = lowered.Network.Fork();
        var document = lowered.Document;
        if (network.DiscreteStep > 0)
            throw new ArgumentException(
                "This model goes in discrete steps, and fits need a rate at each time. Choose another method under the curves of Build."
            );
        _graph = network.Graph;
        _values = network.ValueVector();
        _start = document.Start;
        _chosen =
        [
            .. chosen.Select(address =>
                network.IndexOf(address) is var index && index >= 0
                    ? index
                    : throw new ArgumentException($"There is no value “{address}” in the model any more. Take it out of the fit.")
            ),
        ];
        _byTangents = _chosen.Length > 0 && SensitivityNetwork.Holds(network, _chosen);
        var rates = new List<int>();
        _states = network.States.Count;
        _block = _states + series.Count(one => one.Observation.Seen.HasInterval());
        foreach (var one in series)
        {
            var seen = SeenExpression.NodeOf(network, document, one.Observation);
            Reader reader;
            if (one.Observation.Seen.HasInterval())
            {
                rates.Add(seen);
                reader = new(one, network.States.Count + rates.Count - 1, null);
            }
            else
            {
                int[] nodes =
                [
                    seen,
                    .. _byTangents
                        ? _chosen.Select((index, j) => SensitivityNetwork.Tangent(_graph, index, (j + 1) * _block).Of(seen))
                        : [],
                ];
                reader = new(one, -1, GraphCompiler.Compile(_graph, nodes));
            }
            _readers.Add(reader);
            _rows.AddRange(one.Data.Used.Select(row => (reader, row)));
        }
        foreach (var (reader, row) in _rows)
        {
            if (From(reader, row) >= _start)
                continue;
            throw new ArgumentException(
                reader.Total >= 0
                    ? $"A row of {reader.Series.Observation.Label} begins at {row.Start:0.###}, before the model does at {_start:0.###}. "
                        + "Begin the span earlier, or mark the times as the end of each interval."
                    : $"A row of {reader.Series.Observation.Label} stands at {row.End:0.###}, before the model begins at {_start:0.###}. "
                        + "Begin the span earlier, or leave the row out."
            );
        }
        _times = [.. _rows.SelectMany(one => new[] { From(one.Reader, one.Row), one.Row.End }).Append(_start).Distinct().Order()];
        if (_byTangents && !controlTangents && _block > 0)
            _settings = _settings with
            {
                AbsoluteTolerances =
                [
                    .. Enumerable
                        .Range(0, _block * (_chosen.Length + 1))
                        .Select(k => k < _block ? _settings.AbsoluteTolerance : double.PositiveInfinity),
                ],
            };
        _coarse = _settings with
        {
            RelativeTolerance = 1e-6,
            AbsoluteTolerance = 1e-7,
            AbsoluteTolerances = _settings.AbsoluteTolerances is { } each
                ? [.. each.Select(one => double.IsInfinity(one) ? one : 1e-7)]
                : null,
        };
        _model = new CompiledModel(
            _byTangents ? SensitivityNetwork.WithTangents(network, rates, _chosen) : SensitivityNetwork.WithTotals(network, rates)
        );
    }

    /// <summary>All values of the model as the document gives them.</summary>
    public IReadOnlyList<double> Values => _values;

    /// <summary>The series that are expected, in the order of the rows of a prediction.</summary>
    public IReadOnlyList<Series> Series => [.. _readers.Select(reader => reader.Series)];

    /// <summary>Position of each chosen value among all values.</summary>
    public IReadOnlyList<int> Chosen => _chosen;

    /// <summary>Expected values and their derivatives for values of the chosen parameters.</summary>
    /// <param name="chosen">In the order of the addresses, in the model's units.</param>
    /// <exception cref="SimulationException">The model cannot be run at these values.</exception>
    public Prediction Predict(ReadOnlySpan<double> chosen, CancellationToken cancel = default) => Predict(chosen, cancel, false);

    /// <param name="coarse">Whether six digits are enough, on the way to where it matters.</param>
    internal Prediction Predict(ReadOnlySpan<double> chosen, CancellationToken cancel, bool coarse)
    {
        var values = (double[])_values.Clone();
        for (var j = 0; j < chosen.Length; j++)
            values[_chosen[j]] = chosen[j];
        var run = Run(values, cancel, coarse && _byTangents);
        var gradient = new double[_rows.Count, _chosen.Length];
        var mean = Means(run, values, gradient);
        if (!_byTangents)
            Differences(values, gradient, cancel);
        return new(mean, gradient);
    }

    private static double From(Reader reader, DataRow row) => reader.Total >= 0 ? row.Start : row.End;

    private Trajectory Run(double[] values, CancellationToken cancel, bool coarse = false)
    {
        cancel.ThrowIfCancellationRequested();
        if (_times.Length < 2)
            throw new ArgumentException("The data hold no time after the start of the model.");
        try
        {
            return Engines.Run(new(_model, values, _times) { Settings = coarse ? _coarse : _settings }, cancel: cancel);
        }
        catch (SimulationException failure) when (failure.State.Length > _states)
        {
            // Whoever says why it failed knows the model's own states, and neither totals nor tangents.
            throw new SimulationException(failure.Reason, failure.Time, failure.State[.._states], failure.Parameters)
            {
                Index = failure.Index < _states ? failure.Index : -1,
                PartId = failure.PartId,
                Before = failure.Before,
            };
        }
    }

    /// <summary>What is expected of each row; where there are tangents, its derivatives too.</summary>
    private double[] Means(Trajectory run, double[] values, double[,] gradient)
    {
        var mean = new double[_rows.Count];
        var state = new double[_block * (_byTangents ? _chosen.Length + 1 : 1)];
        var seen = new double[_chosen.Length + 1];
        for (var k = 0; k < mean.Length; k++)
        {
            var (reader, row) = _rows[k];
            if (reader.Read is { } read)
                Read(read, row.End, StateAt(run, row.End, state), values, seen);
            else
            {
                var over = reader.Series.Observation.Seen == ObservedAs.Mean ? row.End - row.Start : 1;
                for (var j = 0; j < (_byTangents ? seen.Length : 1); j++)
                    seen[j] = Moved(run, reader, row, j) / over;
            }
            mean[k] = seen[0];
            for (var j = 0; j < _chosen.Length && _byTangents; j++)
                gradient[k, j] = seen[j + 1];
        }
        return mean;
    }

    private static unsafe void Read(VectorFunction read, double time, double[] state, double[] values, double[] into)
    {
        fixed (
            double* y = state,
                p = values,
                f = into
        )
            read(time, y, p, f);
    }

    private double[] StateAt(Trajectory run, double time, double[] state)
    {
        var row = At(time);
        for (var k = 0; k < state.Length; k++)
            state[k] = run.State(row, k);
        return state;
    }

    /// <summary>What a running total, or its tangent by one value, gains over a row's interval.</summary>
    private double Moved(Trajectory run, Reader reader, DataRow row, int block)
    {
        var state = block * _block + reader.Total;
        return run.State(At(row.End), state) - run.State(At(row.Start), state);
    }

    private int At(double time) => Array.BinarySearch(_times, time);

    private void Differences(double[] values, double[,] gradient, CancellationToken cancel)
    {
        for (var j = 0; j < _chosen.Length; j++)
        {
            var step = DifferenceStep * Math.Max(Math.Abs(values[_chosen[j]]), 1e-3);
            double[] Shifted(double by)
            {
                var shifted = (double[])values.Clone();
                shifted[_chosen[j]] += by;
                return Means(Run(shifted, cancel), shifted, gradient);
            }
            var (above, below) = (Shifted(step), Shifted(-step));
            for (var row = 0; row < _rows.Count; row++)
                gradient[row, j] = (above[row] - below[row]) / (2 * step);
        }
    }
}
