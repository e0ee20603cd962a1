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
/// <param name="Address">Of the value.</param>
/// <param name="Value">The estimate.</param>
/// <param name="StandardError">From the expected information, by the delta method; not a number where the information is
/// singular.</param>
/// <param name="Low">Lower end of the 95% profile-likelihood interval; null where the data give none within the bounds.</param>
/// <param name="High">Its upper end.</param>
/// <param name="Knowledge">What the data tell of it.</param>
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
/// <param name="Addresses">Of the factors.</param>
/// <param name="Powers">For each factor its power.</param>
/// <param name="Expression">For reading: “I.start × rho”.</param>
/// <param name="Value">Of the product at the estimates.</param>
/// <param name="Low">Lower end of its 95% interval.</param>
/// <param name="High">Its upper end.</param>
public sealed record KnownCombination(
    ImmutableArray<ValueAddress> Addresses,
    ImmutableArray<int> Powers,
    string Expression,
    double Value,
    double Low,
    double High
);

/// <summary>A finished fit. <paramref name="Fingerprint"/> is the hash of all that its numbers depend on.</summary>
/// <param name="Fingerprint">Hash of the model, the data and all settings of the fit.</param>
/// <param name="Law">The law of counts.</param>
/// <param name="Estimates">One for each value that was estimated.</param>
/// <param name="Combinations">Products that the data tell although they do not tell their factors.</param>
/// <param name="LogLikelihood">At the estimates, constants included.</param>
/// <param name="Aic">Twice the number of estimated numbers less twice the log-likelihood (Akaike 1974).</param>
/// <param name="Means">What is expected of each row that was used at the estimate, series by series.</param>
/// <param name="Correlations">Of the estimates on their search scale, row by row; null where the information is singular.</param>
/// <param name="Starts">From how many starts the search went.</param>
/// <param name="Spreads">The estimated spread of each series' law; null where the law has none.</param>
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
