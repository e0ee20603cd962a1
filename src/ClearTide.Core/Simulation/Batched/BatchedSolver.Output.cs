using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using static ClearTide.Core.Simulation.DormandPrinceTable;

namespace ClearTide.Core.Simulation;

/// <summary>What is read from the runs between their steps.</summary>
internal sealed unsafe partial class BatchedSolver
{
    /// <summary>Hands the step that was just made to the observers.</summary>
    private void Observe(ISegmentObserver?[] observers)
    {
        const int Last = InterpolantSegment.NodeCount - 1;
        var stride = InterpolantSegment.NodeCount * _width;
        // A step begins where the last one ended.
        for (var k = 0; k < Lanes * _width; k++)
            _piece[k * InterpolantSegment.NodeCount] = _piece[k * InterpolantSegment.NodeCount + Last];
        for (var node = 1; node < Last; node++)
        {
            var time = _start + InterpolantSegment.Nodes[node] * (_time - _start);
            At(time);
            Output(time, _at, node);
        }
        Output(_time, _y, Last);
        for (var lane = 0; lane < Lanes; lane++)
            observers[lane]?.Take(_start, _time, _piece.AsSpan(lane * stride, stride));
    }

    /// <summary>Computes the outputs at a state into a node of the piece.</summary>
    private void Output(double time, Vector256<double>* y, int node)
    {
        _outputs(time, (double*)y, (double*)_p, (double*)_row);
        for (var k = 0; k < _width; k++)
        {
            for (var lane = 0; lane < Lanes; lane++)
                _piece[(lane * _width + k) * InterpolantSegment.NodeCount + node] = ((double*)(_row + k))[lane];
        }
    }

    /// <summary>Leaves the outputs at a time within the last step.</summary>
    private void Sample(int row, double time, double[]?[] results)
    {
        var y = _y;
        if (time != _time && _time != _start)
        {
            At(time);
            y = _at;
        }
        _outputs(time, (double*)y, (double*)_p, (double*)_row);
        for (var lane = 0; lane < Lanes; lane++)
        {
            if (results[lane] is not { } rows)
                continue;
            for (var k = 0; k < _width; k++)
                rows[row * _width + k] = ((double*)(_row + k))[lane];
        }
    }

    /// <summary>The states at a time within the last step, by its continuous output (as in <see cref="DormandPrince"/>).</summary>
    private void At(double time)
    {
        var h = _time - _start;
        if (!_dense)
        {
            for (var i = 0; i < _n; i++)
            {
                // After acceptance the step's k1 stands in the place of its k7, and the other way round.
                var difference = _y[i] - _before[i];
                var bulge = V(h) * _k7[i] - difference;
                _c1[i] = difference;
                _c2[i] = bulge;
                _c3[i] = difference - V(h) * _k1[i] - bulge;
                _c4[i] = V(h) * (V(D1) * _k7[i] + V(D3) * _k3[i] + V(D4) * _k4[i] + V(D5) * _k5[i] + V(D6) * _k6[i] + V(D7) * _k1[i]);
            }
            _dense = true;
        }
        var s = (time - _start) / h;
        var (here, rest) = (V(s), V(1 - s));
        for (var i = 0; i < _n; i++)
            _at[i] = _before[i] + here * (_c1[i] + rest * (_c2[i] + here * (_c3[i] + rest * _c4[i])));
    }
}
