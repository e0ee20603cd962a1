using System.Collections.Immutable;
using ClearTide.Core.Language;

namespace ClearTide.Core.Model;

/// <summary>The law by which counts spread around their expectation.</summary>
public enum ErrorLaw
{
    /// <summary>Variance as large as the expectation.</summary>
    Poisson,

    /// <summary>Variance m + m²/k around the expectation m.</summary>
    NegativeBinomial,
}

/// <summary>A value that a fit may move, with its bounds as typed, in the study's units.</summary>
/// <param name="Address">The address of the value: <c>beta</c>, <c>I.start</c>, <c>E.stay</c>.</param>
public sealed record FitParameter(ValueAddress Address, double Lower, double Upper);

/// <summary>What a fit estimates and under which error law.</summary>
public sealed record FitSetup(ErrorLaw Law, ImmutableArray<FitParameter> Parameters)
{
    /// <summary>Nothing is estimated.</summary>
    public static readonly FitSetup Empty = new(ErrorLaw.Poisson, []);
}
