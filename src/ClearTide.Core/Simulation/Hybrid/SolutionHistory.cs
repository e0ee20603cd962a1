using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>
/// The past of a run, for delayed expressions (method of steps; Hairer, Nørsett, Wanner, Solving Ordinary Differential Equations I, 2nd
/// ed.,
/// II.17). Each step is kept as the polynomial of degree four through five of its points, which is the solver's own continuous output.
/// </summary>
internal sealed unsafe class SolutionHistory
{
    private const int Points = 5;
    private static readonly double[] Places = [0, 0.25, 0.5, 0.75, 1];

    private readonly ReactionNetwork _network;
    private readonly VectorFunction _delayed;
    private readonly double[] _lags;
    private readonly bool[] _varies;
    private readonly double[] _before;
    private readonly List<(double From, double Until, double[] States)> _steps = [];
    private readonly List<(double From, double[] Parameters)> _parameters = [];
    private readonly double[] _state;
    private readonly double[] _values;
    private readonly double _start;
    private readonly double[] _first;
    private readonly bool _nests;
    private readonly ImplicitValues? _implicit;

    /// <param name="network">The model.</param>
    /// <param name="delayed">Computes the expressions that delays look back at.</param>
    /// <param name="equations">Of what a circle of formulas defines; null where there is none.</param>
    /// <param name="start">Where the span begins, in the model's unit of time.</param>
    /// <param name="state">The states at the start.</param>
    /// <param name="parameters">The parameters at the start.</param>
    /// <exception cref="SimulationException">A delay is not a time above zero.</exception>
    public SolutionHistory(
        ReactionNetwork network,
        VectorFunction delayed,
        ImplicitEquations? equations,
        double start,
        double[] state,
        double[] parameters
    )
    {
        (_network, _delayed, _start) = (network, delayed, start);
        if (equations is not null)
        {
            _implicit = new(equations);
            _implicit.Begin(start, [.. parameters]);
        }
        _first = [.. state];
        _state = new double[network.States.Count];
        _values = new double[network.Delays.Count];
        _lags = [.. network.Delays.Select(delay => network.Graph.Evaluate(delay.Lag, start, state, parameters))];
        _varies = [.. network.Delays.Select(delay => Varies(delay.Lag))];
        if (_lags.Zip(_varies).Any(lag => !(lag.Second ? lag.First >= 0 : lag.First > 0) || !double.IsFinite(lag.First)))
            throw new SimulationException(FailureReason.BadDelay, start, state, parameters);
        _before = new double[_lags.Length];
        // Delayed expressions may hold other delayed ones: their values before the start come first.
        for (var round = 0; round < _lags.Length; round++)
        {
            for (var k = 0; k < _lags.Length; k++)
            {
                var delay = network.Delays[k];
                _before[k] =
                    delay.History >= 0
                        ? network.Graph.Evaluate(delay.History, start, [], parameters)
                        : network.Graph.Evaluate(delay.Expression, start, state, parameters);
                parameters[delay.Slot] = _before[k];
            }
        }
        _parameters.Add((start, [.. parameters]));
        _nests = network.Delays.Any(outer => network.Delays.Any(inner => inner != outer && Uses(outer.Expression, inner.Slot)));
    }

    /// <summary>
    /// The shortest delay: no step is longer. One that varies may shrink to nothing, and binds no step: what it asks for within one is
    /// read on the line
    /// to where the step has come to, which control of the error sees like any other error of the step.
    /// </summary>
    public double Shortest => _lags.Where((_, k) => !_varies[k]).DefaultIfEmpty(double.PositiveInfinity).Min();

    /// <summary>When jumps at a time come back: once for each delay that stays as long as it is.</summary>
    public IEnumerable<double> BreakingPoints(double time) => _lags.Where((_, k) => !_varies[k]).Select(lag => time + lag);

    /// <summary>Whether a delay is of more than parameters.</summary>
    private bool Varies(int lag)
    {
        var needed = _network.Graph.Reachable([lag]);
        var slots = _network.Delays.Select(delay => delay.Slot).ToHashSet();
        return Enumerable
            .Range(0, needed.Length)
            .Any(node =>
                needed[node]
                && (
                    _network.Graph[node].Operation is Operation.State or Operation.Time
                    || _network.Graph[node].Operation == Operation.Parameter && slots.Contains(_network.Graph[node].A)
                )
            );
    }

    /// <summary>Keeps a step, read from its continuous output.</summary>
    public void Keep(Stepper stepper, double from, double until)
    {
        if (until <= from)
            return;
        var n = _state.Length;
        var states = new double[Points * n];
        for (var k = 0; k < Points; k++)
            stepper.At(k == Points - 1 ? until : from + Places[k] * (until - from), states.AsSpan(k * n, n));
        _steps.Add((from, until, states));
        // What no delay can ask for any more is forgotten.
        if (_varies.Any(varies => varies))
            return;
        var oldest = until - _lags.Max() - (until - from);
        if (_steps.Count <= 64 || _steps[_steps.Count / 2].Until >= oldest)
            return;
        _steps.RemoveAll(step => step.Until < oldest);
        var first = _parameters.FindLastIndex(entry => entry.From <= oldest);
        if (first > 0)
            _parameters.RemoveRange(0, first);
    }

    public void KeepParameters(double time, double[] parameters) => _parameters.Add((time, [.. parameters]));

    /// <summary>Writes the delayed values at a time into the parameters.</summary>
    /// <param name="time">Where the run is.</param>
    /// <param name="nudge">A moment that says which side of a jump counts.</param>
    /// <param name="y">The states, in the order of the network.</param>
    /// <param name="p">All parameters, in the order of the network.</param>
    public void Fill(double time, double nudge, double* y, double* p)
    {
        for (var k = 0; k < _lags.Length; k++)
            p[_network.Delays[k].Slot] = At(
                k,
                time - Lag(k, time, new(y, _state.Length), new(p, _network.ParameterCount)),
                nudge,
                0,
                time,
                y
            );
    }

    private double Lag(int k, double time, ReadOnlySpan<double> state, ReadOnlySpan<double> parameters)
    {
        if (!_varies[k])
            return _lags[k];
        // A delay below nothing would ask for what is to come.
        return _network.Graph.Evaluate(_network.Delays[k].Lag, time, state, parameters) is >= 0 and var lag ? lag : double.NaN;
    }

    /// <param name="k">Place of the delayed expression.</param>
    /// <param name="time">At which the delayed expression is wanted.</param>
    /// <param name="nudge">A moment that says which side of a jump counts.</param>
    /// <param name="depth">How many delays lie between this one and the run itself.</param>
    /// <param name="now">Where the step has come to, with the state there.</param>
    /// <param name="y">The states, in the order of the network.</param>
    private double At(int k, double time, double nudge, int depth, double now, double* y)
    {
        if (double.IsNaN(time))
            return double.NaN;
        // Just at the start the history ends and the run begins.
        var sided = time + nudge;
        if (sided <= _start || _steps.Count == 0 && !_varies[k])
            return _before[k];
        var parameters = ParametersAt(sided);
        if (_nests && depth <= _lags.Length)
        {
            parameters = (double[])parameters.Clone();
            for (var inner = 0; inner < _lags.Length; inner++)
            {
                if (inner != k && Uses(_network.Delays[k].Expression, _network.Delays[inner].Slot))
                    parameters[_network.Delays[inner].Slot] = At(
                        inner,
                        time - Lag(inner, time, State(time, sided, now, y), parameters),
                        nudge,
                        depth + 1,
                        now,
                        y
                    );
            }
        }
        State(time, sided, now, y);
        if (_implicit is not null)
            parameters = [.. parameters];
        fixed (double* state = _state)
        fixed (double* p = parameters)
        fixed (double* values = _values)
        {
            _implicit?.Search(sided, state, p);
            _delayed(sided, state, p, values);
        }
        return _values[k];
    }

    private readonly Dictionary<(int, int), bool> _uses = [];

    private bool Uses(int expression, int slot)
    {
        if (_uses.TryGetValue((expression, slot), out var known))
            return known;
        var needed = _network.Graph.Reachable([expression]);
        for (var node = 0; node < needed.Length; node++)
        {
            if (needed[node] && _network.Graph[node] is { Operation: Operation.Parameter } parameter && parameter.A == slot)
                return _uses[(expression, slot)] = true;
        }
        return _uses[(expression, slot)] = false;
    }

    private double[] ParametersAt(double time)
    {
        // The last entry that begins at or before the time.
        var (low, high) = (0, _parameters.Count - 1);
        while (low < high)
        {
            var middle = (low + high + 1) / 2;
            if (_parameters[middle].From <= time)
                low = middle;
            else
                high = middle - 1;
        }
        return _parameters[low].Parameters;
    }

    /// <summary>The state at a time that is past, or within the step that is being made.</summary>
    private ReadOnlySpan<double> State(double time, double sided, double now, double* y)
    {
        var until = _steps.Count > 0 ? _steps[^1].Until : _start;
        if (_steps.Count > 0)
            StateAt(Math.Min(time, until), sided);
        else
            _first.CopyTo(_state, 0);
        if (time <= until || now <= until)
            return _state;
        for (var i = 0; i < _state.Length; i++)
            _state[i] += (y[i] - _state[i]) * Math.Min(1, (time - until) / (now - until));
        return _state;
    }

    /// <param name="time">In the model's unit of time.</param>
    /// <param name="sided">The time a moment on, to the side of a jump that counts: it says which step is read.</param>
    private void StateAt(double time, double sided)
    {
        var (low, high) = (0, _steps.Count - 1);
        while (low < high)
        {
            var middle = (low + high) / 2;
            if (_steps[middle].Until < sided)
                low = middle + 1;
            else
                high = middle;
        }
        var (from, until, states) = _steps[low];
        var s = until > from ? Math.Clamp((time - from) / (until - from), 0, 1) : 1;
        var n = _state.Length;
        Span<double> weights = stackalloc double[Points];
        for (var k = 0; k < Points; k++)
        {
            var weight = 1.0;
            for (var j = 0; j < Points; j++)
            {
                if (j != k)
                    weight *= (s - Places[j]) / (Places[k] - Places[j]);
            }
            weights[k] = weight;
        }
        for (var i = 0; i < n; i++)
        {
            var sum = 0.0;
            for (var k = 0; k < Points; k++)
                sum += weights[k] * states[k * n + i];
            _state[i] = sum;
        }
    }
}
