using System.Collections.Immutable;
using System.Text.Json.Serialization;
using ClearTide.Core.Expressions;

namespace ClearTide.Core.Model;

/// <summary>How a response curve is given.</summary>
public enum CurveLaw
{
    /// <summary>By a table of points.</summary>
    Points,

    /// <summary>low + slope · x.</summary>
    Linear,

    /// <summary>low · exp(slope · x).</summary>
    Exponential,

    /// <summary>low + (high − low) · x^slope / (half^slope + x^slope).</summary>
    Hill,

    /// <summary>low + (high − low) / (1 + exp(−slope · (x − half))).</summary>
    Logistic,
}

/// <summary>A known function of one quantity. Written as the function it is: <c>crowding(N / K)</c>.</summary>
/// <param name="Id">Stays with it for good; never shown.</param>
/// <param name="Symbol">What formulas call it.</param>
/// <param name="Label">What people call it; may be empty.</param>
/// <param name="Law">A law with lines of its own, or given by points.</param>
/// <param name="Points">Ascending, for a curve given by points.</param>
/// <param name="Note">What somebody wrote about it; may be empty.</param>
public sealed record ResponseCurve(
    string Id,
    string Symbol,
    string Label,
    CurveLaw Law,
    ImmutableArray<CurvePoint> Points,
    string Note = ""
) : Stored, ISymbolPart
{
    /// <inheritdoc/>
    public string Unit { get; init; } = "";

    /// <summary>The unit of what it is a function of, as typed.</summary>
    public string ArgumentUnit { get; init; } = "";

    /// <summary>How values go from one point to the next.</summary>
    public Between Between { get; init; }

    /// <summary>Value at the low end (Hill, logistic) or at zero (linear, exponential), a line as typed.</summary>
    public string Low { get; init; } = "";

    /// <summary>Value at the high end, a line as typed.</summary>
    public string High { get; init; } = "";

    /// <summary>Where the curve is half way, a line as typed.</summary>
    public string Half { get; init; } = "";

    /// <summary>How steep the curve is, a line as typed.</summary>
    public string Slope { get; init; } = "";

    /// <summary>Below this the curve holds its value; empty for no bound. Points bring their own.</summary>
    public string From { get; init; } = "";

    /// <summary>Above this the curve holds its value; empty for no bound.</summary>
    public string Until { get; init; } = "";

    /// <summary>What it is from later times on, in the order of time. Never stored.</summary>
    [JsonIgnore]
    public ImmutableArray<Instead> Later { get; init; } = [];

    /// <summary>Which of its four lines a law uses.</summary>
    public IReadOnlyList<PartField> Fields =>
        Law switch
        {
            CurveLaw.Linear or CurveLaw.Exponential => [PartField.Low, PartField.Slope],
            CurveLaw.Hill or CurveLaw.Logistic => [PartField.Low, PartField.High, PartField.Half, PartField.Slope],
            _ => [],
        };

    /// <summary>The line in one of the fields of a law or a range.</summary>
    /// <param name="field">The field.</param>
    public string Line(PartField field) =>
        field switch
        {
            PartField.Low => Low,
            PartField.High => High,
            PartField.Half => Half,
            PartField.Slope => Slope,
            PartField.From => From,
            _ => Until,
        };
}
