using System.Collections.Immutable;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Inference;

/// <summary>What was estimated of each subject, where it has values of its own.</summary>
/// <param name="Subject">Its name.</param>
/// <param name="Values">One for each value of which subjects have their own, in the order of the choice and in the model's units.</param>
/// <param name="Errors">Their standard errors, from the expected information by the delta method; null where it is singular.</param>
public sealed record SubjectEstimate(string Subject, ImmutableArray<double> Values, ImmutableArray<double?> Errors)
{
    /// <summary>The 95% profile-likelihood intervals of the values, with null for an end that is not within the bounds; default where
    /// there are too many values to profile each.</summary>
    public ImmutableArray<ProfileEnds> Ends { get; init; }
}

/// <summary>The ends of a 95% profile-likelihood interval, in the model's units; null for one that is not within the bounds.</summary>
/// <param name="Low">The lower end, or null.</param>
/// <param name="High">The upper end, or null.</param>
public sealed record ProfileEnds(double? Low, double? High);

/// <summary>How the own values of subjects spread.</summary>
/// <param name="Address">Of the value that each subject has its own of.</param>
/// <param name="Typical">Their geometric mean where all are above zero, else their mean.</param>
/// <param name="Spread">Their coefficient of variation, √(exp(s²) − 1) of the standard deviation s of the logarithms (Limpert, Stahel and
/// Abbt, BioScience 51, 2001, table 2), where all are above zero; else their standard deviation. What is uncertain of each is in
/// it.</param>
/// <param name="IsRelative">Whether the spread is a coefficient of variation.</param>
public sealed record SubjectSpread(ValueAddress Address, double Typical, double Spread, bool IsRelative)
{
    /// <summary>Of the own values of each kind.</summary>
    /// <param name="addresses">In the order of the values.</param>
    /// <param name="subjects">Each with its own values.</param>
    public static ImmutableArray<SubjectSpread> Of(IReadOnlyList<ValueAddress> addresses, IReadOnlyList<SubjectEstimate> subjects) =>
        subjects.Count < 2 ? [] : [.. addresses.Select((address, j) => One(address, [.. subjects.Select(subject => subject.Values[j])]))];

    private static SubjectSpread One(ValueAddress address, double[] values)
    {
        var relative = values.All(value => value > 0);
        double[] scaled = relative ? [.. values.Select(value => Math.Log(value))] : values;
        var mean = scaled.Average();
        var deviation = Math.Sqrt(scaled.Sum(value => (value - mean) * (value - mean)) / (scaled.Length - 1));
        return relative
            ? new(address, Math.Exp(mean), Math.Sqrt(Math.Exp(deviation * deviation) - 1), true)
            : new(address, mean, deviation, false);
    }
}

/// <summary>Parts what was estimated of subjects from what all share.</summary>
internal static class SubjectEstimates
{
    /// <summary>The names of those that rows are of, in order of their first row.</summary>
    public static IReadOnlyList<string> Names(IReadOnlyList<Series> series) =>
        [.. series.SelectMany(one => one.Data.Used).Select(row => row.Subject).OfType<string>().Distinct()];

    /// <param name="setup">With a value for each subject in the place of its own.</param>
    /// <param name="search">The likelihood of the fit.</param>
    /// <param name="best">Where the likelihood is greatest.</param>
    /// <param name="errors">Standard errors of all, on the search scale.</param>
    /// <param name="sides">The profiles, two sides for each value that has one.</param>
    public static ImmutableArray<SubjectEstimate> Of(
        FitSetup setup,
        LikelihoodSearch search,
        SearchPoint best,
        double[] errors,
        ProfileSide[] sides
    ) =>
        [
            .. setup
                .Parameters.Index()
                .Where(one => one.Item.Subject is not null)
                .GroupBy(one => one.Item.Subject!)
                .Select(group => new SubjectEstimate(
                    group.Key,
                    [.. group.Select(one => search.ToValue(one.Index, best.U[one.Index]))],
                    [
                        .. group.Select(one =>
                            double.IsFinite(errors[one.Index])
                                ? errors[one.Index] * (search.OnLogScale(one.Index) ? search.ToValue(one.Index, best.U[one.Index]) : 1)
                                : (double?)null
                        ),
                    ]
                )
                {
                    Ends = group.All(one => 2 * one.Index < sides.Length)
                        ? [.. group.Select(one => new ProfileEnds(End(search, sides, one.Index, 0), End(search, sides, one.Index, 1)))]
                        : default,
                }),
        ];

    private static double? End(LikelihoodSearch search, ProfileSide[] sides, int j, int upper) =>
        sides[2 * j + upper].End is { } u ? search.ToValue(j, u) : null;
}
