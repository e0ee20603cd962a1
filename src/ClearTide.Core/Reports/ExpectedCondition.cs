using ClearTide.Core.Language;

namespace ClearTide.Core.Reports;

/// <summary>
/// A condition that should hold along a run, as comparisons that can be looked at within the accuracy of the run: rounding and the
/// solver's error
/// break no equality. Negations are taken down to the comparisons.
/// </summary>
internal abstract record ExpectedCondition
{
    /// <summary>One comparison.</summary>
    /// <param name="Operator">Of equality or order.</param>
    /// <param name="Difference">Text of left less right.</param>
    /// <param name="Side">Text of the side that has names, which is what a sentence speaks of.</param>
    public sealed record Comparison(BinaryOperator Operator, string Difference, string Side) : ExpectedCondition;

    /// <summary>Anything else that is true or not.</summary>
    /// <param name="Text">The text as typed.</param>
    public sealed record Truth(string Text) : ExpectedCondition;

    public sealed record All(ExpectedCondition First, ExpectedCondition Second) : ExpectedCondition;

    public sealed record Any(ExpectedCondition First, ExpectedCondition Second) : ExpectedCondition;

    /// <summary>How far a condition is from holding; null where it holds.</summary>
    /// <param name="Amount">Not a number where it cannot be said as an amount.</param>
    /// <param name="Side">What is compared there, and what it is.</param>
    /// <param name="Value">Of the side, in the model's units.</param>
    public readonly record struct Departure(double Amount, string Side, double Value);

    public static ExpectedCondition Of(Syntax tree, bool negated = false) =>
        tree switch
        {
            UnarySyntax { Operator: UnaryOperator.Not } not => Of(not.Operand, !negated),
            BinarySyntax { Operator: BinaryOperator.And or BinaryOperator.Or } both => (both.Operator == BinaryOperator.And) != negated
                ? new All(Of(both.Left, negated), Of(both.Right, negated))
                : new Any(Of(both.Left, negated), Of(both.Right, negated)),
            BinarySyntax pair when IsComparison(pair.Operator) => Compare(pair, negated ? Opposite(pair.Operator) : pair.Operator),
            _ => new Truth(negated ? $"not ({FormulaText.Of(tree)})" : FormulaText.Of(tree)),
        };

    /// <summary>The formulas that it has to be told along a run, each once.</summary>
    public IEnumerable<string> Texts =>
        this switch
        {
            Comparison comparison => [comparison.Difference, comparison.Side],
            Truth truth => [truth.Text],
            All all => all.First.Texts.Concat(all.Second.Texts),
            Any any => any.First.Texts.Concat(any.Second.Texts),
            _ => [],
        };

    /// <summary>Looks at one moment of a run.</summary>
    /// <param name="value">What a formula is at that moment.</param>
    /// <param name="slack">By how much a difference may miss zero, for a comparison.</param>
    public Departure? At(Func<string, double> value, Func<Comparison, double> slack)
    {
        switch (this)
        {
            case Comparison comparison:
                var difference = value(comparison.Difference);
                var missing = comparison.Operator switch
                {
                    BinaryOperator.Less or BinaryOperator.LessOrEqual => difference,
                    BinaryOperator.Greater or BinaryOperator.GreaterOrEqual => -difference,
                    BinaryOperator.Equal => Math.Abs(difference),
                    // What should differ must not be the very same.
                    _ => difference == 0 ? double.NaN : -1,
                };
                var strict = comparison.Operator is BinaryOperator.Less or BinaryOperator.Greater;
                return missing <= slack(comparison) && !(strict && difference == 0)
                    ? null
                    : new(missing, comparison.Side, value(comparison.Side));
            case Truth truth:
                return value(truth.Text) != 0 ? null : new(double.NaN, "", double.NaN);
            case All all:
                var (first, second) = (all.First.At(value, slack), all.Second.At(value, slack));
                return first is null || second is { } other && other.Amount > first.Value.Amount ? second : first;
            case Any any:
                return any.First.At(value, slack) is { } one && any.Second.At(value, slack) is { } two
                    ? two.Amount < one.Amount
                        ? two
                        : one
                    : null;
            default:
                return null;
        }
    }

    private static Comparison Compare(BinarySyntax pair, BinaryOperator operation)
    {
        var side = pair.Left.Names().Any() ? pair.Left : pair.Right;
        return new(
            operation,
            FormulaText.Of(new BinarySyntax(default, BinaryOperator.Subtract, pair.Left, pair.Right)),
            FormulaText.Of(side)
        );
    }

    private static bool IsComparison(BinaryOperator operation) =>
        operation
            is BinaryOperator.Less
                or BinaryOperator.LessOrEqual
                or BinaryOperator.Greater
                or BinaryOperator.GreaterOrEqual
                or BinaryOperator.Equal
                or BinaryOperator.NotEqual;

    private static BinaryOperator Opposite(BinaryOperator operation) =>
        operation switch
        {
            BinaryOperator.Less => BinaryOperator.GreaterOrEqual,
            BinaryOperator.LessOrEqual => BinaryOperator.Greater,
            BinaryOperator.Greater => BinaryOperator.LessOrEqual,
            BinaryOperator.GreaterOrEqual => BinaryOperator.Less,
            BinaryOperator.Equal => BinaryOperator.NotEqual,
            _ => BinaryOperator.Equal,
        };
}
