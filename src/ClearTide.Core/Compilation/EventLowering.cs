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
                if (line.Kind == TriggerKind.While)
                    running.AddOverride(action.Target.Name, new(rule.Id, line.Trigger!, action.Line, rule.Text));
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
            Refuse($"{part.Symbol} is {Kinds.Of(part)}, which follows from others. An event may set values, inputs and compartments.");
        else if (part is ResponseCurve or RandomInput or Reaction)
            Refuse($"{part.Symbol} is {Kinds.Of(part)}. An event may set values, inputs and compartments.");
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
                continue;
            var sound = line.Actions.Where(IsSound).ToList();
            if (line.Kind == TriggerKind.When)
            {
                AddActions(
                    rule,
                    sound,
                    new ModelEvent(rule.Id, -1, -1, running.Bind(line.Trigger!, rule.Id, PartField.Text, rule.Text), line.Once, [])
                    {
                        ActsAtStart = rule.ActsAtStart,
                        IsDroppedWhenFalse = rule.DroppedWhenFalse,
                    }
                );
                OfferWhile(rule, line);
                continue;
            }
            if (Time(rule, line) is not { } time)
                continue;
            AddActions(
                rule,
                sound,
                new(rule.Id, time.First, time.Every, -1, false, [])
                {
                    Until = line.Until is null ? -1 : starting.Bind(line.Until, rule.Id, PartField.Text, rule.Text),
                }
            );
        }
    }

    /// <summary>Adds the actions of one line: those at the trigger as one event, each that begins later or goes on for a while as events
    /// of its own.</summary>
    private void AddActions(EventRule rule, IReadOnlyList<EventAction> actions, ModelEvent trigger)
    {
        trigger = trigger with { ValuesAtTrigger = rule.ValuesAtTrigger, Priority = Priority(rule) };
        var atOnce = actions.Where(action => action is { Over: null, After: null }).Select(action => Assigned(rule, action)).ToList();
        if (atOnce.Count > 0 || actions.Count == 0)
            Events.Add(Acting(trigger, rule.Together ? [atOnce] : [.. atOnce.Select(action => new[] { action })]));
        var later = actions.Where(action => action is { Over: null, After: not null }).ToList();
        // Those made at once with one delay are one event, so that none acts before another.
        foreach (
            var group in rule.Together
                ? later.GroupBy(action => FormulaText.Of(action.After!)).Select(group => group.ToList())
                : later.Select(action => new List<EventAction> { action })
        )
        {
            Events.Add(
                Acting(
                    trigger,
                    [
                        [.. group.Select(action => Assigned(rule, action))],
                    ]
                ) with
                {
                    Delay = running.Bind(group[0].After!, rule.Id, PartField.Text, rule.Text),
                }
            );
        }
        foreach (var action in actions.Where(action => action.Over is not null))
        {
            AddGradual(
                rule,
                action,
                trigger with
                {
                    Delay = action.After is null ? -1 : running.Bind(action.After, rule.Id, PartField.Text, rule.Text),
                }
            );
        }
    }

    /// <summary>The event with these actions; those of one group are made at once.</summary>
    private static ModelEvent Acting(ModelEvent trigger, IReadOnlyList<IReadOnlyList<Action>> groups) =>
        trigger with
        {
            Actions = [.. groups.Select(group => group.SelectMany(action => action.Assignments).ToList())],
            Withdrawals =
            [
                .. groups.SelectMany(
                    (group, step) => group.SelectMany(action => action.Withdrawals).Select(withdrawal => withdrawal with { Action = step })
                ),
            ],
        };

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
            line.Once
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
            if (Document.Origin is not { } origin)
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
            return (Graph.Constant((date.DayNumber - origin.DayNumber) * 86400.0 / Document.TimeUnit.Seconds), -1);
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
        var first = line.From is null
            ? Graph.Add(Graph.Constant(Document.Start), trigger)
            : starting.Bind(line.From, rule.Id, PartField.Text, rule.Text);
        return (first, trigger);
    }

    /// <summary>What an action sets, and what it takes out of compartments on the way.</summary>
    private sealed record Action(IReadOnlyList<Assignment> Assignments, IReadOnlyList<Withdrawal> Withdrawals);

    private Action Assigned(EventRule rule, EventAction action)
    {
        var withdrawals = new List<Withdrawal>();
        return new(Assignments(rule, action, withdrawals), withdrawals);
    }

    private IReadOnlyList<Assignment> Assignments(EventRule rule, EventAction action, List<Withdrawal> withdrawals)
    {
        var line = running.Bind(action.Line, rule.Id, PartField.Text, rule.Text);
        switch (build.Part(action.Target.Name))
        {
            case Compartment from when action.MoveTo is { } name:
                var to = (Compartment)build.Part(name.Name)!;
                var moved = What(rule, from, to, line, withdrawals);
                return [.. Set(from, Graph.Subtract(build.Amount(from), moved)), .. Enter(to, moved)];
            case Compartment into when action.Kind == ActionKind.Bring:
                return Enter(into, line);
            case Compartment from when action.Kind == ActionKind.TakeOut:
                return Set(from, Graph.Subtract(build.Amount(from), What(rule, from, null, line, withdrawals)));
            case Compartment compartment:
                return Set(compartment, line);
            case Input input:
                var (flag, value) = running.SetInput(input.Symbol);
                return [new(false, flag, Graph.Constant(1)), new(false, value, line)];
            case Definition definition:
                return [new(false, Graph[values.Value(definition.Id, PartField.Text)].A, line)];
            default:
                return [];
        }
    }

    /// <summary>Setting an amount acts on all stages in proportion; from nothing it enters the first.</summary>
    private IReadOnlyList<Assignment> Set(Compartment part, int amount)
    {
        var (first, stages, sum) = (build.FirstState(part.Id), build.Stages(part.Id), build.Amount(part));
        if (stages == 1)
            return [new(true, first, amount)];
        var empty = Graph.Binary(Operation.Equal, sum, Graph.Constant(0));
        return
        [
            .. Enumerable
                .Range(0, stages)
                .Select(stage => new Assignment(
                    true,
                    first + stage,
                    Graph.Choose(
                        empty,
                        stage == 0 ? amount : Graph.Constant(0),
                        Graph.Divide(Graph.Multiply(build.Stage(part.Id, stage), amount), sum)
                    )
                )),
        ];
    }

    /// <summary>What comes in enters the first stage; what a negative amount takes back leaves all stages in proportion.</summary>
    private IReadOnlyList<Assignment> Enter(Compartment to, int amount)
    {
        if (build.Stages(to.Id) == 1 || IsNeverNegative(amount))
            return [new(true, build.FirstState(to.Id), Graph.Add(build.Stage(to.Id, 0), amount))];
        var left = Set(to, Graph.Add(build.Amount(to), amount));
        var comes = Graph.Binary(Operation.LessOrEqual, Graph.Constant(0), amount);
        return
        [
            .. left.Select(
                (assignment, stage) =>
                    assignment with
                    {
                        Node = Graph.Choose(
                            comes,
                            stage == 0 ? Graph.Add(build.Stage(to.Id, 0), amount) : build.Stage(to.Id, stage),
                            assignment.Node
                        ),
                    }
            ),
        ];
    }

    private bool IsNeverNegative(int amount) =>
        Graph.IsConstant(amount, out var number) && number >= 0
        || Graph[amount].Operation == Operation.Max && Graph.IsConstant(Graph[amount].B, out var least) && least >= 0;

    /// <summary>
    /// The amount that a move really moves: no more than is there, unless the run is to stop then. A negative amount goes the other way.
    /// </summary>
    private int What(EventRule rule, Compartment from, Compartment? to, int line, List<Withdrawal> withdrawals)
    {
        var there = Graph.Binary(Operation.Max, build.Amount(from), Graph.Constant(0));
        withdrawals.Add(new(0, from.Id, line, there, rule.StopsWhenShort));
        var moved = Graph.Binary(Operation.Min, line, there);
        if (to is null || IsNeverNegative(line))
            return moved;
        var back = Graph.Binary(Operation.Max, build.Amount(to), Graph.Constant(0));
        withdrawals.Add(new(0, to.Id, Graph.Negate(line), back, rule.StopsWhenShort));
        return Graph.Binary(Operation.Max, moved, Graph.Negate(back));
    }
}
