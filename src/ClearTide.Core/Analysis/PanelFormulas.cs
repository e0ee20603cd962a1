using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Analysis;

/// <summary>
/// Computed curves of a panel as quantities of the model, so that what runs the model anew (phase planes, sweeps, outcomes) knows them too.
/// </summary>
public static class PanelFormulas
{
    /// <summary>The document with a quantity for each formula, and what is wrong with those that can be none.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="panel">The panel whose formulas are read.</param>
    public static (StudyDocument Document, string? Problem) Added(StudyDocument document, Panel panel)
    {
        string? problem = null;
        foreach (var line in ComputedCurves.Lines(panel))
        {
            var (name, formula) = ComputedCurves.Split(line);
            // One that has no name of its own gets one that nobody has typed.
            var symbol = Symbols.Refusal(name) is null ? name : $"computed_{document.NextId}";
            if (document.PartBySymbol(symbol) is not null)
            {
                problem ??= $"“{name}” is a symbol of the model already. Give the formula another name.";
                continue;
            }
            if (Formula.Read(formula) is { Tree: null } broken)
            {
                problem ??= $"{name}: {broken.Problem!.Message}";
                continue;
            }
            var added = document with
            {
                NextId = document.NextId + 1,
                Definitions = document.Definitions.Add(new Definition(ComputedCurves.IdOf(name), symbol, name, formula)),
            };
            // Flows and running totals are known along a run, not to the model itself.
            if (
                Lowering
                    .Lower(added)
                    .Findings.FirstOrDefault(finding =>
                        finding.PartId == ComputedCurves.IdOf(name) && finding.Severity == Severity.Unfinished
                    ) is
                { } finding
            )
                problem ??= $"{name}: {finding.Message}";
            else
                document = added;
        }
        return (document, problem);
    }
}
