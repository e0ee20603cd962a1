using System.Collections.Immutable;
using ClearTide.Core.Language;

namespace ClearTide.Core.Model;

/// <summary>The law by which what was seen spreads around what is expected.</summary>
public enum ErrorLaw
{
    /// <summary>Variance as large as the expectation.</summary>
    Poisson,

    /// <summary>Variance m + m²/k around the expectation m.</summary>
    NegativeBinomial,

    /// <summary>The same standard deviation everywhere: that of the row where it is given, else an estimated one.</summary>
    Normal,

    /// <summary>The logarithm is normal around the logarithm of what is expected, with an estimated standard deviation.</summary>
    LogNormal,

    /// <summary>Normal with a standard deviation in proportion to what is expected.</summary>
    Proportional,
}

/// <summary>A value that a fit may move, with its bounds as typed, in the study's units.</summary>
/// <param name="Address">The address of the value: <c>beta</c>, <c>I.start</c>, <c>E.stay</c>.</param>
public sealed record FitParameter(ValueAddress Address, double Lower, double Upper);

/// <summary>What a fit estimates.</summary>
/// <param name="Law">The law of counts; a series may have one of its own.</param>
public sealed record FitSetup(ErrorLaw Law, ImmutableArray<FitParameter> Parameters)
{
    /// <summary>Nothing is estimated.</summary>
    public static readonly FitSetup Empty = new(ErrorLaw.Poisson, []);
}
