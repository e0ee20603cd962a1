using System.Collections.Immutable;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Groups;

/// <summary>
/// Writes events out. An amount that is taken from a split compartment without saying from which member is taken from all, each in
/// proportion to
/// what it holds at that moment.
/// </summary>
internal sealed class IndexedEvent(IndexTable table)
{
    private readonly IndexedLine _lines = new(table);

    /// <summary>The event with nothing of groups left in it.</summary>
    /// <exception cref="IndexException">An index names nothing, or is missing where it could be any.</exception>
    public EventRule Write(EventRule rule)
    {
        if (EventLine.Read(rule.Text).Line is not { } line)
            return rule;
        var priority = _lines.Write(LineForm.Formula, rule.Priority, Coordinates.None);
        if (
            line.Dose is not null
            || !line.Actions.Any(action => Open(action.Target).Length + Open(action.MoveTo).Length + action.First.Count > 0)
        )
        {
            foreach (var action in line.Actions)
                Refuse(action.Target, Open(action.Target));
            return rule with { Text = _lines.Write(LineForm.Event, rule.Text, Coordinates.None), Priority = priority };
        }
        // The part before the first action is a trigger, whose own brackets stay where they are.
        var first = line.Actions[0];
        var head = rule.Text[..(rule.Text.LastIndexOf(':', first.Target.Span.Start) + 1)] + " ";
        var trigger = _lines.Put(head, new[] { line.Trigger, line.From, line.Until }.OfType<Syntax>(), Coordinates.None);
        return rule with
        {
            Text = trigger + string.Join(", ", line.Actions.SelectMany(Actions)),
            Priority = priority,
            // What one member gives must not change what the next one's share is of.
            Together = true,
        };
    }

    private IEnumerable<string> Actions(EventAction action)
    {
        var open = Open(action.Target);
        if (action.First.Count > 0)
        {
            foreach (var line in InOrder(action, open))
                yield return line;
            yield break;
        }
        var (over, after) = (Behind("over", action.Over), Behind("after", action.After));
        if (open.Length == 0 || action.Kind is ActionKind.Bring or ActionKind.Set)
        {
            Refuse(action.Target, open);
            if (action.MoveTo is { } end)
                Refuse(end, Open(end));
            yield return One(action, Write(action.Target), action.MoveTo is { } to ? Write(to) : null, FormulaText.Of(Written(action.Line)))
                + over
                + after;
            yield break;
        }
        foreach (var members in IndexTable.Combinations(open))
        {
            var at = IndexTable.At(open, members);
            var from = FormulaText.Of(new IndexedFormula(table).Write(action.Target, at));
            if (action.MoveTo is { } into)
                Refuse(into, [.. Open(into).Where(group => at.OwnOf(group) is null)]);
            var all = FormulaText.Of(Written(action.Target));
            yield return One(
                action,
                from,
                action.MoveTo is { } to ? FormulaText.Of(new IndexedFormula(table).Write(to, at)) : null,
                $"({FormulaText.Of(Written(action.Line))}) * if({all} > 0, {from} / ({all}), 0)"
            )
                + over
                + after;
        }
    }

    /// <summary>Those who are named come first, each as far as the amount goes; the rest of the group comes after them in its
    /// order.</summary>
    private IEnumerable<string> InOrder(EventAction action, ImmutableArray<Group> open)
    {
        if (open is not [var group] || action.Kind is not (ActionKind.Move or ActionKind.TakeOut))
            throw new IndexException(
                action.First[0].Span,
                open.Length == 1
                    ? "An order is of whom an amount is taken from, as in “S -> V : 400 first old then adult”."
                    : $"{action.Target.Base} is to be split by one group for an order among its members.",
                []
            );
        if (action.First.FirstOrDefault(one => group.IndexOf(one.Name) < 0) is { } unknown)
            throw new IndexException(
                unknown.Span,
                $"“{unknown.Name}” is no member of {group.Symbol} "
                    + $"({string.Join(", ", group.Members.Take(8).Select(member => member.Symbol))}). "
                    + "Write one of them.",
                []
            );
        var order = action.First.Select(one => one.Name).Concat(group.Members.Select(member => member.Symbol)).Distinct();
        var left = $"({FormulaText.Of(Written(action.Line))})";
        foreach (var member in order)
        {
            var at = IndexTable.At([group], [member]);
            var from = FormulaText.Of(new IndexedFormula(table).Write(action.Target, at));
            yield return One(
                action,
                from,
                action.MoveTo is { } to ? FormulaText.Of(new IndexedFormula(table).Write(to, at)) : null,
                $"min({from}, {left})"
            )
                + Behind("over", action.Over)
                + Behind("after", action.After);
            left = $"max({left} - {from}, 0)";
        }
    }

    private static string One(EventAction action, string target, string? to, string line) =>
        action.Kind switch
        {
            ActionKind.Set => $"{target} = {line}",
            ActionKind.Bring => $"-> {target} : {line}",
            ActionKind.TakeOut => $"{target} -> : {line}",
            _ => $"{target} -> {to} : {line}",
        };

    private string Behind(string word, Syntax? line) => line is null ? "" : $" {word} {FormulaText.Of(Written(line))}";

    private Syntax Written(Syntax line) => new IndexedFormula(table).Write(line, Coordinates.None);

    private string Write(NameSyntax name) => FormulaText.Of(Written(name));

    /// <summary>The groups of which the name of a compartment says no member.</summary>
    private ImmutableArray<Group> Open(NameSyntax? name)
    {
        if (name is null || !table.IsAmount(name.Base) || table.OfSymbol(name.Base) is not { } groups)
            return [];
        var given = name.Indices.ToList();
        return name.Indices.Count == groups.Length ? [] : [.. groups.Where(group => !given.Any(index => group.IndexOf(index) >= 0))];
    }

    private static void Refuse(NameSyntax name, ImmutableArray<Group> open)
    {
        if (open.IsEmpty)
            return;
        var example = MemberName.Print(MemberName.Of(name.Base, open.Select(group => group.Members[0].Symbol)));
        throw new IndexException(
            name.Span,
            $"{name.Base} is split by {string.Join(" and ", open.Select(group => group.Symbol))}: say which member, as in {example}.",
            [($"Use {example}", example)]
        );
    }
}
