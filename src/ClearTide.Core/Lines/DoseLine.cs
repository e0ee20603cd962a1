using System.Text.RegularExpressions;
using ClearTide.Core.Language;

namespace ClearTide.Core.Lines;

/// <summary>What a dose line says beside its amounts and its interval.</summary>
/// <param name="For">For how long doses are given; the last one lies before its end. Null where nothing is said.</param>
/// <param name="Times">How many doses are given; null where nothing is said.</param>
/// <param name="First">The amount of the first dose, where it is another one.</param>
/// <param name="FirstFactor">By what the first dose is larger than the others.</param>
public sealed record DoseTerms(Syntax? For, Syntax? Times, Syntax? First, double FirstFactor)
{
    internal IEnumerable<Syntax> Trees => new[] { For, Times, First }.OfType<Syntax>();
}

/// <summary>Doses as they are said: <c>200 mg into gut every 12 hours for 7 days, first dose doubled</c>.</summary>
internal static partial class DoseLine
{
    public const string Example = "200 mg into gut every 12 hours for 7 days, first dose doubled";

    [GeneratedRegex(@"^(?:give\s)?[^=:;>]*[^=:;>\s]\s+into\s+\p{L}")]
    private static partial Regex Shape();

    /// <summary>Whether a text reads as doses do: an amount, “into” and a name, before any sign that makes it another line.</summary>
    public static bool Begins(string text) => Shape().IsMatch(text.TrimStart());

    public static EventLine Read(Parser parser)
    {
        parser.TryTakeWord("give");
        var amount = parser.Line();
        parser.ExpectWord("into", $"after the amount comes “into” and a compartment, as in “{Example}”");
        var target = parser.Here;
        if (target.Kind != TokenKind.Word || Symbols.Reserved.Contains(target.Text))
            throw parser.Wrong(target.Span, $"Name the compartment that the doses go into, as in “{Example}”.");
        parser.Take();
        var action = new EventAction(ActionKind.Bring, new(target.Span, target.Text), null, amount);
        Syntax? at = null,
            every = null,
            from = null,
            until = null,
            span = null,
            times = null,
            first = null;
        var factor = double.NaN;
        while (parser.Here.Kind != TokenKind.End)
        {
            parser.TryTake(",");
            var word = parser.Here;
            void Once(Syntax? known)
            {
                if (known is not null)
                    throw parser.Wrong(word.Span, $"“{word.Text}” stands twice here. Leave one of them out.");
            }
            if (parser.TryTakeWord("at"))
            {
                Once(at);
                at = parser.Line();
            }
            else if (parser.TryTakeWord("every"))
            {
                Once(every);
                every = parser.Interval();
            }
            else if (parser.TryTakeWord("from"))
            {
                Once(from);
                from = parser.Line();
            }
            else if (parser.TryTakeWord("until"))
            {
                Once(until);
                until = parser.Line();
            }
            else if (parser.TryTakeWord("for"))
            {
                Once(span);
                span = parser.Interval();
            }
            else if (parser.TryTakeWord("over"))
            {
                Once(action.Over);
                action = action with { Over = parser.Interval() };
            }
            else if (parser.TryTakeWord("after"))
            {
                Once(action.After);
                action = action with { After = parser.Interval() };
            }
            else if (parser.TryTakeWord("first"))
            {
                if (first is not null || !double.IsNaN(factor))
                    throw parser.Wrong(word.Span, "“first dose” stands twice here. Leave one of them out.");
                (first, factor) = First(parser);
            }
            else if (word.Kind == TokenKind.Number && parser.Ahead().IsWord("times"))
            {
                Once(times);
                parser.Take();
                parser.Take();
                times = new NumberSyntax(word.Span, word.Value, word.Text, false, null);
                if (word.Value < 1 || word.Value != Math.Floor(word.Value))
                    throw parser.Wrong(word.Span, "Doses are given a whole number of times, as in “every 12 hours 14 times”.");
            }
            else
            {
                throw parser.Wrong(
                    word.Span,
                    "Here may stand “at 3 hours”, “every 12 hours”, “from 24”, “for 7 days”, “until 96”, “14 times”, “over 30 minutes”, "
                        + "“after 20 minutes” or “first dose doubled”."
                );
            }
        }
        Require(parser, every, ("at", at), ("from", from), ("until", until), ("for", span), ("14 times", times));
        if (every is null && !double.IsNaN(factor))
            throw parser.Wrong(amount.Span, "“first dose” belongs to doses that are repeated. Say how often: “every 12 hours”.");
        return new(every is null ? TriggerKind.At : TriggerKind.Every, every ?? at, null, from, until, 0, [action])
        {
            Dose = new(span, times, first, double.IsNaN(factor) ? 1 : factor),
        };
    }

    /// <summary>What may stand together: an end only where doses are repeated, and one end only.</summary>
    private static void Require(Parser parser, Syntax? every, params (string Word, Syntax? Said)[] said)
    {
        var there = said.Where(one => one.Said is not null).ToList();
        if (every is null && there.Find(one => one.Word != "at") is { Said: { } alone, Word: var word })
            throw parser.Wrong(alone.Span, $"“{word}” belongs to doses that are repeated. Say how often: “every 12 hours”.");
        if (every is not null && there.Find(one => one.Word == "at") is { Said: { } time })
            throw parser.Wrong(
                time.Span,
                "“at” is the time of a single dose; repeated ones begin “from” a time, as in “every 12 hours from 24”."
            );
        var ends = there.Where(one => one.Word is "until" or "for" or "14 times").ToList();
        if (ends.Count > 1)
            throw parser.Wrong(ends[1].Said!.Span, $"“{ends[0].Word}” says already when the doses end. Leave one of the two out.");
    }

    /// <summary>An amount of its own, or by what it is larger than the others.</summary>
    private static (Syntax? Amount, double Factor) First(Parser parser)
    {
        parser.ExpectWord("dose", "after “first” comes “dose”, as in “first dose doubled”");
        if (parser.TryTakeWord("doubled"))
            return (null, 2);
        return parser.TryTakeWord("halved") ? (null, 0.5) : (parser.Line(), 1);
    }
}
