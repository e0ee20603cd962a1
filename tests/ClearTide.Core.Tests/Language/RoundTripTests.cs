using ClearTide.Core.Language;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;
using CsCheck;
using static ClearTide.Core.Tests.Choice;

namespace ClearTide.Core.Tests.Language;

/// <summary>Printing a parsed tree and parsing it again gives the same tree.</summary>
public class RoundTripTests
{
    private static readonly string[] Leaves = ["x", "S", "t", "3", "0.7", "2%", "5 days", "200 mg/L", "pi", "12 people", "1.5e-3", "f(t)"];

    /// <summary>Formulas of every construct of the language, with more parentheses than they need.</summary>
    private static readonly Gen<string> Formulas = Gen.Recursive<string>(
        (depth, inner) =>
            depth > 5
                ? Gen.Int[0, Leaves.Length - 1].Select(k => Leaves[k])
                : Gen.Frequency(
                    (3, Gen.Int[0, Leaves.Length - 1].Select(k => Leaves[k])),
                    (4, Gen.Select(inner, inner, OneOf("+", "-", "*", "^"), (a, b, op) => $"({a}) {op} ({b})")),
                    // A bare number over a number with a unit is refused: the outer parentheses keep the two apart.
                    (2, Gen.Select(inner, inner, (a, b) => $"(({a})) / (({b}))")),
                    (2, inner.Select(a => $"-({a})")),
                    (1, inner.Select(a => $"not ({a})")),
                    (2, Gen.Select(inner, inner, OneOf("<", "<=", ">", ">=", "==", "!="), (a, b, op) => $"({a}) {op} ({b})")),
                    (1, Gen.Select(inner, inner, OneOf("and", "or"), (a, b, op) => $"({a}) {op} ({b})")),
                    (1, Gen.Select(inner, inner, inner, (a, b, c) => $"if({a}, {b}, {c})")),
                    (1, Gen.Select(inner, inner, (a, b) => $"max({a}, {b})")),
                    (1, Gen.Select(inner, inner, (a, b) => $"delay({a}, {b})")),
                    (1, inner.Select(a => $"(({a}) per day)")),
                    (1, inner.Select(a => $"(({a}) per 1000 per year)")),
                    (1, inner.Select(a => $"crowding({a})"))
                )
    );

    [Fact]
    public void A_printed_tree_reads_as_itself()
    {
        var read = 0;
        Formulas.Sample(
            text =>
            {
                var tree = Formula.Read(text).Tree;
                // Nesting beyond the limits of the language is refused, which is no matter of print.
                if (tree is null)
                    return;
                Interlocked.Increment(ref read);
                var printed = FormulaText.Of(tree);
                var again = Formula.Read(printed);
                Assert.True(again.Tree is not null, $"{printed}: {again.Problem?.Message}");
                Assert.True(Same(tree, again.Tree!), $"{text} was printed as {printed}");
            },
            iter: 5000
        );
        Assert.True(read > 3000, $"only {read} formulas were read");
    }

    /// <summary>Whether two trees say the same, wherever they stood in their texts.</summary>
    private static bool Same(Syntax a, Syntax b)
    {
        if (a.GetType() != b.GetType() || a.Children.Count != b.Children.Count)
            return false;
        var alike = (a, b) switch
        {
            (NumberSyntax x, NumberSyntax y) => x.Value == y.Value && x.Percent == y.Percent && x.Unit?.Text == y.Unit?.Text,
            (NameSyntax x, NameSyntax y) => x.Name == y.Name,
            (UnarySyntax x, UnarySyntax y) => x.Operator == y.Operator,
            (BinarySyntax x, BinarySyntax y) => x.Operator == y.Operator,
            (CallSyntax x, CallSyntax y) => x.Function.Name == y.Function.Name,
            (PerSyntax x, PerSyntax y) => x.Number == y.Number && x.Unit?.Text == y.Unit?.Text,
            _ => true,
        };
        return alike && a.Children.Zip(b.Children).All(pair => Same(pair.First, pair.Second));
    }

    [Theory]
    [InlineData("((a + b) * c)", "(a + b) * c")]
    [InlineData("a - (b - c)", "a - (b - c)")]
    [InlineData("(a - b) - c", "a - b - c")]
    [InlineData("a / (b * c)", "a / (b * c)")]
    [InlineData("(a ^ b) ^ c", "(a ^ b) ^ c")]
    [InlineData("a ^ (b ^ c)", "a ^ b ^ c")]
    [InlineData("-(a ^ 2)", "-a ^ 2")]
    [InlineData("(-a) ^ 2", "(-a) ^ 2")]
    [InlineData("(a + b) per day", "(a + b) per day")]
    [InlineData("1 / (7 days)", "1 / (7 days)")]
    public void Only_the_parentheses_that_are_needed_are_printed(string text, string printed) =>
        Assert.Equal(printed, FormulaText.Of(Formula.Read(text).Tree!));
}
