using ClearTide.Core.Language;

namespace ClearTide.Core.Units;

/// <summary>Lines rewritten so that their unit becomes another.</summary>
internal static class UnitConversion
{
    /// <summary>The line in a unit of another size: a plain number is converted, a formula multiplied by the ratio, which carries its
    /// unit.</summary>
    public static string Line(string line, Syntax tree, Unit from, Unit to, UnitTable table)
    {
        var ratio = from.Size / to.Size;
        if (tree is NumberSyntax { Unit: not null } number)
        {
            return $"{Number(number.Value * table.Read(number.Unit!).Scale * ratio)} {to.Text()}";
        }
        return $"{Grouped(line, tree)} * {Number(ratio)} {to.Times(from, -1).Text()}";
    }

    /// <summary>The line with the power of time that it lacks: “… per day”; null where something else is missing.</summary>
    /// <param name="line">The line as typed.</param>
    /// <param name="tree">The same, read.</param>
    /// <param name="missing">What the line's unit must be multiplied by.</param>
    /// <param name="table">The unit words of the study.</param>
    public static string? WithTime(string line, Syntax tree, Unit missing, UnitTable table)
    {
        if (missing.Agrees(Unit.Pure.Per(table.TimeMeasure)))
            return $"{Summed(line, tree)} per {table.Time.Singular}";
        if (!missing.Agrees(table.TimeMeasure))
            return null;
        return tree is NumberSyntax { Unit: null, Percent: false } number
            ? $"{number.Text} {table.Time.Plural}"
            : $"{Grouped(line, tree)} * 1 {table.Time.Singular}";
    }

    private static string Summed(string line, Syntax tree) =>
        tree is BinarySyntax { Operator: not (BinaryOperator.Multiply or BinaryOperator.Divide or BinaryOperator.Power) }
        && !IsGrouped(line, tree)
            ? $"({line})"
            : line;

    private static string Grouped(string line, Syntax tree) =>
        tree is BinarySyntax { Operator: not (BinaryOperator.Multiply or BinaryOperator.Divide or BinaryOperator.Power) } or PerSyntax
        && !IsGrouped(line, tree)
            ? $"({line})"
            : line;

    private static bool IsGrouped(string line, Syntax tree) =>
        line.StartsWith('(') && tree.Children.Count > 0 && tree.Span.Start < tree.Children[0].Span.Start;

    public static string Number(double value) => TypedNumber.Short(value, 12);
}
