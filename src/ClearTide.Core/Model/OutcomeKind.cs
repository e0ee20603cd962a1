namespace ClearTide.Core.Model;

/// <summary>Which number of a curve a run comes to.</summary>
public enum OutcomeKind
{
    /// <summary>The greatest value.</summary>
    Maximum,

    /// <summary>When the greatest value is reached.</summary>
    MaximumTime,

    /// <summary>The value at the end.</summary>
    Final,

    /// <summary>The value at the start.</summary>
    Initial,

    /// <summary>The least value.</summary>
    Minimum,

    /// <summary>The mean over time.</summary>
    Mean,

    /// <summary>The integral over time.</summary>
    Total,

    /// <summary>How long the curve is above a level.</summary>
    TimeAbove,

    /// <summary>When the curve first meets a level.</summary>
    FirstCrossing,

    /// <summary>How long it takes to double at the start.</summary>
    DoublingTime,

    /// <summary>How long it takes to halve at the end.</summary>
    HalfLife,
}
