using System.Collections.Immutable;
using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Inference.Laws;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using MathNet.Numerics.LinearAlgebra;

namespace ClearTide.Core.Inference;

/// <summary>A fit that cannot be done; the message says what to do.</summary>
public sealed class FitRefusedException(string message) : Exception(message);

/// <summary>Estimates chosen values of a study by maximum likelihood from several starts, and says what the data can tell about
/// each.</summary>
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
    /// <summary>Climbs from the model's own values and from this many points spread over the bounds.</summary>
    public const int SpreadStarts = 4;

    /// <param name="series">At least one, all fitted together.</param>
    /// <param name="progress">Told how far the fit is, from 0 to 1.</param>
    /// <exception cref="FitRefusedException">The fit makes no sense as asked.</exception>
    public static FitResult Run(
        StudyDocument document,
        IReadOnlyList<Series> series,
        Action<double>? progress = null,
        CancellationToken cancel = default
    )
    {
        var setup = document.Fit;
        Check(document, setup, series);
        var lowered = Lowering.Lower(document);
        if (lowered.IsProvisional)
            throw new FitRefusedException("The model has unfinished parts. Finish what Build lists before fitting.");
        ObservedModel model;
        try
        {
            model = new ObservedModel(lowered, series, [.. setup.Parameters.Select(parameter => parameter.Address)]);
        }
        catch (ArgumentException refusal)
        {
            throw new FitRefusedException(refusal.Message);
        }
        var search = new LikelihoodSearch(model, setup);
        var best = FromAllStarts(search, model, setup, progress, cancel);
        return Describe(document, setup, search, best, Fingerprints.Of(document, series), progress, cancel);
    }

    private static void Check(StudyDocument document, FitSetup setup, IReadOnlyList<Series> series)
    {
        if (series.Count == 0)
            throw new FitRefusedException("There are no data to fit to. Bring some under Data first.");
        if (setup.Parameters.IsEmpty)
            throw new FitRefusedException("Tick at least one value to estimate.");
        foreach (var parameter in setup.Parameters)
        {
            if (!(parameter.Upper > parameter.Lower))
                throw new FitRefusedException(
                    $"The bounds of {parameter.Address} cross: {parameter.Lower:G6} is not below {parameter.Upper:G6}. Type a larger "
                        + "upper bound."
                );
        }
        var rows = series.Sum(one => one.Data.Used.Count);
        if (rows < setup.Parameters.Length)
        {
            throw new FitRefusedException(
                $"{rows} {(rows == 1 ? "row" : "rows")} of data cannot tell {setup.Parameters.Length} values apart. Tick fewer values, or "
                    + "bring more data."
            );
        }
        foreach (var one in series)
            Check(document, setup, one);
    }

    private static void Check(StudyDocument document, FitSetup setup, Series series)
    {
        var (law, rows) = (SpreadLaw.Of(series.Observation.LawIn(setup)), series.Data.Used);
        if (rows.Count == 0)
            throw new FitRefusedException(
                $"All points of {series.Observation.Label} are left out. Take some back under Data, or take the series off the model."
            );
        if (rows.Select(law.Refusal).FirstOrDefault(refusal => refusal is not null) is { } refused)
            throw new FitRefusedException(refused);
        if (rows[^1].End > document.End)
            throw new FitRefusedException(
                $"The data end at {rows[^1].End:0.###}, after the model's span at {document.End:0.###}. Lengthen the span in Build."
            );
    }

    private static SearchPoint FromAllStarts(
        LikelihoodSearch search,
        ObservedModel model,
        FitSetup setup,
        Action<double>? progress,
        CancellationToken cancel
    )
    {
        SearchPoint? best = null;
        for (var start = 0; start <= SpreadStarts; start++)
        {
            var u = new double[search.Dimension];
            for (var j = 0; j < u.Length; j++)
            {
                // Later starts walk through the bounds by the golden ratio, each value in an order of its own.
                var share = (start * 0.6180339887498949 * (j + 1) + 0.5 * start) % 1;
                u[j] =
                    start == 0
                        ? search.FromValue(j, model.Values[model.Chosen[j]])
                        : search.Lower(j) + (0.1 + 0.8 * share) * (search.Upper(j) - search.Lower(j));
            }
            try
            {
                var found = search.Climb(u, cancel: cancel);
                if (best is null || found.LogLikelihood > best.LogLikelihood)
                    best = found;
            }
            catch (SimulationException)
            {
                // A start from which the model cannot be run tells nothing; the others may.
            }
            progress?.Invoke(0.5 * (start + 1) / (SpreadStarts + 1));
        }
        return best
            ?? throw new FitRefusedException(
                "The model cannot be run at any of the starts within the bounds. Narrow the bounds around values that run."
            );
    }

    private static FitResult Describe(
        StudyDocument document,
        FitSetup setup,
        LikelihoodSearch search,
        SearchPoint best,
        string fingerprint,
        Action<double>? progress,
        CancellationToken cancel
    )
    {
        var count = search.Dimension;
        var values = Enumerable.Range(0, count).Select(j => search.ToValue(j, best.U[j])).ToArray();
        var onLog = Enumerable.Range(0, count).Select(search.OnLogScale).ToArray();
        var covariance = Covariance(best.Information);
        var profile = new ProfileInterval(search, best, cancel);
        var flat = Identifiability
            .FlatDirections(best.Information, onLog)
            .Where(direction => Confirmed(profile, best, search, direction))
            .ToList();
        var estimates = ImmutableArray.CreateBuilder<Estimate>(count);
        var combinations = ImmutableArray.CreateBuilder<KnownCombination>();
        foreach (var direction in flat)
        {
            if (Identifiability.Combination(direction) is { } combination)
                combinations.Add(Identifiability.Measure(setup, best, profile, combination.Members, combination.Powers));
        }
        for (var j = 0; j < count; j++)
        {
            var error = covariance is null ? double.NaN : Math.Sqrt(covariance[j, j]);
            var low = profile.End(j, -1, error) is { } l ? search.ToValue(j, l) : (double?)null;
            var high = profile.End(j, 1, error) is { } h ? search.ToValue(j, h) : (double?)null;
            estimates.Add(Judge(document, setup, j, values[j], onLog[j] ? values[j] * error : error, low, high, flat, combinations));
            progress?.Invoke(0.5 + 0.5 * (j + 1) / count);
        }
        var free = count + search.Spreads;
        return new(
            fingerprint,
            setup.Law,
            estimates.ToImmutable(),
            combinations.ToImmutable(),
            best.LogLikelihood,
            2 * free - 2 * best.LogLikelihood,
            [.. best.Mean],
            Correlations(covariance),
            SpreadStarts + 1,
            [.. best.Spreads.Select((spread, series) => search.HasSpread(series) ? spread : (double?)null)]
        );
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

    private static Estimate Judge(
        StudyDocument document,
        FitSetup setup,
        int j,
        double value,
        double error,
        double? low,
        double? high,
        List<FlatDirection> flat,
        IEnumerable<KnownCombination> combinations
    )
    {
        var address = setup.Parameters[j].Address;
        Estimate Say(Knowledge knowledge, string sentence) => new(address, value, error, low, high, knowledge, sentence);
        var mine = flat.FirstOrDefault(direction => direction.Members.Contains(j));
        if (mine is not null && mine.Members.Length > 1)
        {
            var others = string.Join(" and ", mine.Members.Where(m => m != j).Select(m => setup.Parameters[m].Address));
            var together = combinations.FirstOrDefault(combination => combination.Addresses.Contains(address));
            return Say(
                Knowledge.OnlyTogether,
                together is null
                    ? $"The data cannot tell {address} apart from {others}. Fix one of them to know the rest."
                    : $"Known only together with {others}, as the {(together.Powers[1] > 0 ? "product" : "ratio")} "
                        + $"{together.Expression} = {Identifiability.Number(together.Value)} "
                        + $"({Identifiability.Number(together.Low)} to {Identifiability.Number(together.High)}). Fix one of them to "
                        + "know the other."
            );
        }
        if (low is { } l && high is { } h)
        {
            if (mine is not null)
                return Say(
                    Knowledge.Unknown,
                    $"The data hardly tell {address}: anything from {Identifiability.Number(l)} to {Identifiability.Number(h)} fits."
                );
            return Say(Knowledge.Known, $"The data tell {address} to within {Within(value, l, h)}.");
        }
        if (low is null && high is null)
            return Say(
                Knowledge.Unknown,
                $"The data cannot tell {address} within its bounds. Fix it from another source, or widen the bounds."
            );
        return low is null
            ? Say(
                Knowledge.OneSided,
                $"The data only say that {address} is at most {Identifiability.Number(high!.Value)}; its lower bound is yours."
            )
            : Say(
                Knowledge.OneSided,
                $"The data only say that {address} is at least {Identifiability.Number(low.Value)}; its upper bound is yours."
            );
    }

    private static string Within(double value, double low, double high)
    {
        var share = Math.Max(high - value, value - low) / Math.Abs(value);
        return share < 0.995
            ? $"{Math.Max(1, Math.Round(100 * share)):0} %"
            : $"a factor of {Math.Max(high / value, value / low).ToString("0.#", System.Globalization.CultureInfo.InvariantCulture)}";
    }

    private static Matrix<double>? Covariance(Matrix<double> information)
    {
        var scale = information.Diagonal().Map(d => d > 0 ? 1 / Math.Sqrt(d) : 0);
        if (scale.Any(s => s == 0))
            return null;
        var scaled = Matrix<double>.Build.Dense(information.RowCount, information.ColumnCount, (a, b) =>
            information[a, b] * scale[a] * scale[b]
        );
        // Scaled to a unit diagonal, a reciprocal condition below rounding means that the inverse would be noise.
        if (scaled.ConditionNumber() > 1e13)
            return null;
        var inverse = scaled.Inverse();
        return Matrix<double>.Build.Dense(information.RowCount, information.ColumnCount, (a, b) => inverse[a, b] * scale[a] * scale[b]);
    }

    private static ImmutableArray<double>? Correlations(Matrix<double>? covariance)
    {
        if (covariance is null)
            return null;
        var list = ImmutableArray.CreateBuilder<double>();
        for (var a = 0; a < covariance.RowCount; a++)
        {
            for (var b = 0; b < covariance.ColumnCount; b++)
                list.Add(covariance[a, b] / Math.Sqrt(covariance[a, a] * covariance[b, b]));
        }
        return list.ToImmutable();
    }
}
