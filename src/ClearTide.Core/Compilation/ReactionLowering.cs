using ClearTide.Core.Diagnostics;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Compilation;

/// <summary>Lowers reactions: each is one process that changes all it takes and makes.</summary>
internal sealed class ReactionLowering(ModelBuilder build, NameScope scope)
{
    public IEnumerable<Process> All() => build.Document.Reactions.Select(One).OfType<Process>();

    private Process? One(Reaction part)
    {
        var (line, problem) = ReactionLine.Read(part.Text);
        if (line is null)
        {
            build.Findings.Slip(
                part.Id,
                PartField.Text,
                part.Text,
                problem!,
                $"{part.Symbol} takes and makes nothing yet. Type what it does, as in “A + B -> C : k * A * B”."
            );
            build.Broken.Add(part.Symbol);
            return null;
        }
        foreach (var unit in line.Trees.SelectMany(tree => tree.Units()))
        {
            if (build.Units.Unknown(unit) is { } unknown)
                build.Findings.UnknownUnit(part.Id, PartField.Text, part.Text, unknown, build.Units);
        }
        var changes = new List<StateChange>();
        foreach (var end in line.Ends)
            Add(changes, part, end, line.Makes.Contains(end) ? 1 : -1);
        var rate = scope.Node(part.Symbol);
        if (rate < 0 || !scope.IsWhole(line.Rate))
            rate = build.Graph.Constant(0);
        // What is taken and made again in the same number is not moved, though the rate may read it.
        var moved = changes
            .Where(change => change.Factor >= 0)
            .Concat(
                changes
                    .Where(change => change.Factor < 0)
                    .GroupBy(change => change.State)
                    .Select(group => Change(group.Key, group.Sum(change => change.Coefficient)))
                    .Where(change => change.Coefficient != 0)
            );
        return new(part.Id, part.Symbol, rate, [.. moved]);
    }

    private static StateChange Change(int state, int count, int factor = -1) => new(state, count) { Factor = factor };

    private void Add(List<StateChange> changes, Reaction part, ReactionEnd end, int sign)
    {
        if (build.Part(end.Name.Name) is not { } named)
        {
            build.Findings.Unknown(part.Id, PartField.Text, part.Text, end.Name, called: false);
            return;
        }
        if (named is not Compartment compartment)
        {
            build.Findings.Add(
                part.Id,
                PartField.Text,
                Severity.Unfinished,
                end.Name.Span,
                $"{end.Name.Name} is {PartKinds.Noun(named)}, and a reaction takes and makes what is in compartments. Name a compartment."
            );
            return;
        }
        if (sign < 0 && build.Stages(compartment.Id) > 1)
        {
            build.Findings.Add(
                part.Id,
                PartField.Text,
                Severity.Unfinished,
                end.Name.Span,
                $"{compartment.Symbol} is passed in stages, and a reaction cannot take from stages. Draw them as compartments, or "
                    + $"let a flow take from {compartment.Symbol}."
            );
            return;
        }
        var state = build.FirstState(compartment.Id);
        if (end.Whole is { } count)
            changes.Add(Change(state, sign * count));
        else
            changes.Add(Change(state, sign, scope.Bind(end.Count!, part.Id, PartField.Text, part.Text)));
    }
}
