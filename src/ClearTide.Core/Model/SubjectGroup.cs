using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json.Serialization;
using ClearTide.Core.Language;

namespace ClearTide.Core.Model;

/// <summary>The law by which a value differs between subjects.</summary>
public enum VariationLaw
{
    /// <summary>The typical value times a factor whose logarithm is normal around zero: the typical value is the median.</summary>
    LogNormal,

    /// <summary>The typical value and a normal number added to it.</summary>
    Normal,

    /// <summary>A share: its log-odds are normal around those of the typical value, which is the median.</summary>
    LogitNormal,

    /// <summary>Anything between two ends alike.</summary>
    Uniform,
}

/// <summary>A value of the model of which each subject has its own.</summary>
/// <param name="Address">The value; what the model says of it is what is typical.</param>
/// <param name="Law">By which the subjects' values spread.</param>
/// <param name="Spread">Of the log-normal law the coefficient of variation, of the normal law the standard deviation in the value's unit,
/// of the logit-normal law that of the log-odds; of no meaning between two ends.</param>
public sealed record VaryingValue(ValueAddress Address, VariationLaw Law, double Spread)
{
    /// <summary>Below it no subject lies: draws are cut off there. The lower end of the uniform law. Null for none.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public double? Low { get; init; }

    /// <summary>Above it no subject lies. Null for none.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public double? High { get; init; }

    /// <summary>The standard deviation of the logarithm that belongs to a coefficient of variation (Limpert, Stahel and Abbt, BioScience
    /// 51, 2001, table 2).</summary>
    /// <param name="variation">Coefficient of variation, above zero.</param>
    public static double DeviationOfLog(double variation) => Math.Sqrt(Math.Log(1 + variation * variation));

    /// <summary>The coefficient of variation that belongs to a standard deviation of the logarithm.</summary>
    /// <param name="deviationOfLog">Standard deviation of the logarithm, above zero.</param>
    public static double Variation(double deviationOfLog) => Math.Sqrt(Math.Exp(deviationOfLog * deviationOfLog) - 1);

    /// <summary>Why no subject can be drawn so, in a sentence; null where one can.</summary>
    /// <param name="typical">What the model says of the value.</param>
    public string? Refusal(double typical)
    {
        if (Low is { } low && !double.IsFinite(low) || High is { } high && !double.IsFinite(high))
            return $"Type the limits of {Address} as numbers, or leave them empty.";
        if (Law == VariationLaw.Uniform)
            return Low is null || High is null ? $"{Address} lies evenly between two ends: type both."
                : Low < High ? null
                : $"The ends of {Address} cross. Type an upper one above {Low.Value.ToString("G6", CultureInfo.InvariantCulture)}.";
        if (!double.IsFinite(Spread) || Spread < 0)
            return $"The spread of {Address} is a number from zero on.";
        if (Law == VariationLaw.LogNormal && Spread > MostVariation)
            return $"A coefficient of variation of {100 * Spread:0} % leaves nothing typical about {Address}. "
                + $"Up to {100 * MostVariation:0} % can be drawn.";
        if (Low >= High)
            return $"The limits of {Address} cross. Type an upper one above {Low!.Value.ToString("G6", CultureInfo.InvariantCulture)}.";
        if (Law == VariationLaw.LogNormal && !(typical > 0))
            return $"A log-normal value is above zero, and {Address} is {typical.ToString("G4", CultureInfo.InvariantCulture)}. "
                + "Choose the normal law, or another typical value.";
        return Law == VariationLaw.LogitNormal && typical is not (> 0 and < 1)
            ? $"A logit-normal value is a share between 0 and 1, and {Address} is {typical.ToString("G4", CultureInfo.InvariantCulture)}."
            : null;
    }

    /// <summary>A coefficient of variation at most: ten times the typical value.</summary>
    public const double MostVariation = 10;
}

/// <summary>How two values go together from subject to subject.</summary>
/// <param name="First">One of the varying values.</param>
/// <param name="Second">Another one.</param>
/// <param name="Correlation">Of what is normal about them: of the logarithms where laws are log-normal.</param>
public sealed record ValueCorrelation(ValueAddress First, ValueAddress Second, double Correlation);

/// <summary>Many bodies of one model, and how they differ.</summary>
/// <param name="Count">How many there are.</param>
/// <param name="Varying">The values of which each subject has its own.</param>
/// <param name="Correlations">What goes together; none for independent values.</param>
public sealed record SubjectGroup(int Count, ImmutableArray<VaryingValue> Varying, ImmutableArray<ValueCorrelation> Correlations)
{
    /// <summary>Subjects where nobody says otherwise.</summary>
    public const int UsualCount = 200;

    /// <summary>Subjects at most.</summary>
    public const int Most = 100_000;

    /// <summary>Values that differ at most.</summary>
    public const int MostValues = 40;

    /// <summary>Nobody differs.</summary>
    public static readonly SubjectGroup None = new(UsualCount, [], []);

    /// <summary>The target that is looked at: at least so much of the curve, in its unit; null for none.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public double? TargetLow { get; init; }

    /// <summary>At most so much; null for none.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public double? TargetHigh { get; init; }

    /// <summary>Id of the part whose curve is looked at; empty for the first that data have seen, else the last compartment.</summary>
    public string Of { get; init; } = "";

    /// <summary>The correlation of two values; 0 where nothing is said.</summary>
    /// <param name="one">A value that varies.</param>
    /// <param name="other">Another value that varies.</param>
    public double Correlation(ValueAddress one, ValueAddress other) =>
        Correlations
            .FirstOrDefault(pair => (pair.First == one && pair.Second == other) || (pair.First == other && pair.Second == one))
            ?.Correlation
        ?? 0;

    /// <summary>The correlations of all values, row by row.</summary>
    public double[,] Matrix()
    {
        var matrix = new double[Varying.Length, Varying.Length];
        for (var a = 0; a < Varying.Length; a++)
        {
            for (var b = 0; b < Varying.Length; b++)
                matrix[a, b] = a == b ? 1 : Correlation(Varying[a].Address, Varying[b].Address);
        }
        return matrix;
    }
}
