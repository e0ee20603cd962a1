using System.Runtime.CompilerServices;
using ClearTide.Core.Sampling;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Stochastic;

/// <summary>
/// Runs by chance that go in steps and move many units at once: the loop over output times, and over changes of values, draws and events,
/// that all of them share. Conditions of events are looked at after each step. Each process has a stream of its own. An instance serves one
/// thread; a run depends on nothing but its request.
/// </summary>
internal abstract unsafe class SteppedChance : IStochasticEngine
{
    private readonly Propensities _propensities;
    private readonly SeveralChanges?[] _several;
    private readonly Branching?[] _fans;
    private readonly double[] _counts;
    private readonly double[] _planned;
    private readonly RateNoise? _noise;
    private readonly bool[] _isPlanned,
        _byChance;

    /// <summary>Amounts that are not counted, which flow after each step with what is counted as the step has left it; null for
    /// none.</summary>
    private FlowBetween? _flow;
    private long _steps;
    private CancellationToken _cancel;
    private IPathObserver? _path;

    protected SteppedChance(CompiledModel model)
    {
        Model = model;
        var network = model.Network;
        if (FlowBetween.IsNeeded(network))
            _flow = new(network, SolverSettings.Default);
        _propensities = Propensities.Of(model);
        _noise = RateNoise.Of(network);
        Processes = network.Processes.Count;
        States = model.StateCount;
        _isPlanned = [.. network.Processes.Select(process => process.IsPlanned)];
        _byChance = [.. network.Processes.Select(process => Propensities.ByChance(network, process))];
        State = GC.AllocateArray<double>(States + 1, pinned: true);
        Parameters = GC.AllocateArray<double>(network.ParameterCount + _propensities.SumCount + 1, pinned: true);
        Rates = GC.AllocateArray<double>(Processes + 1, pinned: true);
        Streams = new RandomStream[Processes];
        Numbers = new double[Processes];
        (_counts, _planned) = (new double[Processes], new double[Processes]);
        (From, To, Taken, Given) = (new int[Processes], new int[Processes], new double[Processes], new double[Processes]);
        (_several, _fans) = (new SeveralChanges?[Processes], new Branching?[Processes]);
        for (var k = 0; k < Processes; k++)
        {
            var (process, changes) = (network.Processes[k], network.Processes[k].Changes);
            var (source, target) = (
                changes.FirstOrDefault(change => change.Coefficient < 0),
                changes.FirstOrDefault(change => change.Coefficient > 0)
            );
            (From[k], Taken[k]) = source.Coefficient < 0 ? (source.State, -source.Coefficient) : (States, 1);
            (To[k], Given[k]) = target.Coefficient > 0 ? (target.State, target.Coefficient) : (States, 1);
            if (SeveralChanges.Needs(process))
                _several[k] = new(process);
            if (changes.Any(change => change.Share >= 0))
                _fans[k] = new(network, process, States);
        }
    }

    protected CompiledModel Model { get; }

    protected int Processes { get; }

    protected int States { get; }

    /// <summary>Amounts, and behind them one that stands for the outside.</summary>
    protected double[] State { get; }

    /// <summary>Rates of the processes where the step begins; below zero where one runs backwards.</summary>
    protected double[] Rates { get; }

    /// <summary>How often each process happens in a step.</summary>
    protected double[] Numbers { get; }

    /// <summary>Where the units of each process come from and go to, and how many of them in one firing.</summary>
    protected int[] From { get; }

    protected int[] To { get; }

    protected double[] Taken { get; }

    protected double[] Given { get; }

    protected RandomStream[] Streams { get; }

    private double[] Parameters { get; }

    /// <summary>Whether rates change with time itself.</summary>
    protected bool DependOnTime => _propensities.DependOnTime;

    /// <summary>Whether amounts flow beside those that are counted: what turns rates then is not known beforehand.</summary>
    protected bool HasFlow => _flow is not null;

    /// <summary>Goes on from a time, by one step and not past the limit.</summary>
    /// <returns>Where the step ends.</returns>
    protected abstract double Advance(double t, double limit);

    /// <summary>The run of a replicate begins.</summary>
    protected virtual void Begin(long seed, int replicate) { }

    /// <inheritdoc/>
    public Trajectory Run(RunRequest request, ISegmentObserver? observer = null, CancellationToken cancel = default) =>
        Run(request, PathSegments.For(Model, observer), cancel);

    /// <inheritdoc/>
    public Trajectory Run(RunRequest request, IPathObserver? path, CancellationToken cancel)
    {
        var (times, schedule, network) = (request.Times, request.Schedule, Model.Network);
        (_steps, _cancel, _path) = (0, cancel, path);
        var record = new ChanceRecord(Model, times);
        var start = request.InitialState();
        start.CopyTo(State, 0);
        State[States] = double.PositiveInfinity;
        schedule.At(times[0]).AsSpan(0, network.ParameterCount).CopyTo(Parameters);
        if (_flow is not null && request.Settings.ScaledTo(start) is var settings && settings != _flow.Settings)
            _flow = new(network, settings);
        _propensities.WriteSums(start, Parameters.AsSpan(network.ParameterCount, _propensities.SumCount));
        Array.Clear(_counts);
        Array.Clear(_planned);
        for (var k = 0; k < Processes; k++)
        {
            var process = network.Processes[k];
            Streams[k] = new(request.Seed, request.Replicate, "steps", process.Stage > 0 ? $"{process.Id}#{process.Stage}" : process.Id);
            _fans[k]?.Start(request.Seed, request.Replicate);
        }
        _noise?.Begin(request.Seed, request.Replicate);
        Begin(request.Seed, request.Replicate);
        var t = times[0];
        var instants = new StochasticInstants(network, schedule, t, request.Replicate, State, Parameters, request.After);
        instants.Begin();
        var due = instants.Next(t);
        Look(t, held: true);
        while (!record.Take(t, State, _counts, Parameters))
        {
            var limit = Math.Min(record.Next, due);
            // Many steps lie between two instants at which something else is to be done.
            while (t < limit)
            {
                t = Advance(t, limit);
                Look(t, held: false);
                if ((++_steps & 0x3ff) == 0)
                    cancel.ThrowIfCancellationRequested();
                if (!instants.HasConditions)
                    continue;
                instants.Rise(t);
                Look(t, held: true);
                due = instants.Next(t);
                limit = Math.Min(limit, due);
            }
            if (t < due)
                continue;
            instants.Happen(t);
            if (instants.HasConditions)
                instants.Rise(t);
            Look(t, held: true);
            due = instants.Next(t);
        }
        return record.Trajectory((int)Math.Min(_steps, int.MaxValue), instants.Notes, instants.Acts);
    }

    private void Look(double t, bool held) => _path?.Take(t, State.AsSpan(0, States), Parameters, held);

    /// <summary>What is not counted follows its differential equations over a stretch, with what is counted as it stands (splitting after
    /// Lie, or Strang where half a stretch comes before and half behind what is counted; Hairer, Lubich and Wanner, Geometric Numerical
    /// Integration, 2nd ed., II.5). Nothing where all is counted.</summary>
    protected void Flow(double from, double until)
    {
        if (_flow is null)
            return;
        _flow.Start(from, State, Parameters.AsSpan(0, Model.Network.ParameterCount));
        _flow.Through(until, State, _cancel);
        for (var k = 0; k < Processes; k++)
        {
            if (!_byChance[k])
                _counts[k] += _flow.Forwards[k];
        }
    }

    /// <summary>How fast amounts flow that are not counted; nothing is written where all are.</summary>
    protected void Slopes(double t, double[] into) => _flow?.Slopes(t, State, Parameters, into);

    /// <summary>Works out the rates at a time, of the amounts as they are.</summary>
    protected void WorkOutRates(double t) => WorkOutRates(t, Rates);

    /// <summary>The same into another place, which is pinned.</summary>
    protected void WorkOutRates(double t, double[] into)
    {
        _propensities.Function(t, Pointer(State), Pointer(Parameters), Pointer(into));
        for (var k = 0; k < Processes; k++)
        {
            if (!double.IsFinite(into[k]))
                throw new SimulationException(FailureReason.NotFinite, t, State[..States], Parameters[..Model.Network.ParameterCount]);
        }
    }

    /// <summary>Whether rates have noise of their own.</summary>
    protected bool HasNoise => _noise is not null;

    /// <summary>Lays the noise of a step over the rates.</summary>
    /// <param name="length">Of the step, in units of time.</param>
    /// <param name="except">Processes that keep their mean; null for none.</param>
    protected void Shake(double length, bool[]? except = null) => _noise?.Shake(length, Rates, except);

    private static double* Pointer(double[] pinned) => (double*)Unsafe.AsPointer(ref pinned[0]);

    /// <summary>Whether a process is an action that moves its units evenly, and not by a law of waiting times.</summary>
    protected bool IsPlanned(int k) => _isPlanned[k];

    /// <summary>How many units of a planned process fall into a step: as many as have been said by then, to the nearest.</summary>
    protected double Planned(int k, double length)
    {
        var before = Math.Floor(_planned[k] + 0.5);
        _planned[k] += Rates[k] * length;
        return Math.Floor(_planned[k] + 0.5) - before;
    }

    /// <summary>Where the units of a process come from while it runs in the direction that it does.</summary>
    protected int Source(int k) => Rates[k] >= 0 ? From[k] : To[k];

    /// <summary>How many of its source one firing takes.</summary>
    protected double TakenBy(int k) => Rates[k] >= 0 ? Taken[k] : Given[k];

    /// <summary>Moves what happens in a step; of what is no longer there nothing is taken.</summary>
    protected void Move()
    {
        for (var k = 0; k < Processes; k++)
        {
            var number = Numbers[k];
            if (number == 0)
                continue;
            var backwards = Rates[k] < 0;
            if (_several[k] is { } several)
            {
                for (var unit = 0.0; unit < number && several.Happen(Pointer(State), backwards); unit++)
                    _counts[k] += backwards ? -1 : 1;
                continue;
            }
            var (source, target) = backwards ? (To[k], From[k]) : (From[k], To[k]);
            number = Math.Min(number, State[source]);
            if (_fans[k] is { } fan)
            {
                for (var unit = 0.0; unit < number; unit++)
                    State[fan.Choose(Pointer(State), Pointer(Parameters))]++;
            }
            else
            {
                State[target] += number;
            }
            State[source] -= number;
            _counts[k] += backwards ? -number : number;
        }
        State[States] = double.PositiveInfinity;
    }
}
