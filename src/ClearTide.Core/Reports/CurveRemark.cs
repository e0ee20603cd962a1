using ClearTide.Core.Diagnostics;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Reports;

/// <summary>What has to be known to read the curves of a run: which are provisional and why, and why nothing moves where nothing
/// does.</summary>
public static class CurveRemark
{
    private const int Named = 3;

    /// <summary>One sentence, or null where the curves speak for themselves.</summary>
    /// <param name="run">A run with its model.</param>
    public static string? Of(StudyRun run)
    {
        if (run.Run is not { } trajectory || run.Lowered.Document is not { Compartments.IsEmpty: false } document)
            return null;
        var unfinished = run
            .Lowered.Findings.Where(finding => finding.Severity == Severity.Unfinished)
            .Select(finding => finding.PartId)
            .ToHashSet();
        var left = document.Flows.Where(flow => unfinished.Contains(flow.Id)).Select(document.Describe).ToList();
        if (left.Count > 0)
            return $"Dashed curves leave out {List(left)}: {(left.Count == 1 ? "its rate is" : "their rates are")} unfinished and "
                + $"{(left.Count == 1 ? "counts" : "count")} as zero.";
        var open = document.SymbolParts.Where(part => unfinished.Contains(part.Id)).Select(part => part.Symbol).ToList();
        if (open.Count > 0)
            return $"Dashed curves take {List(open)} as zero until {(open.Count == 1 ? "it has" : "they have")} a value.";
        return Stillness(document, trajectory);
    }

    private static string? Stillness(StudyDocument document, Trajectory run)
    {
        bool Still(int compartment) => run.AmountColumn(compartment) is var amounts && amounts.All(amount => amount == amounts[0]);
        if (!Enumerable.Range(0, document.Compartments.Length).All(Still))
            return null;
        if (document.Flows.IsEmpty)
            return document.Events.IsEmpty ? "There are no flows yet, so amounts stay as they start." : null;
        if (!Enumerable.Range(0, document.Flows.Length).All(flow => run.RateColumn(flow).All(rate => rate == 0)))
            return "What flows in flows out again: no amount changes along this run.";
        var empty = document.Compartments.Where((_, k) => run.Amount(0, k) == 0).Select(part => part.Symbol).ToList();
        return empty.Count == 0
            ? "No rate is above zero, so nothing moves."
            : $"Nothing moves: every rate is zero, and {List(empty)} {(empty.Count == 1 ? "starts" : "start")} with nothing. Type an "
                + "initial amount.";
    }

    private static string List(IReadOnlyList<string> names) =>
        names.Count > Named ? $"{string.Join(", ", names.Take(Named))} and {names.Count - Named} more"
        : names.Count == 1 ? names[0]
        : $"{string.Join(", ", names.Take(names.Count - 1))} and {names[^1]}";
}
