using ClearTide.Core.Diagnostics;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Compilation;

/// <summary>Lowers initial amounts, stage by stage, and checks that they add up.</summary>
internal sealed class StartLowering(ModelBuilder build, NameScope starting)
{
    /// <summary>What starts at equilibrium, once <see cref="Initial"/> has been called.</summary>
    public List<EquilibriumStart> Equilibria { get; } = [];

    public List<int> Initial()
    {
        var document = build.Document;
        var rests = document.Compartments.Where(part => StartLine.Read(part.Start).TheRest).ToList();
        // One in each module, and one outside.
        foreach (
            var (first, extra) in rests
                .GroupBy(part => ModuleName.Of(part.Symbol))
                .SelectMany(all => all.Skip(1).Select(one => (all.First(), one)))
        )
        {
            build.Findings.Add(
                extra.Id,
                PartField.Start,
                Severity.Unfinished,
                null,
                $"{first.Symbol} already takes the rest; only one compartment can. Type an amount for {extra.Symbol}.",
                ("Start at 0", "0")
            );
        }
        var nodes = new List<int>();
        var spreads = document.Flows.Where(flow => flow.SpreadStart).ToLookup(flow => flow.From);
        foreach (var part in document.Compartments)
        {
            var line = StartLine.Read(part.Start);
            if (line is { AtEquilibrium: true, Formula.Tree: { } guess })
            {
                AddEquilibrium(part, starting.Bind(guess, part.Id, PartField.Start, part.Start), nodes);
                continue;
            }
            var start = starting.Start(part);
            if (StartLine.Read(part.Start).TheRest)
                CheckRest(part, start);
            var stages = build.Stages(part.Id);
            var spread = spreads[part.Id].Any(flow => flow.Stages == stages);
            for (var stage = 0; stage < stages; stage++)
            {
                nodes.Add(
                    stages == 1 ? start
                    : spread ? build.Graph.Divide(start, build.Graph.Constant(stages))
                    : stage == 0 ? start
                    : build.Graph.Constant(0)
                );
            }
        }
        return nodes;
    }

    /// <summary>Each stage has an amount of its own to find; the search begins with equal ones.</summary>
    private void AddEquilibrium(Compartment part, int guess, List<int> nodes)
    {
        var slots = build.EquilibriumSlots(part.Id);
        for (var stage = 0; stage < slots.Count; stage++)
        {
            nodes.Add(build.Graph.Parameter(slots[stage]));
            Equilibria.Add(
                new(build.FirstState(part.Id) + stage, slots[stage], build.Graph.Divide(guess, build.Graph.Constant(slots.Count)))
            );
        }
    }

    /// <summary>Totals of which all parts start at equilibrium may have any value: something has to say which.</summary>
    public void CheckTotals(ReactionNetwork network)
    {
        if (Equilibria.Count == 0)
            return;
        var open = Equilibria.Select(start => start.State).ToHashSet();
        foreach (var total in ConservedTotal.Of(network))
        {
            if (!total.Weights.All(pair => open.Contains(pair.State)))
                continue;
            var parts = total
                .Weights.Select(pair => network.States[pair.State].PartId)
                .Distinct()
                .Select(id => build.Document.Compartment(id)!)
                .ToList();
            build.Findings.Add(
                parts[0].Id,
                PartField.Start,
                Severity.Unfinished,
                null,
                $"{string.Join(" + ", parts.Select(part => part.Symbol))} keeps any total, so that equilibrium alone does not say "
                    + "how much there is. Let one of them take the rest of a total."
            );
        }
    }

    /// <summary>Initial amounts that come to more than the stated total leave less than nothing.</summary>
    private void CheckRest(Compartment part, int start)
    {
        // What a search has yet to find is not known here.
        if (build.Document.Compartments.Any(other => StartLine.Read(other.Start).AtEquilibrium))
            return;
        var values = build.Values.Select(value => value.Value).Concat(build.Slots).ToArray();
        var rest = build.Graph.Evaluate(start, build.Document.Start, [], values);
        if (rest >= 0 || double.IsNaN(rest))
            return;
        build.Findings.Add(
            part.Id,
            PartField.Start,
            Severity.Doubt,
            null,
            $"The other initial amounts come to {TypedNumber.Short(-rest)} more "
                + $"than the stated total, so {part.Symbol} starts below zero. Raise the total or lower the others."
        );
    }
}
