using ClearTide.Core.Groups;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

/// <summary>Sets how amounts pass between the members of a group.</summary>
/// <param name="GroupId">Id of the group.</param>
/// <param name="PassageId">Which of them; null for another.</param>
/// <param name="Kind">Along the order of the members, or among all.</param>
/// <param name="Rate">With its word, as in <c>after 5 years</c>; empty to take it away.</param>
public sealed record SetPassage(string GroupId, string? PassageId, PassageKind Kind, string Rate) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (document.Groups.FirstOrDefault(group => group.Id == GroupId) is not { } group)
            return EditResult.Refused("This group is no longer in the study.");
        var old = group.Passages.FirstOrDefault(passage => passage.Id == PassageId);
        if (Rate.Trim().Length == 0)
            return old is null
                ? EditResult.Refused("How fast? Write “after” and a time, or “at” and a rate per head, as in “after 5 years”.")
                : document.With(group with { Passages = group.Passages.Remove(old) });
        var rate = RateLine.Read(Rate, old?.RateKind ?? RateKind.PerHead);
        if (Formula.Read(rate.Line).Problem is { } problem)
            return EditResult.Refused(problem);
        if (rate.Stages is not null || rate.Limited || rate.Noise.Length > 0)
            return EditResult.Refused(
                "Flows between members have neither stages nor limits nor noise. Leave “in … stages”, “limited” and “noise” " + "out."
            );
        if (old is not null)
            return document.With(
                group with
                {
                    Passages = group.Passages.Replace(old, old with { Kind = Kind, RateKind = rate.Kind, Rate = rate.Line }),
                }
            );
        if (group.Passages.Any(passage => passage.Kind == Kind))
            return EditResult.Refused(
                Kind == PassageKind.Along
                    ? $"{group.Symbol} is passed along already. Change that rate in the ledger."
                    : $"Amounts pass among {group.Symbol} already. Change that rate in the ledger."
            );
        var made = new Passage($"p{document.NextId}", Kind, rate.Kind, rate.Line);
        var next = document.With(group with { Passages = group.Passages.Add(made) }) with { NextId = document.NextId + 1 };
        return WrittenSize.Refusal(next) is { } large ? EditResult.Refused(large) : next;
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before)
    {
        var name = before.Groups.FirstOrDefault(group => group.Id == GroupId)?.Symbol ?? "group";
        return $"{(Kind == PassageKind.Along ? "along" : "among")} {name}: {(Rate.Trim().Length == 0 ? "nothing passes" : Rate.Trim())}";
    }
}
