using System.Collections.Immutable;
using ClearTide.Core.Inference.Laws;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Inference;

/// <summary>What the data can tell about one value.</summary>
public enum Knowledge
{
    /// <summary>The interval is closed on both sides.</summary>
    Known,

    /// <summary>The data bound the value from one side only.</summary>
    OneSided,

    /// <summary>The data tell a product or ratio with others, not the value alone.</summary>
    OnlyTogether,

    /// <summary>The data say next to nothing.</summary>
    Unknown,
}

/// <summary>One estimated value, in the model's units.</summary>
/// <param name="StandardError">From the expected information, by the delta method; not a number where the information is
/// singular.</param>
/// <param name="Low">Lower end of the 95% profile-likelihood interval; null where the data give none within the bounds.</param>
/// <param name="High">Its upper end.</param>
/// <param name="Sentence">In plain words, what the data could tell.</param>
public sealed record Estimate(
    ValueAddress Address,
    double Value,
    double StandardError,
    double? Low,
    double? High,
    Knowledge Knowledge,
    string Sentence
);

/// <summary>A product of powers of values that the data tell although they do not tell its factors.</summary>
/// <param name="Expression">For reading: “I.start × rho”.</param>
public sealed record KnownCombination(
    ImmutableArray<ValueAddress> Addresses,
    ImmutableArray<int> Powers,
    string Expression,
    double Value,
    double Low,
    double High
);

/// <summary>A finished fit. <paramref name="Fingerprint"/> is the hash of all that its numbers depend on.</summary>
/// <param name="Means">What is expected of each row that was used at the estimate, series by series.</param>
/// <param name="Spreads">The estimated spread of each series' law; null where the law has none.</param>
/// <param name="Correlations">Of the estimates on their search scale, row by row; null where the information is singular.</param>
public sealed record FitResult(
    string Fingerprint,
    ErrorLaw Law,
    ImmutableArray<Estimate> Estimates,
    ImmutableArray<KnownCombination> Combinations,
    double LogLikelihood,
    double Aic,
    ImmutableArray<double> Means,
    ImmutableArray<double>? Correlations,
    int Starts,
    ImmutableArray<LawSpread?> Spreads = default
)
{
    /// <summary>What somebody has called it; empty where nobody has.</summary>
    public string Name { get; init; } = "";

    /// <summary>What else was found; null in results of versions that did not look for it.</summary>
    public FitDetail? Detail { get; init; }
}
