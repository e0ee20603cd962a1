using ClearTide.Core.Language;

namespace ClearTide.Core.Lines;

/// <summary>So many of a compartment, on one side of a reaction.</summary>
/// <param name="Name">The compartment.</param>
/// <param name="Count">How many for each unit of the reaction; null for one.</param>
public sealed record ReactionEnd(NameSyntax Name, Syntax? Count)
{
    /// <summary>The count as a whole number, or null where it is a formula or not whole.</summary>
    public int? Whole =>
        Count switch
        {
            null => 1,
            NumberSyntax { Unit: null, Value: >= 1 and <= ReactionLine.MostOfOne } number when number.Value == Math.Floor(number.Value) =>
                (int)number.Value,
            _ => null,
        };
}

/// <summary>A reaction as typed: <c>A + 2 B -> (n) C : k * A * B</c>; counts are numbers, or formulas in parentheses, and either side may
/// be empty.</summary>
/// <param name="Takes">What it uses up, with counts.</param>
/// <param name="Makes">What it makes, with counts.</param>
/// <param name="Rate">Its rate as a formula.</param>
/// <param name="RateText">Its rate as typed.</param>
public sealed record ReactionLine(IReadOnlyList<ReactionEnd> Takes, IReadOnlyList<ReactionEnd> Makes, Syntax Rate, string RateText)
{
    /// <summary>How many of one thing a reaction takes or makes at most.</summary>
    public const int MostEnds = 100;

    /// <summary>Larger counts are read as numbers that are no count of things.</summary>
    public const int MostOfOne = 1_000_000;

    /// <summary>What it takes, then what it makes.</summary>
    public IEnumerable<ReactionEnd> Ends => Takes.Concat(Makes);

    /// <summary>All that holds names: the compartments, the counts that are formulas, and the rate.</summary>
    public IEnumerable<Syntax> Trees => Ends.SelectMany(end => new[] { end.Name, end.Count }.OfType<Syntax>()).Append(Rate);

    /// <summary>The same reaction at another rate, which stands last.</summary>
    /// <param name="text">The whole line as typed.</param>
    /// <param name="rate">The new rate.</param>
    public string With(string text, string rate) => text.TrimEnd()[..^RateText.Length] + rate;

    /// <summary>A line as a reaction, or what is wrong with it.</summary>
    /// <param name="text">The text as typed.</param>
    public static (ReactionLine? Line, FormulaProblem? Problem) Read(string text) => Parser.Whole(text, Read);

    internal static ReactionLine Read(Parser parser)
    {
        var takes = Side(parser);
        parser.Expect("->", "an arrow and what it makes are missing, as in “A + B -> C : k * A * B”");
        var makes = Side(parser);
        if (takes.Count + makes.Count == 0)
            throw parser.Wrong(parser.Here.Span, "A reaction takes or makes something: name a compartment on one side of the arrow.");
        if (takes.Count + makes.Count > MostEnds)
            throw parser.Wrong(parser.Here.Span, $"A reaction takes and makes at most {MostEnds} things.");
        parser.Expect(":", "“:” and the rate are missing, as in “: k * A * B”");
        var (rate, text) = parser.Typed(parser.Line);
        return new(takes, makes, rate, text);
    }

    private static List<ReactionEnd> Side(Parser parser)
    {
        var ends = new List<ReactionEnd>();
        if (parser.Here.Is("->") || parser.Here.Is(":") || parser.Here.Kind == TokenKind.End)
            return ends;
        do ends.Add(End(parser));
        while (parser.TryTake("+"));
        return ends;
    }

    private static ReactionEnd End(Parser parser)
    {
        Syntax? count = null;
        if (parser.Here.Kind == TokenKind.Number)
        {
            var number = parser.Take();
            count = new NumberSyntax(number.Span, number.Value, number.Text, false, null);
        }
        else if (parser.TryTake("("))
        {
            count = parser.Line();
            parser.Expect(")", "a closing parenthesis is missing behind the count");
        }
        if (parser.Here.Kind != TokenKind.Word)
            throw parser.Wrong(
                parser.Here.Span,
                "Name a compartment here, with a number before it where it is more than one, as in “A + 2 B -> C”."
            );
        var name = parser.Take();
        return new(new(name.Span, name.Text), count);
    }
}
