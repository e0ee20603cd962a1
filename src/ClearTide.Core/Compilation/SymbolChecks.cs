using ClearTide.Core.Diagnostics;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Compilation;

/// <summary>Findings about symbols: two that are the same, two that print alike.</summary>
internal static class SymbolChecks
{
    public static void Run(StudyDocument document, FindingList findings)
    {
        var seen = new Dictionary<string, ISymbolPart>();
        foreach (var part in document.SymbolParts)
        {
            // Files from elsewhere may hold what edits refuse.
            if (Symbols.Refusal(part.Symbol) is { } refusal)
                findings.Add(part.Id, PartField.Symbol, Severity.Unfinished, null, refusal);
            var shape = Symbols.PrintedShape(part.Symbol);
            if (!seen.TryGetValue(shape, out var other))
            {
                seen[shape] = part;
                continue;
            }
            if (other.Symbol == part.Symbol)
                findings.Add(
                    part.Id,
                    PartField.Symbol,
                    Severity.Unfinished,
                    null,
                    $"{part.Symbol} is the symbol of two parts, so that formulas cannot tell them apart. Give this one another."
                );
            else
                findings.Add(
                    part.Id,
                    PartField.Symbol,
                    Severity.Doubt,
                    null,
                    $"{part.Symbol} and {other.Symbol} print alike, so that readers cannot tell them apart. Give one of them another "
                        + "symbol."
                );
        }
    }
}
