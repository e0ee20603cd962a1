using ClearTide.Core.Interventions;

namespace ClearTide.Web.Words;

/// <summary>What an outcome over a whole run came to, in a table.</summary>
public static class OutcomeWords
{
    /// <summary>A number, yes or no; “never” where the run has no such outcome.</summary>
    public static string Of(OutcomeRow row, double value) =>
        double.IsNaN(value) ? "never"
        : row.IsStatement
            ? value != 0 ? "yes"
                : "no"
        : Numbers.Say(value);

    /// <summary>By how much a number differs from that of the baseline; empty where there is nothing to subtract.</summary>
    public static string Change(OutcomeRow row, double value, double baseline) =>
        row.IsStatement || double.IsNaN(value - baseline) ? "" : Numbers.Change(value - baseline);
}
