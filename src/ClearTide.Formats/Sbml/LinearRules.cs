using ClearTide.Core.Language;
using ClearTide.Core.Simulation;

namespace ClearTide.Formats.Sbml;

/// <summary>Solves rules that are linear in what they determine, one after the other, as formulas (Gaussian elimination with
/// symbols).</summary>
internal static class LinearRules
{
    /// <summary>Formulas double with each unknown that is put into the rules left.</summary>
    private const int MostTogether = 6;

    /// <param name="rules">Formulas that are zero, as many as there are unknowns.</param>
    /// <returns>For each unknown a formula of known symbols and of unknowns that come before it in the list; null where a rule is not
    /// linear.</returns>
    public static IReadOnlyList<(string Id, Syntax Formula)>? Solve(IReadOnlyList<Syntax> rules, IReadOnlyList<string> unknowns)
    {
        if (unknowns.Count > MostTogether)
            return null;
        var (left, solved) = (rules.ToList(), new List<(string, Syntax)>());
        foreach (var id in unknowns)
        {
            var pivot = left.FindIndex(rule =>
                Parts(rule, id) is { Factor: not null } parts && unknowns.All(other => !Names(parts.Factor, other))
            );
            if (pivot < 0 || Parts(left[pivot], id) is not { } found)
                return null;
            Syntax formula = found.Other is null
                ? MathReader.Of(0)
                : new BinarySyntax(
                    default,
                    BinaryOperator.Divide,
                    new UnarySyntax(default, UnaryOperator.Negate, found.Other),
                    found.Factor!
                );
            left.RemoveAt(pivot);
            left = [.. left.Select(rule => MathTrees.Rewrite(rule, node => node is NameSyntax name && name.Name == id ? formula : null))];
            solved.Insert(0, (id, formula));
        }
        return solved;
    }

    private static bool Names(Syntax? tree, string id) => tree is not null && tree.Names().Any(name => name.Name == id);

    /// <summary>A formula as factor × symbol + other, either null where it is zero; null where it is not of that form.</summary>
    private static (Syntax? Factor, Syntax? Other)? Parts(Syntax tree, string id)
    {
        if (!Names(tree, id))
            return (null, tree);
        switch (tree)
        {
            case NameSyntax:
                return (MathReader.Of(1), null);
            case UnarySyntax { Operator: UnaryOperator.Negate } unary when Parts(unary.Operand, id) is { } inner:
                return (Minus(null, inner.Factor), Minus(null, inner.Other));
            case BinarySyntax { Operator: BinaryOperator.Add } sum when Parts(sum.Left, id) is { } a && Parts(sum.Right, id) is { } b:
                return (Plus(a.Factor, b.Factor), Plus(a.Other, b.Other));
            case BinarySyntax { Operator: BinaryOperator.Subtract } sum when Parts(sum.Left, id) is { } a && Parts(sum.Right, id) is { } b:
                return (Minus(a.Factor, b.Factor), Minus(a.Other, b.Other));
            case BinarySyntax { Operator: BinaryOperator.Multiply } product
                when !Names(product.Right, id) && Parts(product.Left, id) is { } a:
                return (Times(a.Factor, product.Right), Times(a.Other, product.Right));
            case BinarySyntax { Operator: BinaryOperator.Multiply } product
                when !Names(product.Left, id) && Parts(product.Right, id) is { } a:
                return (Times(a.Factor, product.Left), Times(a.Other, product.Left));
            case BinarySyntax { Operator: BinaryOperator.Divide } ratio when !Names(ratio.Right, id) && Parts(ratio.Left, id) is { } a:
                return (Over(a.Factor, ratio.Right), Over(a.Other, ratio.Right));
            default:
                return null;
        }
    }

    private static Syntax? Plus(Syntax? a, Syntax? b) =>
        a is null ? b
        : b is null ? a
        : a is NumberSyntax x && b is NumberSyntax y ? MathReader.Of(x.Value + y.Value)
        : new BinarySyntax(default, BinaryOperator.Add, a, b);

    private static Syntax? Minus(Syntax? a, Syntax? b) =>
        b is null ? a
        : a is null
            ? b is NumberSyntax only ? MathReader.Of(-only.Value)
                : new UnarySyntax(default, UnaryOperator.Negate, b)
        : a is NumberSyntax x && b is NumberSyntax y ? MathReader.Of(x.Value - y.Value)
        : new BinarySyntax(default, BinaryOperator.Subtract, a, b);

    private static Syntax? Times(Syntax? a, Syntax by) =>
        a is null ? null
        : a is NumberSyntax { Value: 1 } ? by
        : new BinarySyntax(default, BinaryOperator.Multiply, a, by);

    private static Syntax? Over(Syntax? a, Syntax by) => a is null ? null : new BinarySyntax(default, BinaryOperator.Divide, a, by);
}
