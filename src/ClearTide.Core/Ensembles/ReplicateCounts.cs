using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Sampling;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Ensembles;

/// <summary>One replicate of one scenario: what is followed in each interval of the future.</summary>
/// <param name="Observed">One for each interval of the future.</param>
public sealed record ReplicateCounts(double[] Observed)
{
    /// <summary>What the formulas come to: 1 or 0 for a statement, not a number for what the run has not.</summary>
    public double[] Formulas { get; init; } = [];

    /// <summary>What events and rules did, in order of time.</summary>
    public IReadOnlyList<EventAct> Acts { get; init; } = [];
}
