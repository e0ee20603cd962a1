using ClearTide.Core.Model;

namespace ClearTide.Core.Ensembles;

/// <summary>What of a measure is looked for.</summary>
public enum MeasureSetting
{
    /// <summary>The number that it scales by, sets to or shifts by.</summary>
    Strength,

    /// <summary>When it begins.</summary>
    Start,

    /// <summary>When it ends.</summary>
    End,

    /// <summary>When it begins, for as long as it lasts now.</summary>
    Time,

    /// <summary>How long it lasts from its beginning.</summary>
    Length,
}

/// <summary>A setting that is tried together with another one.</summary>
/// <param name="MeasureId">Which measure of the same scenario; it may be the same one.</param>
/// <param name="Setting">What of the measure is tried.</param>
/// <param name="From">The first setting that is tried.</param>
/// <param name="To">The last one.</param>
public sealed record SecondSetting(string MeasureId, MeasureSetting Setting, double From, double To);

/// <summary>What is looked for.</summary>
/// <param name="ScenarioId">The scenario whose measure it is; its other measures stay as they are.</param>
/// <param name="MeasureId">Which of the scenario's measures.</param>
/// <param name="Setting">What of the measure is tried: its factor, its start, its end.</param>
/// <param name="From">The first setting that is tried.</param>
/// <param name="To">The last one.</param>
/// <param name="PartId">The compartment, flow or quantity that is looked at.</param>
/// <param name="Outcome">Its peak, its value at the end or its total over time.</param>
/// <param name="Limit">What its outcome stays at or below.</param>
/// <param name="Share">In which share of runs by chance it has to; above zero, at most one.</param>
/// <param name="Replicates">Runs by chance at each setting; 0 for one run without chance.</param>
public sealed record MeasureQuestion(
    string ScenarioId,
    string MeasureId,
    MeasureSetting Setting,
    double From,
    double To,
    string PartId,
    OutcomeKind Outcome,
    double Limit,
    double Share,
    int Replicates
)
{
    /// <summary>Runs by chance at each setting at most.</summary>
    public const int MostReplicates = 1000;

    /// <summary>Settings that are tried, of each of the two where there are two.</summary>
    public int Steps { get; init; } = 25;

    /// <summary>What is tried with each of them; null for one setting alone.</summary>
    public SecondSetting? Second { get; init; }

    /// <summary>What is set where these numbers are tried.</summary>
    internal IEnumerable<(string MeasureId, MeasureSetting Setting, double Value)> Settings(double first, double second) =>
        Second is { } other ? [(MeasureId, Setting, first), (other.MeasureId, other.Setting, second)] : [(MeasureId, Setting, first)];
}
