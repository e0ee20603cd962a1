using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Units;
using ClearTide.Web.Words;

namespace ClearTide.Web.Ledger;

/// <summary>What a rate or a stay comes to in the other ways people say it, and what the exits of a compartment come to together.</summary>
public static class Equivalents
{
    public static string? Of(StudyDocument document, Flow flow)
    {
        if (flow.Kind == RateKind.Whole || Formula.Read(flow.Rate) is not { HasNames: false, Tree: { } tree })
            return null;
        var value = FormulaBinder.ValueOf(tree, document.UnitTable());
        return Say(document, flow.Kind == RateKind.MeanStay ? 1 / value : value);
    }

    /// <param name="unit">The parameter's unit, typed or inferred.</param>
    public static string? Of(StudyDocument document, Definition part, Unit? unit)
    {
        if (Formula.Read(part.Text) is not { HasNames: false, Tree: { } tree })
            return null;
        var value = FormulaBinder.ValueOf(tree, document.UnitTable());
        if (unit is null)
            return null;
        var time = document.UnitTable().TimeMeasure;
        return unit.Agrees(Unit.Pure.Per(time)) ? Say(document, value)
            : unit.Agrees(time) ? Say(document, 1 / value)
            : null;
    }

    /// <summary>The exits of a compartment in a sentence: shares and joint mean stay; null where they do not follow from values
    /// alone.</summary>
    public static string? OfExits(LoweredModel lowered, string? compartmentId)
    {
        if (compartmentId is null || lowered.Document.Solver.IsDiscrete || Exits.Of(lowered, compartmentId) is not { } exits)
            return null;
        var document = lowered.Document;
        var shares =
            exits.All.Count == 1
                ? ""
                : string.Join(", ", exits.All.Select(exit => $"{exit.To} {Numbers.Say(100 * exit.Share)} %")) + " leave; ";
        return $"{document.Compartment(compartmentId)!.Symbol}: {shares}joint mean stay {Numbers.Say(exits.MeanStay)} "
            + $"{(exits.MeanStay == 1 ? document.TimeUnit.Singular : document.TimeUnit.Plural)}";
    }

    private static string? Say(StudyDocument document, double rate)
    {
        // A share that leaves in a step is no rate.
        if (!(rate > 0) || !double.IsFinite(rate) || document.Solver.IsDiscrete)
            return null;
        var unit = document.TimeUnit;
        return $"{Numbers.Say(rate)} {unit.Each()} = {Numbers.Say(1 / rate)} {(rate == 1 ? unit.Singular : unit.Plural)} on average "
            + $"= {Numbers.Say(100 * (1 - Math.Exp(-rate)))} % leave within {unit.Each()}";
    }
}
