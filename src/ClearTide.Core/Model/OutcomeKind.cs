namespace ClearTide.Core.Model;

/// <summary>Which number of a curve a run comes to.</summary>
public enum OutcomeKind
{
    Maximum,
    MaximumTime,
    Final,
    Initial,
    Minimum,
    Mean,
    Total,
    TimeAbove,
    FirstCrossing,
    DoublingTime,
    HalfLife,
}
