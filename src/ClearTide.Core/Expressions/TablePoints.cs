namespace ClearTide.Core.Expressions;

/// <summary>A point of an input or a response curve.</summary>
/// <param name="X">The place.</param>
/// <param name="Y">The value there.</param>
public readonly record struct CurvePoint(double X, double Y);

/// <summary>What a table of points says between them.</summary>
public enum Between
{
    /// <summary>Straight lines from point to point.</summary>
    Line,

    /// <summary>Each value holds until the next point.</summary>
    Step,

    /// <summary>A smooth curve that rises and falls only where the points do.</summary>
    Smooth,
}

/// <summary>What an input says before its first point or after its last.</summary>
public enum Beyond
{
    /// <summary>The value of the nearest point.</summary>
    Hold,

    /// <summary>The line on from the last two points.</summary>
    Trend,

    /// <summary>The table over again.</summary>
    Repeat,

    /// <summary>Nothing.</summary>
    Zero,
}
