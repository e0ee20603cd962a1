using System.Globalization;
using System.Text.Json;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Print;

namespace ClearTide.Web.Words;

/// <summary>What a run report says, in the words of the screen.</summary>
public static class RunWords
{
    /// <summary>A conserved total in print, as MathML.</summary>
    public static string Sum(KeptTotal total)
    {
        var terms = total.Terms.Select(
            (term, k) =>
            {
                var size =
                    Math.Abs(term.Weight) == 1
                        ? ""
                        : $"<mn>{Math.Abs(term.Weight).ToString("R", CultureInfo.InvariantCulture)}</mn><mspace width=\"0.15em\"></mspace>";
                var sign =
                    term.Weight < 0 ? "<mo>−</mo>"
                    : k > 0 ? "<mo>+</mo>"
                    : "";
                return $"{sign}{size}{MathMl.Symbol(term.Symbol)}";
            }
        );
        return $"<mrow>{string.Concat(terms)}</mrow>";
    }

    /// <summary>The same as plain text.</summary>
    public static string Said(KeptTotal total) =>
        string.Join(" + ", total.Terms.Select(term => term.Weight == 1 ? term.Symbol : $"{TypedNumber.Exact(term.Weight)} {term.Symbol}"));

    /// <summary>How well a total was kept.</summary>
    public static string Kept(KeptTotal total, TimeUnit unit) =>
        total.ChangedAt is { } time ? $"changed at {unit.Singular} {Numbers.Say(time)}"
        : total.Drift < 1e-15 ? "every digit"
        : $"{Math.Floor(-Math.Log10(total.Drift)).ToString("0", CultureInfo.InvariantCulture)} digits";

    /// <summary>Significant digits, to a tenth.</summary>
    public static string Digits(double digits) =>
        digits >= StepCheck.MostDigits ? $"over {StepCheck.MostDigits}"
        : digits <= 0 ? "none"
        : digits.ToString("0.0", CultureInfo.InvariantCulture);

    /// <summary>A study's solver with another step, as values to post.</summary>
    public static string StepValues(SolverChoice solver, double step) =>
        JsonSerializer.Serialize(
            new
            {
                method = solver.Method.ToString(),
                step = TypedNumber.Exact(step),
                tolerance = TypedNumber.Exact(solver.Tolerance),
            }
        );
}
