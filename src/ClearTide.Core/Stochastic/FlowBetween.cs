using ClearTide.Core.Expressions;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Stochastic;

/// <summary>
/// Amounts that are real numbers beside those that are counted: between two transitions they follow their differential equations, and
/// with them
/// the propensities of what is counted are integrated (a piecewise deterministic process; Davis, J. R. Statist. Soc. B 46, 1984, pp.
/// 353–388).
/// The solver's states are the amounts, then for each process what it has come to forwards, then backwards.
/// </summary>
internal sealed unsafe class FlowBetween
{
    private readonly int _n,
        _m;
    private readonly bool[] _byChance;
    private readonly Stepper _stepper;
    private readonly double[] _all,
        _looked;
    private readonly VectorFunction _law;

    /// <param name="network">The model.</param>
    /// <param name="settings">How exactly amounts are followed.</param>
    public FlowBetween(ReactionNetwork network, SolverSettings settings)
    {
        Settings = settings;
        (_n, _m) = (network.States.Count, network.Processes.Count);
        _byChance = [.. network.Processes.Select(process => Propensities.ByChance(network, process))];
        var own = network.Fork();
        var flowing = own with { Processes = [.. network.Processes.Where((_, k) => !_byChance[k])] };
        int Part(int rate) => own.Graph.Binary(Operation.Max, rate, own.Graph.Constant(0));
        var nodes = flowing.Derivatives().ToList();
        nodes.AddRange(network.Processes.Select((process, k) => _byChance[k] ? Part(process.Rate) : process.Rate));
        nodes.AddRange(
            network.Processes.Select((process, k) => _byChance[k] ? Part(own.Graph.Negate(process.Rate)) : own.Graph.Constant(0))
        );
        var law = _law = GraphCompiler.Compile(own.Graph, nodes);
        (_all, _looked) = (new double[nodes.Count], new double[_n + 1]);
        Jacobian Slopes() => new DifferenceJacobian(law, nodes.Count, settings.AbsoluteTolerance);
        _stepper = Steppers.Create(law, Slopes, nodes.Count, network.ParameterCount, settings with { Method = Method.Automatic });
    }

    /// <summary>Whether a model has amounts that flow beside those that are counted.</summary>
    public static bool IsNeeded(ReactionNetwork network) => network.States.Any(state => !Propensities.IsWhole(state));

    /// <summary>How exactly amounts are followed.</summary>
    public SolverSettings Settings { get; }

    /// <summary>What each process came to in the stretch: internal time of its clock, or the amount that has flowed.</summary>
    public ReadOnlySpan<double> Forwards => _all.AsSpan(_n, _m);

    /// <summary>The internal time that clocks of net flows have run backwards.</summary>
    public ReadOnlySpan<double> Backwards => _all.AsSpan(_n + _m, _m);

    /// <summary>How fast each amount flows at a time, counted ones not at all.</summary>
    /// <param name="time">In the model's unit of time.</param>
    /// <param name="state">The amounts.</param>
    /// <param name="parameters">All parameters, in the order of the network.</param>
    /// <param name="into">Room for as many.</param>
    public void Slopes(double time, double[] state, double[] parameters, double[] into)
    {
        fixed (
            double* y = state,
                p = parameters,
                slopes = _all
        )
            _law(time, y, p, slopes);
        _all.AsSpan(0, _n).CopyTo(into);
    }

    /// <summary>Takes up the amounts and parameters as they stand.</summary>
    public void Start(double time, ReadOnlySpan<double> state, ReadOnlySpan<double> parameters)
    {
        Array.Clear(_all);
        state[.._n].CopyTo(_all);
        _stepper.Start(time, _all, parameters);
    }

    /// <summary>Goes on to a time with what is counted as it stands; writes the amounts there.</summary>
    public void Through(double until, double[] state, CancellationToken cancel)
    {
        while (_stepper.Time < until)
        {
            Step(until);
            if ((_stepper.Steps & 255) == 0)
                cancel.ThrowIfCancellationRequested();
        }
        WriteAt(until, state);
    }

    /// <summary>
    /// Goes on to the first transition, to where a condition turns, or to the limit, whichever comes first; writes the amounts there.
    /// </summary>
    /// <param name="limit">The latest time.</param>
    /// <param name="left">Internal time left on the forward clocks.</param>
    /// <param name="leftReverse">Internal time left on the backward clocks; infinite where one has not begun.</param>
    /// <param name="instants">Conditions that are watched on the way.</param>
    /// <param name="state">Receives the amounts.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    /// <param name="next">The process that fires, or -1.</param>
    /// <param name="isBackwards">Whether it fires backwards.</param>
    public double Advance(
        double limit,
        double* left,
        Func<int, double> leftReverse,
        StochasticInstants instants,
        double[] state,
        CancellationToken cancel,
        out int next,
        out bool isBackwards
    )
    {
        while (true)
        {
            Step(limit);
            if ((_stepper.Steps & 255) == 0)
                cancel.ThrowIfCancellationRequested();
            var from = _stepper.StepStart;
            var end = _stepper.Time;
            (next, isBackwards) = (-1, false);
            for (var k = 0; k < _m; k++)
            {
                if (!_byChance[k])
                    continue;
                if (RunsOut(_n + k, left[k], from, ref end))
                    (next, isBackwards) = (k, false);
                if (HasRunBackwards(k, end) && RunsOut(_n + _m + k, leftReverse(k), from, ref end))
                    (next, isBackwards) = (k, true);
            }
            var turn = instants.ConditionsMove ? instants.FirstTurn(from, end, WriteAt, _looked) : double.NaN;
            // Where both happen at once the transition comes first: its condition is looked at behind it anyway.
            if (turn < end || turn == end && next < 0)
                (end, next) = (turn, -1);
            else
                turn = double.NaN;
            if (next < 0 && double.IsNaN(turn) && end < limit)
                continue;
            WriteAt(end, state);
            return end;
        }
    }

    /// <exception cref="SimulationException">The amounts or propensities are no numbers, or no step is small enough.</exception>
    private void Step(double limit)
    {
        try
        {
            _stepper.Step(limit);
        }
        catch (SimulationException failure)
        {
            throw new SimulationException(failure.Reason, failure.Time, failure.State[.._n], failure.Parameters);
        }
    }

    private void WriteAt(double time, double[] amounts)
    {
        if (time == _stepper.Time)
            _stepper.State.CopyTo(_all);
        else
            _stepper.At(time, _all);
        _all.AsSpan(0, _n).CopyTo(amounts);
    }

    private bool HasRunBackwards(int process, double end)
    {
        WriteAt(end, _looked);
        return _all[_n + _m + process] > 0;
    }

    /// <summary>Whether a clock runs out before the end of the stretch, which is then shortened to that time.</summary>
    private bool RunsOut(int place, double clock, double from, ref double end)
    {
        double Used(double time)
        {
            WriteAt(time, _looked);
            return _all[place];
        }
        if (!(Used(end) >= clock))
            return false;
        var (low, high) = (from, end);
        for (var halving = 0; halving < 60; halving++)
        {
            var middle = 0.5 * (low + high);
            if (middle <= low || middle >= high)
                break;
            if (Used(middle) >= clock)
                high = middle;
            else
                low = middle;
        }
        end = high;
        return true;
    }
}
