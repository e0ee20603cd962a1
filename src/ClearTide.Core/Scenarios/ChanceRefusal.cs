using ClearTide.Core.Models;

namespace ClearTide.Core.Scenarios;

/// <summary>What chance runs of whole units cannot take yet, each in a sentence.</summary>
public static class ChanceRefusal
{
    public static string? Of(LoweredModel lowered)
    {
        var (document, form) = (lowered.Document, lowered.Form);
        if (document.Solver.IsDiscrete) return "This model goes in discrete steps, which chance runs cannot follow yet. Choose another method under the curves.";
        if (document.Compartments.FirstOrDefault(part => !part.WholeUnits) is { } continuous) return $"{continuous.Symbol} is not counted in whole units, and chance moves whole units. Tick whole units for it in the ledger.";
        if (form.Delays.Count > 0) return "This model has a delay. Delays with chance are not offered: stages in an exit give a delay that chance can follow.";
        if (form.States.FirstOrDefault(state => !state.IsAmount) is { } smooth) return $"{document.Part(smooth.PartId)?.Name ?? "A formula"} follows another quantity smoothly, which chance runs cannot follow yet. Put stages or the quantity itself in its place.";
        if (form.Events.Any(rule => rule.Condition >= 0)) return "This model has an event with “when”, which chance runs cannot follow yet. “while”, “at” and “every” can be projected.";
        if (form.Events.Any(rule => rule.Delay >= 0)) return "This model has an event with “after” or “over”, which chance runs cannot follow yet. Give the amount at once, at the time itself.";
        if (form.Draws.Count > 0) return "This model has random inputs, which chance runs cannot follow yet. Put a value in the place of each.";
        if (form.Processes.FirstOrDefault(process => process.Changes.Any(change => change.Factor >= 0)) is { } uneven) return $"{uneven.Name} takes or makes numbers that are not whole, and chance moves whole units. Give it whole numbers.";
        return null;
    }
}
