using System.Text.RegularExpressions;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Core.Lines;

/// <summary>
/// What takes the place of an input or a response curve from a time on: <c>from 60: gulls(t) = hold</c>, <c>= trend</c>, <c>= zero</c>,
/// <c>= repeat 365 days</c>, <c>= points 60 0.4, 80 0.2</c>.
/// </summary>
/// <param name="From">When it begins; null where that is a date.</param>
/// <param name="Date">The date on which it begins, or null.</param>
/// <param name="Symbol">Of the input or the curve.</param>
/// <param name="How">Null for points.</param>
/// <param name="Period">What repeats, as typed; null where nothing does.</param>
/// <param name="Points">Null where none are typed.</param>
internal sealed partial record InsteadLine(Syntax? From, DateOnly? Date, string Symbol, Beyond? How, Syntax? Period, PointsLine? Points)
{
    /// <summary>What can stand behind the sign, for what is said of a line that has something else there.</summary>
    public const string Forms = "“hold”, “trend”, “zero”, “repeat 30”, or “points 60 0.4, 80 0.2”";

    [GeneratedRegex(@"^\s*from\s+[^:]+:")]
    private static partial Regex FirstWords();

    /// <summary>Whether a text begins as such a line does.</summary>
    public static bool Begins(string text) => FirstWords().IsMatch(text);

    /// <summary>Reads a line; null and what is wrong where it is none.</summary>
    public static (InsteadLine? Line, FormulaProblem? Problem) Read(string text) => Parser.Whole(text, Read);

    /// <summary>The times in it, as typed.</summary>
    /// <param name="isInput">Whether it is of an input, whose points lie at times.</param>
    public IEnumerable<Syntax?> Times(bool isInput) =>
        [From, Period, .. isInput && Points is { } points ? points.Pairs.Select(pair => pair.X) : []];

    /// <summary>When it begins, in the study's unit of time; null for a date where the study has no date of time zero.</summary>
    public double? Begin(StudyDocument document) =>
        Date is { } date ? document.TimeOf(date) : FormulaBinder.ValueOf(From!, document.UnitTable());

    private static InsteadLine Read(Parser parser)
    {
        parser.ExpectWord("from", "It begins with the time from which it holds, as in “from 60:”");
        var date = EventLine.DateHere(parser);
        var from = date is null ? parser.SignedNumber() : null;
        parser.Expect(":", "Behind the time comes a colon, as in “from 60:”");
        var name = parser.Take();
        if (name.Kind != TokenKind.Word)
            throw parser.Wrong(name.Span, "Name the input or response curve that changes, as in “gulls(t)”.");
        parser.Expect("(", $"Write it as the function it is, as in “{name.Text}(t)”");
        while (parser.Here.Kind != TokenKind.End && parser.Here.Text != ")")
            parser.Take();
        parser.Expect(")", $"Write it as the function it is, as in “{name.Text}(t)”");
        parser.Expect("=", $"Behind “{name.Text}(t)” comes “=” and what it is from then on: {Forms}");
        var word = parser.Take();
        return word.Text switch
        {
            "hold" => new(from, date, name.Text, Beyond.Hold, null, null),
            "trend" => new(from, date, name.Text, Beyond.Trend, null, null),
            "zero" => new(from, date, name.Text, Beyond.Zero, null, null),
            "repeat" => new(from, date, name.Text, Beyond.Repeat, parser.SignedNumber(), null),
            "points" => new(from, date, name.Text, null, null, PointsLine.Read(parser)),
            _ => throw parser.Wrong(word.Span, $"From then on it can be {Forms}."),
        };
    }
}
