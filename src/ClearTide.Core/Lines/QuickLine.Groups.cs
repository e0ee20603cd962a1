using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Lines;

/// <summary>Groups as they are typed: their members, what they split, what passes between members.</summary>
public static partial class QuickLine
{
    private static QuickItem? GroupItem(Parser parser)
    {
        if (parser.Ahead().Kind != TokenKind.Word)
            return null;
        return parser.Here.Text switch
        {
            "group" when parser.Ahead(2).Is("=") => NewGroup(parser),
            "split" => SplitItem(parser),
            "along" when Rates(parser.Ahead(2)) => PassageItem(parser, PassageKind.Along),
            "among" when Rates(parser.Ahead(2)) => PassageItem(parser, PassageKind.Among),
            _ => null,
        };
    }

    private static bool Rates(Token token) => token.IsWord("at") || token.IsWord("after") || token.Is(":");

    private static QuickGroup NewGroup(Parser parser)
    {
        parser.Take();
        var name = parser.Take();
        if (Symbols.Refusal(name.Text) is { } refusal)
            throw parser.Wrong(name.Span, refusal);
        parser.Expect("=", "“=” and the members are missing");
        var members = new List<string>();
        do
        {
            var member = parser.Take();
            if (member.Kind != TokenKind.Word)
                throw parser.Wrong(
                    member.Span,
                    $"Members of {name.Text} are words separated by commas, as in “group age = child, adult, old”."
                );
            if (Symbols.Refusal(member.Text) is { } wrong)
                throw parser.Wrong(member.Span, wrong);
            if (members.Contains(member.Text))
                throw parser.Wrong(member.Span, $"{member.Text} stands twice among the members of {name.Text}. Leave one of them out.");
            members.Add(member.Text);
        } while (parser.TryTake(","));
        parser.ExpectEnd();
        if (members.Count < Group.FewestMembers)
            throw parser.Wrong(name.Span, $"A group tells at least two apart, as in “group {name.Text} = {members[0]}, other”.");
        if (members.Count > Group.MostMembers)
            throw parser.Wrong(name.Span, $"A group has at most {Group.MostMembers} members; this one would have {members.Count:N0}.");
        return new(parser.Text, name.Text, members);
    }

    private static QuickSplit SplitItem(Parser parser)
    {
        parser.Take();
        var symbols = new List<string>();
        do
        {
            var part = parser.Take();
            if (part.Kind != TokenKind.Word)
                throw parser.Wrong(part.Span, "Say what is split and by what, as in “split S, E, I by age” or “split all by age”.");
            symbols.Add(part.Text);
        } while (parser.TryTake(","));
        parser.ExpectWord("by", "“by” and a group are missing, as in “split S, E, I by age”");
        var group = parser.Take();
        if (group.Kind != TokenKind.Word)
            throw parser.Wrong(group.Span, "After “by” comes a group, as in “split all by age”.");
        parser.ExpectEnd();
        return new(parser.Text, symbols is ["all"] ? [] : symbols, group.Text);
    }

    private static QuickPassage PassageItem(Parser parser, PassageKind kind)
    {
        parser.Take();
        var group = parser.Take();
        var rate =
            parser.TryTakeWord("after") ? RateKind.MeanStay
            : parser.TryTakeWord("at") ? RateKind.PerHead
            : RateKind.Whole;
        if (rate == RateKind.Whole)
            parser.Expect(":", "“at” a rate per head or “after” a mean stay is missing");
        var (tree, line) = parser.Typed(parser.Line);
        parser.ExpectEnd();
        return new(parser.Text, [tree], kind, group.Text, rate, line);
    }

    /// <summary>Numbers row by row, each row ended by a comma; a unit may stand behind the last.</summary>
    private static QuickTable TableItem(Parser parser, string name)
    {
        parser.Take();
        List<List<string>> rows =
        [
            [],
        ];
        while (parser.Here.Kind == TokenKind.Number || parser.Here.Is(",") || parser.Here.Is("-"))
        {
            if (parser.TryTake(","))
            {
                rows.Add([]);
                continue;
            }
            var sign = parser.TryTake("-") ? "-" : "";
            var number = parser.Here;
            if (number.Kind != TokenKind.Number)
                break;
            parser.Take();
            rows[^1].Add(sign + number.Text + (parser.TryTake("%") ? "%" : ""));
        }
        if (parser.Here.Kind != TokenKind.End)
        {
            var unit = parser.Text[parser.Here.Span.Start..].Trim();
            if (Formula.Read("1 " + unit).Problem is { } problem)
                throw parser.Wrong(parser.Here.Span, $"A table holds numbers, with a unit behind the last. {problem.Message}");
            while (parser.Here.Kind != TokenKind.End)
                parser.Take();
            rows = [.. rows.Select(row => row.Select(number => $"{number} {unit}").ToList())];
        }
        return new(parser.Text, name, rows);
    }
}
