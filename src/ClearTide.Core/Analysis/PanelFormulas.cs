using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Analysis;

/// <summary>
/// Computed curves of a panel as quantities of the model, so that what runs the model anew, phase planes, sweeps and outcomes, knows them
/// too. They are
/// known by their names behind a mark that no part's id has.
/// </summary>
public static class PanelFormulas
{
    /// <summary>Computed curves that one panel may have.</summary>
    public const int Most = 12;

    private const string Mark = "=";

    public static bool IsComputed(string id) => id.StartsWith(Mark, StringComparison.Ordinal);

    /// <summary>What a computed curve is known by.</summary>
    public static string IdOf(string name) => Mark + name;

    public static IEnumerable<string> Lines(Panel panel) =>
        panel.Formulas.Split('\n', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries).Take(Most);

    /// <summary>The names of its computed curves.</summary>
    public static IEnumerable<string> Names(Panel panel) => Lines(panel).Select(line => ResultFormula.Split(line).Name);

    /// <summary>The document with a quantity for each formula, and what is wrong with those that can be none.</summary>
    public static (StudyDocument Document, string? Problem) Added(StudyDocument document, Panel panel)
    {
        string? problem = null;
        foreach (var line in Lines(panel))
        {
            var (name, formula) = ResultFormula.Split(line);
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
                Definitions = document.Definitions.Add(new Definition(IdOf(name), symbol, name, formula)),
            };
            // Flows and running totals are known along a run, not to the model itself.
            if (
                Lowering
                    .Lower(added)
                    .Findings.FirstOrDefault(finding => finding.PartId == IdOf(name) && finding.Severity == Severity.Unfinished) is
                { } finding
            )
                problem ??= $"{name}: {finding.Message}";
            else
                document = added;
        }
        return (document, problem);
    }
}
