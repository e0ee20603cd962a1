using ClearTide.Core.Formulas;

namespace ClearTide.Core.Models;

/// <summary>One item of the quick line.</summary>
public abstract record QuickItem;

/// <summary><c>S -> E : beta * S * I / N</c>; a missing end is the outside.</summary>
public sealed record QuickFlow(string? From, string? To, RateKind Kind, string Line, Syntax Tree) : QuickItem;

/// <summary><c>S(0) = 18388</c> or <c>S(0) = the rest of 18400</c>.</summary>
public sealed record QuickStart(string Symbol, string Line) : QuickItem;

/// <summary><c>gamma = 1/5 per day</c>.</summary>
public sealed record QuickDefinition(string Symbol, string Line) : QuickItem;

/// <summary>Reads the quick line: items separated by semicolons or new lines.</summary>
public static class QuickLine
{
    public const int LongestText = 40_000;

    /// <summary>The items, or the first problem with its place in the whole text.</summary>
    public static (IReadOnlyList<QuickItem> Items, FormulaProblem? Problem) Read(string text)
    {
        if (text.Length > LongestText)
        {
            return ([], new(new(LongestText, text.Length - LongestText), $"This is {text.Length:N0} characters long; at most {LongestText:N0} are read at once. Add the model in pieces."));
        }
        var items = new List<QuickItem>();
        var start = 0;
        while (start <= text.Length)
        {
            var end = text.IndexOfAny([';', '\n'], start);
            if (end < 0) end = text.Length;
            var piece = text[start..end];
            if (piece.Trim().Length > 0)
            {
                try
                {
                    items.Add(Item(piece));
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

    private static FormulaProblem Move(FormulaProblem problem, string text, int start, int end) => new(
        problem.Span with { Start = problem.Span.Start + start }, problem.Message,
        [.. problem.Fixes.Select(fix => fix with { Replacement = text[..start] + fix.Replacement + text[end..] })]);

    private static QuickItem Item(string text)
    {
        var parser = new Parser(text, Lexer.Read(text));
        string? name = null;
        var first = parser.Here;
        if (first.Kind == TokenKind.Word)
        {
            name = parser.Take().Text;
            if (Symbols.Refusal(name) is { } refusal) throw parser.Wrong(first.Span, refusal);
        }
        if (parser.TryTake("->")) return FlowItem(parser, name);
        if (name is null) throw parser.Wrong(first.Span, "Begin with a name: “S -> I : ...” adds a flow, “gamma = 1/5 per day” a value, “S(0) = 100” an initial amount.");
        if (parser.TryTake("("))
        {
            var zero = parser.Here;
            if (zero.Kind != TokenKind.Number || zero.Value != 0) throw parser.Wrong(zero.Span, $"An initial amount is written {name}(0) = ...");
            parser.Take();
            parser.Expect(")", "a closing parenthesis is missing");
            parser.Expect("=", "“=” and the initial amount are missing");
            var line = Rest(parser);
            if (StartLine.Read(line).Formula.Problem is { } problem) throw Shifted(parser, line, problem);
            return new QuickStart(name, line);
        }
        if (!parser.TryTake("="))
        {
            throw parser.Wrong(parser.Here.Span, $"After “{name}” comes “=”, “->” or “(0) =”.",
                new TextFix($"Define {name}", $"{name} = {text[parser.Here.Span.Start..].Trim()}"));
        }
        var definition = Rest(parser);
        if (definition.Length == 0) throw parser.Wrong(parser.Here.Span, $"What is {name}? Type a number or a formula after “=”.");
        // A start may also be written “S = the rest of 18400”, which no definition can.
        var read = StartLine.Read(definition);
        if (read.Formula.Problem is { } slip) throw Shifted(parser, definition, slip);
        return read.TheRest ? new QuickStart(name, definition) : new QuickDefinition(name, definition);
    }

    private static QuickFlow FlowItem(Parser parser, string? from)
    {
        string? to = null;
        if (parser.Here.Kind == TokenKind.Word && !parser.Here.IsWord("at") && !parser.Here.IsWord("after"))
        {
            var end = parser.Take();
            if (Symbols.Refusal(end.Text) is { } refusal) throw parser.Wrong(end.Span, refusal);
            to = end.Text;
        }
        if (from is null && to is null) throw parser.Wrong(parser.Here.Span, "A flow needs a compartment at one end at least, as in “-> S : 10” or “S -> : 10”.");
        if (from == to) throw parser.Wrong(parser.Here.Span, $"A flow from {from} to itself moves nothing. Name another compartment as its end.");
        RateKind kind;
        if (parser.TryTake(":")) kind = RateKind.Whole;
        else if (parser.Here.IsWord("at")) kind = RateKind.PerHead;
        else if (parser.Here.IsWord("after")) kind = RateKind.MeanStay;
        else throw parser.Wrong(parser.Here.Span, "How fast? Add “: formula”, “at” a rate per head, or “after” a mean stay, as in “after 5 days”.");
        if (kind != RateKind.Whole) parser.Take();
        if (from is null && kind != RateKind.Whole)
        {
            throw parser.Wrong(parser.Here.Span, $"“{RateLine.Word(kind)}” is per head of the compartment the flow leaves, and this one comes from outside. Write “: formula” instead.");
        }
        var line = Rest(parser);
        var formula = Formula.Read(line);
        if (formula.Problem is { } problem) throw Shifted(parser, line, problem);
        return new(from, to, kind, line, formula.Tree!);
    }

    private static string Rest(Parser parser) => parser.Text[parser.Here.Span.Start..].Trim();

    private static FormulaException Shifted(Parser parser, string line, FormulaProblem problem)
    {
        var start = parser.Here.Kind == TokenKind.End ? parser.Text.Length : parser.Here.Span.Start;
        return new(Move(problem, parser.Text, start, Math.Min(parser.Text.Length, start + line.Length)));
    }
}
