using System.Globalization;
using System.Text.RegularExpressions;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Lines;

/// <summary>When an event happens.</summary>
public enum TriggerKind
{
    /// <summary>Once, at a time.</summary>
    At,

    /// <summary>At a time and then again and again.</summary>
    Every,

    /// <summary>Whenever a condition becomes true.</summary>
    When,

    /// <summary>As long as a condition is true; then it is undone.</summary>
    While,
}

/// <summary>What an action of an event does.</summary>
public enum ActionKind
{
    /// <summary>Sets a part to a line.</summary>
    Set,

    /// <summary>Moves an amount from one compartment to another.</summary>
    Move,

    /// <summary>Brings an amount from outside, as a dose does.</summary>
    Bring,

    /// <summary>Takes an amount out.</summary>
    TakeOut,
}

/// <summary>One thing an event does.</summary>
/// <param name="Kind">Set, add, move, bring or take out.</param>
/// <param name="Target">The symbol that is set, that the amount leaves, or that it is brought to.</param>
/// <param name="MoveTo">The symbol an amount moves to, or null.</param>
/// <param name="Line">To what, or how much.</param>
public sealed record EventAction(ActionKind Kind, NameSyntax Target, NameSyntax? MoveTo, Syntax Line)
{
    /// <summary>The duration over which an amount goes evenly; null for at once.</summary>
    public Syntax? Over { get; init; }

    /// <summary>How long after the trigger it begins; null for at the trigger.</summary>
    public Syntax? After { get; init; }

    /// <summary>Members of a split compartment in the order in which they are moved; empty where all share in it.</summary>
    public IReadOnlyList<NameSyntax> First { get; init; } = [];

    internal IEnumerable<Syntax> Trees => new[] { Target, MoveTo, Line, Over, After }.OfType<Syntax>();
}

/// <summary>An event as typed: <c>at 30: S -> V : 400</c>, <c>when I > 100 once: beta = 0.2</c>.</summary>
/// <param name="Kind">At a time, every so often, when or while.</param>
/// <param name="Trigger">The time, the interval or the condition; null where the time is a date, or for a dose at the start.</param>
/// <param name="Date">The date of an event that is tied to the calendar.</param>
/// <param name="From">When a repeated event happens first; null for after one interval.</param>
/// <param name="Until">The last time at which it may repeat; null for ever.</param>
/// <param name="Most">How often it acts at most, as in <c>once</c> or <c>at most 3 times</c>; 0 for as often as it comes.</param>
/// <param name="Actions">In order; at least one.</param>
public sealed partial record EventLine(
    TriggerKind Kind,
    Syntax? Trigger,
    DateOnly? Date,
    Syntax? From,
    Syntax? Until,
    int Most,
    IReadOnlyList<EventAction> Actions
)
{
    [GeneratedRegex(@"^\d{4}-\d{2}-\d{2}(?=\s*:)")]
    private static partial Regex DateShape();

    /// <summary>Where it was said as doses are, what that says; else null.</summary>
    public DoseTerms? Dose { get; init; }

    /// <summary>How long it rests after it has acted, as in <c>at most every 30 days</c>; a condition that still holds then has it act
    /// again. Null where it does not rest.</summary>
    public Syntax? Rest { get; init; }

    /// <summary>All formulas in the line.</summary>
    public IEnumerable<Syntax> Trees =>
        new[] { Trigger, From, Until, Rest }.OfType<Syntax>().Concat(Actions.SelectMany(action => action.Trees)).Concat(Dose?.Trees ?? []);

    /// <summary>A line as an event, or what is wrong with it.</summary>
    /// <param name="text">The text as typed.</param>
    public static (EventLine? Line, FormulaProblem? Problem) Read(string text) => Parser.Whole(text, Read);

    [GeneratedRegex(@"^\s*(?:at|every|when|while)\b")]
    private static partial Regex FirstWord();

    /// <summary>Whether a text begins as an event does.</summary>
    /// <param name="text">The text as typed.</param>
    public static bool Begins(string text) => FirstWord().IsMatch(text) || DoseLine.Begins(text);

    internal static EventLine Read(Parser parser)
    {
        if (DoseLine.Begins(parser.Text))
            return DoseLine.Read(parser);
        if (!FirstWord().IsMatch(parser.Text))
            throw parser.Wrong(
                parser.Here.Span,
                "An event begins with “at”, “every”, “when” or “while”, as in “at 30: S -> V : 400”, or says which doses go where: "
                    + $"“{DoseLine.Example}”."
            );
        var kind = parser.Take().Text switch
        {
            "at" => TriggerKind.At,
            "every" => TriggerKind.Every,
            "when" => TriggerKind.When,
            _ => TriggerKind.While,
        };
        var date = kind == TriggerKind.At ? DateHere(parser) : null;
        var trigger = date is not null
            ? null
            : kind switch
            {
                TriggerKind.At => parser.Line(),
                TriggerKind.Every => parser.Interval(),
                _ => parser.Expression(),
            };
        var from = kind == TriggerKind.Every && parser.TryTakeWord("from") ? parser.Line() : null;
        var until = kind == TriggerKind.Every && parser.TryTakeWord("until") ? parser.Line() : null;
        var oftenAt = parser.Here.Span;
        var (most, rest) = kind == TriggerKind.At ? (0, null) : Often(parser);
        parser.Expect(":", "“:” and what happens are missing, as in “: beta = 0.2” or “: S -> V : 400”");
        var actions = new List<EventAction>();
        do actions.Add(Action(parser));
        while (parser.TryTake(","));
        if (kind == TriggerKind.While && (most > 0 || rest is not null))
            throw parser.Wrong(oftenAt, "“while” holds its change each time the condition is true; “once” and “at most” belong to “when”.");
        if (kind == TriggerKind.Every && rest is not null)
            throw parser.Wrong(oftenAt, "“every” has its interval already. Say “at most 3 times”, or until when.");
        if (kind == TriggerKind.While && actions.FirstOrDefault(action => action.After is not null) is { } late)
            throw parser.Wrong(
                late.After!.Span,
                "“while” holds its change as long as the condition is true; “after” belongs to “at”, “every” and “when”."
            );
        return new(kind, trigger, date, from, until, most, actions) { Rest = rest };
    }

    /// <summary>How often it may act: <c>once</c>, <c>at most 3 times</c>, <c>at most every 30 days</c>, in any order.</summary>
    private static (int Most, Syntax? Pause) Often(Parser parser)
    {
        var (most, rest) = (0, (Syntax?)null);
        while (true)
        {
            if (parser.TryTakeWord("once"))
            {
                most = 1;
                continue;
            }
            if (!parser.TryTakeWord("at"))
                return (most, rest);
            parser.ExpectWord("most", "“at” goes on with “most”: at most 3 times, or at most every 30 days");
            if (parser.TryTakeWord("once"))
            {
                most = 1;
                continue;
            }
            if (parser.TryTakeWord("every"))
            {
                rest = parser.Interval();
                continue;
            }
            var number = parser.Here;
            if (number.Kind != TokenKind.Number || !(number.Value is >= 1 and <= EventAct.Most) || number.Value != Math.Floor(number.Value))
                throw parser.Wrong(
                    number.Span,
                    "After “at most” comes how often, a whole number, or “every” and a time: at most 3 times, at most every 30 days."
                );
            parser.Take();
            if (!parser.TryTakeWord("time"))
                parser.ExpectWord("times", "“times” is missing, as in “at most 3 times”");
            most = (int)number.Value;
        }
    }

    /// <summary>A date is typed without spaces, so that it is not a difference of three numbers.</summary>
    internal static DateOnly? DateHere(Parser parser)
    {
        var match = parser.Here.Kind == TokenKind.Number ? DateShape().Match(parser.Text[parser.Here.Span.Start..]) : Match.Empty;
        if (!match.Success)
            return null;
        var span = new TextSpan(parser.Here.Span.Start, match.Length);
        if (!DateOnly.TryParseExact(match.Value, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var date))
        {
            throw parser.Wrong(span, $"{match.Value} is no day of the calendar. Write year-month-day.");
        }
        while (!parser.Here.Is(":"))
            parser.Take();
        return date;
    }

    private static EventAction Action(Parser parser)
    {
        if (parser.TryTake("->"))
        {
            var to = Name(parser, "Name the compartment that the amount is brought to, as in “-> G : 200 mg”.");
            return Timed(parser, new(ActionKind.Bring, to, null, Amount(parser)));
        }
        var target = Name(parser, "An action begins with the part it changes, as in “beta = 0.2”, “S -> V : 400” or “-> G : 200 mg”.");
        if (parser.TryTake("->"))
        {
            if (parser.Here.Is(":"))
                return Timed(parser, new(ActionKind.TakeOut, target, null, Amount(parser)));
            var to = Name(parser, "Name the compartment that receives the amount.");
            return Timed(parser, new(ActionKind.Move, target, to, Amount(parser)));
        }
        parser.Expect("=", $"after “{target.Name}” comes “=” and its new value, or “->” and a compartment");
        return Timed(parser, new(ActionKind.Set, target, null, parser.Line()));
    }

    private static Syntax Amount(Parser parser)
    {
        parser.Expect(":", "“:” and the amount that moves are missing");
        return parser.Line();
    }

    /// <summary>What may stand behind an action: <c>over 30 minutes</c>, <c>after 2 days</c>, in either order.</summary>
    private static EventAction Timed(Parser parser, EventAction action)
    {
        while (parser.Here.IsWord("over") || parser.Here.IsWord("after") || parser.Here.IsWord("first"))
        {
            var word = parser.Take();
            if (word.Text == "first")
            {
                action = action with { First = Order(parser, word) };
                continue;
            }
            if (word.Text == "over" && action.Kind == ActionKind.Set)
                throw parser.Wrong(
                    word.Span,
                    "“over” spreads an amount that moves; a value is set at once. Give the amount as “-> G : 200 mg over 30 minutes”."
                );
            if ((word.Text == "over" ? action.Over : action.After) is not null)
                throw parser.Wrong(word.Span, $"“{word.Text}” stands twice here. Leave one of them out.");
            action = word.Text == "over" ? action with { Over = parser.Interval() } : action with { After = parser.Interval() };
        }
        return action;
    }

    /// <summary><c>first old then adult</c>: who is moved before whom.</summary>
    private static List<NameSyntax> Order(Parser parser, Token word)
    {
        var order = new List<NameSyntax>();
        do
        {
            var member = Name(parser, "After “first” come members of a group, as in “first old then adult”.");
            if (order.Any(one => one.Name == member.Name))
                throw parser.Wrong(member.Span, $"{member.Name} stands twice in this order. Leave one of them out.");
            order.Add(member);
        } while (parser.TryTakeWord("then"));
        return order;
    }

    private static NameSyntax Name(Parser parser, string otherwise)
    {
        if (parser.Here.Kind != TokenKind.Word || Symbols.Reserved.Contains(parser.Here.Text))
            throw parser.Wrong(parser.Here.Span, otherwise);
        return parser.Indexed(parser.Take());
    }
}
