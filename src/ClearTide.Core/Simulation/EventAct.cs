namespace ClearTide.Core.Simulation;

/// <summary>An event that acted, or of one that holds a change the moment where that begins or ends.</summary>
/// <param name="PartId">The event.</param>
/// <param name="Time">In the study's unit of time.</param>
/// <param name="Ends">Whether what was held ends.</param>
public readonly record struct EventAct(string PartId, double Time, bool Ends = false)
{
    /// <summary>How much it moved at once, into places or out of them.</summary>
    public double Moved { get; init; }

    /// <summary>Acts of one run that are recorded at most.</summary>
    public const int Most = 50_000;
}
