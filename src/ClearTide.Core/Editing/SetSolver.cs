using System.Globalization;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Editing;

/// <summary>Sets how the study's run is computed.</summary>
/// <param name="Method">The method.</param>
/// <param name="Step">The step in the unit of time, for methods of a fixed step.</param>
/// <param name="Tolerance">The relative error allowed in a step, 1e-13 to 0.01.</param>
public sealed record SetSolver(Method Method, double Step, double Tolerance) : Edit
{
    /// <summary>A run of more steps than this would not be shown as one edits.</summary>
    public const int MostSteps = 200_000;

    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (!Enum.IsDefined(Method))
            return EditResult.Refused("Choose one of the methods.");
        if (Refusal(document, Method, Step) is { } refusal)
            return EditResult.Refused(refusal);
        if (!(Tolerance >= SolverChoice.Finest) || !(Tolerance <= SolverChoice.Coarsest))
            return EditResult.Refused($"A tolerance lies between 1e-13 and 0.01; 1e-8 is the usual one.");
        return document with { Solver = document.Solver with { Method = Method, Step = Step, Tolerance = Tolerance } };
    }

    /// <summary>What is wrong with a step of calculation for the document's span, or null.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="method">The method.</param>
    /// <param name="step">The step in the unit of time.</param>
    public static string? Refusal(StudyDocument document, Method method, double step)
    {
        if (!(step > 0) || !double.IsFinite(step))
            return "The step of calculation is a number above zero, as in 0.25.";
        if (!new SolverChoice(method, step, 0.01).HasStep)
            return null;
        var (span, unit) = (document.End - document.Start, document.TimeUnit);
        if (step > span)
            return $"A step of {Say(step)} is longer than the span of {unit.Length(span)}. Type a shorter one.";
        return span / step > MostSteps
            ? $"That is {(span / step).ToString("N0", CultureInfo.InvariantCulture)} steps over the span; "
                + $"{MostSteps.ToString("N0", CultureInfo.InvariantCulture)} is the limit. Type a longer step."
            : null;
    }

    private static string Say(double number) => TypedNumber.Short(number);

    /// <inheritdoc/>
    public override string Topic => "solver";

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        Method != before.Solver.Method ? $"method: {Method.Name()}"
        : Step != before.Solver.Step ? $"step: {Say(before.Solver.Step)} → {Say(Step)}"
        : string.Create(CultureInfo.InvariantCulture, $"tolerance: {before.Solver.Tolerance} → {Tolerance}");
}
