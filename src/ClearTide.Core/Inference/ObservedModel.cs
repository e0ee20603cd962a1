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
internal sealed record Prediction(double[] Mean, double[,] Gradient);

/// <summary>
/// A model with series of data on it. Predictions come from one solve of states, of the running totals of what is seen over intervals, and
/// the tangents of all of them (forward sensitivity equations; Hairer, Nørsett, Wanner, Solving Ordinary Differential Equations I, 2nd
/// ed., I.14), all from the same graph. At the tolerance used, error control on the states alone leaves the tangents good to nine digits.
/// Where a value moves a jump (events on conditions, delays, limits), tangents do not hold, and derivatives are central differences of
/// whole solves. Where rows are of several subjects there is a solve for each, with what was given to it and what is known of it. A row at
/// the time of a jump was seen before it: a trough is taken before the next dose.
/// </summary>
internal sealed partial class ObservedModel
{
    /// <summary>Relative step of differences: a solve is good to about 1e-9, so that rounding and truncation both stay near 1e-6.</summary>
    private const double DifferenceStep = 3e-4;

    /// <summary>How the rows of one series are read off a solve.</summary>
    /// <param name="Series">What its rows have seen.</param>
    /// <param name="Total">Place of the running total in a block of states; -1 where rows stand at one time.</param>
    /// <param name="Read">What stands at a time, then its derivatives along the run, as one compiled function of time, states and values;
    /// null where there is a total.</param>
    private sealed record Reader(Series Series, int Total, VectorFunction? Read);

    private readonly List<Reader> _readers = [];
    private readonly List<(Reader Reader, DataRow Row, int Body)> _rows = [];
    private readonly List<Body> _bodies = [];
    private readonly int[] _chosen;

    /// <summary>The values that solves are differentiated by, each once.</summary>
    private readonly int[] _moved;

    /// <summary>For each chosen value, the subject whose own it is; null for all.</summary>
    private readonly IReadOnlyList<string?> _owners;
    private readonly ExpressionGraph _graph;
    private readonly CompiledModel _model;
    private readonly bool _byTangents;

    /// <summary>How many states the model has itself.</summary>
    private readonly int _states;
    private readonly int _block;
    private readonly double _start;

    /// <summary>The value that says when runs begin; -1 where that is not one of the model.</summary>
    private readonly int _startsAt;
    private readonly double _span;
    private readonly double[] _values;
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
    /// <param name="owners">For each of them the subject whose own it is, or null where all share it; left out where all are
    /// shared.</param>
    /// <exception cref="ArgumentException">A series or an address does not fit the model; the message says what to do.</exception>
    public ObservedModel(
        LoweredModel lowered,
        IReadOnlyList<Series> series,
        IReadOnlyList<ValueAddress> chosen,
        bool controlTangents = false,
        IReadOnlyList<string?>? owners = null
    )
    {
        // Tangents are nodes too: they go into a graph of their own.
        var document = lowered.Document;
        var subjects = Subject.Of(series.Select(one => one.Data));
        var given = new GivenDoses(lowered.Network.Fork(), document, series, subjects);
        var network = given.Network;
        if (network.DiscreteStep > 0)
            throw new ArgumentException(
                "This model goes in discrete steps, and fits need a rate at each time. Choose another method under the curves of Build."
            );
        _graph = network.Graph;
        _values = network.ValueVector();
        (_start, _span) = (document.Start, document.End - document.Start);
        _startsAt = network.IndexOf(FreedValues.StartDay);
        if (_startsAt >= 0 && subjects.Count > 0)
            throw new ArgumentException(
                "Each subject begins with its own first row, so that there is no one day to estimate. Take the start day out of the fit."
            );
        _chosen =
        [
            .. chosen.Select(address =>
                network.IndexOf(address) is var index && index >= 0
                    ? index
                    : throw new ArgumentException($"There is no value “{address}” in the model any more. Take it out of the fit.")
            ),
        ];
        _moved = [.. _chosen.Distinct()];
        _owners = owners ?? new string?[_chosen.Length];
        _byTangents = _moved.Length > 0 && SensitivityNetwork.Holds(network, _moved);
        var rates = new List<int>();
        _states = network.States.Count;
        var nodes = new int[series.Count];
        for (var k = 0; k < series.Count; k++)
            (network, nodes[k]) = SeenExpression.In(network, document, series[k].Observation);
        _block = network.States.Count + series.Count(one => one.Observation.Seen.HasInterval());
        foreach (var (one, seen) in series.Zip(nodes))
        {
            Reader reader;
            if (one.Observation.Seen.HasInterval())
            {
                rates.Add(seen);
                reader = new(one, network.States.Count + rates.Count - 1, null);
            }
            else
            {
                int[] read =
                [
                    seen,
                    .. _byTangents ? _moved.Select((index, j) => SensitivityNetwork.Tangent(_graph, index, (j + 1) * _block).Of(seen)) : [],
                ];
                reader = new(one, -1, GraphCompiler.Compile(_graph, read));
            }
            _readers.Add(reader);
            _rows.AddRange(one.Data.Used.Select(row => (reader, row, BodyOf(row.Subject))));
        }
        foreach (var (reader, row, _) in _rows)
        {
            // Where the start is estimated, its bounds see to it that rows come after it.
            if (_startsAt >= 0 || From(reader, row) >= _start)
                continue;
            throw new ArgumentException(
                reader.Total >= 0
                    ? $"A row of {reader.Series.Observation.Label} begins at {row.Start:0.###}, before the model does at {_start:0.###}. "
                        + "Begin the span earlier, or mark the times as the end of each interval."
                    : $"A row of {reader.Series.Observation.Label} stands at {row.End:0.###}, before the model begins at {_start:0.###}. "
                        + "Begin the span earlier, or leave the row out."
            );
        }
        MakeBodies(given, subjects);
        if (_byTangents && !controlTangents && _block > 0)
            _settings = _settings with
            {
                AbsoluteTolerances =
                [
                    .. Enumerable
                        .Range(0, _block * (_moved.Length + 1))
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
        // All nodes are made before the graph is shared with what is compiled of it.
        var plain = Plain(network, rates, nodes);
        _plain = new(() => new CompiledModel(plain));
        _model = new CompiledModel(
            _byTangents ? SensitivityNetwork.WithTangents(network, rates, _moved, _startsAt) : SensitivityNetwork.WithTotals(network, rates)
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
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    /// <exception cref="SimulationException">The model cannot be run at these values.</exception>
    public Prediction Predict(ReadOnlySpan<double> chosen, CancellationToken cancel = default) => Predict(chosen, cancel, false);

    /// <param name="chosen">In the order of the addresses, in the model's units.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    /// <param name="coarse">Whether six digits are enough, on the way to where it matters.</param>
    internal Prediction Predict(ReadOnlySpan<double> chosen, CancellationToken cancel, bool coarse)
    {
        var mean = new double[_rows.Count];
        var gradient = new double[_rows.Count, _chosen.Length];
        var at = chosen.ToArray();
        for (var body = 0; body < _bodies.Count; body++)
        {
            var values = ValuesOf(body, at);
            Means(body, Run(body, values, cancel, coarse && _byTangents), values, mean, gradient);
            if (!_byTangents)
                Differences(body, values, gradient, cancel);
        }
        return new(mean, gradient);
    }

    /// <summary>Expected values alone, without their derivatives.</summary>
    internal double[] Means(double[] chosen, CancellationToken cancel)
    {
        var mean = new double[_rows.Count];
        var none = new double[_rows.Count, _chosen.Length];
        for (var body = 0; body < _bodies.Count; body++)
        {
            var values = ValuesOf(body, chosen);
            Means(body, Run(body, values, cancel), values, mean, none);
        }
        return mean;
    }

    private static double From(Reader reader, DataRow row) => reader.Total >= 0 ? row.Start : row.End;

    private Trajectory Run(int body, double[] values, CancellationToken cancel, bool coarse = false)
    {
        cancel.ThrowIfCancellationRequested();
        var (times, plan) = (TimesFrom(values, _bodies[body].Times), _bodies[body].Plan);
        if (times.Length < 2)
            throw new ArgumentException("The data hold no time after the start of the model.");
        try
        {
            var request = new RunRequest(_model, values, times)
            {
                Settings = coarse ? _coarse : _settings,
                Plan = plan,
                // Both sides of a jump: what was seen is the side before.
                Rows = Rows.WithJumps,
            };
            return Engines.Run(request, cancel: cancel);
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
}
