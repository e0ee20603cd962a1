using ClearTide.Core.Language;
using ClearTide.Core.Sampling;

namespace ClearTide.Core.Lines;

/// <summary>A random input as typed: <c>normal(1, 0.2) every 7 days</c>.</summary>
internal sealed record DrawLine(Distribution Distribution, IReadOnlyList<Syntax> Arguments, Syntax Every)
{
    public static (DrawLine? Line, FormulaProblem? Problem) Read(string text) => Parser.Whole(text, Read);

    /// <summary>Whether a draw begins here: the name of a distribution with its arguments.</summary>
    internal static bool Begins(Parser parser) =>
        parser.Here.Kind == TokenKind.Word && Distribution.Find(parser.Here.Text) is not null && parser.Ahead().Is("(");

    internal static DrawLine Read(Parser parser)
    {
        var name = parser.Take();
        if (Distribution.Find(name.Text) is not { } distribution)
        {
            var near = Symbols.Nearest(name.Text, Distribution.All.Select(known => known.Name));
            TextFix[] fixes = near is null ? [] : [parser.Replace(name.Span, near)];
            throw parser.Wrong(
                name.Span,
                $"A draw begins with its distribution: {string.Join(", ", Distribution.All.Select(known => known.Usage))}.",
                fixes
            );
        }
        parser.Expect("(", $"write {distribution.Usage}");
        var arguments = new List<Syntax>();
        do arguments.Add(parser.Expression());
        while (parser.TryTake(","));
        parser.Expect(")", "a closing parenthesis is missing");
        if (arguments.Count != distribution.Arguments.Count)
        {
            throw parser.Wrong(
                new(name.Span.Start, parser.LastEnd - name.Span.Start),
                $"“{distribution.Name}” is written {distribution.Usage}; {arguments.Count} "
                    + $"{(arguments.Count == 1 ? "number is" : "numbers are")} given."
            );
        }
        if (!parser.TryTakeWord("every"))
        {
            throw parser.Wrong(
                parser.Here.Span,
                "How often is it drawn anew? Add “every” and a time.",
                new TextFix("every day", $"{parser.Text[..parser.LastEnd]} every 1 day{parser.Text[parser.LastEnd..]}")
            );
        }
        return new(distribution, arguments, parser.Interval());
    }
}
