using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Lines;

/// <summary>Response curves as they are typed.</summary>
public static partial class QuickLine
{
    private static QuickCurve CurveItem(Parser parser, string name, string argument)
    {
        if (parser.TryTakeWord("points"))
        {
            var points = PointsLine.Read(parser);
            if (points.After is not null || points.Before != Beyond.Hold)
                throw parser.Wrong(
                    parser.Here.Span,
                    "A response curve holds its value outside its points; “then” is for functions of time."
                );
            return new(
                parser.Text,
                [.. points.Pairs.SelectMany(pair => new[] { pair.X, pair.Y })],
                name,
                CurveLaw.Points,
                points,
                [],
                "",
                ""
            );
        }
        var word = parser.Here;
        CurveLaw? law = word.Text switch
        {
            "linear" => CurveLaw.Linear,
            "exponential" => CurveLaw.Exponential,
            "hill" => CurveLaw.Hill,
            "logistic" => CurveLaw.Logistic,
            _ => null,
        };
        if (law is null)
        {
            throw parser.Wrong(
                word.Kind == TokenKind.End ? new(0, parser.Text.Length) : word.Span,
                "A response curve is “points”, linear(at zero, slope), exponential(at zero, slope), hill(low, high, half, slope) or "
                    + $"logistic(low, high, half, slope). A formula in {argument} is a quantity."
            );
        }
        parser.Take();
        parser.Expect("(", $"the numbers of {word.Text} are missing");
        var lines = new List<(Syntax Tree, string Text)>();
        do lines.Add(parser.Typed(parser.Expression));
        while (parser.TryTake(","));
        parser.Expect(")", "a closing parenthesis is missing");
        var wanted = law is CurveLaw.Linear or CurveLaw.Exponential ? 2 : 4;
        if (lines.Count != wanted)
            throw parser.Wrong(
                new(word.Span.Start, parser.LastEnd - word.Span.Start),
                $"“{word.Text}” takes {wanted} numbers: {(wanted == 2 ? "the value at zero, and the slope" : "low, high, half and slope")}."
            );
        var (from, until) = ("", "");
        if (parser.TryTakeWord("from"))
            from = parser.Typed(() => parser.SignedNumber()).Text;
        if (parser.TryTakeWord("until"))
            until = parser.Typed(() => parser.SignedNumber()).Text;
        return new(
            parser.Text,
            [.. lines.Select(line => line.Tree)],
            name,
            law.Value,
            null,
            [.. lines.Select(line => line.Text)],
            from,
            until
        );
    }
}
