using System.Globalization;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Web.Words;

/// <summary>How subjects differ, as it is typed and as it is shown.</summary>
public static class SubjectWords
{
    public static string Of(VariationLaw law) =>
        law switch
        {
            VariationLaw.LogNormal => "log-normal",
            VariationLaw.Normal => "normal",
            VariationLaw.LogitNormal => "logit-normal",
            _ => "uniform",
        };

    /// <summary>What its spread is.</summary>
    public static string SpreadOf(VariationLaw law) =>
        law switch
        {
            VariationLaw.LogNormal => "coefficient of variation, as in 24 %; or the deviation of the log, as in 0.24 log",
            VariationLaw.Normal => "standard deviation, in the value's unit",
            VariationLaw.LogitNormal => "standard deviation of the log-odds",
            _ => "of no meaning between two ends",
        };

    /// <summary>A spread as a field shows it.</summary>
    public static string Field(VaryingValue value) =>
        value.Law switch
        {
            VariationLaw.Uniform => "",
            VariationLaw.LogNormal => $"{TypedNumber.Short(100 * value.Spread, 4)} %",
            _ => TypedNumber.Short(value.Spread),
        };

    /// <summary>A spread as typed: a number, a percentage, or for the log-normal law a deviation of the logarithm; not a number for what
    /// is none.</summary>
    public static double Read(VariationLaw law, string? typed)
    {
        var text = (typed ?? "").Trim().Replace(',', '.');
        if (law == VariationLaw.Uniform)
            return 0;
        if (text.EndsWith('%'))
            return (TypedNumber.Read(text[..^1].Trim()) ?? double.NaN) / 100;
        if (law == VariationLaw.LogNormal && text.EndsWith("log", StringComparison.OrdinalIgnoreCase))
            return TypedNumber.Read(text[..^3].Trim()) is { } deviation ? VaryingValue.Variation(deviation) : double.NaN;
        return TypedNumber.Read(text) ?? double.NaN;
    }

    /// <summary>The other way of saying a spread, beside the field; empty where there is none.</summary>
    public static string Beside(VaryingValue value) =>
        value.Law == VariationLaw.LogNormal
            ? VaryingValue.DeviationOfLog(value.Spread).ToString("0.000", CultureInfo.InvariantCulture)
            : "";

    /// <summary>A geometric coefficient of variation.</summary>
    public static string Variation(double variation) => double.IsFinite(variation) ? $"{100 * variation:0} %" : "—";

    /// <summary>The stretch that exposures are of.</summary>
    public static string Window(SubjectRuns runs, TimeUnit unit) =>
        $"{unit.Singular} {NumberWords.Of(runs.Window.From)} to {NumberWords.Of(runs.Window.Until)}";
}
