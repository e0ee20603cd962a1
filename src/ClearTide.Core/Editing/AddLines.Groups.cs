using System.Collections.Immutable;
using ClearTide.Core.Groups;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

public sealed partial record AddLines
{
    /// <summary>Groups, what they split, and lines of single members.</summary>
    private sealed partial class Adding
    {
        private static string MemberOf(string? name) => name is null ? "" : string.Join(',', MemberName.IndicesOf(name));

        private FormulaProblem? Made(Edit edit, string text, string said)
        {
            var result = edit.Apply(Document);
            if (result.Document is null)
                return Whole(text, result.Refusal!);
            Document = result.Document;
            Said.Add(said);
            return null;
        }

        private FormulaProblem? AddGroup(QuickGroup item) =>
            Made(
                new AddGroup(item.Symbol, "", [.. item.Members.Select(member => new GroupMember(member))]),
                item.Text,
                $"adds the group {item.Symbol} of {item.Members.Count}"
            );

        private FormulaProblem? AddSplit(QuickSplit item)
        {
            if (Group(item.Group) is not { } group)
                return NoGroup(item.Group, item.Text);
            var ids = new List<string>();
            foreach (var symbol in item.Symbols)
            {
                if (Document.PartBySymbol(symbol) is not { } part)
                    return Whole(
                        item.Text,
                        $"There is no {symbol} to split. Name parts of the study, or write “split all by {group.Symbol}”."
                    );
                ids.Add(part.Id);
            }
            if (ids.Count == 0)
                ids.AddRange(Document.Compartments.Select(part => part.Id));
            return Made(
                new SplitParts(group.Id, [.. ids], []),
                item.Text,
                $"splits {(item.Symbols.Count == 0 ? "all compartments" : string.Join(", ", item.Symbols))} by {group.Symbol}"
            );
        }

        private FormulaProblem? AddPassage(QuickPassage item) =>
            Group(item.Group) is not { } group
                ? NoGroup(item.Group, item.Text)
                : Made(
                    new SetPassage(group.Id, null, item.Kind, RateLine.Write(item.RateKind, item.Rate)),
                    item.Text,
                    item.Kind == PassageKind.Along ? $"passes on along {group.Symbol}" : $"passes among {group.Symbol}"
                );

        private Group? Group(string symbol) => Document.GroupBySymbol(symbol);

        private FormulaProblem NoGroup(string symbol, string text)
        {
            var near = Symbols.Nearest(symbol, Document.Groups.Select(group => group.Symbol));
            return Whole(
                text,
                $"There is no group {symbol}."
                    + (near is null ? $" Add it first, as in “group {symbol} = child, adult, old”." : $" Did you mean {near}?")
            );
        }

        /// <summary><c>h[age] = 5%</c> splits and says the line of all; <c>h[old] = 16%</c> says that of one member.</summary>
        private FormulaProblem? DefineMember(QuickDefinition item, string symbol, IReadOnlyList<string> indices)
        {
            if (Document.CompartmentBySymbol(symbol) is { } compartment)
            {
                Said.Add($"{MemberName.Print(item.Symbol)} starts at {item.Line}");
                return SetMember(compartment.Id, indices, PartField.Start, item.Line, item.Text);
            }
            if (Document.DefinitionBySymbol(symbol) is not { } part)
            {
                if (Other(symbol, item.Text) is { } other)
                    return other;
                part = new(NextId("v"), symbol, symbol, item.Line);
                Document = Document with { Definitions = Document.Definitions.Add(part) };
            }
            Said.Add($"sets {MemberName.Print(item.Symbol)} to {item.Line}");
            return SetMember(part.Id, indices, PartField.Text, item.Line, item.Text);
        }

        private FormulaProblem? SetMember(string partId, IReadOnlyList<string> indices, PartField field, string line, string text)
        {
            // Groups as indices say by what the part is split, and its line for all.
            if (indices.All(index => Group(index) is not null))
            {
                var made = new Split(partId, [.. indices.Select(index => Group(index)!.Id)]);
                var old = Document.SplitOf(partId);
                if (old is not null && !old.Groups.SequenceEqual(made.Groups))
                    return Whole(text, "It is split in another way already. Unsplit it first, or name its own groups.");
                if (old is null && GroupRefusals.TooMany(Document, made.Groups) is { } wrong)
                    return Whole(text, wrong);
                Document = old is null ? Document with { Splits = Document.Splits.Add(made) } : Document;
                Document = Document.With(PartKinds.Of(Document.Part(partId)!).With(Document.Part(partId)!, field, line));
                return null;
            }
            var groups = Document.GroupsOf(partId);
            if (groups.IsEmpty)
            {
                // The first member that is named tells by which group the part is split.
                var known = indices.Select(index => Document.Groups.FirstOrDefault(group => group.IndexOf(index) >= 0)).ToList();
                if (known.IndexOf(null) is >= 0 and var missing)
                    return Whole(
                        text,
                        $"“{indices[missing]}” is no member of a group. Add the group first, " + "as in “group age = child, adult, old”."
                    );
                groups = [.. known.Select(group => group!)];
                Document = Document with { Splits = Document.Splits.Add(new(partId, [.. groups.Select(group => group.Id)])) };
            }
            if (indices.Count != groups.Length)
                return Whole(
                    text,
                    $"It is split by {string.Join(" and ", groups.Select(group => group.Symbol))}: name a member of each, in that order."
                );
            for (var k = 0; k < groups.Length; k++)
            {
                if (groups[k].IndexOf(indices[k]) < 0)
                    return Whole(
                        text,
                        $"“{indices[k]}” is no member of {groups[k].Symbol} "
                            + $"({string.Join(", ", groups[k].Members.Take(8).Select(member => member.Symbol))}). Write one of them."
                    );
            }
            var split = Document.SplitOf(partId)!;
            Document = Document with { Splits = Document.Splits.Replace(split, split.With(string.Join(',', indices), line)) };
            return null;
        }

        private FormulaProblem? AddTable(QuickTable item)
        {
            var (symbol, indices) = (MemberName.BaseOf(item.Symbol), MemberName.IndicesOf(item.Symbol));
            if (indices.Count == 0 || indices.Any(index => Group(index) is null))
                return Whole(
                    item.Text,
                    $"A table has a number for each member: name the groups, as in {symbol}[age, age] = table 7.4 4.9, 2.1 6.7."
                );
            ImmutableArray<Group> groups = [.. indices.Select(index => Group(index)!)];
            if (Refusal(item, groups) is { } wrong)
                return Whole(item.Text, wrong);
            if (DefineMember(new(item.Text, [], item.Symbol, item.Rows[0][0]), symbol, indices) is { } problem)
                return problem;
            var part = Document.PartBySymbol(symbol)!;
            var split = Document.SplitOf(part.Id)!;
            var numbers = item.Rows.SelectMany(row => row).ToList();
            Document = Document with
            {
                Splits = Document.Splits.Replace(
                    split,
                    split with
                    {
                        Lines =
                        [
                            .. IndexTable
                                .Combinations(groups)
                                .Select((members, k) => new MemberLine(string.Join(',', members), numbers[k])),
                        ],
                    }
                ),
            };
            return null;
        }

        private static string? Refusal(QuickTable item, ImmutableArray<Group> groups)
        {
            var columns = groups[^1].Members.Length;
            var rows = groups.Take(groups.Length - 1).Aggregate(1, (all, group) => all * group.Members.Length);
            if (item.Rows.Count != rows && item.Rows.Count == columns && rows == 1)
                return $"This table has {item.Rows.Count} rows. The members of one group stand in one row, without commas between them.";
            if (item.Rows.Count != rows)
                return $"This table has {item.Rows.Count} {(item.Rows.Count == 1 ? "row" : "rows")}; "
                    + $"{string.Join(" and ", groups.Take(groups.Length - 1).Select(group => group.Symbol))} needs {rows}, "
                    + "separated by commas.";
            for (var k = 0; k < rows; k++)
            {
                if (item.Rows[k].Count != columns)
                    return $"Row {k + 1} of this table has {item.Rows[k].Count} numbers; {groups[^1].Symbol} has {columns} members.";
            }
            return null;
        }
    }
}
