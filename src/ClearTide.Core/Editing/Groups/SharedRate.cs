using ClearTide.Core.Groups;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

/// <summary>Rates as they are written for the members of what is split, so that together they come to what the rate was.</summary>
internal static class SharedRate
{
    /// <summary>The rate of one member where each gets its share of a flow from what is not split.</summary>
    public static string Of(RateKind kind, string rate, double share)
    {
        if (rate.Length == 0)
            return rate;
        if (kind == RateKind.MeanStay)
            return $"({rate}) / {TypedNumber.Exact(share)}";
        return SharedAmount.Of(rate, [share, 1 - share], whole: false)[0];
    }

    /// <summary>A line in which split parts mean the sum of their members; what is a sum already stays.</summary>
    /// <param name="text">As typed.</param>
    /// <param name="split">Symbols of the parts that are split.</param>
    /// <param name="except">The one place where a member's own is meant.</param>
    public static string Totals(string text, HashSet<string> split, TextSpan? except = null)
    {
        if (text.Length == 0 || Formula.Typed(text).Tree is not { } tree)
            return text;
        var places = new List<TextSpan>();
        void Gather(Syntax node)
        {
            switch (node)
            {
                case UserCallSyntax { Callee.Name: IndexedFormula.Total }:
                    return;
                case NameSyntax name when split.Contains(name.Base) && name.Span != except:
                    places.Add(name.Span);
                    return;
            }
            foreach (var child in node is UserCallSyntax call ? call.Arguments : node.Children)
                Gather(child);
        }
        Gather(tree);
        foreach (var place in places.OrderByDescending(place => place.Start))
            text = $"{text[..place.Start]}{IndexedFormula.Total}({text[place.Start..place.End]}){text[place.End..]}";
        return text;
    }

    /// <summary>A whole rate of which each member has the part that its own amount is of all: where the formula is proportional to the
    /// compartment
    /// that the flow leaves, that one factor stays the member's own.</summary>
    public static string InProportion(string rate, string own, HashSet<string> split)
    {
        if (Formula.Typed(rate).Tree is not { } tree)
            return rate;
        var factor = Factor(tree, own);
        var written = Totals(rate, split, factor?.Span);
        var all = $"{IndexedFormula.Total}({own})";
        return factor is not null ? written : $"({written}) * if({all} > 0, {own} / {all}, 0)";
    }

    private static NameSyntax? Factor(Syntax tree, string own) =>
        tree switch
        {
            NameSyntax name => name.Name == own ? name : null,
            BinarySyntax { Operator: BinaryOperator.Multiply } product => Factor(product.Left, own) ?? Factor(product.Right, own),
            BinarySyntax { Operator: BinaryOperator.Divide } quotient => Factor(quotient.Left, own),
            PerSyntax per => Factor(per.Inner, own),
            UnarySyntax { Operator: UnaryOperator.Negate } negated => Factor(negated.Operand, own),
            _ => null,
        };
}
