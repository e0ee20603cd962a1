using System.Collections.Immutable;
using System.Text.Json.Serialization;
using ClearTide.Core.Data;
using ClearTide.Core.Language;

namespace ClearTide.Core.Model;

/// <summary>What of the model a row of data has seen.</summary>
public enum ObservedAs
{
    /// <summary>What moved along a flow, or by a reaction, during the row's own interval.</summary>
    Flowed,

    /// <summary>What a formula was at the row's time: an amount, a concentration, a share.</summary>
    Standing,

    /// <summary>The mean of a formula over the row's own interval: a daily mean, a sample pooled over a day.</summary>
    Mean,

    /// <summary>The integral of a formula over the row's own interval: bed days, an area under a concentration.</summary>
    Integral,
}

/// <summary>What kinds of observation have in common.</summary>
public static class ObservedKinds
{
    /// <summary>Whether a row stands for its interval; else for its one time.</summary>
    /// <param name="seen">How it is seen.</param>
    public static bool HasInterval(this ObservedAs seen) => seen != ObservedAs.Standing;

    /// <summary>Whether a formula was seen; else flows.</summary>
    /// <param name="seen">How it is seen.</param>
    public static bool HasFormula(this ObservedAs seen) => seen != ObservedAs.Flowed;
}

/// <summary>How a series of data relates to the model.</summary>
/// <param name="Id">Stays with it for good; never shown.</param>
/// <param name="DataSet">Id of the version of the data that is used.</param>
/// <param name="Label">What was counted or measured: “Reported cases”.</param>
/// <param name="FlowId">The flow or reaction that is counted; empty where a formula is seen.</param>
/// <param name="Reporting">The share of it that was seen, as a line, often the symbol of a parameter, or of an input where it changes in
/// time.</param>
public sealed record Observation(string Id, string DataSet, string Label, string FlowId, string Reporting) : Stored
{
    /// <summary>Whether rows say what flowed in an interval, what stood at a time, or the mean or integral of a formula.</summary>
    public ObservedAs Seen { get; init; }

    /// <summary>Ids of flows and reactions that are counted together with the first.</summary>
    public ImmutableArray<string> OtherFlows { get; init; } = [];

    /// <summary>The formula that was seen, of compartments, quantities and values: <c>central / V</c>. Empty where a flow is
    /// counted.</summary>
    public string Formula { get; init; } = "";

    /// <summary>Id of the compartment that the doses of its subjects go into; empty where they have none. They take the place of what the
    /// model itself says is given there.</summary>
    public string DosesInto { get; init; } = "";

    /// <summary>Of flows: how much of each weekday comes in relative to the others, as lines from Monday to Sunday; empty where all days
    /// are alike.</summary>
    public ImmutableArray<string> Weekdays { get; init; } = [];

    /// <summary>Of flows: how long it takes on average until what happened comes in, as a line; empty for at once.</summary>
    public string Delay { get; init; } = "";

    /// <summary>The stages of equal length that this takes: one for an exponential delay, many for one that is nearly the same for
    /// all.</summary>
    public int DelayStages { get; init; } = 1;

    /// <summary>Stages of a delay at most.</summary>
    public const int MostStages = 50;

    /// <summary>Whether what is seen depends on the day, or on what happened before.</summary>
    public bool IsTimed => Weekdays.Length > 0 || Delay.Length > 0;

    /// <summary>The lines that say how what happened comes in: their values belong to the observation and not to what is
    /// observed.</summary>
    public IEnumerable<string> Lines => [Reporting, Delay, .. Weekdays];

    /// <summary>How values spread around what is expected; null for the usual: of what flowed the law for counts that the fit has
    /// chosen, of what stood the normal one.</summary>
    public ErrorLaw? Law { get; init; }

    /// <summary>The spread of its law where that is known from elsewhere: the standard deviation of the normal law or of the logarithm, the
    /// coefficient of variation, k of the negative binomial; a number as typed, empty where it is estimated.</summary>
    public string KnownSpread { get; init; } = "";

    /// <summary>The number that <see cref="KnownSpread"/> is; not a number where it is none, null where it is empty.</summary>
    [JsonIgnore]
    public double? Spread => KnownSpread.Length == 0 ? null : TypedNumber.Read(KnownSpread) ?? double.NaN;

    /// <summary>The unit of the rows, as a line; empty where nobody has said it.</summary>
    public string Unit { get; init; } = "";

    /// <summary>The unit of the table that the rows came in, where they were converted from it: the next one is likely in it too; else
    /// empty.</summary>
    public string TableUnit { get; init; } = "";

    /// <summary>Number of the colour of its points, from 1 to 10; 0 for that of what they were seen of, or ink.</summary>
    public int Colour { get; init; }

    /// <summary>Where the rows come from, and what there is to know about them.</summary>
    public string Note { get; init; } = "";

    /// <summary>Characters of a note at most.</summary>
    public const int LongestNote = 400;

    /// <summary>The heading of the column it came from, by which the next table of the same form is known.</summary>
    public string Column { get; init; } = "";

    /// <summary>The law that it is fitted under.</summary>
    /// <param name="setup">Holds the law for counts.</param>
    public ErrorLaw LawIn(FitSetup setup) => Law ?? (Seen == ObservedAs.Flowed ? setup.Law : ErrorLaw.Normal);
}

/// <summary>An observation with the data it refers to.</summary>
/// <param name="Observation">How something of the model is seen.</param>
/// <param name="Data">The rows that were seen.</param>
public sealed record Series(Observation Observation, DataSet Data)
{
    /// <summary>The observations of a document with their data, in the document's order; those whose data are not given are left
    /// out.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="sets">The data sets, in any order.</param>
    public static IReadOnlyList<Series> Of(StudyDocument document, params IEnumerable<DataSet> sets)
    {
        var known = sets.DistinctBy(set => set.Id).ToDictionary(set => set.Id);
        return
        [
            .. document
                .Observations.Where(observation => known.ContainsKey(observation.DataSet))
                .Select(observation => new Series(observation, known[observation.DataSet])),
        ];
    }
}
