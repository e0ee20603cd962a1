using ClearTide.Core.Compilation;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;

namespace ClearTide.Core.Interventions;

/// <summary>Says by which outcomes scenarios are compared besides the usual ones.</summary>
/// <param name="Text">Formulas over whole runs, one a line, as in <c>ever(H > 40)</c>; empty for none. See
/// <see cref="OutcomeFormula"/>.</param>
public sealed record SetOutcomeRows(string Text) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        var lines = Text.Split('\n', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
        if (lines.Length > StudyDocument.MostOutcomeRows)
            return EditResult.Refused($"There are at most {StudyDocument.MostOutcomeRows} outcomes of your own. Leave some out.");
        var lowered = Lowering.Lower(document);
        foreach (var line in lines)
        {
            try
            {
                OutcomeFormula.Read(lowered, line);
            }
            catch (ArgumentException wrong)
            {
                return EditResult.Refused($"{line}: {wrong.Message}");
            }
        }
        return document.OutcomeRows.SequenceEqual(lines) ? document : document with { OutcomeRows = [.. lines.Distinct()] };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => "outcomes that scenarios are compared by";
}
