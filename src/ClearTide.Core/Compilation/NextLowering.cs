using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Model;

namespace ClearTide.Core.Compilation;

/// <summary>Lowers next values: in discrete steps a compartment may be given its value one step later outright.</summary>
internal sealed class NextLowering(ModelBuilder build, ValueReader values, NameScope running)
{
    public void AddAll()
    {
        foreach (var part in build.Document.Compartments)
        {
            if (part.Next.Length == 0 || values.Formula(part.Id, PartField.Next).Tree is not { } tree)
                continue;
            var own = values.Value(part.Id, PartField.Next);
            var next = own >= 0 ? own : running.Bind(tree, part.Id, PartField.Next, part.Next);
            if (IsRefused(part))
                continue;
            build.Rules.Add((build.FirstState(part.Id), build.Graph.Subtract(next, build.Amount(part))));
        }
    }

    private bool IsRefused(Compartment part)
    {
        var document = build.Document;
        FindingFix without = new("Take the next value out", new SetField(part.Id, PartField.Next, ""));
        if (!document.Solver.IsDiscrete)
        {
            build.Findings.AddWithEdits(
                part.Id,
                PartField.Next,
                Severity.Doubt,
                null,
                $"The next value of {part.Symbol} is for models in discrete steps, and this one runs in continuous time: it is not used.",
                [
                    new("Go in discrete steps", new SetSolver(Simulation.Method.Discrete, document.Solver.Step, document.Solver.Tolerance)),
                    without,
                ]
            );
            return true;
        }
        if (build.Stages(part.Id) > 1)
        {
            build.Findings.AddWithEdits(
                part.Id,
                PartField.Next,
                Severity.Unfinished,
                null,
                $"{part.Symbol} is passed in stages, and a next value says nothing about them. Take out one of the two.",
                [without]
            );
            return true;
        }
        if (document.Flows.FirstOrDefault(flow => flow.Touches(part.Id)) is { } flow)
        {
            build.Findings.AddWithEdits(
                part.Id,
                PartField.Next,
                Severity.Doubt,
                null,
                $"The next value of {part.Symbol} is given outright, so that {document.Describe(flow)} does not move it.",
                [without]
            );
        }
        return false;
    }
}
