using System.Runtime.CompilerServices;
using ClearTide.Core.Expressions;
using ClearTide.Core.Sampling;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Stochastic;

/// <summary>
/// One exact chance run, recorded at given times: amounts, and how often each process has fired by then (reverse firings count as minus
/// one).
/// </summary>
/// <param name="States">Amounts, time by time.</param>
/// <param name="Counts">Net firings since the start, time by time; of what flows between real amounts, how much has.</param>
/// <param name="Parameters">All parameters, time by time: values, then what events and draws have put into slots.</param>
/// <param name="Transitions">All firings.</param>
/// <param name="Blocked">Firings that did not act, because the compartment they leave held less than one unit.</param>
/// <param name="Notes">What events and planned amounts have to say.</param>
internal sealed record ExactRun(
    double[] States,
    double[] Counts,
    double[] Parameters,
    long Transitions,
    long Blocked,
    IReadOnlyList<RunNote> Notes
)
{
    /// <summary>What events did, in order of time.</summary>
    public IReadOnlyList<EventAct> Acts { get; init; } = [];
}

/// <summary>
/// The exact law of the chance process, by a unit-rate Poisson clock for each process and direction in its own internal time (the modified
/// next reaction method; Anderson, J. Chem. Phys. 127, 2007, 214107, section III). Each clock has its own random stream, so that two runs
/// with the same seed share their chance process by process. Rates that depend on time are integrated between transitions (section IV).
/// An instance serves one thread; a run depends on nothing but its arguments.
/// </summary>
internal sealed unsafe partial class NextReactionSimulator
{
    private readonly CompiledModel _model;
    private readonly Propensities _propensities;
    private readonly VectorFunction _rates;
    private readonly int _n;
    private readonly int _m;
    private readonly double[] _memory,
        _state,
        _looked,
        _parameters;
    private readonly double* _y,
        _p,
        _rate,
        _left,
        _leftReverse,
        _net;
    private readonly int[] _ends;
    private readonly int* _from,
        _to;
    private readonly RandomStream[] _forward;
    private readonly RandomStream[] _reverse;
    private readonly bool[] _reverseStarted;
    private readonly Branching?[]? _fans;
    private readonly SeveralChanges?[]? _several;
    private readonly PropensityIntegrator? _timed;
    private readonly bool[] _planned,
        _byChance;
    private readonly Dictionary<int, RunNote> _short = [];
    private FlowBetween? _flow;
    private long _seed,
        _transitions,
        _blocked;
    private int _replicate;
    private CancellationToken _cancel;
    private IPathObserver? _path;
    private readonly ClockStepFunction? _step;

    /// <summary>A run with more transitions than this is stopped.</summary>
    public long MaximumTransitions { get; init; } = MostTransitions;

    /// <summary>Default limit: a run that takes more transitions than this is given up.</summary>
    public const long MostTransitions = 500_000_000;

    /// <summary>A simulator of one model; it holds its own memory and belongs to one thread.</summary>
    public NextReactionSimulator(CompiledModel model)
    {
        _model = model;
        _propensities = Propensities.Of(model);
        _rates = _propensities.Function;
        _step = _propensities.Step;
        _n = model.StateCount;
        _m = model.Network.Processes.Count;
        var parameters = model.Network.ParameterCount + _propensities.SumCount;
        // One more state stands for the outside: it gives and takes without end.
        _state = GC.AllocateArray<double>(_n + 1, pinned: true);
        _looked = new double[_n + 1];
        _parameters = GC.AllocateArray<double>(parameters + 1, pinned: true);
        _memory = GC.AllocateArray<double>(4 * _m + 1, pinned: true);
        _y = (double*)Unsafe.AsPointer(ref _state[0]);
        _p = (double*)Unsafe.AsPointer(ref _parameters[0]);
        _rate = (double*)Unsafe.AsPointer(ref _memory[0]);
        _left = _rate + _m;
        _leftReverse = _left + _m;
        _net = _leftReverse + _m;
        _forward = GC.AllocateArray<RandomStream>(_m + 1, pinned: true);
        _reverse = new RandomStream[_m];
        _reverseStarted = new bool[_m];
        _ends = GC.AllocateArray<int>(2 * _m + 1, pinned: true);
        _from = (int*)Unsafe.AsPointer(ref _ends[0]);
        _to = _from + _m;
        for (var k = 0; k < _m; k++)
        {
            var changes = model.Network.Processes[k].Changes;
            if (SeveralChanges.Needs(model.Network.Processes[k]))
                (_several ??= new SeveralChanges[_m])[k] = new(model.Network.Processes[k]);
            _from[k] = changes.Where(change => change.Coefficient < 0).Select(change => change.State).FirstOrDefault(_n);
            _to[k] = changes.Where(change => change.Coefficient > 0).Select(change => change.State).FirstOrDefault(_n);
            if (changes.Any(change => change.Share >= 0))
                (_fans ??= new Branching[_m])[k] = new(model.Network, model.Network.Processes[k], _n);
        }
        _planned = [.. model.Network.Processes.Select(process => process.IsPlanned)];
        _byChance = [.. model.Network.Processes.Select(process => Propensities.ByChance(model.Network, process))];
        if (FlowBetween.IsNeeded(model.Network))
            _flow = new(model.Network, SolverSettings.Default);
        if (_propensities.DependOnTime)
            _timed = new PropensityIntegrator(_rates, _m);
        if (_flow is null && _propensities.Dependencies is { } dependencies)
            (_dependencies, _queue, _since, _firings) = (dependencies, new(_m), new double[_m], new double[_m]);
    }

    /// <summary>Makes a run: of whole amounts by the law of chance, of the others by their differential equations.</summary>
    /// <param name="request">What is run.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    /// <param name="path">Follows the run from transition to transition, or null.</param>
    /// <exception cref="SimulationException">A rate became infinite or not a number, or the run takes too many transitions.</exception>
    public ExactRun Run(RunRequest request, CancellationToken cancel = default, IPathObserver? path = null)
    {
        var (times, schedule, network) = (request.Times, request.Schedule, _model.Network);
        (_seed, _replicate, _cancel, _transitions, _blocked) = (request.Seed, request.Replicate, cancel, 0, 0);
        _path = path;
        _short.Clear();
        var states = new double[times.Length * _n];
        var counts = new double[times.Length * _m];
        var parameters = new double[times.Length * network.ParameterCount];
        new Span<double>(_net, _m).Clear();
        var start = request.InitialState();
        start.CopyTo(_state, 0);
        _y[_n] = double.PositiveInfinity;
        schedule.At(times[0]).AsSpan(0, network.ParameterCount).CopyTo(_parameters);
        _propensities.WriteSums(start, new Span<double>(_p + network.ParameterCount, _propensities.SumCount));
        for (var k = 0; k < _m; k++)
        {
            _forward[k] = new RandomStream(_seed, _replicate, "transition", StreamId(k));
            // What is planned comes evenly, the first unit after half of one: so many come as are said, to the nearest.
            _left[k] = _planned[k] ? 0.5 : _forward[k].NextExponential();
            _reverseStarted[k] = false;
            _fans?[k]?.Start(_seed, _replicate);
        }
        var t = times[0];
        var instants = new StochasticInstants(network, schedule, t, _replicate, _state, _parameters, request.After);
        if (_flow is not null && request.Settings.ScaledTo(start) is var settings && settings != _flow.Settings)
            _flow = new(network, settings);
        instants.Begin();
        // A condition is looked at after every transition.
        var single = instants.HasConditions;
        for (var record = 0; ; )
        {
            Look(t, held: true);
            while (record < times.Length && times[record] <= t)
            {
                _state.AsSpan(0, _n).CopyTo(states.AsSpan(record * _n));
                new Span<double>(_net, _m).CopyTo(counts.AsSpan(record * _m, _m));
                _parameters.AsSpan(0, network.ParameterCount).CopyTo(parameters.AsSpan(record * network.ParameterCount));
                record++;
            }
            if (record == times.Length)
                return new(states, counts, parameters, _transitions, _blocked, [.. instants.Notes, .. _short.Values])
                {
                    Acts = instants.Acts,
                };
            var limit = Math.Min(times[record], instants.Next(t));
            if (_flow is not null)
            {
                t = Flowing(t, limit, instants);
            }
            else
            {
                // What turns with time alone, while amounts stand still.
                if (
                    instants.ConditionsMove
                    && instants.FirstTurn(t, limit, (_, amounts) => _state.CopyTo(amounts, 0), _looked) is var turn and > 0
                )
                    limit = turn;
                t =
                    _timed is not null ? Varying(t, limit, single)
                    : _step is not null && !single ? Stepped(t, limit)
                    : _queue is not null && !single ? Queued(t, limit)
                    : Constant(t, limit, single);
            }
            if (_flow is not null)
                Look(t, held: false);
            instants.Happen(t);
            if (single)
                instants.Rise(t);
        }
    }

    private void Look(double t, bool held) => _path?.Take(t, _state.AsSpan(0, _n), _parameters, held);

    /// <summary>Each stage of a flow has streams of its own.</summary>
    private string StreamId(int k) =>
        _model.Network.Processes[k] is { Stage: > 0 } later ? $"{later.Id}#{later.Stage}" : _model.Network.Processes[k].Id;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void Fire(double t, int k, bool backwards)
    {
        if (_several is not null && _several[k] is { } several)
        {
            FireSeveral(k, several, backwards);
            return;
        }
        var (source, target, sign) = (_from[k], _to[k], 1.0);
        if (_fans is not null && _fans[k] is { } fan)
            target = fan.Choose(_y, _p);
        if (backwards)
        {
            _leftReverse[k] = _reverse[k].NextExponential();
            (source, target, sign) = (target, source, -1.0);
        }
        else
        {
            _left[k] = _planned[k] ? 1 : _forward[k].NextExponential();
        }
        if (_y[source] < 1)
        {
            _blocked++;
            if (_planned[k])
                RunsShort(t, k, source);
            return;
        }
        _y[source] -= 1;
        _y[target] += 1;
        _net[k] += sign;
    }

    private void FireSeveral(int k, SeveralChanges several, bool backwards)
    {
        if (backwards)
            _leftReverse[k] = _reverse[k].NextExponential();
        else
            _left[k] = _forward[k].NextExponential();
        if (several.Happen(_y, backwards))
            _net[k] += backwards ? -1 : 1;
        else
            _blocked++;
    }

    /// <summary>A planned unit is not there to take.</summary>
    private void RunsShort(double t, int k, int source)
    {
        var (network, process) = (_model.Network, _model.Network.Processes[k]);
        if (process.StopsWhenShort)
            throw new SimulationException(FailureReason.RanShort, t, _state[.._n], _parameters[..network.ParameterCount])
            {
                PartId = process.Id,
                Index = source,
            };
        var note = _short.GetValueOrDefault(k)
            ?? new(RunNoteKind.Limited, process.Id, t, t) { CompartmentId = network.States[source].PartId };
        _short[k] = note with { Until = t };
    }

    private void Guard(double t)
    {
        _cancel.ThrowIfCancellationRequested();
        if (_transitions > MaximumTransitions)
            throw Failed(FailureReason.TooManySteps, t);
    }

    private SimulationException Failed(FailureReason reason, double t) =>
        new(reason, t, _state[.._n], _parameters[.._model.Network.ParameterCount]);
}
