using ClearTide.Core.Diagnostics;
using ClearTide.Core.Model;

namespace ClearTide.Cli;

/// <summary>A finding as a line of text: which part, and what.</summary>
internal static class FindingLine
{
    public static string Of(StudyDocument document, Finding finding)
    {
        var part = document.Part(finding.PartId);
        var kind =
            finding.IsNote ? "note"
            : finding.Severity == Severity.Unfinished ? "unfinished"
            : "doubt";
        return $"{kind}: {(part is null ? "" : $"{document.Describe(part)}: ")}{finding.Message}";
    }
}
