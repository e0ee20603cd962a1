using System.Runtime.CompilerServices;
using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>
/// Dormand–Prince 5(4) for four sets of parameters of one model at once, in step with each other: one time and one step for all lanes,
/// short enough
/// for the lane with the largest error. Outputs of the model are computed for all lanes at once too. One solver serves one thread, for
/// any number of runs.
/// </summary>
internal sealed unsafe partial class BatchedSolver
{
    public const int Lanes = 4;

    private readonly VectorFunction _f,
        _outputs;
    private readonly int _n,
        _width;
    private readonly double _relative;
    private readonly double[] _memory;
    private readonly double[] _piece;
    private readonly FourLanes* _p,
        _at,
        _row;
    private DormandPrinceStages<FourLanes> _stages;
    private StepControl _control;
    private double _time,
        _start;
    private bool _dense;
    private StiffnessWatch _watch;

    /// <param name="f">The right-hand side over lanes.</param>
    /// <param name="outputs">What is asked of the model, over lanes.</param>
    /// <param name="width">How many numbers that is.</param>
    /// <param name="dimension">How many states there are.</param>
    /// <param name="parameterCount">How many parameters there are.</param>
    /// <param name="relativeTolerance">Of a step, for all lanes.</param>
    public BatchedSolver(VectorFunction f, VectorFunction outputs, int width, int dimension, int parameterCount, double relativeTolerance)
    {
        (_f, _outputs, _width, _n, _relative) = (f, outputs, width, dimension, relativeTolerance);
        _piece = new double[Lanes * InterpolantSegment.NodeCount * width];
        _memory = GC.AllocateArray<double>(Lanes * (16 * dimension + parameterCount + width + 2), pinned: true);
        // Lanes are read fastest where each lies within one line of the cache.
        var first = (FourLanes*)(((nint)Unsafe.AsPointer(ref _memory[0]) + 31) & ~31);
        FourLanes* At(int index) => first + index * dimension;
        _stages = new()
        {
            Y = At(0),
            Before = At(1),
            K1 = At(2),
            K2 = At(3),
            K3 = At(4),
            K4 = At(5),
            K5 = At(6),
            K6 = At(7),
            K7 = At(8),
            Stage = At(9),
            Q1 = At(10),
            Q2 = At(11),
            Q3 = At(12),
            Q4 = At(13),
            Absolute = At(14),
        };
        _at = At(15);
        _row = At(16);
        _p = _row + width;
    }

    public int Steps { get; private set; }

    /// <summary>Solves from the first to the last of the times and leaves the outputs of each lane.</summary>
    /// <param name="states">For each lane its state at the start.</param>
    /// <param name="parameters">For each lane its parameters.</param>
    /// <param name="absolute">For each lane its absolute tolerance.</param>
    /// <param name="times">Ascending output times.</param>
    /// <param name="mostSteps">How many steps lanes may take together.</param>
    /// <param name="results">For each lane the outputs at all times, time by time; null for none.</param>
    /// <param name="observers">For each lane what follows it from step to step, or null.</param>
    /// <param name="jumps">In order of time; a result at the time of one is that behind it.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    /// <returns>False where lanes cannot go on together: a lane became infinite, the system is stiff, or there are too many
    /// steps.</returns>
    public bool Run(
        double[][] states,
        double[][] parameters,
        double[] absolute,
        double[] times,
        int mostSteps,
        double[]?[] results,
        ISegmentObserver?[] observers,
        IReadOnlyList<LaneJump> jumps,
        CancellationToken cancel
    )
    {
        for (var lane = 0; lane < Lanes; lane++)
        {
            for (var i = 0; i < _n; i++)
                ((double*)(_stages.Y + i))[lane] = states[lane][i];
            for (var i = 0; i < _n; i++)
                ((double*)(_stages.Absolute + i))[lane] = absolute[lane];
            for (var i = 0; i < parameters[lane].Length; i++)
                ((double*)(_p + i))[lane] = parameters[lane][i];
        }
        (_time, _start, Steps, _watch) = (times[0], times[0], 0, default);
        var (sampled, observed) = (
            Array.Exists(results, rows => rows is not null),
            Array.Exists(observers, observer => observer is not null)
        );
        var (next, end, jump) = (1, times[^1], 0);
        Jump(jumps, ref jump);
        if (sampled)
            Sample(0, times[0], results);
        if (observed)
            Output(times[0], _stages.Y, InterpolantSegment.NodeCount - 1);
        Begin(end);
        while (_time < end)
        {
            var stop = jump < jumps.Count ? Math.Min(end, jumps[jump].Time) : end;
            var h = _control.Proposed(_time, stop);
            if (!(h > 0))
                return false;
            var error = Try(h);
            if (!_control.Takes(h, error))
                continue;
            Accept(h, stop);
            if (Steps > mostSteps || !IsFinite() || IsStiff(h))
                return false;
            if ((Steps & 255) == 0)
                cancel.ThrowIfCancellationRequested();
            if (observed)
                Observe(observers);
            for (; sampled && next < times.Length && times[next] <= _time; next++)
                Sample(next, times[next], results);
            if (!Jump(jumps, ref jump))
                continue;
            _start = _time;
            if (sampled && times[next - 1] == _time)
                Sample(next - 1, _time, results);
            if (observed)
                Output(_time, _stages.Y, InterpolantSegment.NodeCount - 1);
            if (_time < end)
                Begin(end);
        }
        return true;
    }

    /// <summary>Makes the jumps that are due; false where none is.</summary>
    private bool Jump(IReadOnlyList<LaneJump> jumps, ref int next)
    {
        var any = false;
        for (; next < jumps.Count && jumps[next].Time <= _time; next++)
        {
            var (_, to, states) = jumps[next];
            to(_time, (double*)_stages.Y, (double*)_p, (double*)_stages.Stage);
            for (var k = 0; k < states.Length; k++)
                _stages.Y[states[k]] = _stages.Stage[k];
            any = true;
        }
        return any;
    }

    /// <summary>Begins to step from where the lanes are.</summary>
    private void Begin(double end)
    {
        _dense = false;
        _f(_time, (double*)_stages.Y, (double*)_p, (double*)_stages.K1);
        _control = new(FirstLength(end));
    }

    private double FirstLength(double end)
    {
        var of = _stages;
        return InitialStepSize.Of(_f, _time, of.Y, (double*)_p, of.K1, of.Stage, of.K2, _n, of.Absolute, _relative, end, order: 5);
    }

    /// <summary>Computes a step into the stage vector; returns the largest scaled error of the lanes.</summary>
    private double Try(double h)
    {
        var sum = _stages.Try(_f, _time, h, (double*)_p, _relative, _n);
        // Max would hide a lane that is not a number.
        var worst = 0.0;
        for (var lane = 0; lane < Lanes; lane++)
            worst = sum[lane] <= worst ? worst : sum[lane];
        return _n == 0 ? 0 : Math.Sqrt(worst / _n);
    }

    private void Accept(double h, double limit)
    {
        for (var i = 0; i < _n; i++)
        {
            _stages.Before[i] = _stages.Y[i];
            _stages.Y[i] = _stages.Stage[i];
        }
        _stages.Swap();
        _dense = false;
        _start = _time;
        _time = _time + h >= limit ? limit : _time + h;
        Steps++;
    }

    private bool IsFinite()
    {
        var mark = FourLanes.Of(0);
        for (var i = 0; i < _n; i++)
            mark += (_stages.Y[i] + _stages.K1[i]) * FourLanes.Of(0);
        return FourLanes.Sum(mark) == 0;
    }

    /// <summary>Whether the steps of any lane have been held down by stability for some time.</summary>
    private bool IsStiff(double h)
    {
        var (change, distance) = _stages.Stiffness(h, _n);
        var most = StiffnessWatch.Suspicious * StiffnessWatch.Suspicious;
        var suspicious = false;
        for (var lane = 0; lane < Lanes; lane++)
            suspicious |= distance[lane] > 0 && h * h * change[lane] > most * distance[lane];
        return _watch.Takes(suspicious);
    }
}
