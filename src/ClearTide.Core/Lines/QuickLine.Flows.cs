using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Lines;

/// <summary>Flows as they are typed.</summary>
public static partial class QuickLine
{
    private static QuickFlow FlowItem(Parser parser, string? from)
    {
        var trees = new List<Syntax>();
        var targets = new List<QuickTarget>();
        do
        {
            if (parser.Here.Kind != TokenKind.Word || parser.Here.Text is "at" or "after")
                break;
            targets.Add(TargetHere(parser, trees));
        } while (parser.TryTake(","));
        if (targets.Count == 0)
            targets.Add(new(null, ""));
        if (targets.Count > Flow.MostTargets)
            throw parser.Wrong(parser.Here.Span, $"A flow leads to at most {Flow.MostTargets} ends.");
        if (from is null && targets.All(target => target.Symbol is null))
            throw parser.Wrong(parser.Here.Span, "A flow needs a compartment at one end at least, as in “-> S : 10” or “S -> : 10”.");
        if (targets.Any(target => target.Symbol is not null && target.Symbol == from))
            throw parser.Wrong(parser.Here.Span, $"A flow from {from} to itself moves nothing. Name another compartment as its end.");
        if (targets.GroupBy(target => target.Symbol).FirstOrDefault(group => group.Count() > 1) is { } twice)
            throw parser.Wrong(
                parser.Here.Span,
                $"{twice.Key ?? "The outside"} stands twice among the ends of this flow. Add the two shares up."
            );
        RateKind kind;
        if (parser.TryTake(":"))
            kind = RateKind.Whole;
        else if (parser.Here.IsWord("at"))
            kind = RateKind.PerHead;
        else if (parser.Here.IsWord("after"))
            kind = RateKind.MeanStay;
        else
            throw parser.Wrong(
                parser.Here.Span,
                "How fast? Add “: formula”, “at” a rate per head, or “after” a mean stay, as in “after 5”."
            );
        if (kind != RateKind.Whole)
            parser.Take();
        if (from is null && kind != RateKind.Whole)
        {
            throw parser.Wrong(
                parser.Here.Span,
                $"“{RateLine.Word(kind)}” is per head of the compartment the flow leaves, and this one comes from outside. Write “: "
                    + "formula” instead."
            );
        }
        var (tree, line) = parser.Typed(parser.Line);
        trees.Add(tree);
        var (stages, limited, noise) = Endings(parser, kind, from);
        return new(parser.Text, trees, from, targets, kind, line, tree, stages, limited, noise);
    }

    private static QuickTarget TargetHere(Parser parser, List<Syntax> trees)
    {
        var end = parser.Take();
        if (end.Text != "outside" && Symbols.Refusal(end.Text) is { } refusal)
            throw parser.Wrong(end.Span, refusal);
        var symbol = end.Text == "outside" ? null : parser.Indexed(end).Name;
        if (parser.TryTakeWord("the"))
        {
            if (!parser.TryTakeWord("rest"))
                throw parser.Wrong(parser.Here.Span, "Write “the rest”, or a share like 2%.");
            return new(symbol, "");
        }
        if (
            parser.Here.Is(",")
            || parser.Here.Is(":")
            || parser.Here.Kind == TokenKind.End
            || parser.Here.IsWord("at")
            || parser.Here.IsWord("after")
        )
            return new(symbol, "");
        var (tree, text) = parser.Typed(parser.Expression);
        trees.Add(tree);
        return new(symbol, text);
    }

    /// <summary>What may stand after a rate: <c>in 3 stages</c>, <c>limited</c>, and behind a comma <c>noise 0.2</c>.</summary>
    private static (int Stages, bool Limited, string Noise) Endings(Parser parser, RateKind kind, string? from)
    {
        var (stages, limited, noise) = (1, false, "");
        while (parser.Here.IsWord("in") || parser.Here.IsWord("limited") || (parser.Here.Is(",") && parser.Ahead().IsWord("noise")))
        {
            var word = parser.Take();
            if (word.Text == ",")
            {
                parser.Take();
                var size = parser.Take();
                if (size.Kind != TokenKind.Number || NoiseRefusal(size.Text) is not null)
                    throw parser.Wrong(size.Span, NoiseRefusal(size.Text) ?? Loudness);
                noise = size.Text;
                continue;
            }
            if (word.Text == "limited")
            {
                if (from is null)
                    throw parser.Wrong(
                        word.Span,
                        "A flow from outside takes from nothing that could run empty, so there is nothing to limit. Leave “limited” out."
                    );
                limited = true;
                continue;
            }
            var number = parser.Here;
            if (number.Kind != TokenKind.Number)
                throw parser.Wrong(number.Span, "How many stages? Write “in 3 stages”.");
            parser.Take();
            if (StageRefusal(number.Value) is { } refusal)
                throw parser.Wrong(number.Span, refusal);
            if (kind == RateKind.Whole)
                throw parser.Wrong(word.Span, "Stages belong to a stay: give the rate with “after” or “at”.");
            stages = (int)number.Value;
            if (!parser.TryTakeWord("stages") && !parser.TryTakeWord("stage"))
                throw parser.Wrong(parser.Here.Span, "Write “in 3 stages”.");
        }
        return (stages, limited, noise);
    }

    private const string Loudness =
        "How much noise? Type a number above zero, as in “, noise 0.2”: its square, times a time, is the variance of what it adds up "
        + "to.";

    /// <summary>Null if a rate can have so much noise, or none where it is empty; else a sentence that says what to do.</summary>
    internal static string? NoiseRefusal(string typed) =>
        typed.Trim().Length == 0 || TypedNumber.Read(typed) is > 0 and <= 1000 ? null : Loudness;

    /// <summary>Null if a stay may have this number of stages, else a sentence that says what to do.</summary>
    /// <param name="stages">The number of stages as typed.</param>
    public static string? StageRefusal(double stages) =>
        stages == Math.Floor(stages) && stages is >= 1 and <= Flow.MostStages
            ? null
            : $"A stay has between 1 and {Flow.MostStages} stages. With more the spread hardly narrows: {Flow.MostStages} stages "
                + "leave a tenth of the mean.";
}
