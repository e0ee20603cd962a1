using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using static ClearTide.Formats.Sbml.MathReader;

namespace ClearTide.Formats.Sbml;

/// <summary>Writes tables of points as choices between the laws of their pieces, which is how files say them that know no tables.</summary>
internal static class TableTrees
{
    public static Syntax Write(TableFunction table, Syntax place)
    {
        var points = table.Points;
        var x = Wrapped(table, place);
        var last = points.Count - 1;
        var tree = After(table, x);
        for (var k = last - 1; k >= 0; k--)
            tree = Call("if", Less(x, points[k + 1].X), Inside(table, k, x), tree);
        return table.Before == Beyond.Repeat ? tree : Call("if", Less(x, points[0].X), Before(table, x), tree);
    }

    /// <summary>The place within the repetition that the points give.</summary>
    private static Syntax Wrapped(TableFunction table, Syntax place)
    {
        if (table.Before != Beyond.Repeat && table.After != Beyond.Repeat)
            return place;
        var (first, period) = (table.Points[0].X, Of(table.Period));
        var turns = Call("floor", Divide(Minus(place, first), period));
        var wrapped = new BinarySyntax(default, BinaryOperator.Subtract, place, Times(turns, period));
        if (table.Before == Beyond.Repeat && table.After == Beyond.Repeat)
            return wrapped;
        var within =
            table.After == Beyond.Repeat
                ? Less(place, first + table.Period)
                : new BinarySyntax(default, BinaryOperator.GreaterOrEqual, place, Of(first));
        return Call("if", within, place, wrapped);
    }

    private static Syntax Before(TableFunction table, Syntax x) =>
        table.Before switch
        {
            Beyond.Zero => Of(0),
            Beyond.Trend => Plus(table.Points[0].Y, Times(Of(table.Trends.Before), Minus(x, table.Points[0].X))),
            _ => Of(table.Points[0].Y),
        };

    private static Syntax After(TableFunction table, Syntax x)
    {
        var (first, last) = (table.Points[0], table.Points[^1]);
        if (table.After != Beyond.Repeat)
        {
            return table.After switch
            {
                Beyond.Zero => Of(0),
                Beyond.Trend => Plus(last.Y, Times(Of(table.Trends.After), Minus(x, last.X))),
                _ => Of(last.Y),
            };
        }
        // Between the last point and the next repetition of the first, by the same rule as between any two.
        return first.X + table.Period <= last.X
            ? Of(last.Y)
            : Between(table, table.Points.Count - 1, 0, first with { X = first.X + table.Period }, x);
    }

    private static Syntax Inside(TableFunction table, int k, Syntax x) => Between(table, k, k + 1, table.Points[k + 1], x);

    private static Syntax Between(TableFunction table, int k, int next, CurvePoint b, Syntax x)
    {
        var a = table.Points[k];
        if (table.Between == ClearTide.Core.Expressions.Between.Step)
            return Of(a.Y);
        var s = Divide(Minus(x, a.X), Of(b.X - a.X));
        if (table.Between == ClearTide.Core.Expressions.Between.Line)
            return a.Y == b.Y ? Of(a.Y) : Plus(a.Y, Times(s, Of(b.Y - a.Y)));
        // The cubic of Hermite's form as powers of s, by Horner's rule.
        var (h, m, n) = (b.X - a.X, table.SlopesAtPoints[k], table.SlopesAtPoints[next]);
        double third = 2 * (a.Y - b.Y) + h * (m + n),
            second = 3 * (b.Y - a.Y) - h * (2 * m + n);
        return Plus(a.Y, Times(s, Plus(h * m, Times(s, Plus(second, Times(s, Of(third)))))));
    }

    private static BinarySyntax Less(Syntax x, double bound) => new(default, BinaryOperator.Less, x, Of(bound));

    private static Syntax Minus(Syntax x, double origin) =>
        origin == 0 ? x : new BinarySyntax(default, BinaryOperator.Subtract, x, Of(origin));

    private static Syntax Plus(double constant, Syntax x) =>
        constant == 0 ? x : new BinarySyntax(default, BinaryOperator.Add, Of(constant), x);

    private static BinarySyntax Times(Syntax a, Syntax b) => new(default, BinaryOperator.Multiply, a, b);

    private static BinarySyntax Divide(Syntax a, Syntax b) => new(default, BinaryOperator.Divide, a, b);
}
