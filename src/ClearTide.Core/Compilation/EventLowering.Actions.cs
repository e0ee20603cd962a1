using ClearTide.Core.Diagnostics;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Compilation;

/// <summary>What events do: amounts that move, values that are set.</summary>
internal sealed partial class EventLowering
{
    /// <summary>Adds the actions of one line: those at the trigger as one event, each that begins later or goes on for a while as events
    /// of its own.</summary>
    private void AddActions(EventRule rule, IReadOnlyList<EventAction> actions, ModelEvent trigger)
    {
        if (actions.FirstOrDefault(action => action.First.Count > 0) is { } ordered)
            build.Findings.Add(
                rule.Id,
                PartField.Text,
                Severity.Unfinished,
                ordered.First[0].Span,
                $"{ordered.Target.Name} is not split, so that nobody in it comes first. Split it by a group, or leave the order out."
            );
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
