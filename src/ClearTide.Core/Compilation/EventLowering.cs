using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Compilation;

/// <summary>Lowers events: what holds while a condition is true goes into the formulas, the rest becomes assignments of the run.</summary>
internal sealed partial class EventLowering(ModelBuilder build, ValueReader values, NameScope running, NameScope starting)
{
    private readonly List<(EventRule Rule, EventLine Line)> _lines = [];

    public List<ModelEvent> Events { get; } = [];

    /// <summary>What moves evenly for a while, at a rate that events set.</summary>
    public List<Process> Gradual { get; } = [];

    private StudyDocument Document => build.Document;

    private ExpressionGraph Graph => build.Graph;

    /// <summary>Reads all events, and gives the scope what is replaced while conditions hold, before any formula is bound.</summary>
    public void ReadOverrides()
    {
        foreach (var rule in Document.Events)
        {
            var (line, problem) = EventLine.Read(rule.Text);
            if (line is null)
            {
                build.Findings.Slip(
                    rule.Id,
                    PartField.Text,
                    rule.Text,
                    problem!,
                    "This event does nothing yet. Type one, as in “at 30: S -> V : 400”."
                );
                continue;
            }
            foreach (var unit in line.Trees.SelectMany(tree => tree.Units()))
            {
                if (build.Units.Unknown(unit) is { } unknown)
                    build.Findings.UnknownUnit(rule.Id, PartField.Text, rule.Text, unknown, build.Units);
            }
            _lines.Add((rule, line));
            foreach (var action in line.Actions)
            {
                if (!CanAct(rule, line, action))
                    continue;
                if (line.Dose is not null)
                    CheckDoses(rule, line, action);
                if (line.Kind == TriggerKind.While)
                    running.AddOverride(action.Target.Name, new(rule.Id, Condition(rule, line), action.Line, rule.Text));
                else if (build.Part(action.Target.Name) is Input input)
                    running.SetInput(input.Symbol);
                else if (build.Part(action.Target.Name) is Definition)
                    running.SetByEvents.Add(action.Target.Name);
            }
        }
    }

    /// <summary>Whether an action changes something that an event may change; else it is reported.</summary>
    private bool CanAct(EventRule rule, EventLine line, EventAction action)
    {
        var part = build.Part(action.Target.Name);
        void Refuse(string why, params FindingFix[] fixes) =>
            build.Findings.AddWithEdits(rule.Id, PartField.Text, Severity.Unfinished, action.Target.Span, why, fixes);
        if (part is null)
        {
            build.Findings.Unknown(rule.Id, PartField.Text, rule.Text, action.Target, called: false);
            return false;
        }
        if (action.Kind != ActionKind.Set)
        {
            var to = action.MoveTo;
            var bad =
                part is not Compartment ? action.Target
                : to is not null && build.Part(to.Name) is not Compartment ? to
                : null;
            if (bad is not null)
                build.Findings.Add(
                    rule.Id,
                    PartField.Text,
                    Severity.Unfinished,
                    bad.Span,
                    $"An event moves amounts between compartments, and {bad.Name} is none."
                );
            else if (line.Kind == TriggerKind.While)
                Refuse(
                    "“while” holds a value and then undoes it; an amount that has moved is not undone. Use “when”.",
                    Say(rule, "while", "when")
                );
            else if (part.Symbol == to?.Name)
                Refuse($"A move from {part.Symbol} to itself moves nothing. Name another compartment.");
            else
                return IsSpreadRight(rule, action, (Compartment)part);
            return false;
        }
        if (part is Compartment && line.Kind == TriggerKind.While)
            Refuse(
                $"“while” holds a value and then undoes it, and {part.Symbol} is a compartment, whose amount goes its own way. Use “when”.",
                Say(rule, "while", "when")
            );
        else if (part is Definition definition && values.Value(definition.Id, PartField.Text) < 0)
            Refuse(
                $"{part.Symbol} is {PartKinds.Noun(part)}, which follows from others. An event may set values, inputs and compartments."
            );
        else if (part is ResponseCurve or RandomInput or Reaction)
            Refuse($"{part.Symbol} is {PartKinds.Noun(part)}. An event may set values, inputs and compartments.");
        else
            return true;
        return false;
    }

    private static FindingFix Say(EventRule rule, string word, string other)
    {
        var at = rule.Text.IndexOf(word, StringComparison.Ordinal);
        return new($"Use “{other}”", new SetField(rule.Id, PartField.Text, rule.Text[..at] + other + rule.Text[(at + word.Length)..]));
    }

    /// <summary>Adds the events that act at moments.</summary>
    public void AddAll()
    {
        foreach (var (rule, line) in _lines)
        {
            if (line.Kind == TriggerKind.While)
            {
                if (rule.IsWatched)
                    Watch(rule, line);
                continue;
            }
            var sound = line.Actions.Where(IsSound).ToList();
            if (line.Kind == TriggerKind.When)
            {
                AddActions(
                    rule,
                    sound,
                    new ModelEvent(rule.Id, -1, -1, Rested(rule, line), line.Most, [])
                    {
                        ActsAtStart = rule.ActsAtStart,
                        IsDroppedWhenFalse = rule.DroppedWhenFalse,
                    }
                );
                OfferWhile(rule, line);
                continue;
            }
            if (line.Dose is { } terms)
            {
                if (sound.Count > 0)
                    AddDoses(rule, line, terms, sound[0]);
                continue;
            }
            if (Time(rule, line) is not { } time)
                continue;
            AddActions(
                rule,
                sound,
                new(rule.Id, time.First, time.Every, -1, line.Most, [])
                {
                    Until = line.Until is null ? -1 : starting.Bind(line.Until, rule.Id, PartField.Text, rule.Text),
                    NotBefore = rule.NotBefore,
                }
            );
        }
    }

    /// <summary>Events that do nothing but tell when the condition of what is held becomes true and false.</summary>
    private void Watch(EventRule rule, EventLine line)
    {
        var holds = running.Bind(Condition(rule, line), rule.Id, PartField.Text, rule.Text);
        Events.Add(new(rule.Id, -1, -1, holds, 0, []) { ActsAtStart = true });
        var ends = Graph.Binary(Operation.Equal, holds, Graph.Constant(0));
        Events.Add(new(rule.Id, -1, -1, ends, 0, []) { MarksEnd = true });
    }

    /// <summary>The condition of a rule; for one that may not act before a time, that this time has come and the condition.</summary>
    private static Syntax Condition(EventRule rule, EventLine line)
    {
        var typed = line.Trigger!;
        if (double.IsNegativeInfinity(rule.NotBefore))
            return typed;
        var time = new NumberSyntax(typed.Span, rule.NotBefore, TypedNumber.Exact(rule.NotBefore), false, null);
        var hasCome = new BinarySyntax(typed.Span, BinaryOperator.GreaterOrEqual, new NameSyntax(typed.Span, "t"), time);
        return new BinarySyntax(typed.Span, BinaryOperator.And, hasCome, typed);
    }

    private int Priority(EventRule rule)
    {
        if (rule.Priority.Length == 0)
            return -1;
        var formula = Formula.Read(rule.Priority);
        if (formula.Tree is { } tree)
            return running.Bind(tree, rule.Id, PartField.Priority, rule.Priority);
        build.Findings.Slip(rule.Id, PartField.Priority, rule.Priority, formula.Problem!, "");
        return -1;
    }

    private bool IsSound(EventAction action) =>
        build.Part(action.Target.Name) switch
        {
            Compartment => action.MoveTo is null || build.Part(action.MoveTo.Name) is Compartment,
            _ when action.Kind != ActionKind.Set => false,
            Definition part => values.Value(part.Id, PartField.Text) >= 0,
            Input => true,
            _ => false,
        };

    /// <summary>Most people who write “when” with a value mean “while”.</summary>
    private void OfferWhile(EventRule rule, EventLine line)
    {
        if (
            line.Most > 0
            || line.Rest is not null
            || line.Actions.Any(action => action.After is not null)
            || line.Actions.Any(action => build.Part(action.Target.Name) is Compartment)
        )
            return;
        build.Findings.AddWithEdits(
            rule.Id,
            PartField.Text,
            Severity.Doubt,
            null,
            "This changes the value for good each time the condition becomes true. To hold it only as long as the condition is true, "
                + "say “while”.",
            [Say(rule, "when", "while")]
        );
    }

    private (int First, int Every)? Time(EventRule rule, EventLine line)
    {
        if (line.Date is { } date)
        {
            if (Document.TimeOf(date) is not { } time)
            {
                build.Findings.Add(
                    rule.Id,
                    PartField.Text,
                    Severity.Unfinished,
                    null,
                    "This event stands at a date, and the study does not say which date its time zero is. Set it under the study's "
                        + "title, or give a time."
                );
                return null;
            }
            return (Graph.Constant(time), -1);
        }
        var trigger = starting.Bind(line.Trigger!, rule.Id, PartField.Text, rule.Text);
        if (line.Kind == TriggerKind.At)
            return (trigger, -1);
        var numbers = build.Values.Select(value => value.Value).Concat(build.Slots).ToArray();
        if (!(Graph.Evaluate(trigger, Document.Start, [], numbers) > 0))
        {
            build.Findings.Add(
                rule.Id,
                PartField.Text,
                Severity.Unfinished,
                line.Trigger!.Span,
                $"It repeats after a time above zero, as in “every 7 {Document.TimeUnit.Plural}”."
            );
            return null;
        }
        var first = line.From is null ? Graph.Add(build.StartNode, trigger) : starting.Bind(line.From, rule.Id, PartField.Text, rule.Text);
        return (first, trigger);
    }
}
