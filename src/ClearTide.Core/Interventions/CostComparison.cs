namespace ClearTide.Core.Interventions;

/// <summary>Scenarios by what they cost and what they leave: of a flow in total, of an amount at the end.</summary>
/// <param name="Runs">Baseline and scenarios.</param>
/// <param name="IsFlow">Whether the compared curve is a flow.</param>
public sealed record CostComparison(ScenarioRuns Runs, bool IsFlow)
{
    /// <summary>What is left under a scenario, the less the better; null where its run failed.</summary>
    private double? Left(int scenario) =>
        Runs.Curves[scenario].Outcomes is { } found
            ? IsFlow
                ? found.Integral
                : found.Final
            : null;

    /// <summary>The cost of one less than under the baseline; null where there is none less.</summary>
    /// <param name="scenario">Its place among the curves; the baseline is the first.</param>
    public double? PerAverted(int scenario) =>
        Left(0) - Left(scenario) is { } averted && averted > 1e-9 * Math.Abs(Left(0) ?? 0) ? Runs.Curves[scenario].Cost / averted : null;

    /// <summary>The name of a scenario, or the baseline, that costs no more and leaves no more than this one, and one of them less: it
    /// dominates. Null where there is none.</summary>
    /// <param name="scenario">Number of the scenario.</param>
    public string? Better(int scenario)
    {
        if (Left(scenario) is not { } left)
            return null;
        var cost = Runs.Curves[scenario].Cost;
        for (var other = 0; other < Runs.Curves.Count; other++)
        {
            var its = Runs.Curves[other].Cost;
            if (other != scenario && Left(other) is { } less && its <= cost && less <= left && (its < cost || less < left))
                return Runs.Curves[other].Name;
        }
        return null;
    }
}
