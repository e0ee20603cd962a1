using System.Collections.Immutable;
using ClearTide.Core.Inference.Laws;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Inference;

/// <summary>Estimates chosen values of a study by maximum likelihood from many starts, or by the highest posterior density where values
/// have priors, and says what the data can tell about each.</summary>
/// <example>
/// <code>
/// var data = new DataSet("d1", "counts", [new(0, 2, 81.9), new(2, 4, 67.0), new(4, 8, 44.9)]);
/// var seen = new Observation("o1", data.Id, "Reeds", "", "1")
/// {
///     Seen = ObservedAs.Standing,
///     Formula = "A",
///     Law = ErrorLaw.Poisson,
/// };
/// study = study with { Fit = new(ErrorLaw.Poisson, [new("k", Lower: 0.01, Upper: 1)]), Observations = [seen] };
/// FitResult fit = Fitter.Run(study, [new Series(seen, data)]);
/// Estimate k = fit.Estimates[0];
/// Console.WriteLine($"{k.Address} = {k.Value} ({k.Low} to {k.High}). {k.Sentence}");
/// </code>
/// </example>
public static class Fitter
{
    /// <summary>Own values of subjects are profiled while a step of all profiles takes at most this many runs of a subject.</summary>
    private const int MostOwnProfiled = 600;

    /// <param name="document">The study.</param>
    /// <param name="series">At least one, all fitted together.</param>
    /// <param name="watch">Who looks on; null for nobody.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    /// <param name="threads">How many threads work at once; the result does not depend on it.</param>
    /// <exception cref="FitRefusedException">The fit makes no sense as asked.</exception>
    public static FitResult Run(
        StudyDocument document,
        IReadOnlyList<Series> series,
        FitWatch? watch = null,
        CancellationToken cancel = default,
        int threads = 2
    )
    {
        var (asked, progress) = (document, watch?.Progress);
        (document, var setup, var lowered, var model) = PreparedFit.Of(asked, series, cancel);
        var names = SubjectEstimates.Names(series);
        LikelihoodSearch search = null!;
        search = new LikelihoodSearch(model, setup)
        {
            Better = watch?.Better is { } told
                ? here =>
                    told(new([.. here.U.Select((u, j) => search.ToValue(j, u))], here.LogLikelihood, [.. here.Mean], search.Evaluations))
                : null,
        };
        var (best, optima, failures) = MultiStart.Climb(
            search,
            setup,
            failure => RunFailure.Say(failure, lowered),
            threads,
            share => progress?.Invoke(0.5 * share),
            cancel,
            watch?.From
        );
        var count = search.Dimension;
        // What all share comes first, and always has profiles; what subjects have of their own has them where that takes seconds.
        var shared = setup.Parameters.Count(one => one.Subject is null);
        var profiled = count * names.Count <= MostOwnProfiled ? count : shared;
        var onLog = Enumerable.Range(0, count).Select(search.OnLogScale).ToArray();
        var covariance = Covariances.Of(best.Information);
        var profile = new ProfileInterval(search, best, cancel);
        var flat = Identifiability
            .FlatDirections(best.Information, onLog)
            .Where(direction => Confirmed(profile, best, search, direction))
            .ToList();
        var combinations = ImmutableArray.CreateBuilder<KnownCombination>();
        foreach (var direction in flat)
        {
            if (Identifiability.Combination(direction) is { } combination)
                combinations.Add(Identifiability.Measure(setup, best, profile, combination.Members, combination.Powers));
        }
        var errors = Enumerable.Range(0, count).Select(j => covariance is null ? double.NaN : Math.Sqrt(covariance[j, j])).ToArray();
        var sides = Profiles(profile, errors[..profiled], threads, share => progress?.Invoke(0.5 + 0.4 * share), cancel);
        var words = new EstimateSentences(setup, flat, combinations);
        var estimates = ImmutableArray.CreateBuilder<Estimate>(shared);
        for (var j = 0; j < shared; j++)
        {
            var value = search.ToValue(j, best.U[j]);
            estimates.Add(
                words.Judge(
                    j,
                    value,
                    onLog[j] ? value * errors[j] : errors[j],
                    sides[2 * j].End is { } l ? search.ToValue(j, l) : null,
                    sides[2 * j + 1].End is { } h ? search.ToValue(j, h) : null
                )
            );
        }
        var free = count + search.Spreads;
        return new(
            Fingerprints.Of(asked, series),
            setup.Law,
            estimates.ToImmutable(),
            combinations.ToImmutable(),
            best.LogLikelihood,
            2 * free - 2 * best.LogLikelihood,
            [.. best.Mean],
            Covariances.Correlations(covariance?.SubMatrix(0, shared, 0, shared)),
            // What an earlier search had come to is one start more.
            setup.Starts + (watch?.From.Length == count ? 1 : 0),
            [.. best.Spreads.Select((spread, k) => search.HasSpread(k) ? spread : (LawSpread?)null)]
        )
        {
            Name = asked.Fits.FirstOrDefault(one => one.Setup == asked.Fit)?.Name ?? "",
            Detail = FitDetails.Of(document, lowered, search, best, shared, sides, threads, cancel) with
            {
                Subjects = SubjectEstimates.Of(setup, search, best, errors, sides),
                Optima = optima,
                Failures = failures,
                Data = Fingerprints.OfData(series),
                Bootstrap =
                    setup.Bootstrap > 0
                        ? Bootstrap.Of(search, best, setup.Bootstrap, shared, threads, share => progress?.Invoke(0.9 + 0.1 * share), cancel)
                        : null,
                Setup = asked.Fit,
                Evaluations = search.Evaluations,
            },
        };
    }

    /// <summary>Both sides of each value's profile.</summary>
    private static ProfileSide[] Profiles(
        ProfileInterval profile,
        double[] errors,
        int threads,
        Action<double> progress,
        CancellationToken cancel
    )
    {
        var sides = new ProfileSide[2 * errors.Length];
        var done = 0;
        Workers.For(sides.Length, threads, cancel, k =>
        {
            sides[k] = profile.Side(k / 2, k % 2 == 0 ? -1 : 1, errors[k / 2]);
            progress((double)Interlocked.Increment(ref done) / sides.Length);
        });
        return sides;
    }

    /// <summary>
    /// A flat direction is confirmed by profiles when doubling or halving a value that takes part costs less than a 95% interval allows.
    /// </summary>
    private static bool Confirmed(ProfileInterval profile, SearchPoint best, LikelihoodSearch search, FlatDirection direction) =>
        direction.Members.All(j =>
            new[] { -Math.Log(2), Math.Log(2) }.Any(shift =>
            {
                var u = best.U[j] + shift;
                return u >= search.Lower(j) && u <= search.Upper(j) && profile.At(j, u, best.U).Fall < ProfileInterval.Fall;
            })
        );
}
