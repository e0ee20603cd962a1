using ClearTide.Core.Diagnostics;
using ClearTide.Core.Expressions;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Compilation;

/// <summary>Events that act so often at most, or rest after each time.</summary>
internal sealed partial class EventLowering
{
    /// <summary>The condition of a rule, and that it has rested since it acted last: that time is a number that an event of its own,
    /// without a part, keeps.</summary>
    private int Rested(EventRule rule, EventLine line)
    {
        var holds = running.Bind(Condition(rule, line), rule.Id, PartField.Text, rule.Text);
        if (line.Rest is null)
            return holds;
        if (rule.DroppedWhenFalse)
            build.Findings.Add(
                rule.Id,
                PartField.Text,
                Severity.Unfinished,
                line.Rest.Span,
                "What is dropped when its condition is false cannot rest: “at most every” makes the condition false as soon as it has "
                    + "acted. Leave one of the two out."
            );
        var last = build.AddSlot(Document.Start - LongAgo, $"last time of {rule.Name}");
        var rest = running.Bind(line.Rest, rule.Id, PartField.Text, rule.Text);
        var since = Graph.Subtract(Graph.Time(), Graph.Parameter(last));
        var may = Graph.Binary(Operation.And, holds, Graph.Binary(Operation.LessOrEqual, rest, since));
        Events.Add(
            new(
                "",
                -1,
                -1,
                may,
                line.Most,
                [
                    [new(false, last, Graph.Time())],
                ]
            )
            {
                ActsAtStart = rule.ActsAtStart,
            }
        );
        return may;
    }

    /// <summary>Before the start of any run, in units of time: what has never acted has rested.</summary>
    private const double LongAgo = 1e9;
}
