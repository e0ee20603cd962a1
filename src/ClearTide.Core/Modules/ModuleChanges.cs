using System.Collections.Immutable;
using ClearTide.Core.Model;

namespace ClearTide.Core.Modules;

/// <summary>What became of a line of a module's source since it was taken.</summary>
public enum SourceChange
{
    /// <summary>It was not there.</summary>
    Added,

    /// <summary>It says something else.</summary>
    Changed,

    /// <summary>It is gone.</summary>
    Gone,
}

/// <summary>One line that an update brings.</summary>
/// <param name="Key">What the part is called, without the name of the module.</param>
/// <param name="Kind">Whether it is new, changed or gone.</param>
/// <param name="Here">What the module says now; empty where it has no such part.</param>
/// <param name="There">What the source says now; empty where it is gone.</param>
/// <param name="IsKept">Whether it stays as it is here, since it was changed here too.</param>
public sealed record ModuleChange(string Key, SourceChange Kind, string Here, string There, bool IsKept);

/// <summary>A module against what it was made from: what was changed there, and what of it was changed here as well.</summary>
internal static class ModuleChanges
{
    /// <param name="taken">The source's lines when they were taken.</param>
    /// <param name="there">Its lines now.</param>
    /// <param name="here">The module's lines now.</param>
    public static ImmutableArray<ModuleChange> Between(
        ImmutableArray<SourceLine> taken,
        ImmutableArray<SourceLine> there,
        ImmutableArray<SourceLine> here
    )
    {
        var (old, own) = (ByKey(taken), ByKey(here));
        var now = ByKey(there);
        var changes = ImmutableArray.CreateBuilder<ModuleChange>();
        foreach (var (key, text) in there)
        {
            var (was, mine) = (old.GetValueOrDefault(key), own.GetValueOrDefault(key));
            if (text == was || text == mine)
                continue;
            // What was taken out here stays out; what was changed here stays as it is here.
            var kept = was is null ? mine is not null : mine != was;
            changes.Add(new(key, was is null ? SourceChange.Added : SourceChange.Changed, mine ?? "", text, kept));
        }
        foreach (var (key, text) in taken)
        {
            if (!now.ContainsKey(key) && own.TryGetValue(key, out var mine))
                changes.Add(new(key, SourceChange.Gone, mine, "", mine != text));
        }
        return changes.ToImmutable();
    }

    private static Dictionary<string, string> ByKey(ImmutableArray<SourceLine> lines) =>
        lines.GroupBy(line => line.Key).ToDictionary(group => group.Key, group => group.First().Text);
}
