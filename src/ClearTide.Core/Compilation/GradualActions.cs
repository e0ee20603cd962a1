using ClearTide.Core.Diagnostics;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;

namespace ClearTide.Core.Compilation;

/// <summary>Amounts that events move over a duration: a flow at a constant rate that begins at the event and ends after the
/// duration.</summary>
internal sealed partial class EventLowering
{
    /// <summary>Whether an amount can go over the duration that is typed; else it is reported.</summary>
    private bool IsSpreadRight(EventRule rule, EventAction action, Compartment part)
    {
        void Refuse(TextSpan span, string why) => build.Findings.AddWithEdits(rule.Id, PartField.Text, Severity.Unfinished, span, why, []);
        foreach (var (duration, word) in new[] { (action.Over, "over"), (action.After, "after") })
        {
            if (
                duration is null
                || duration.Names().Any()
                || FormulaBinder.ValueOf(duration, build.Units) is var time && time > 0 && double.IsFinite(time)
            )
                continue;
            Refuse(duration.Span, $"“{word}” takes a time above zero, as in “{word} 30 minutes”.");
            return false;
        }
        if (action.Over is null || action.Kind == ActionKind.Bring || build.Stages(part.Id) == 1)
            return true;
        Refuse(action.Over.Span, $"{part.Symbol} is passed in stages, and an amount leaves them at once only. Leave “over” out.");
        return false;
    }

    /// <summary>
    /// The rate of such a flow is a number of the run: each event adds amount over duration to it and takes the same number away at the
    /// end, so
    /// that several may overlap. Where none is left the rate is put to zero, so that no rounding stays.
    /// </summary>
    private void AddGradual(EventRule rule, EventAction action, ModelEvent trigger)
    {
        var (rate, going) = (build.AddSlot(0, $"goes on {rule.Id}"), build.AddSlot(0, $"goes on {rule.Id}"));
        var amount = running.Bind(action.Line, rule.Id, PartField.Text, rule.Text);
        var duration = running.Bind(action.Over!, rule.Id, PartField.Text, rule.Text);
        var share = Graph.Choose(
            Graph.Binary(Operation.Less, Graph.Constant(0), duration),
            Graph.Divide(amount, duration),
            Graph.Constant(0)
        );
        var end = trigger.Delay < 0 ? duration : Graph.Add(trigger.Delay, duration);
        // What goes on and what ends it are worked out at the trigger, so that both are the same number.
        Events.Add(
            trigger with
            {
                ValuesAtTrigger = true,
                Actions =
                [
                    [Plus(rate, share), Plus(going, Graph.Constant(1))],
                ],
            }
        );
        Events.Add(
            trigger with
            {
                ValuesAtTrigger = true,
                MarksEnd = true,
                Delay = end,
                Actions =
                [
                    [Plus(rate, Graph.Subtract(Graph.Constant(0), share)), Plus(going, Graph.Constant(-1))],
                ],
            }
        );
        var none = Graph.Binary(Operation.Equal, Graph.Parameter(going), Graph.Constant(0));
        Events.Add(
            trigger with
            {
                MarksEnd = true,
                Delay = end,
                Actions =
                [
                    [new(false, rate, Graph.Choose(none, Graph.Constant(0), Graph.Parameter(rate)))],
                ],
            }
        );
        var target = (Compartment)build.Part(action.Target.Name)!;
        if (action.Kind == ActionKind.Bring)
        {
            Gradual.Add(new(rule.Id, rule.Name, Graph.Parameter(rate), [new(build.FirstState(target.Id), 1)]) { IsPlanned = true });
            return;
        }
        var to = action.MoveTo is { } name ? (Compartment)build.Part(name.Name)! : null;
        Gradual.Add(Passing(rule, target, to, Graph.Parameter(rate)));
        // A negative amount goes the other way.
        if (!IsNeverNegative(amount))
            Gradual.Add(Passing(rule, to, target, Graph.Negate(Graph.Parameter(rate))) with { Id = rule.Id + "#back" });
    }

    /// <summary>
    /// What passes one way for as long as its rate is above zero: no more than is there and still comes in, unless the run is to stop
    /// then.
    /// </summary>
    private Process Passing(EventRule rule, Compartment? from, Compartment? to, int rate)
    {
        var demand = Graph.Binary(Operation.Max, rate, Graph.Constant(0));
        var changes = new List<StateChange>();
        if (from is not null)
            changes.Add(new(build.FirstState(from.Id), -1));
        if (to is not null)
            changes.Add(new(build.FirstState(to.Id), 1));
        var process = new Process(rule.Id, rule.Name, demand, changes) { IsPlanned = true, StopsWhenShort = rule.StopsWhenShort };
        if (from is null || Document.Solver.IsDiscrete)
            return process;
        if (rule.StopsWhenShort)
        {
            var goes = Graph.Binary(Operation.Less, Graph.Constant(0), rate);
            build.Ranges.Add(
                new(rule.Id, Graph.Choose(goes, build.Amount(from), Graph.Constant(0)), 0, double.PositiveInfinity) { Stops = true }
            );
            return process;
        }
        var slot = build.LimitSlot(from.Id);
        return process with { Rate = Graph.Multiply(Graph.Parameter(slot), demand), Demand = demand, Limit = slot };
    }

    private static Assignment Plus(int slot, int node) => new(false, slot, node) { Adds = true };
}
