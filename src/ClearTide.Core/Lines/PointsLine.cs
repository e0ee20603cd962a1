using System.Collections.Immutable;
using System.Globalization;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Core.Lines;

/// <summary>A table typed in a line: <c>points 0 0, 30 100, 60 0 smooth then repeat 365 days</c>. The word <c>points</c> has been
/// taken.</summary>
/// <param name="Pairs">Both numbers of each point as typed, so that units can be read with the study's.</param>
/// <param name="Between">What the table is between two points.</param>
/// <param name="Before">What it is before the first point.</param>
/// <param name="After">How it goes on after the last point, or null where nothing is said.</param>
/// <param name="Period">With which it repeats, as typed; empty for the usual one.</param>
internal sealed record PointsLine(IReadOnlyList<(Syntax X, Syntax Y)> Pairs, Between Between, Beyond Before, Beyond? After, string Period)
{
    /// <summary>Words that may follow the points.</summary>
    private static readonly HashSet<string> Words = ["line", "step", "smooth", "then", "before"];

    internal static PointsLine Read(Parser parser)
    {
        var pairs = new List<(Syntax, Syntax)>();
        do
        {
            pairs.Add((parser.SignedNumber(), parser.SignedNumber(Words)));
            if (pairs.Count > Input.MostPoints)
                throw parser.Wrong(parser.Here.Span, $"A table has at most {Input.MostPoints:N0} points.");
        } while (parser.TryTake(","));
        var (between, before, after, period) = (Between.Line, Beyond.Hold, (Beyond?)null, "");
        while (parser.Here.Kind == TokenKind.Word)
        {
            var word = parser.Take();
            switch (word.Text)
            {
                case "line":
                    between = Between.Line;
                    break;
                case "step":
                    between = Between.Step;
                    break;
                case "smooth":
                    between = Between.Smooth;
                    break;
                case "before":
                    before = ReadBeyond(parser, ref period);
                    break;
                case "then":
                    after = ReadBeyond(parser, ref period);
                    break;
                default:
                    throw parser.Wrong(
                        word.Span,
                        $"“{word.Text}” says nothing here. After the points may stand line, step or smooth, and “then hold”, “then "
                            + "trend”, “then repeat” or “then zero”."
                    );
            }
        }
        return new(pairs, between, before, after, period);
    }

    private static Beyond ReadBeyond(Parser parser, ref string period)
    {
        var word = parser.Take();
        switch (word.Text)
        {
            case "hold":
                return Beyond.Hold;
            case "trend":
                return Beyond.Trend;
            case "zero":
                return Beyond.Zero;
            case "repeat":
                if (parser.Here.Kind == TokenKind.Number)
                    period = parser.Typed(() => parser.SignedNumber(Words)).Text;
                return Beyond.Repeat;
            default:
                throw parser.Wrong(
                    word.Span,
                    "Beyond the points a table can hold, continue its trend, repeat, or be zero: write “hold”, “trend”, “repeat” or “zero”."
                );
        }
    }

    /// <summary>The points in the study's units, or what is wrong with them.</summary>
    public static (ImmutableArray<CurvePoint> Points, string? Problem) Values(
        IReadOnlyList<(Syntax X, Syntax Y)> pairs,
        Units.UnitTable units
    )
    {
        var points = pairs
            .Select(pair => new CurvePoint(FormulaBinder.ValueOf(pair.X, units), FormulaBinder.ValueOf(pair.Y, units)))
            .ToImmutableArray();
        return (points, PointTables.Problem(points));
    }

    /// <summary>A table as it is typed.</summary>
    public static string Write(ImmutableArray<CurvePoint> points, Between between, Beyond before, Beyond? after, string period)
    {
        string Word(Beyond beyond) =>
            beyond == Beyond.Repeat && period.Length > 0 ? $"repeat {period}" : beyond.ToString().ToLowerInvariant();
        var text =
            "points " + string.Join(", ", points.Select(point => string.Create(CultureInfo.InvariantCulture, $"{point.X:R} {point.Y:R}")));
        if (between != Between.Line)
            text += " " + between.ToString().ToLowerInvariant();
        if (before != Beyond.Hold)
            text += " before " + Word(before);
        return after is null ? text : text + " then " + Word(after.Value);
    }
}
