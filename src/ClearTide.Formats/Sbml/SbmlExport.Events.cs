using System.Collections.Immutable;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;

namespace ClearTide.Formats.Sbml;

/// <content>Events.</content>
public sealed partial class SbmlExport
{
    /// <summary>Numbers that events keep count with, and what they begin with.</summary>
    private readonly List<(string Id, double Value)> _helpers = [];

    private List<SbmlEvent> Events()
    {
        var events = new List<SbmlEvent>();
        // In SBML the order of what happens at one instant is open unless priorities say it: stored order is said so.
        var least = _form.Events.Any(one => one.Priority >= 0) ? -1e9 : 0;
        for (var k = 0; k < _form.Events.Count; k++)
        {
            var one = _form.Events[k];
            if (Trigger(one) is not { } trigger)
                continue;
            var assignments = Together(one);
            foreach (var extra in trigger.Kept)
                assignments[extra.Variable] = extra.Math;
            events.Add(
                new(
                    _ids.Free($"event_{k + 1}"),
                    _document.Part(one.PartId)?.Label ?? "",
                    trigger.Condition,
                    trigger.InitialValue,
                    !one.IsDroppedWhenFalse,
                    one.Delay < 0 ? null : PlainTree(one.Delay),
                    one.Priority >= 0 ? PlainTree(one.Priority)
                        : _form.Events.Count > 1 ? MathReader.Of(least - k)
                        : null,
                    one.ValuesAtTrigger && !Adds(one),
                    [.. assignments.Select(pair => new SbmlRule(pair.Key, pair.Value))]
                )
                {
                    Note = _document.Part(one.PartId)?.Note ?? "",
                }
            );
        }
        return events;
    }

    /// <summary>
    /// Whether an event adds to what is there: the sum is of the moment of the action, and only what is added may be of the trigger. That
    /// makes a difference
    /// where it changes in between.
    /// </summary>
    private bool Adds(ModelEvent one)
    {
        var added = one.Actions.SelectMany(action => action).Where(assignment => assignment.Adds).ToList();
        if (added.Count == 0)
            return false;
        var needed = _form.Graph.Reachable(added.Select(assignment => assignment.Node));
        if (
            one.Delay >= 0
            && Enumerable
                .Range(0, needed.Length)
                .Any(node => needed[node] && _form.Graph[node].Operation is Operation.State or Operation.Time)
        )
            _left.Add("An amount that goes over a while, and depends on the state, is ended in SBML by what it would be at its end.");
        return true;
    }

    private sealed record TriggerParts(Syntax Condition, bool InitialValue, IReadOnlyList<SbmlRule> Kept);

    private TriggerParts? Trigger(ModelEvent one)
    {
        var time = new NameSyntax(default, "t");
        if (one.Condition >= 0)
        {
            var condition = PlainTree(one.Condition);
            if (one.Most == 0)
                return new(condition, !one.ActsAtStart, []);
            var done = Helper("done", 0);
            return new(
                new BinarySyntax(
                    default,
                    BinaryOperator.And,
                    condition,
                    new BinarySyntax(default, BinaryOperator.Less, Name(done), MathReader.Of(one.Most))
                ),
                !one.ActsAtStart,
                [new(done, new BinarySyntax(default, BinaryOperator.Add, Name(done), MathReader.Of(1)))]
            );
        }
        var first = _form.Graph.Evaluate(one.Time, _document.Start, [], _values);
        if (one.Every < 0)
            return first < _document.Start
                ? null
                : new(new BinarySyntax(default, BinaryOperator.GreaterOrEqual, time, PlainTree(one.Time)), false, []);
        var every = _form.Graph.Evaluate(one.Every, _document.Start, [], _values);
        if (first < _document.Start)
            first += every * Math.Ceiling((_document.Start - first) / every);
        // The time of the next one is a number that each moves on.
        var next = Helper("next", first);
        Syntax due = new BinarySyntax(default, BinaryOperator.GreaterOrEqual, time, Name(next));
        if (one.Until >= 0)
            due = new BinarySyntax(
                default,
                BinaryOperator.And,
                due,
                new BinarySyntax(default, BinaryOperator.LessOrEqual, Name(next), PlainTree(one.Until))
            );
        List<SbmlRule> kept = [];
        if (one.Most > 0)
        {
            var done = Helper("done", 0);
            due = new BinarySyntax(
                default,
                BinaryOperator.And,
                due,
                new BinarySyntax(default, BinaryOperator.Less, Name(done), MathReader.Of(one.Most))
            );
            kept.Add(new(done, new BinarySyntax(default, BinaryOperator.Add, Name(done), MathReader.Of(1))));
        }
        return new(due, false, [.. kept, new(next, new BinarySyntax(default, BinaryOperator.Add, Name(next), PlainTree(one.Every)))]);
    }

    private string Helper(string wanted, double value)
    {
        var id = _ids.Free(wanted);
        _helpers.Add((id, value));
        return id;
    }

    /// <summary>Actions that come one after the other as assignments that are made at once: what an earlier one has set stands in the
    /// formulas of the later.</summary>
    private Dictionary<string, Syntax> Together(ModelEvent one)
    {
        var set = new Dictionary<string, Syntax>();
        Syntax After(Syntax tree, IReadOnlyDictionary<string, Syntax> before) =>
            MathTrees.Rewrite(tree, node => node is NameSyntax name ? before.GetValueOrDefault(name.Name) : null);
        foreach (var action in one.Actions)
        {
            var before = new Dictionary<string, Syntax>(set);
            foreach (var assignment in action)
            {
                var id = assignment.IsState ? _states[assignment.Index] : _parameters[assignment.Index];
                var value = After(PlainTree(assignment.Node), before);
                set[id] = assignment.Adds
                    ? new BinarySyntax(default, BinaryOperator.Add, before.GetValueOrDefault(id) ?? Name(id), value)
                    : value;
            }
        }
        return set;
    }
}
