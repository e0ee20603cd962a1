namespace ClearTide.Core.Simulation;

/// <summary>The rows of a result.</summary>
public enum Rows
{
    /// <summary>One at each output time, after what jumps there.</summary>
    AtOutputTimes,

    /// <summary>Both sides of each jump besides.</summary>
    WithJumps,

    /// <summary>And the ends of steps that are so short that the output times could not show what happens: for curves.</summary>
    ForCurves,
}
