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
        Output(_time, _stages.Y, Last);
        for (var lane = 0; lane < Lanes; lane++)
            observers[lane]?.Take(_start, _time, _piece.AsSpan(lane * stride, stride));
    }

    /// <summary>Computes the outputs at a state into a node of the piece.</summary>
    private void Output(double time, FourLanes* y, int node)
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
        var y = _stages.Y;
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
            _stages.Interpolate(h, _n);
        _dense = true;
        _stages.At((time - _start) / h, _at, _n);
    }
}
