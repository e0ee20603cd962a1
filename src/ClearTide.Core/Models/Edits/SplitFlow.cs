using ClearTide.Core.Formulas;

namespace ClearTide.Core.Models;

/// <summary>
/// A flow whose rate is a difference, as two flows: one with the first term, and one back with the second. Their mean is the same, and with
/// chance each moves on its own clock, which makes more noise than their net.
/// </summary>
public sealed record SplitFlow(string PartId) : Edit
{
    /// <summary>The two terms of a free whole-formula flow between two ends whose rate is a difference; null for any other.</summary>
    public static (Syntax First, Syntax Second)? Terms(Flow flow, Syntax rate) =>
        flow is { Kind: RateKind.Whole, Limited: false, FansOut: false } && rate is BinarySyntax { Operator: BinaryOperator.Subtract } difference && difference.Left.Names().Any() && difference.Right.Names().Any()
            ? (difference.Left, difference.Right) : null;

    public override EditResult Apply(StudyDocument document)
    {
        if (document.Flow(PartId) is not { } flow) return EditResult.Refused("This flow is no longer in the study.");
        if (Formula.Read(flow.Rate).Tree is not { } tree || Terms(flow, tree) is not { } terms) return EditResult.Refused("Only a flow whose rate is a difference of two terms is split in two.");
        var back = flow with { Id = $"f{document.NextId}", From = flow.Target, To = [new(flow.From)], Rate = FormulaText.Of(terms.Second), Label = "", Note = "" };
        var place = document.Flows.IndexOf(flow);
        return document with { NextId = document.NextId + 1, Flows = document.Flows.SetItem(place, flow with { Rate = FormulaText.Of(terms.First) }).Insert(place + 1, back) };
    }

    public override string Describe(StudyDocument before) => before.Flow(PartId) is { } flow ? $"{before.Describe(flow)}: split in two" : "flow split in two";
}
