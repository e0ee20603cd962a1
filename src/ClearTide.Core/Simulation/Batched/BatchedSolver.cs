using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using static ClearTide.Core.Simulation.DormandPrinceTable;

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

    /// <summary>Above this product of step and rate stability and not accuracy holds the step down, as in
    /// <see cref="Automatic"/>.</summary>
    private const double Suspicious = 3.25;

    private const int Suspicions = 15,
        Forgiven = 6;

    private readonly VectorFunction _f,
        _outputs;
    private readonly int _n,
        _width;
    private readonly double _relative;
    private readonly double[] _memory;
    private readonly double[] _piece;
    private readonly Vector256<double>* _y,
        _before,
        _k2,
        _k3,
        _k4,
        _k5,
        _k6,
        _stage,
        _c1,
        _c2,
        _c3,
        _c4,
        _p,
        _at,
        _row;
    private Vector256<double> _absolute;
    private Vector256<double>* _k1,
        _k7;
    private StepControl _control;
    private double _time,
        _start;
    private bool _dense;
    private int _suspicions,
        _calm;

    /// <param name="f">The right-hand side over lanes.</param>
    /// <param name="outputs">What is asked of the model, over lanes.</param>
    /// <param name="width">How many numbers that is.</param>
    public BatchedSolver(VectorFunction f, VectorFunction outputs, int width, int dimension, int parameterCount, double relativeTolerance)
    {
        (_f, _outputs, _width, _n, _relative) = (f, outputs, width, dimension, relativeTolerance);
        _piece = new double[Lanes * InterpolantSegment.NodeCount * width];
        _memory = GC.AllocateArray<double>(Lanes * (15 * dimension + parameterCount + width + 2), pinned: true);
        // Lanes are read fastest where each lies within one line of the cache.
        var first = ((nint)Unsafe.AsPointer(ref _memory[0]) + 31) & ~31;
        var vectors = (Vector256<double>*)first;
        _y = vectors;
        _before = vectors + dimension;
        _k1 = vectors + 2 * dimension;
        _k2 = vectors + 3 * dimension;
        _k3 = vectors + 4 * dimension;
        _k4 = vectors + 5 * dimension;
        _k5 = vectors + 6 * dimension;
        _k6 = vectors + 7 * dimension;
        _k7 = vectors + 8 * dimension;
        _stage = vectors + 9 * dimension;
        _c1 = vectors + 10 * dimension;
        _c2 = vectors + 11 * dimension;
        _c3 = vectors + 12 * dimension;
        _c4 = vectors + 13 * dimension;
        _at = vectors + 14 * dimension;
        _row = vectors + 15 * dimension;
        _p = _row + width;
    }

    public int Steps { get; private set; }

    /// <summary>Solves from the first to the last of the times and leaves the outputs of each lane.</summary>
    /// <param name="states">For each lane its state at the start.</param>
    /// <param name="parameters">For each lane its parameters.</param>
    /// <param name="absolute">For each lane its absolute tolerance.</param>
    /// <param name="results">For each lane the outputs at all times, time by time; null for none.</param>
    /// <param name="observers">For each lane what follows it from step to step, or null.</param>
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
        CancellationToken cancel
    )
    {
        for (var lane = 0; lane < Lanes; lane++)
        {
            for (var i = 0; i < _n; i++)
                ((double*)(_y + i))[lane] = states[lane][i];
            for (var i = 0; i < parameters[lane].Length; i++)
                ((double*)(_p + i))[lane] = parameters[lane][i];
        }
        _absolute = Vector256.Create(absolute);
        (_time, _start, Steps, _suspicions, _calm) = (times[0], times[0], 0, 0, 0);
        var (sampled, observed) = (
            Array.Exists(results, rows => rows is not null),
            Array.Exists(observers, observer => observer is not null)
        );
        if (sampled)
            Sample(0, times[0], results);
        if (observed)
            Output(times[0], _y, InterpolantSegment.NodeCount - 1);
        var (next, end) = (1, times[^1]);
        F(_time, _y, _k1);
        _control = new(FirstLength(end));
        while (_time < end)
        {
            var h = _control.Proposed(_time, end);
            if (!(h > 0))
                return false;
            var error = Try(h);
            if (!_control.Takes(h, error))
                continue;
            Accept(h, end);
            if (Steps > mostSteps || !IsFinite() || IsStiff(h))
                return false;
            if ((Steps & 255) == 0)
                cancel.ThrowIfCancellationRequested();
            if (observed)
                Observe(observers);
            for (; sampled && next < times.Length && times[next] <= _time; next++)
                Sample(next, times[next], results);
        }
        return true;
    }

    private static Vector256<double> V(double value) => Vector256.Create(value);

    private void F(double time, Vector256<double>* y, Vector256<double>* slope) => _f(time, (double*)y, (double*)_p, (double*)slope);

    /// <summary>
    /// The shortest of the first steps that single runs would take (as <see cref="InitialStepSize"/>), from probes of the shortest of their
    /// lengths.
    /// </summary>
    private double FirstLength(double end)
    {
        var (d0, d1) = (Vector256<double>.Zero, Vector256<double>.Zero);
        for (var i = 0; i < _n; i++)
        {
            var scale = Scale(_y[i], _y[i]);
            d0 += _y[i] / scale * (_y[i] / scale);
            d1 += _k1[i] / scale * (_k1[i] / scale);
        }
        var (size, speed) = (Vector256.Sqrt(d0), Vector256.Sqrt(d1));
        var (probe, largest) = (double.PositiveInfinity, 0.0);
        for (var lane = 0; lane < Lanes; lane++)
            (probe, largest) = (Math.Min(probe, InitialStepSize.Probe(size[lane], speed[lane], _time, end)), Math.Max(largest, size[lane]));
        while (true)
        {
            for (var i = 0; i < _n; i++)
                _stage[i] = _y[i] + V(probe) * _k1[i];
            F(_time + probe, _stage, _k2);
            var d2 = Vector256<double>.Zero;
            for (var i = 0; i < _n; i++)
            {
                var difference = (_k2[i] - _k1[i]) / Scale(_y[i], _y[i]);
                d2 += difference * difference;
            }
            var asked = double.PositiveInfinity;
            for (var lane = 0; lane < Lanes; lane++)
                asked = Math.Min(asked, InitialStepSize.Asked(speed[lane], Math.Sqrt(d2[lane]) / probe, probe, 5));
            if (InitialStepSize.IsFar(largest, probe, asked, _time, end))
                return InitialStepSize.Within(probe, asked, _time, end);
            probe = InitialStepSize.Further(probe, _time, end);
        }
    }

    private Vector256<double> Scale(Vector256<double> a, Vector256<double> b) =>
        _absolute + V(_relative) * Vector256.Max(Vector256.Abs(a), Vector256.Abs(b));

    /// <summary>Computes a step into the stage vector; returns the largest scaled error of the lanes.</summary>
    private double Try(double h)
    {
        var (n, t) = (_n, _time);
        Vector256<double>* y = _y,
            s = _stage,
            k1 = _k1,
            k2 = _k2,
            k3 = _k3,
            k4 = _k4,
            k5 = _k5,
            k6 = _k6,
            k7 = _k7;
        for (var i = 0; i < n; i++)
            s[i] = y[i] + V(h * A21) * k1[i];
        F(t + C2 * h, s, k2);
        for (var i = 0; i < n; i++)
            s[i] = y[i] + V(h) * (V(A31) * k1[i] + V(A32) * k2[i]);
        F(t + C3 * h, s, k3);
        for (var i = 0; i < n; i++)
            s[i] = y[i] + V(h) * (V(A41) * k1[i] + V(A42) * k2[i] + V(A43) * k3[i]);
        F(t + C4 * h, s, k4);
        for (var i = 0; i < n; i++)
            s[i] = y[i] + V(h) * (V(A51) * k1[i] + V(A52) * k2[i] + V(A53) * k3[i] + V(A54) * k4[i]);
        F(t + C5 * h, s, k5);
        for (var i = 0; i < n; i++)
            s[i] = y[i] + V(h) * (V(A61) * k1[i] + V(A62) * k2[i] + V(A63) * k3[i] + V(A64) * k4[i] + V(A65) * k5[i]);
        F(t + h, s, k6);
        for (var i = 0; i < n; i++)
            s[i] = y[i] + V(h) * (V(B1) * k1[i] + V(B3) * k3[i] + V(B4) * k4[i] + V(B5) * k5[i] + V(B6) * k6[i]);
        F(t + h, s, k7);
        var sum = Vector256<double>.Zero;
        for (var i = 0; i < n; i++)
        {
            var e = V(h) * (V(E1) * k1[i] + V(E3) * k3[i] + V(E4) * k4[i] + V(E5) * k5[i] + V(E6) * k6[i] + V(E7) * k7[i]);
            var scaled = e / Scale(y[i], s[i]);
            sum += scaled * scaled;
        }
        // Max would hide a lane that is not a number.
        var worst = 0.0;
        for (var lane = 0; lane < Lanes; lane++)
            worst = sum[lane] <= worst ? worst : sum[lane];
        return n == 0 ? 0 : Math.Sqrt(worst / n);
    }

    private void Accept(double h, double limit)
    {
        for (var i = 0; i < _n; i++)
        {
            _before[i] = _y[i];
            _y[i] = _stage[i];
        }
        var first = _k1;
        _k1 = _k7;
        _k7 = first;
        _dense = false;
        _start = _time;
        _time = _time + h >= limit ? limit : _time + h;
        Steps++;
    }

    private bool IsFinite()
    {
        var mark = Vector256<double>.Zero;
        for (var i = 0; i < _n; i++)
            mark += (_y[i] + _k1[i]) * Vector256<double>.Zero;
        return mark == Vector256<double>.Zero;
    }

    /// <summary>Whether the steps of any lane have been held down by stability for some time (Hairer and Wanner II, IV.2).</summary>
    private bool IsStiff(double h)
    {
        var (change, distance) = (Vector256<double>.Zero, Vector256<double>.Zero);
        for (var i = 0; i < _n; i++)
        {
            // After acceptance the step's k1 stands in the place of its k7, and the other way round.
            var stage = _before[i] + V(h) * (V(A61) * _k7[i] + V(A62) * _k2[i] + V(A63) * _k3[i] + V(A64) * _k4[i] + V(A65) * _k5[i]);
            change += (_k1[i] - _k6[i]) * (_k1[i] - _k6[i]);
            distance += (_y[i] - stage) * (_y[i] - stage);
        }
        var suspicious = false;
        for (var lane = 0; lane < Lanes; lane++)
            suspicious |= distance[lane] > 0 && h * h * change[lane] > Suspicious * Suspicious * distance[lane];
        if (suspicious)
        {
            _calm = 0;
            return ++_suspicions >= Suspicions;
        }
        if (++_calm >= Forgiven)
            _suspicions = 0;
        return false;
    }
}
