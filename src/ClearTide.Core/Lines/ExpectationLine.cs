using ClearTide.Core.Language;

namespace ClearTide.Core.Lines;

/// <summary>What an expectation says of its expression along a run.</summary>
public enum Claim
{
    /// <summary>A comparison that is true at all times.</summary>
    Holds,

    /// <summary>It is never below what it was before.</summary>
    NeverFalls,

    /// <summary>It is never above what it was before.</summary>
    NeverRises,

    /// <summary>It keeps the value it starts with.</summary>
    Stays,
}

/// <summary>
/// A statement that can be checked: <c>R + D never falls</c>, <c>the total stays</c>, <c>H &lt;= 40</c>, <c>with beta = 0: S stays</c>.
/// </summary>
/// <param name="With">Values that are set before the run.</param>
/// <param name="Claim">What is said of it.</param>
/// <param name="Tree">What is looked at; null for the sum of all compartments.</param>
public sealed record ExpectationLine(IReadOnlyList<(NameSyntax Name, Syntax Line)> With, Claim Claim, Syntax? Tree)
{
    /// <summary>All formulas in the line.</summary>
    public IEnumerable<Syntax> Trees => With.SelectMany(pair => new[] { pair.Name, pair.Line }).Concat(Tree is null ? [] : [Tree]);

    /// <summary>A line as an expectation, or what is wrong with it.</summary>
    /// <param name="text">The text as typed.</param>
    public static (ExpectationLine? Line, FormulaProblem? Problem) Read(string text) => Parser.Whole(text, Read);

    private static ExpectationLine Read(Parser parser)
    {
        var with = new List<(NameSyntax, Syntax)>();
        if (parser.TryTakeWord("with"))
        {
            do
            {
                var name = parser.Take();
                if (name.Kind != TokenKind.Word)
                    throw parser.Wrong(name.Span, "After “with” comes a value and what it is set to, as in “with beta = 0: S stays”.");
                parser.Expect("=", $"“=” and what {name.Text} is set to are missing");
                with.Add((new(name.Span, name.Text), parser.Line()));
            } while (parser.TryTake(","));
            parser.Expect(":", "“:” and what is expected then are missing");
        }
        var tree = Subject(parser);
        if (parser.TryTakeWord("stays"))
            return new(with, Claim.Stays, tree);
        if (parser.TryTakeWord("never"))
        {
            if (parser.TryTakeWord("falls"))
                return new(with, Claim.NeverFalls, tree);
            if (parser.TryTakeWord("rises"))
                return new(with, Claim.NeverRises, tree);
            throw parser.Wrong(parser.Here.Span, "Write “never falls” or “never rises”.");
        }
        if (IsCondition(tree))
            return new(with, Claim.Holds, tree);
        throw parser.Wrong(
            new(0, parser.Text.Length),
            "Say what it does: “never falls”, “never rises”, “stays”, or a comparison, as in “R + D never falls” or “H <= 40”."
        );
    }

    private static Syntax? Subject(Parser parser)
    {
        if (!parser.TryTakeWord("the"))
            return parser.Expression();
        var word = parser.Take();
        if (word.Text != "total")
            throw parser.Wrong(word.Span, "Write “the total” for the sum of all compartments.");
        return null;
    }

    private static bool IsCondition(Syntax? tree) =>
        tree
            is UnarySyntax { Operator: UnaryOperator.Not }
                or BinarySyntax
                {
                    Operator: BinaryOperator.And
                        or BinaryOperator.Or
                        or BinaryOperator.Less
                        or BinaryOperator.LessOrEqual
                        or BinaryOperator.Greater
                        or BinaryOperator.GreaterOrEqual
                        or BinaryOperator.Equal
                        or BinaryOperator.NotEqual
                };
}
