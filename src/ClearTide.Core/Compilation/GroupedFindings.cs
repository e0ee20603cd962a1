using System.Text.RegularExpressions;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Groups;
using ClearTide.Core.Model;

namespace ClearTide.Core.Compilation;

/// <summary>
/// What was found in a document that was written out, told of the study it was written from: once for a part, not once for each of its
/// members, and with fixes that change what was typed.
/// </summary>
internal static partial class GroupedFindings
{
    [GeneratedRegex(@"\[[^\[\]]*\]")]
    private static partial Regex Indices();

    /// <summary>The findings of the study's own parts; the list itself where the study has no groups.</summary>
    public static IReadOnlyList<Finding> Of(WrittenOut written, IReadOnlyList<Finding> findings)
    {
        if (!written.HasGroups)
            return findings;
        var seen = new HashSet<(string?, PartField, int, string)>();
        var told = new List<Finding>();
        foreach (var finding in findings)
        {
            var moved = Moved(written, finding);
            if (seen.Add((moved.PartId, moved.Field, moved.At, Indices().Replace(moved.Message, ""))))
                told.Add(moved);
        }
        return told;
    }

    private static Finding Moved(WrittenOut written, Finding finding)
    {
        if (finding.PartId is not { } id)
            return finding;
        var baseId = written.BaseOf(id);
        if (written.Study.Part(baseId) is not { } part || written.Document.Part(id) is not { } made)
            return finding with { PartId = baseId };
        var typed = PartKinds.Text(part, finding.Field, finding.At);
        // A line that was written out has other places than the one that was typed, and a fix of it is no fix of that.
        var isAsTyped = written.Problems.Any(problem => problem.PartId == id && problem.Field == finding.Field);
        isAsTyped |= part.GetType() == made.GetType() && PartKinds.Text(made, finding.Field, finding.At) == typed;
        return finding with
        {
            PartId = baseId,
            Span = isAsTyped ? finding.Span : null,
            Fixes =
                isAsTyped ? [.. finding.Fixes.Select(fix => fix with { Edit = Of(fix.Edit, id, baseId) })]
                : id == baseId ? []
                : [.. finding.Fixes.Where(fix => fix.Edit is AddParameter or SetUnit or SplitParts)],
        };
    }

    private static Edit Of(Edit edit, string id, string baseId) =>
        edit is SetField set && set.PartId == id ? set with { PartId = baseId } : edit;

    /// <summary>A rate holds for each member: out of one that is not split each of them gets all of it.</summary>
    private static void Spread(WrittenOut written, FindingList findings)
    {
        var study = written.Study;
        foreach (var flow in study.Flows)
        {
            if (study.Compartment(flow.From) is not { } from || study.SplitOf(flow.Id) is not null)
                continue;
            var into = flow.To.FirstOrDefault(target =>
                target.Member.Length == 0 && study.GroupsOf(target.Id).Except(study.GroupsOf(from.Id)).Any()
            );
            if (into is null || study.Compartment(into.Id) is not { } to || written.Members(flow.Id) is not [var first, ..])
                continue;
            var group = study.GroupsOf(to.Id).Except(study.GroupsOf(from.Id)).First();
            findings.AddWithEdits(
                first.Id,
                PartField.Rate,
                Severity.Doubt,
                null,
                $"{to.Symbol} is split by {group.Symbol} and {from.Symbol} is not, so that this rate leaves {from.Symbol} once for "
                    + "each member. "
                    + $"Split {from.Symbol} too, or say where it leads, as in {to.Symbol}[{group.Members[0].Symbol}].",
                [new($"Split {from.Symbol} by {group.Symbol}", new SplitParts(group.Id, [from.Id], []))]
            );
        }
    }

    /// <summary>Lines whose indices could not be filled in, and what may not be meant.</summary>
    internal static void Report(WrittenOut written, FindingList findings)
    {
        if (written.HasGroups)
            Spread(written, findings);
        foreach (var problem in written.Problems)
            findings.AddWithEdits(
                problem.PartId,
                problem.Field,
                Severity.Unfinished,
                problem.Span is { Length: 0 } ? null : problem.Span,
                problem.Message,
                [
                    .. problem.Fixes.Select(fix => new FindingFix(
                        fix.Label,
                        new SetField(
                            problem.PartId,
                            problem.Field,
                            problem.Text[..problem.Span.Start] + fix.With + problem.Text[problem.Span.End..],
                            problem.At
                        )
                    )),
                ],
                problem.At
            );
    }
}
