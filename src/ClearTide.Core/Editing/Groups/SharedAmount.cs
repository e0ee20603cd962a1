using ClearTide.Core.Language;

namespace ClearTide.Core.Editing;

/// <summary>An amount as typed, shared out among members: the shares of a number are numbers, those of a formula formulas, and they come
/// to the
/// amount again.</summary>
internal static class SharedAmount
{
    /// <param name="text">The amount as typed.</param>
    /// <param name="shares">Of each member; they come to one.</param>
    /// <param name="whole">Whether a whole number is shared out in whole numbers, the largest remainders rounded up (Hamilton's
    /// method).</param>
    public static IReadOnlyList<string> Of(string text, IReadOnlyList<double> shares, bool whole)
    {
        if (Formula.Read(text).Tree is NumberSyntax { Percent: false } number)
        {
            var unit = UnitOf(number);
            if (number.Value == 0)
                return [.. shares.Select(_ => text)];
            var parts =
                whole && number.Value == Math.Floor(number.Value)
                    ? Whole(number.Value, shares)
                    : [.. shares.Select(share => share * number.Value)];
            return [.. parts.Select(part => TypedNumber.Exact(part) + unit)];
        }
        return [.. shares.Select(share => $"{TypedNumber.Exact(share)} * ({text})")];
    }

    private static string UnitOf(NumberSyntax number) =>
        number.Unit is null ? "" : " " + FormulaText.Of(number)[FormulaText.Of(number with { Unit = null }).Length..].Trim();

    /// <summary>An amount that is a plain number, whatever its unit; null for a formula.</summary>
    public static double? Number(string text) => Formula.Read(text).Tree is NumberSyntax { Percent: false } number ? number.Value : null;

    /// <summary>A number in the unit that another amount was typed in.</summary>
    public static string WithUnit(double value, string like) =>
        TypedNumber.Exact(value) + (Formula.Read(like).Tree is NumberSyntax number ? UnitOf(number) : "");

    private static double[] Whole(double amount, IReadOnlyList<double> shares)
    {
        var parts = shares.Select(share => Math.Floor(share * amount + 1e-9)).ToArray();
        var left = (int)Math.Round(amount - parts.Sum());
        foreach (var k in Enumerable.Range(0, parts.Length).OrderByDescending(k => shares[k] * amount - parts[k]).Take(Math.Max(0, left)))
            parts[k]++;
        return parts;
    }

    /// <summary>The sum of lines as typed: a number where all are numbers of one unit, else a formula.</summary>
    public static string Sum(IReadOnlyList<string> lines)
    {
        var numbers = lines.Select(line => Formula.Read(line).Tree as NumberSyntax).ToList();
        if (
            numbers.All(number => number is { Percent: false })
            && numbers.Select(number => number!.Unit?.Text ?? "").Distinct().Count() == 1
        )
        {
            var unit = FormulaText.Of(numbers[0]!)[FormulaText.Of(numbers[0]! with { Unit = null }).Length..];
            // Decimal keeps 0.1 + 0.2 what people expect of it.
            return TypedNumber.Exact(
                    numbers.All(number => Math.Abs(number!.Value) < 1e15)
                        ? (double)numbers.Sum(number => (decimal)number!.Value)
                        : numbers.Sum(number => number!.Value)
                ) + unit;
        }
        return string.Join(" + ", lines.Select(line => Formula.Read(line).Tree is NumberSyntax or NameSyntax ? line : $"({line})"));
    }
}
