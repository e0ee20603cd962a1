using ClearTide.Core.Language;
using ClearTide.Core.Units;

namespace ClearTide.Core.Lines;

/// <summary>Reads the quick line: items separated by semicolons or new lines.</summary>
public static partial class QuickLine
{
    /// <summary>Characters of a typed or pasted model at most.</summary>
    public const int LongestText = 200_000;

    /// <summary>The items, or the first problem with its place in the whole text.</summary>
    /// <param name="text">The text as typed.</param>
    public static (IReadOnlyList<(QuickItem Item, int Start)> Items, FormulaProblem? Problem) Read(string text)
    {
        if (text.Length > LongestText)
        {
            return (
                [],
                new(
                    new(LongestText, text.Length - LongestText),
                    $"This is {text.Length:N0} characters long; at most {LongestText:N0} are read at once. Add the model in pieces."
                )
            );
        }
        var items = new List<(QuickItem, int)>();
        var start = 0;
        while (start <= text.Length)
        {
            var end = text.IndexOfAny([';', '\n'], start);
            if (end < 0)
                end = text.Length;
            var piece = text[start..end];
            if (piece.Trim().Length > 0)
            {
                try
                {
                    items.Add((Item(piece), start));
                }
                catch (FormulaException wrong)
                {
                    return (items, Move(wrong.Problem, text, start, end));
                }
            }
            start = end + 1;
        }
        return (items, null);
    }

    /// <summary>A problem of one item as a problem of the whole text.</summary>
    internal static FormulaProblem Move(FormulaProblem problem, string text, int start, int end) =>
        new(
            problem.Span with
            {
                Start = problem.Span.Start + start,
            },
            problem.Message,
            [.. problem.Fixes.Select(fix => fix with { Replacement = text[..start] + fix.Replacement + text[end..] })]
        );

    private static QuickItem Item(string text)
    {
        if (Statement(text) is { } statement)
            return statement;
        var parser = new Parser(text, Lexer.Read(text));
        if (EventLine.Begins(text))
        {
            var line = EventLine.Read(parser);
            parser.ExpectEnd();
            return new QuickEvent(text, [.. line.Trees]);
        }
        if (parser.Here.IsWord("unit") && parser.Ahead().Kind == TokenKind.Word)
            return UnitItem(parser);
        if (parser.Here.IsWord("next") && parser.Ahead().Kind == TokenKind.Word)
            return NextItem(parser);
        if (parser.Here.IsWord("reaction") && parser.Ahead().Kind == TokenKind.Word)
            return ReactionItem(parser);
        if (GroupItem(parser) is { } group)
            return group;
        string? name = null;
        var first = parser.Here;
        if (first.Kind == TokenKind.Word)
        {
            var word = parser.Take();
            if (word.Text != "outside" && Symbols.Refusal(word.Text) is { } refusal)
                throw parser.Wrong(first.Span, refusal);
            name = parser.Indexed(word).Name;
        }
        var item = parser.TryTake("->") ? FlowItem(parser, name == "outside" ? null : name) : NamedItem(parser, name, first);
        parser.ExpectEnd();
        return item;
    }

    /// <summary>Assumptions and expectations hold ordinary words, which are not formulas.</summary>
    private static QuickStatement? Statement(string text)
    {
        foreach (var (word, expected) in new[] { ("assume", false), ("expect", true) })
        {
            var trimmed = text.TrimStart();
            if (!trimmed.StartsWith(word, StringComparison.Ordinal) || !trimmed[word.Length..].TrimStart().StartsWith(':'))
                continue;
            var said = trimmed[(trimmed.IndexOf(':', StringComparison.Ordinal) + 1)..].Trim();
            var span = new TextSpan(0, text.Length);
            if (said.Length == 0)
                throw new FormulaException(
                    new(
                        span,
                        expected
                            ? "Expect what? For instance “expect: R never falls”."
                            : "Assume what? For instance “assume: immunity lasts”."
                    )
                );
            if (expected && ExpectationLine.Read(said).Problem is { } problem)
            {
                var at = text.IndexOf(said, StringComparison.Ordinal);
                throw new FormulaException(Move(problem, text, at, at + said.Length));
            }
            return new(text, expected, said);
        }
        return null;
    }

    private static QuickUnit UnitItem(Parser parser)
    {
        parser.Take();
        var word = parser.Take();
        if (UnitTable.Refusal(word.Text) is { } refusal)
            throw parser.Wrong(word.Span, refusal);
        var meaning = parser.TryTake("=") ? parser.Text[(parser.LastEnd)..].Trim() : "";
        if (meaning.Length > 0 && UnitReader.ReadScaled(meaning).Problem is { } problem)
            throw parser.Wrong(parser.Here.Span, problem.Message);
        if (meaning.Length == 0)
            parser.ExpectEnd();
        return new(parser.Text, new(word.Text, meaning));
    }

    /// <summary>A compartment's next value in discrete steps: <c>next N = 1.2 * N</c>.</summary>
    private static QuickNext NextItem(Parser parser)
    {
        parser.Take();
        var name = parser.Take();
        if (Symbols.Refusal(name.Text) is { } refusal)
            throw parser.Wrong(name.Span, refusal);
        parser.Expect("=", $"“=” and the next value of {name.Text} are missing, as in “next {name.Text} = 1.2 * {name.Text}”");
        var (tree, line) = parser.Typed(parser.Line);
        parser.ExpectEnd();
        return new(parser.Text, [tree], name.Text, line);
    }

    private static QuickReaction ReactionItem(Parser parser)
    {
        parser.Take();
        var name = parser.Take();
        if (Symbols.Refusal(name.Text) is { } refusal)
            throw parser.Wrong(name.Span, refusal);
        parser.Expect(":", $"“:” and what {name.Text} takes and makes are missing, as in “reaction {name.Text}: A + B -> C : k * A * B”");
        var (line, typed) = parser.Typed(() => ReactionLine.Read(parser));
        parser.ExpectEnd();
        foreach (var end in line.Ends)
        {
            if (Symbols.Refusal(end.Name.Name) is { } wrong)
                throw parser.Wrong(end.Name.Span, wrong);
        }
        return new(parser.Text, [.. line.Trees], name.Text, typed, [.. line.Ends.Select(end => end.Name.Name).Distinct()]);
    }

    private static QuickItem NamedItem(Parser parser, string? name, Token first)
    {
        if (name is null)
            throw parser.Wrong(
                first.Span,
                "Begin with a name: “S -> I : ...” adds a flow, “gamma = 0.2” a value, “S(0) = 100” an initial amount."
            );
        string? argument = null;
        if (parser.TryTake("("))
        {
            var inside = parser.Take();
            argument = inside.Text;
            if (inside.Kind is not (TokenKind.Word or TokenKind.Number))
                throw parser.Wrong(inside.Span, $"An initial amount is written {name}(0) = ..., a response curve {name}(x) = ...");
            parser.Expect(")", "a closing parenthesis is missing");
            if (inside.Kind == TokenKind.Number && inside.Value != 0)
                throw parser.Wrong(inside.Span, $"An initial amount is written {name}(0) = ...");
            parser.Expect(
                "=",
                inside.Kind == TokenKind.Number ? "“=” and the initial amount are missing" : "“=” and the curve are missing"
            );
        }
        else if (!parser.TryTake("="))
        {
            throw parser.Wrong(
                parser.Here.Span,
                $"After “{name}” comes “=”, “->” or “(0) =”.",
                new TextFix($"Define {name}", $"{name} = {parser.Text[parser.Here.Span.Start..].Trim()}")
            );
        }
        var isCurve = argument is not null && argument != "t" && argument != "0" && !argument.All(c => c is '0' or '.');
        if (isCurve)
            return CurveItem(parser, name, argument!);
        if (parser.TryTakeWord("points"))
        {
            var points = PointsLine.Read(parser);
            return new QuickInput(parser.Text, [.. points.Pairs.SelectMany(pair => new[] { pair.X, pair.Y })], name, points);
        }
        if (argument == "t")
            throw parser.Wrong(
                parser.Here.Span,
                $"A function of time is a table of points: {name}(t) = points 0 5, 30 8. A formula in time is a quantity: {name} = ..."
            );
        if (parser.Here.IsWord("table") && parser.Ahead().Kind is TokenKind.Number)
            return TableItem(parser, name);
        if (DrawLine.Begins(parser))
        {
            var (draw, typed) = parser.Typed(() => DrawLine.Read(parser));
            return new QuickRandom(parser.Text, [.. draw.Arguments, draw.Every], name, typed);
        }
        return LineItem(parser, name, isStart: argument is not null);
    }

    private static QuickItem LineItem(Parser parser, string name, bool isStart)
    {
        if (parser.Here.Kind == TokenKind.End)
            throw parser.Wrong(parser.Here.Span, $"What is {name}? Type a number or a formula after “=”.");
        var (tree, line) = parser.Typed(() =>
        {
            if (parser.Here.IsWord("at") && parser.Ahead().IsWord("equilibrium"))
            {
                parser.Take();
                var word = parser.Take();
                return (Tree: parser.TryTakeWord("near") ? parser.Line() : new NumberSyntax(word.Span, 1, "1", false, null), IsStart: true);
            }
            if (!parser.TryTakeWord("the"))
                return (Tree: parser.Line(), IsStart: false);
            if (!parser.TryTakeWord("rest") || !parser.TryTakeWord("of"))
                throw parser.Wrong(parser.Here.Span, $"Write “{name}(0) = the rest of” and a total.");
            return (Tree: parser.Line(), IsStart: true);
        });
        // A start may also be written “S = the rest of 18400” or “S = at equilibrium”, which no definition can.
        return isStart || tree.IsStart
            ? new QuickStart(parser.Text, [tree.Tree], name, line)
            : new QuickDefinition(parser.Text, [tree.Tree], name, line);
    }
}
