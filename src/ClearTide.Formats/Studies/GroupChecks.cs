using ClearTide.Core.Editing;
using ClearTide.Core.Groups;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Formats.Studies;

/// <summary>What the schema of a file cannot say of groups.</summary>
internal static class GroupChecks
{
    /// <summary>What is wrong with them, with the way out; null where nothing is.</summary>
    public static string? Problem(StudyDocument document)
    {
        if (document.Groups.GroupBy(group => group.Symbol).FirstOrDefault(group => group.Count() > 1) is { } twice)
            return $"Two groups of this study are called {twice.Key}. {StudyChecks.Mend}";
        foreach (var group in document.Groups)
        {
            if (GroupRefusals.Of(document with { Groups = [] }, group.Symbol, group.Members) is { } wrong)
                return $"The group {group.Id}: {wrong}";
        }
        if (document.Groups.SelectMany(group => group.Passages).GroupBy(one => one.Id).Any(one => one.Count() > 1))
            return $"Two passages of this study share an id. {StudyChecks.Mend}";
        var seen = new HashSet<string>();
        foreach (var split in document.Splits)
        {
            if (document.Part(split.PartId) is not (Compartment or Definition or Flow) || !seen.Add(split.PartId))
                return $"A split of this study is of a part that is not there or not of its kind, {split.PartId}. {StudyChecks.Mend}";
            if (split.Groups.Any(id => document.Groups.All(group => group.Id != id)))
                return $"The split of {split.PartId} is by a group that is not in the study. {StudyChecks.Mend}";
            if (GroupRefusals.TooMany(document, split.Groups) is { } many)
                return $"The split of {split.PartId}: {many}";
        }
        return WrittenSize.Refusal(document);
    }
}
