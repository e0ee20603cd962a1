using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Analysis;

/// <summary>One outcome of one curve.</summary>
/// <param name="PartId">A compartment, flow or quantity.</param>
/// <param name="Kind">Which outcome.</param>
/// <param name="Level">For the outcomes that look at a level.</param>
public sealed record OutcomeChoice(string PartId, OutcomeKind Kind, double Level = 0)
{
    /// <summary>Whether it is asked against a level.</summary>
    public bool NeedsLevel => Kind is OutcomeKind.TimeAbove or OutcomeKind.FirstCrossing;

    /// <summary>The outcome in words, as a title says it: “peak of I”.</summary>
    /// <param name="curve">The curve as sentences speak of it.</param>
    public string Words(string curve) =>
        Kind switch
        {
            OutcomeKind.Maximum => $"peak of {curve}",
            OutcomeKind.MaximumTime => $"time of the peak of {curve}",
            OutcomeKind.Final => $"{curve} at the end",
            OutcomeKind.Initial => $"{curve} at the start",
            OutcomeKind.Minimum => $"least {curve}",
            OutcomeKind.Mean => $"mean of {curve}",
            OutcomeKind.Total => $"total of {curve} over time",
            OutcomeKind.TimeAbove => $"time of {curve} above {Level:0.####}",
            OutcomeKind.FirstCrossing => $"first time of {curve} at {Level:0.####}",
            OutcomeKind.DoublingTime => $"doubling time of {curve}",
            _ => $"half-life of {curve}",
        };

    internal double Of(OutcomeTally tally, int output) =>
        Kind switch
        {
            OutcomeKind.TimeAbove => tally.OfLevel(0).TimeAbove,
            OutcomeKind.FirstCrossing => tally.OfLevel(0).FirstCrossing,
            _ => Of(tally.Of(output)),
        };

    private double Of(Outcomes outcomes) =>
        Kind switch
        {
            OutcomeKind.Maximum => outcomes.Maximum,
            OutcomeKind.MaximumTime => outcomes.MaximumTime,
            OutcomeKind.Final => outcomes.Final,
            OutcomeKind.Initial => outcomes.Initial,
            OutcomeKind.Minimum => outcomes.Minimum,
            OutcomeKind.Mean => outcomes.Mean,
            OutcomeKind.Total => outcomes.Integral,
            OutcomeKind.DoublingTime => outcomes.DoublingTime,
            _ => outcomes.HalfLife,
        };
}
