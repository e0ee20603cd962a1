using System.Collections.Immutable;
using System.Globalization;
using ClearTide.Core.Inference;
using ClearTide.Core.Inference.Laws;
using ClearTide.Core.Language;
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
            ErrorLaw.AdditiveProportional => "normal, a part the same everywhere and a part in proportion",
            ErrorLaw.Binomial => "so many out of a known number, binomial",
            _ => law.ToString(),
        };

    /// <summary>What the spread of a law means at low and high values.</summary>
    public static string Bands(LawBands bands, ErrorLaw law)
    {
        var last = bands.Means.Count - 1;
        string At(int k) => $"between {NumberWords.Grouped(bands.Low[k], 3)} and {NumberWords.Grouped(bands.High[k], 3)}";
        var guess = bands.IsGuess ? $" As far as rows tell against their neighbours: {Spread(law, bands.Spread)}; a fit tells better." : "";
        return $"Nine of ten lie {At(0)} where {NumberWords.Grouped(bands.Means[0], 3)} is expected, and {At(last)} where "
            + $"{NumberWords.Grouped(bands.Means[last], 3)} is.{guess}";
    }

    /// <summary>Why nothing can be said of a spread.</summary>
    public static string NoBands(Series series, ErrorLaw law) =>
        LawBands.Refusal(law, series.Data.Rows) ?? "The rows are too few to say how they spread.";

    public static string Of(FitGroup group) =>
        group switch
        {
            FitGroup.Start => "start",
            FitGroup.Point => "points of inputs",
            FitGroup.Observation => "observation",
            _ => "rates and other values",
        };

    /// <summary>What a search has found while it goes on.</summary>
    public static string SoFar(FitSoFar best) =>
        $"Best log-likelihood {Height(best.LogLikelihood)} after {best.Evaluations:N0} "
        + $"{(best.Evaluations == 1 ? "evaluation" : "evaluations")}.";

    /// <summary>A log-likelihood or a log score.</summary>
    public static string Height(double value) => double.IsFinite(value) ? Signed(value, "0.00") : "none";

    /// <summary>A criterion by which fits are compared.</summary>
    public static string Criterion(double value) => double.IsFinite(value) ? Signed(value, "0.0") : "too few rows";

    public static string Correlation(double value) => Signed(value, "0.00");

    private static string Signed(double value, string form) =>
        value.ToString(form, CultureInfo.InvariantCulture).Replace("-", "−", StringComparison.Ordinal);

    /// <summary>What a fit is called, or what it was of: the law of counts and the values.</summary>
    public static string Name(FitResult fit)
    {
        if (fit.Name.Length > 0)
            return fit.Name;
        var law = fit.Law == ErrorLaw.NegativeBinomial ? "negative binomial: " : "";
        var prior = fit.Detail?.Setup.Parameters.Any(one => one.Prior is not null) == true ? ", with priors" : "";
        var own = fit.Detail?.Setup.Parameters.Where(one => one.Own).Select(one => $"each {one.Address}") ?? [];
        var shared = fit.Estimates.Select(estimate => estimate.Address.ToString());
        var ties = fit.Detail is { Setup.Ties.IsDefaultOrEmpty: false } detail
            ? string.Concat(detail.Setup.Ties.Select(tie => $", {tie.Address} = {tie.Formula}"))
            : "";
        return $"{law}{string.Join(" ", fit.Detail?.Subjects.IsDefaultOrEmpty == false ? shared.Concat(own) : shared)}{ties}{prior}";
    }

    /// <summary>What the spread of subjects' own values is, and what it holds besides.</summary>
    /// <param name="profiled">Whether the own values have profiles.</param>
    public static string OwnSpreads(ImmutableArray<SubjectSpread> spreads, IReadOnlyList<Series> series, bool profiled) =>
        (
            spreads.Any(one => one.IsRelative)
                ? "The spread is a coefficient of variation. What is uncertain of each subject is in it besides what they differ by, so "
                    + "that it is too wide where samples are few. "
                : ""
        )
        + $"All subjects share the spread of the errors{(series.Count > 1 ? " of each series" : "")}. "
        + (
            profiled
                ? "Their own values have 95 % intervals by profile; “bound” where the data give no end within the bounds."
                : "Their own values have standard errors: they are too many to profile each."
        );

    /// <summary>The ends of an interval by profile.</summary>
    public static string Ends(ProfileEnds ends)
    {
        static string Of(double? end) => end is { } known ? Numbers.Say(known) : "bound";
        return $"{Of(ends.Low)} to {Of(ends.High)}";
    }

    /// <summary>Where the starts ended.</summary>
    public static string Search(FitResult fit)
    {
        if (fit.Detail is not { } detail || detail.Optima.IsEmpty)
            return "";
        var best = detail.Optima[0];
        var words = new List<string>
        {
            best.Count == fit.Starts && fit.Starts > 1 ? $"All {fit.Starts} starts ended at the same optimum{Bounds(best)}."
            : fit.Starts == 1 ? $"One start ended here{Bounds(best)}."
            : $"{best.Count} of {fit.Starts} starts ended at the best optimum{Bounds(best)}.",
        };
        foreach (var other in detail.Optima.Skip(1).Take(3))
        {
            var lower = best.Height - other.Height;
            words.Add(
                lower < 0.05
                    ? $"{other.Count} ended at another one that is as good{Values(fit, other)}: the data cannot tell which is right."
                    : $"{other.Count} ended {Signed(lower, "0.0")} lower{Bounds(other)}{Values(fit, other)}."
            );
        }
        if (detail.Optima.Length > 4)
            words.Add($"{detail.Optima.Skip(4).Sum(one => one.Count)} ended at others, lower still.");
        if (detail.Failures is [var failure, ..])
            words.Add($"{detail.Failures.Length} could not be run: {failure.Reason.TrimEnd('.')}.");
        return string.Join(' ', words);
    }

    private static string Values(FitResult fit, Optimum optimum) =>
        fit.Estimates.IsEmpty
            ? ""
            : ", with "
                + string.Join(
                    ", ",
                    fit.Estimates.Take(4).Select((estimate, k) => $"{estimate.Address} = {Numbers.Say(optimum.Values[k])}")
                );

    private static string Bounds(Optimum optimum) =>
        optimum.Bounds.IsEmpty
            ? ""
            : ", at "
                + string.Join(
                    " and ",
                    optimum.Bounds.Select(bound => $"the {(bound.IsUpper ? "upper" : "lower")} bound of {bound.Address}").Distinct()
                );

    /// <summary>What to measure next; null where nothing would tell much.</summary>
    public static string? Next(IReadOnlyList<NextSample> samples, StudyDocument document)
    {
        if (samples.Count == 0)
            return null;
        var unit = document.TimeUnit;
        return string.Join(
            " ",
            samples
                .GroupBy(sample => (sample.ObservationId, sample.Subject, sample.Start, sample.End))
                .Select(group =>
                {
                    var (id, subject, start, end) = group.Key;
                    var when = start < end ? $"from {unit.Singular} {Numbers.Say(start)} to {Numbers.Say(end)}" : unit.On(end);
                    static string Whose(string? name) => name is null ? "" : $" of {name}";
                    var narrowed = group.Select(sample =>
                        $"{sample.Address}{Whose(sample.OwnOf)} from {Half(sample, sample.Before)} to {Half(sample, sample.After)}"
                    );
                    var label = document.Observations.FirstOrDefault(one => one.Id == id)?.Label ?? "The data";
                    return $"{label}{Whose(subject)} {when} would narrow {string.Join(", ", narrowed)}.";
                })
        );

        string Half(NextSample sample, double half)
        {
            var onLog = document.Fit.Parameters.FirstOrDefault(one => one.Address == sample.Address)?.OnLogScale == true;
            return !onLog ? $"±{Numbers.Say(half)}"
                : half < 1 ? $"±{Signed(100 * half, "0")} %"
                : $"a factor of {Signed(1 + half, half < 9 ? "0.0" : "0")}";
        }
    }

    /// <summary>How well the last rows were forecast; null where none were left out.</summary>
    public static string? Forecast(FitDetail detail, TimeUnit unit) =>
        detail.Forecast is not { } score
            ? null
            : (
                score.Subjects > 0
                    ? $"Fitted without the last of what came of each of {score.Subjects} subjects, it forecasts "
                    : $"Fitted without what came from {unit.Singular} {Numbers.Say(score.From)} on, it forecasts "
            )
                + (
                    score.Rows == 1
                        ? $"that row with a log score of {Height(score.LogScore)}, {Inside(score)}"
                        : $"those {score.Rows} rows with a log score of {Height(score.LogScore)}; {score.Within50} lie in the middle "
                            + $"half of their forecast and {score.Within90} in the middle 90 %"
                )
                + $" (mean ranked probability score {Numbers.Say(score.Crps)}).";

    private static string Inside(ForecastScore score) =>
        score.Within50 > 0 ? "within the middle half of its forecast"
        : score.Within90 > 0 ? "within the middle 90 % of its forecast"
        : "outside the middle 90 % of its forecast";

    /// <summary>How the numbers of a fit came about.</summary>
    public static string Method(FitResult fit, IReadOnlyList<Series> series, FitSetup setup)
    {
        var priors = fit.Detail?.Setup.Parameters.Any(one => one.Prior is not null) == true;
        var (what, profile) = priors
            ? ("The highest density of the values given data and priors", "the profile of that density")
            : ("The most likely values", "profile likelihood");
        return $"{what}{Spreads(fit, series, setup)}. Intervals by {profile}; “bound” where the data give no end within the bounds. In the "
            + "picture: 95 % for what is expected, and for what may be seen.";
    }

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

    private static string Spread(ErrorLaw law, LawSpread spread) =>
        law switch
        {
            ErrorLaw.NegativeBinomial => spread.Main > 1e6
                ? "k beyond a million: no more spread than Poisson"
                : $"k {Numbers.Say(spread.Main)}",
            ErrorLaw.LogNormal => $"standard deviation of the logarithm {Numbers.Say(spread.Main)}",
            ErrorLaw.Proportional => $"coefficient of variation {Numbers.Say(spread.Main)}",
            ErrorLaw.AdditiveProportional => $"standard deviation {Numbers.Say(spread.Added)} and coefficient of variation "
                + Numbers.Say(spread.Main),
            _ => $"standard deviation {Numbers.Say(spread.Main)}",
        };
}
