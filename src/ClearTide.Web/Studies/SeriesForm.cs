using System.Globalization;
using ClearTide.Core.Model;

namespace ClearTide.Web.Studies;

/// <summary>How a series of a table is to be tied, as posted.</summary>
public sealed class SeriesForm
{
    /// <summary>The name that the series has in the table: what was typed goes with it when columns change.</summary>
    public string? Heading { get; set; }

    public string? Label { get; set; }

    public ObservedAs Seen { get; set; }

    public string? FlowId { get; set; }

    /// <summary>Flows that are counted together with the first.</summary>
    public List<string> OtherFlows { get; set; } = [];

    public string? Formula { get; set; }

    public string? Reporting { get; set; }

    public ErrorLaw? Law { get; set; }

    /// <summary>The spread of its law, as typed; empty where it is estimated.</summary>
    public string? KnownSpread { get; set; }

    public bool RunningTotals { get; set; }

    /// <summary>How much of each day of the week comes in, from Monday on, as typed.</summary>
    public List<string?> Weekdays { get; set; } = [];

    /// <summary>How long it takes until it comes in, and in how many stages, as typed.</summary>
    public string? Delay { get; set; }

    public string? DelayStages { get; set; }

    /// <summary>The unit of the values.</summary>
    public string? Unit { get; set; }

    public int Colour { get; set; }

    public string? Note { get; set; }

    /// <summary>Id of the compartment that doses of subjects go into.</summary>
    public string? DosesInto { get; set; }

    /// <summary>What would be posted of a series as it is shown.</summary>
    public static SeriesForm Of(BroughtSeries brought) => Of(brought.Observation, brought.RunningTotals);

    public static SeriesForm Of(Observation seen, bool runningTotals = false) =>
        new()
        {
            Heading = seen.Column,
            Label = seen.Label,
            Seen = seen.Seen,
            FlowId = seen.FlowId,
            OtherFlows = [.. seen.OtherFlows],
            Formula = seen.Formula,
            Reporting = seen.Reporting,
            Law = seen.Law,
            KnownSpread = seen.KnownSpread,
            RunningTotals = runningTotals,
            Weekdays = [.. seen.Weekdays],
            Delay = seen.Delay,
            DelayStages = seen.DelayStages.ToString(CultureInfo.InvariantCulture),
            Unit = seen.Unit,
            Colour = seen.Colour,
            Note = seen.Note,
            DosesInto = seen.DosesInto,
        };

    /// <summary>The observation that it says; without id and data.</summary>
    /// <param name="heading">The column it comes from.</param>
    public Observation Observation(string heading)
    {
        var days = Weekdays.Select(day => day?.Trim() ?? "").ToList();
        var flowed = Seen == ObservedAs.Flowed;
        return new(
            "",
            "pending",
            Label?.Trim() ?? "",
            Seen.HasFormula() ? "" : FlowId ?? "",
            string.IsNullOrWhiteSpace(Reporting) ? "1" : Reporting.Trim()
        )
        {
            Seen = Seen,
            OtherFlows = Seen.HasFormula() ? [] : [.. OtherFlows.Where(id => id != FlowId).Distinct()],
            Formula = Seen.HasFormula() ? Formula?.Trim() ?? "" : "",
            // A day of which nothing is said is like the others.
            Weekdays = flowed && days.Exists(day => day.Length > 0) ? [.. days.Select(day => day.Length > 0 ? day : "1")] : [],
            Delay = flowed ? Delay?.Trim() ?? "" : "",
            // What is no number is none that is allowed.
            DelayStages =
                string.IsNullOrWhiteSpace(DelayStages) ? 1
                : int.TryParse(DelayStages.Trim(), CultureInfo.InvariantCulture, out var stages) ? stages
                : 0,
            Law = Law,
            KnownSpread = KnownSpread?.Trim() ?? "",
            Unit = Unit?.Trim() ?? "",
            Colour = Colour,
            Note = Note?.Trim() ?? "",
            DosesInto = DosesInto ?? "",
            Column = heading,
        };
    }
}
