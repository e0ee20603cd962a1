using ClearTide.Core.Formulas;
using ClearTide.Core.Models;
using ClearTide.Core.Units;

namespace ClearTide.Web.Studies;

/// <summary>What a rate or a stay comes to in the other ways people say it.</summary>
public static class Equivalents
{
    public static string? Of(StudyDocument document, Flow flow)
    {
        if (flow.Kind == RateKind.Whole || Formula.Read(flow.Rate) is not { HasNames: false, Tree: { } tree }) return null;
        var value = FormulaBinder.ValueOf(tree, document.UnitTable());
        return Say(document, flow.Kind == RateKind.MeanStay ? 1 / value : value);
    }

    public static string? Of(StudyDocument document, Definition part)
    {
        if (Formula.Read(part.Text) is not { HasNames: false, Tree: { } tree }) return null;
        var value = FormulaBinder.ValueOf(tree, document.UnitTable());
        return TimeDimension.Of(tree, document.UnitTable(), _ => null) switch { -1 => Say(document, value), 1 => Say(document, 1 / value), _ => null };
    }

    private static string? Say(StudyDocument document, double rate)
    {
        if (!(rate > 0) || !double.IsFinite(rate)) return null;
        var unit = document.TimeUnit;
        return $"{Numbers.Say(rate)} a {unit.Singular} = {Numbers.Say(1 / rate)} {unit.Plural} on average = {Numbers.Say(100 * (1 - Math.Exp(-rate)))} % leave within a {unit.Singular}";
    }
}
