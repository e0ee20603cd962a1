using ClearTide.Core.Diagnostics;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Reports;

/// <summary>
/// A model in which nothing starts with anything asks for an initial amount, where its flows begin: nothing moves then, or shares of
/// nothing are asked for.
/// </summary>
internal static class StartNotes
{
    /// <summary>For a run that stayed empty to its end.</summary>
    public static IEnumerable<Finding> Of(StudyDocument document, Trajectory run) =>
        Enumerable.Range(0, document.Compartments.Length).All(k => run.AmountColumn(k).All(amount => amount == 0)) ? Ask(document) : [];

    /// <summary>For a run that could not be made from its first moment on.</summary>
    /// <param name="document">The study.</param>
    /// <param name="initial">The state it was to start from.</param>
    public static IEnumerable<Finding> Of(StudyDocument document, double[] initial) =>
        initial.Length > 0 && initial.All(amount => amount == 0) ? Ask(document) : [];

    private static IEnumerable<Finding> Ask(StudyDocument document)
    {
        if (document.Compartments.IsEmpty || document.Flows.IsEmpty)
            yield break;
        // Most is there where flows leave and none arrives.
        var first = document
            .Compartments.Where(part => document.Flows.Any(flow => flow.From == part.Id))
            .OrderBy(part => document.Flows.Count(flow => flow.To.Any(target => target.Id == part.Id)))
            .FirstOrDefault()
            ?? document.Compartments[0];
        yield return new(first.Id, PartField.Start, Severity.Doubt, null, $"Nothing starts with anything: give {first.Symbol} a start.", [])
        {
            Asks = true,
        };
    }
}
