using ClearTide.Core.Simulation;

namespace ClearTide.Core.Stochastic;

/// <summary>What a run by chance was at its output times: amounts, firings and parameters.</summary>
internal sealed unsafe class ChanceRecord
{
    private readonly CompiledModel _model;
    private readonly double[] _times,
        _states,
        _counts,
        _parameters;
    private readonly int _n,
        _m,
        _p;
    private int _row;

    public ChanceRecord(CompiledModel model, double[] times)
    {
        (_model, _times) = (model, times);
        (_n, _m, _p) = (model.StateCount, model.Network.Processes.Count, model.Network.ParameterCount);
        (_states, _counts, _parameters) = (new double[times.Length * _n], new double[times.Length * _m], new double[times.Length * _p]);
    }

    /// <summary>The next output time.</summary>
    public double Next => _times[_row];

    /// <summary>Takes the state down for all output times up to one; true where these were the last.</summary>
    public bool Take(double time, ReadOnlySpan<double> state, ReadOnlySpan<double> counts, ReadOnlySpan<double> parameters)
    {
        for (; _row < _times.Length && _times[_row] <= time; _row++)
        {
            state[.._n].CopyTo(_states.AsSpan(_row * _n));
            counts[.._m].CopyTo(_counts.AsSpan(_row * _m));
            parameters[.._p].CopyTo(_parameters.AsSpan(_row * _p));
        }
        return _row == _times.Length;
    }

    /// <summary>The run that was taken down, with all that is computed along it.</summary>
    public Trajectory Trajectory(int steps, IReadOnlyList<RunNote> notes, IReadOnlyList<EventAct> acts) =>
        Of(_model, _times, _states, _counts, _parameters, steps, notes, acts);

    /// <param name="model">The compiled model.</param>
    /// <param name="times">Output times.</param>
    /// <param name="states">The amounts, time by time.</param>
    /// <param name="counts">Net firings of each process since the start, time by time.</param>
    /// <param name="parameters">All parameters, in the order of the network.</param>
    /// <param name="steps">How many steps or transitions the run took.</param>
    /// <param name="notes">What the run has to say.</param>
    /// <param name="acts">What events did.</param>
    public static Trajectory Of(
        CompiledModel model,
        double[] times,
        double[] states,
        double[] counts,
        double[] parameters,
        int steps,
        IReadOnlyList<RunNote> notes,
        IReadOnlyList<EventAct> acts
    )
    {
        var (rows, width, n, p) = (times.Length, model.OutputCount, model.StateCount, model.Network.ParameterCount);
        var outputs = new double[rows * width];
        for (var row = 0; row < rows; row++)
            model.Outputs(times[row], states.AsSpan(row * n, n), parameters.AsSpan(row * p, p), outputs.AsSpan(row * width, width));
        return new(model.Network, times, states, outputs, steps, notes) { Firings = counts, Acts = acts };
    }
}
