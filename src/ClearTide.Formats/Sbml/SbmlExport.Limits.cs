using ClearTide.Core.Language;
using ClearTide.Core.Simulation;

namespace ClearTide.Formats.Sbml;

/// <content>
/// Limited flows: all that leave one compartment share a factor, one while something is there, and else what still flows in over what
/// they ask for. Where
/// limits wait for each other in a circle the factor has no formula.
/// </content>
public sealed partial class SbmlExport
{
    private readonly List<(int Slot, int State)> _limits = [];

    private void PlanLimits()
    {
        var states = _form
            .Processes.Where(process => process.Limit >= 0)
            .GroupBy(process => process.Limit)
            .ToDictionary(group => group.Key, group => Taken(group.First()));
        foreach (var (slot, state) in states)
        {
            if (!Waits(slot, slot, states, []))
            {
                _limits.Add((slot, state));
                _slots[slot] = Name(_parameters[slot]);
                continue;
            }
            _slots[slot] = MathReader.Of(1);
            foreach (var process in _form.Processes.Where(process => process.Limit == slot))
                _left.Add(
                    $"{process.Name} is limited in a circle, which SBML cannot say: it is written without the limit, and goes on "
                        + "where its compartment is empty."
                );
        }
    }

    private static int Taken(Process process) => process.Changes.First(change => change.Coefficient < 0).State;

    /// <summary>Whether what a limit lets through depends on another, through what flows in.</summary>
    private bool Waits(int slot, int on, Dictionary<int, int> states, HashSet<int> seen)
    {
        foreach (var feed in Feeds(states[slot]).Select(process => process.Limit).Where(limit => limit >= 0))
        {
            if (feed == on || seen.Add(feed) && Waits(feed, on, states, seen))
                return true;
        }
        return false;
    }

    private IEnumerable<Process> Feeds(int state) =>
        _form.Processes.Where(process => process.Changes.Any(change => change.State == state && change.Coefficient > 0));

    private string LimitId(int slot) => $"{_states[Taken(_form.Processes.First(process => process.Limit == slot))]}_limit";

    private IEnumerable<SbmlRule> Limits()
    {
        foreach (var (slot, state) in _limits)
        {
            Syntax there = MathReader.Of(0);
            foreach (var process in _form.Processes.Where(process => process.Limit != slot))
            {
                foreach (var change in process.Changes.Where(change => change.State == state))
                {
                    var part = Tree(process.Rate);
                    if (Factor(change) is var factor && factor >= 0)
                        part = new BinarySyntax(default, BinaryOperator.Multiply, Tree(factor), part);
                    if (Math.Abs(change.Coefficient) != 1)
                        part = new BinarySyntax(default, BinaryOperator.Multiply, MathReader.Of(Math.Abs(change.Coefficient)), part);
                    there =
                        change.Coefficient < 0 ? new BinarySyntax(default, BinaryOperator.Subtract, there, part)
                        : there is NumberSyntax { Value: 0 } ? part
                        : new BinarySyntax(default, BinaryOperator.Add, there, part);
                }
            }
            var asked = _form
                .Processes.Where(process => process.Limit == slot)
                .Select(process => Tree(process.Demand))
                .Aggregate((all, one) => new BinarySyntax(default, BinaryOperator.Add, all, one));
            Syntax share =
                there is NumberSyntax
                    ? MathReader.Of(0)
                    : new BinarySyntax(default, BinaryOperator.Divide, MathReader.Call("max", there, MathReader.Of(0)), asked);
            var isShort = new BinarySyntax(default, BinaryOperator.Less, there, asked);
            yield return new(
                _parameters[slot],
                MathReader.Call(
                    "if",
                    new BinarySyntax(default, BinaryOperator.Greater, Name(_states[state]), MathReader.Of(0)),
                    MathReader.Of(1),
                    MathReader.Call("if", isShort, share, MathReader.Of(1))
                )
            );
        }
    }

    private int Factor(StateChange change) =>
        change.Share < 0 ? change.Factor
        : change.Factor < 0 ? change.Share
        : _form.Graph.Multiply(change.Share, change.Factor);
}
