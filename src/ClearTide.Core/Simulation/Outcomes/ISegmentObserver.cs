namespace ClearTide.Core.Simulation;

/// <summary>Follows a run stretch by stretch, from step to step; a stretch ends where something jumps. In discrete steps a last one without
/// length says what the run has come to.</summary>
public interface ISegmentObserver
{
    /// <param name="from">Where the segment begins, in the model's unit of time.</param>
    /// <param name="until">Where it ends.</param>
    /// <param name="values">The outputs of the model (amounts, flows, quantities, watched ranges) at the nodes of a
    /// <see cref="InterpolantSegment"/>, column by column: five numbers for each output.</param>
    void Take(double from, double until, ReadOnlySpan<double> values);
}
