using ClearTide.Core.Compilation;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Interventions;

/// <summary>The study's own outcomes along one run without chance. One that the model cannot answer any more is left out.</summary>
internal sealed class OutcomeRows : ISegmentObserver
{
    private readonly SmoothOutcomes _outcomes;
    private readonly int[] _placeOf;

    private OutcomeRows(SmoothOutcomes outcomes, int[] placeOf) => (_outcomes, _placeOf) = (outcomes, placeOf);

    /// <summary>Those of a study; null where it has none that can be read.</summary>
    /// <param name="lowered">The model that is run, of the baseline or of a scenario.</param>
    /// <param name="values">All parameters of that model.</param>
    /// <param name="now">What lies before is not looked at.</param>
    public static OutcomeRows? For(LoweredModel lowered, double[] values, double now)
    {
        var read = lowered.Study.OutcomeRows.Select(text => Read(lowered, text).Formula).ToList();
        var known = read.OfType<OutcomeFormula>().ToList();
        return known.Count == 0
            ? null
            : new(new(lowered, known, values, now), [.. read.Select(formula => formula is null ? -1 : known.IndexOf(formula))]);
    }

    /// <summary>A row as a formula, or what is wrong with it.</summary>
    /// <param name="lowered">The model that it is about.</param>
    /// <param name="text">As typed.</param>
    public static (OutcomeFormula? Formula, string? Problem) Read(LoweredModel lowered, string text)
    {
        try
        {
            return (OutcomeFormula.Read(lowered, text), null);
        }
        catch (ArgumentException wrong)
        {
            return (null, wrong.Message);
        }
    }

    /// <inheritdoc cref="SmoothOutcomes.Model"/>
    public CompiledModel Model => _outcomes.Model;

    /// <inheritdoc/>
    public void Take(double from, double until, ReadOnlySpan<double> values) => _outcomes.Take(from, until, values);

    /// <summary>What they have come to, in the order of the study.</summary>
    public double[] Found() => [.. _placeOf.Select(place => place < 0 ? double.NaN : _outcomes.Of(place))];
}

/// <summary>How one of the study's own outcomes is read.</summary>
/// <param name="Text">As typed.</param>
/// <param name="IsStatement">Whether it is true or false of a run, and not a number.</param>
/// <param name="Problem">Why the model cannot answer it, in a sentence; null where it can.</param>
public sealed record OutcomeRow(string Text, bool IsStatement, string? Problem)
{
    /// <summary>All rows of a study.</summary>
    /// <param name="lowered">The model, lowered.</param>
    public static IReadOnlyList<OutcomeRow> Of(LoweredModel lowered) =>
        [
            .. lowered.Study.OutcomeRows.Select(text =>
            {
                var (formula, problem) = OutcomeRows.Read(lowered, text);
                return new OutcomeRow(text, formula?.IsStatement == true, problem);
            }),
        ];
}
