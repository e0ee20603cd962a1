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

    /// <summary>Half-lives that are told of at most.</summary>
    private const int MostHalfLives = 4;

    /// <summary>Levels have settled as far as this share.</summary>
    private const double Settled = 0.05;

    /// <summary>What becomes of the doses in a typical body.</summary>
    public static string Body(DosedBody body, TimeUnit unit)
    {
        var all = body.Initial + body.Given;
        string Amount(double number) => $"{Numbers.Say(number)} {body.Unit}".Trim();
        var balance =
            double.IsFinite(all) && all > 0
                ? $"Of {Amount(all)} {(body.Initial > 0 ? "at first and given" : "given")} within the span a typical body has "
                    + $"{Amount(body.InBody)} ({100 * body.InBody / all:0.#} %) at its end; "
                    + $"{Amount(Math.Max(0, body.Eliminated))} left it. "
                : "";
        if (body.HalfLives.IsEmpty)
            return balance.TrimEnd();
        List<string> lives = [.. body.HalfLives.Take(MostHalfLives).Select(one => NumberWords.Of(one, 3))];
        return balance
            + (lives.Count == 1 ? "Its half-life is " : "Its half-lives are ")
            + (lives.Count == 1 ? lives[0] : $"{string.Join(", ", lives[..^1])} and {lives[^1]}")
            + $" {unit.Plural}, by the rates at the end of the span. Under the same doses again and again, levels are within "
            + $"{100 * Settled:0} % of where they settle {NumberWords.Of(body.TimeWithin(Settled), 3)} {unit.Plural} after the first.";
    }

    /// <summary>A geometric coefficient of variation.</summary>
    public static string Variation(double variation) => double.IsFinite(variation) ? $"{100 * variation:0} %" : "—";

    /// <summary>The stretch that exposures are of.</summary>
    public static string Window(SubjectRuns runs, TimeUnit unit) =>
        $"{unit.Singular} {NumberWords.Of(runs.Window.From)} to {NumberWords.Of(runs.Window.Until)}";
}
