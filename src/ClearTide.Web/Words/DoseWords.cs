using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Web.Words;

/// <summary>What a line of doses comes to, in words.</summary>
public static class DoseWords
{
    /// <summary>The doses of a line within the study's span, in order of time; empty where it says none.</summary>
    public static IReadOnlyList<Dose> Of(LoweredModel lowered, EventRule rule)
    {
        var (network, document) = (lowered.Network, lowered.Document);
        return
        [
            .. network
                .Doses.Where(series => series.PartId == rule.Id)
                .SelectMany(series => series.Within(network.Graph, network.ValueVector(), document.Start, document.End))
                .OrderBy(dose => dose.Time),
        ];
    }

    /// <summary>How many there are and how much in all; null for a line that says no doses.</summary>
    public static string? Sum(LoweredModel lowered, EventRule rule)
    {
        if (lowered.Network.Doses.FirstOrDefault(series => series.PartId == rule.Id) is not { } first)
            return null;
        var doses = Of(lowered, rule);
        if (doses.Count == 0)
            return "no dose within the span";
        var count = doses.Count == 1 ? "1 dose" : $"{doses.Count} doses";
        var all = doses.Sum(dose => dose.Amount);
        var unit = lowered.Units.Of(first.CompartmentId)?.Unit?.Text() ?? "";
        return double.IsFinite(all)
            ? $"{count}, {NumberWords.Grouped(all, 5)} {unit} in all".Replace("  ", " ", StringComparison.Ordinal)
            : count;
    }
}
