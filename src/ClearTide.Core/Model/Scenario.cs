using System.Collections.Immutable;
using System.Text.Json.Serialization;
using ClearTide.Core.Language;

namespace ClearTide.Core.Model;

/// <summary>What a measure does to its value.</summary>
public enum MeasureKind
{
    /// <summary>Multiplies it.</summary>
    Scale,

    /// <summary>Puts a number in its place.</summary>
    Set,

    /// <summary>Adds to it; a negative number takes away.</summary>
    Shift,
}

/// <summary>A change laid over the baseline from <paramref name="From"/> until <paramref name="Until"/>.</summary>
/// <param name="Id">Stays with it for good; never shown.</param>
/// <param name="Label">What people call it; may be empty.</param>
/// <param name="Address">Of the value that is changed.</param>
/// <param name="Factor">What the value is multiplied by; or set to, or shifted by, in the model's units.</param>
/// <param name="From">Where it begins, in the model's unit of time.</param>
/// <param name="Until">Where it ends; behind <paramref name="From"/>.</param>
public sealed record Measure(string Id, string Label, ValueAddress Address, double Factor, double From, double Until) : Stored
{
    /// <summary>What it does with the number.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public MeasureKind Kind { get; init; }
}

/// <summary>What a measure or a rule of a scenario costs, as typed: <c>500, 20 per day</c>.</summary>
/// <param name="MeasureId">Id of the measure.</param>
/// <param name="Text">The text as typed.</param>
public sealed record MeasureCost(string MeasureId, string Text) : Stored;

/// <summary>A named set of measures.</summary>
/// <param name="Id">Stays with it for good; never shown.</param>
/// <param name="Name">What people call it.</param>
/// <param name="Measures">Values that are changed over a window.</param>
public sealed record Scenario(string Id, string Name, ImmutableArray<Measure> Measures) : Stored
{
    /// <summary>What is done at times or on conditions: <c>every 7 days until 60: S -> V : 400</c>, <c>while I > 40: beta =
    /// 0.2</c>.</summary>
    public ImmutableArray<EventRule> Rules { get; init; } = [];

    /// <summary>Ids of scenarios whose measures and rules it has besides its own, whether those are run or not.</summary>
    public ImmutableArray<string> BuildsOn { get; init; } = [];

    /// <summary>What its measures and rules cost, where they cost something.</summary>
    public ImmutableArray<MeasureCost> Costs { get; init; } = [];

    /// <summary>What a measure or rule costs, as typed; empty for nothing.</summary>
    /// <param name="measureId">Id of the measure.</param>
    public string CostOf(string measureId) => Costs.FirstOrDefault(one => one.MeasureId == measureId)?.Text ?? "";

    /// <summary>Whether it is kept but not run: it has no curve and no part in projections.</summary>
    public bool IsOff { get; init; }

    /// <summary>Whether it changes nothing.</summary>
    [JsonIgnore]
    public bool IsEmpty => Measures.IsEmpty && Rules.IsEmpty && BuildsOn.IsEmpty;
}
