using ClearTide.Core.Diagnostics;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;

namespace ClearTide.Core.Compilation;

/// <summary>Doses as they are said become events that bring amounts; a first dose of another size is an event of its own.</summary>
internal sealed partial class EventLowering
{
    /// <summary>An end of doses that falls on one of them leaves it out, also where both differ by rounding.</summary>
    private const double Rounding = 1e-9;

    /// <summary>The doses of all lines, for those who want to know when how much is given.</summary>
    public List<DoseSeries> Doses { get; } = [];

    private void AddDoses(EventRule rule, EventLine line, DoseTerms terms, EventAction action)
    {
        int Bound(Syntax tree) => starting.Bind(tree, rule.Id, PartField.Text, rule.Text);
        var start = line.Kind == TriggerKind.At ? line.Trigger : line.From;
        var first = start is null ? build.StartNode : Bound(start);
        void Add(EventAction given, int time, int every, int until)
        {
            var trigger = new ModelEvent(rule.Id, time, every, -1, 0, [])
            {
                Until = until,
                NotBefore = rule.NotBefore,
                NotAfter = rule.NotAfter,
            };
            AddActions(rule, [given], trigger);
            Doses.Add(
                new(
                    rule.Id,
                    build.Part(given.Target.Name)!.Id,
                    given.After is null ? time : Graph.Add(time, Bound(given.After)),
                    every,
                    until,
                    running.Bind(given.Line, rule.Id, PartField.Text, rule.Text),
                    given.Over is null ? -1 : running.Bind(given.Over, rule.Id, PartField.Text, rule.Text)
                )
                {
                    NotBefore = rule.NotBefore,
                    NotAfter = rule.NotAfter,
                }
            );
        }
        if (line.Kind == TriggerKind.At)
        {
            Add(action, first, -1, -1);
            return;
        }
        var every = Bound(line.Trigger!);
        if (!(AtStart(every) > 0))
        {
            Refuse(rule, line.Trigger!, "Doses are repeated after a time above zero, as in “every 12 hours”.");
            return;
        }
        if (terms.For is { } span && !(AtStart(Bound(span)) > 0))
        {
            Refuse(rule, span, "Doses are given for a time above zero, as in “for 7 days”.");
            return;
        }
        var count = terms switch
        {
            { Times: { } times } => Bound(times),
            { For: { } length } => Graph.Unary(
                Operation.Ceiling,
                Graph.Subtract(Graph.Divide(Bound(length), every), Graph.Constant(Rounding))
            ),
            _ => -1,
        };
        // Half an interval behind the last dose there is no other one.
        var until =
            count >= 0 ? Graph.Add(first, Graph.Multiply(Graph.Subtract(count, Graph.Constant(0.5)), every))
            : line.Until is { } last ? Bound(last)
            : -1;
        if (terms is { First: null, FirstFactor: 1 })
        {
            Add(action, first, every, until);
            return;
        }
        var loading = terms.First ?? Times(terms.FirstFactor, action.Line);
        Add(action with { Line = loading }, first, -1, -1);
        Add(action, Graph.Add(first, every), every, until);
    }

    private static BinarySyntax Times(double factor, Syntax line) =>
        new(line.Span, BinaryOperator.Multiply, new NumberSyntax(line.Span, factor, TypedNumber.Exact(factor), false, null), line);

    private double AtStart(int node)
    {
        var numbers = build.Values.Select(value => value.Value).Concat(build.Slots).ToArray();
        return Graph.Evaluate(node, Document.Start, [], numbers);
    }

    private void Refuse(EventRule rule, Syntax place, string why) =>
        build.Findings.Add(rule.Id, PartField.Text, Severity.Unfinished, place.Span, why);

    /// <summary>What cannot be meant of doses whose numbers are known: nothing given, or less than that; infusions that are not over when
    /// the next one begins.</summary>
    private void CheckDoses(EventRule rule, EventLine line, EventAction action)
    {
        foreach (var amount in new[] { action.Line, line.Dose!.First }.OfType<Syntax>())
        {
            if (!amount.Names().Any() && FormulaBinder.ValueOf(amount, build.Units) <= 0)
                Refuse(rule, amount, "A dose is an amount above zero. To take something out, say “at 30: gut -> : 20”.");
        }
        if (
            action.Over is { } over
            && line is { Kind: TriggerKind.Every, Trigger: { } every }
            && !over.Names().Any()
            && !every.Names().Any()
            && FormulaBinder.ValueOf(over, build.Units) > FormulaBinder.ValueOf(every, build.Units)
        )
            build.Findings.Add(
                rule.Id,
                PartField.Text,
                Severity.Doubt,
                over.Span,
                "Each of these doses goes on when the next one begins: they add up. A shorter “over”, or a longer “every”, keeps them "
                    + "apart."
            );
    }
}
