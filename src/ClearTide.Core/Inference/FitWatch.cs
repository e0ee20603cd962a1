using System.Collections.Immutable;

namespace ClearTide.Core.Inference;

/// <summary>The best that a search has found while it goes on.</summary>
/// <param name="Values">Of what is estimated, in the order of the search.</param>
/// <param name="LogLikelihood">At the values.</param>
/// <param name="Means">What is expected of each row there, series by series.</param>
/// <param name="Evaluations">How often the likelihood has been worked out until then.</param>
public sealed record FitSoFar(ImmutableArray<double> Values, double LogLikelihood, ImmutableArray<double> Means, int Evaluations);

/// <summary>Looks on at a fit that takes long.</summary>
public sealed class FitWatch
{
    /// <summary>Told how far the fit is, from 0 to 1; from any thread.</summary>
    public Action<double>? Progress { get; init; }

    /// <summary>Told each time something better is found; from any thread, one after another.</summary>
    public Action<FitSoFar>? Better { get; init; }

    /// <summary>Values that an earlier search had come to: one more start. Empty for none.</summary>
    public ImmutableArray<double> From { get; init; } = [];
}
