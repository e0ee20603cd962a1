using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

/// <summary>
/// A flow whose rate is a difference, as two flows: one with the first term, and one back with the second. Their mean is the same, and with
/// chance each moves on its own clock, which makes more noise than their net.
/// </summary>
/// <param name="PartId">Id of the flow.</param>
public sealed record SplitFlow(string PartId) : Edit
{
    /// <summary>
    /// The two terms of a free whole-formula flow between two ends whose rate is a difference; null for any other. A difference that is
    /// scaled, k (A − B), counts where each term grows with its own end of the flow, as in an exchange between two volumes: in
    /// k (N − A) the difference is an amount of its own, which is no net of two ways.
    /// </summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="flow">The flow.</param>
    /// <param name="rate">The rate as it is read.</param>
    public static (Syntax First, Syntax Second)? Terms(StudyDocument document, Flow flow, Syntax rate)
    {
        if (flow is not { Kind: RateKind.Whole, Limited: false, FansOut: false } || Difference(rate) is not { } found)
            return null;
        var (inner, first, second) = found;
        var isNet = ReferenceEquals(inner, rate)
            ? first.Names().Any() && second.Names().Any()
            : Mentions(inner.Left, flow.From) && Mentions(inner.Right, flow.Target);
        return isNet ? (first, second) : null;

        bool Mentions(Syntax term, string? end) =>
            document.Compartment(end) is { } compartment && term.Names().Any(name => name.Name == compartment.Symbol);
    }

    /// <summary>The difference in a rate, and its two terms with the factors and divisors that it stands under.</summary>
    private static (BinarySyntax Inner, Syntax First, Syntax Second)? Difference(Syntax rate) =>
        rate switch
        {
            BinarySyntax { Operator: BinaryOperator.Subtract } difference => (difference, difference.Left, difference.Right),
            BinarySyntax { Operator: BinaryOperator.Multiply } product when Difference(product.Right) is { } right => (
                right.Inner,
                product with
                {
                    Right = right.First,
                },
                product with
                {
                    Right = right.Second,
                }
            ),
            BinarySyntax { Operator: BinaryOperator.Multiply or BinaryOperator.Divide } scaled when Difference(scaled.Left) is { } left => (
                left.Inner,
                scaled with
                {
                    Left = left.First,
                },
                scaled with
                {
                    Left = left.Second,
                }
            ),
            _ => null,
        };

    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (document.Flow(PartId) is not { } flow)
            return EditResult.Refused("This flow is no longer in the study.");
        if (Formula.Read(flow.Rate).Tree is not { } tree || Terms(document, flow, tree) is not { } terms)
            return EditResult.Refused("Only a flow whose rate is a difference of two terms is split in two.");
        var back = flow with
        {
            Id = $"f{document.NextId}",
            From = flow.Target,
            To = [new(flow.From)],
            Rate = FormulaText.Of(terms.Second),
            Label = "",
            Note = "",
        };
        var place = document.Flows.IndexOf(flow);
        return document with
        {
            NextId = document.NextId + 1,
            Flows = document.Flows.SetItem(place, flow with { Rate = FormulaText.Of(terms.First) }).Insert(place + 1, back),
        };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        before.Flow(PartId) is { } flow ? $"{before.Describe(flow)}: split in two" : "flow split in two";
}
