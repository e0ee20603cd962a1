using ClearTide.Core.Simulation;
using ClearTide.Core.Stochastic;

namespace ClearTide.Core.Reports;

/// <summary>Several formulas that follow one run.</summary>
/// <param name="formulas">Of one model.</param>
/// <param name="values">All parameters of the run.</param>
/// <param name="from">What lies before is not looked at.</param>
internal sealed class FollowedOutcomes(IReadOnlyList<OutcomeFormula> formulas, double[] values, double from) : IPathObserver
{
    private readonly FollowedOutcome[] _all = [.. formulas.Select(formula => formula.Follow(values, from))];

    /// <summary>Who follows the run: one by itself has no need to be handed what comes.</summary>
    public IPathObserver Path => _all.Length == 1 ? _all[0] : this;

    /// <inheritdoc/>
    public void Take(double time, ReadOnlySpan<double> state, ReadOnlySpan<double> parameters, bool held)
    {
        foreach (var one in _all)
            one.Take(time, state, parameters, held);
    }

    /// <summary>What one of the formulas has come to, when the run has ended.</summary>
    /// <param name="formula">Its place among the formulas.</param>
    /// <param name="run">The run that was followed.</param>
    /// <param name="first">The first output time that is looked at.</param>
    public double Of(int formula, Trajectory run, int first) => formulas[formula].Of(_all[formula], run, values, first);
}
