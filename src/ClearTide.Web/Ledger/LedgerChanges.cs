using ClearTide.Core.Diagnostics;
using ClearTide.Core.Expressions;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;
using ClearTide.Web.Words;

namespace ClearTide.Web.Ledger;

/// <summary>What an edit has changed of a ledger whose lines are still the same ones in the same order.</summary>
public static class LedgerChanges
{
    /// <summary>The lines that look different after an edit; null where lines came, went or moved, so that the whole ledger is drawn
    /// anew.</summary>
    public static IReadOnlyList<LedgerLine>? Between(LedgerModel before, LedgerModel after)
    {
        if (Frame(before) != Frame(after))
            return null;
        return
        [
            .. before
                .Sections.SelectMany(section => section.Lines)
                .Zip(after.Sections.SelectMany(section => section.Lines))
                .Where(pair => Look(pair.First) != Look(pair.Second))
                .Select(pair => pair.Second),
        ];
    }

    /// <summary>Everything around the lines, and which lines there are.</summary>
    private static string Frame(LedgerModel ledger) =>
        string.Join(
            '\n',
            ledger
                .Sections.Select(section => $"{section.Heading}|{section.Column}|{string.Join(',', section.Lines.Select(line => line.Id))}")
                .Concat(
                    ledger.Unfinished.Select(line =>
                        line.Id + line.Findings.First(finding => finding.Severity == Severity.Unfinished).Message
                    )
                )
        );

    private static string Look(LedgerLine line) =>
        string.Join(
            '\n',
            new[]
            {
                line.Name,
                line.Symbol,
                line.Print,
                line.Part.Label,
                line.Part.Note,
                line.Value,
                line.Unit,
                $"{line.Colour} {line.IsGuess} {line.UnitIsInferred}",
                (line.Part as ISymbolPart)?.Unit,
                string.Join(' ', line.Members),
            }.Concat(
                line.Findings.Select(finding =>
                    $"{finding.Severity}{FindingText.Mark(line.Part, finding)}{finding.Message}{string.Concat(finding.Fixes.Select(FindingText.Post))}"
                )
            )
        );
}
