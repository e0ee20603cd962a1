using System.Collections.Immutable;
using System.Text.Json.Serialization;
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

    /// <summary>Normal with one part of the variance the same everywhere, and one in proportion to what is expected.</summary>
    AdditiveProportional,

    /// <summary>So many out of a known number, each by the chance that is expected.</summary>
    Binomial,
}

/// <summary>A value that a fit may move, with its bounds as typed, in the study's units.</summary>
/// <param name="Address">The address of the value: <c>beta</c>, <c>I.start</c>, <c>E.stay</c>.</param>
/// <param name="Lower">The least value that is tried.</param>
/// <param name="Upper">The greatest value that is tried.</param>
public sealed record FitParameter(ValueAddress Address, double Lower, double Upper)
{
    /// <summary>Whether each subject has one of its own; else all share it.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Own { get; init; }

    /// <summary>The subject whose own it is, while a fit is made; null for one that is shared. Never stored.</summary>
    [JsonIgnore]
    public string? Subject { get; init; }

    /// <summary>Whether it is searched on a log scale: what cannot be below zero is uncertain by a factor. A day is no amount.</summary>
    [JsonIgnore]
    public bool OnLogScale => Lower >= 0 && Address != FreedValues.StartDay;

    /// <summary>How sentences speak of it.</summary>
    [JsonIgnore]
    public string Name => Subject is null ? Address.ToString() : $"{Address} of {Subject}";

    /// <summary>What is known of it from elsewhere; null for nothing.</summary>
    public Prior? Prior { get; init; }
}

/// <summary>A value that follows from others while a fit is made.</summary>
/// <param name="Address">Of the value.</param>
/// <param name="Formula">Of numbers and other values: <c>2 * beta</c>, or <c>0.3</c> to hold it there.</param>
public sealed record FitTie(ValueAddress Address, string Formula);

/// <summary>What a fit estimates.</summary>
/// <param name="Law">The law of counts; a series may have one of its own.</param>
/// <param name="Parameters">The values that are estimated.</param>
public sealed record FitSetup(ErrorLaw Law, ImmutableArray<FitParameter> Parameters)
{
    /// <summary>Starts of a search where nobody says otherwise.</summary>
    public const int UsualStarts = 20;

    /// <summary>Starts of a search at most.</summary>
    public const int MostStarts = 200;

    /// <summary>From how many points the search starts: the model's own values, and others spread over the bounds.</summary>
    public int Starts { get; init; } = UsualStarts;

    /// <summary>Which of many sequences of starts, and of random numbers of draws and of bootstrap sets, is taken.</summary>
    public long Shuffle { get; init; }

    /// <summary>Values that are not estimated but follow from others, or are held at a number of the fit's own.</summary>
    public ImmutableArray<FitTie> Ties { get; init; } = [];

    /// <summary>Sets of a bootstrap at most.</summary>
    public const int MostSets = 2000;

    /// <summary>How many sets of data are simulated and fitted again, for intervals of their own; 0 for none.</summary>
    public int Bootstrap { get; init; }

    /// <summary>Nothing is estimated.</summary>
    public static readonly FitSetup Empty = new(ErrorLaw.Poisson, []);

    /// <summary>Whether both ask for the same fit.</summary>
    /// <param name="other">What it is compared with.</param>
    public bool Equals(FitSetup? other) =>
        other is not null
        && Law == other.Law
        && Starts == other.Starts
        && Shuffle == other.Shuffle
        && Bootstrap == other.Bootstrap
        && Parameters.SequenceEqual(other.Parameters)
        && Ties.SequenceEqual(other.Ties);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Law, Starts, Shuffle, Bootstrap, Parameters.Length, Ties.Length);

    /// <summary>The same with a value for each subject in the place of those of which each has its own: what is shared first, then
    /// subject by subject.</summary>
    /// <param name="subjects">Their names.</param>
    public FitSetup For(IReadOnlyList<string> subjects) =>
        this with
        {
            Parameters =
            [
                .. Parameters.Where(one => !one.Own),
                .. subjects.SelectMany(name => Parameters.Where(one => one.Own).Select(one => one with { Own = false, Subject = name })),
            ],
        };

    /// <summary>Why nothing can be fitted so, in a sentence; null where it can.</summary>
    public string? Refusal()
    {
        if (Starts is < 1 or > MostStarts)
            return $"A search goes from 1 to {MostStarts} starts; {Starts} were asked for.";
        if (Bootstrap is < 0 or > MostSets)
            return $"A bootstrap fits from 0 to {MostSets} sets; {Bootstrap} were asked for.";
        foreach (var parameter in Parameters)
        {
            if (!double.IsFinite(parameter.Lower) || !double.IsFinite(parameter.Upper))
                return $"Type both bounds of {parameter.Address} as numbers.";
            if (!(parameter.Upper > parameter.Lower))
                return $"The bounds of {parameter.Address} cross. Type an upper bound above {parameter.Lower:G6}.";
            if (parameter.Own && parameter.Address == FreedValues.StartDay)
                return "The model starts on one day for all. Take “each its own” off it.";
            if (parameter.Prior is { } prior && prior.Refusal(parameter.Lower, parameter.Upper) is { } refusal)
                return $"The prior of {parameter.Address}: {refusal}";
        }
        return
            Parameters.GroupBy(parameter => (parameter.Address, parameter.Subject)).FirstOrDefault(group => group.Count() > 1) is { } twice
            ? $"{twice.Key.Address} is to be estimated twice. Take one of them out."
            : null;
    }
}
