using ClearTide.Core.Inference;
using ClearTide.Core.Model;

namespace ClearTide.Web.Words;

/// <summary>Laws of error and what a fit found of them, in words.</summary>
public static class FitWords
{
    /// <summary>A law as it is chosen.</summary>
    public static string Of(ErrorLaw law) =>
        law switch
        {
            ErrorLaw.Poisson => "counts, Poisson",
            ErrorLaw.NegativeBinomial => "counts, negative binomial",
            ErrorLaw.Normal => "normal, the same everywhere or as given",
            ErrorLaw.LogNormal => "log-normal",
            ErrorLaw.Proportional => "normal, in proportion to what is expected",
            _ => law.ToString(),
        };

    /// <summary>The estimated spread of each series, behind a comma; empty where no law has one.</summary>
    public static string Spreads(FitResult result, IReadOnlyList<Series> series, FitSetup setup)
    {
        if (result.Spreads.IsDefault || result.Spreads.Length != series.Count)
            return "";
        return string.Concat(
            series.Select(
                (one, k) =>
                    result.Spreads[k] is { } spread
                        ? $", {(series.Count > 1 ? $"{one.Observation.Label}: " : "")}{Spread(one.Observation.LawIn(setup), spread)}"
                        : ""
            )
        );
    }

    private static string Spread(ErrorLaw law, double spread) =>
        law switch
        {
            ErrorLaw.NegativeBinomial => spread > 1e6 ? "k beyond a million: no more spread than Poisson" : $"k {Numbers.Say(spread)}",
            ErrorLaw.LogNormal => $"standard deviation of the logarithm {Numbers.Say(spread)}",
            ErrorLaw.Proportional => $"coefficient of variation {Numbers.Say(spread)}",
            _ => $"standard deviation {Numbers.Say(spread)}",
        };
}
