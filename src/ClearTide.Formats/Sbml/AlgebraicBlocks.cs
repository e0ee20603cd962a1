using System.Collections.Immutable;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;

namespace ClearTide.Formats.Sbml;

/// <summary>Rules that together say what as many symbols are.</summary>
internal sealed record AlgebraicBlock(ImmutableArray<string> Unknowns, ImmutableArray<Syntax> Rules);

/// <summary>
/// Finds which symbols the algebraic rules of a model determine (SBML Level 3 Version 2 core, section 4.9.2 and appendix B): each rule
/// one of the
/// symbols in it that may change and that nothing else says, in blocks as small as can be.
/// </summary>
internal static class AlgebraicBlocks
{
    private const int LargestBlock = 4;

    /// <param name="rules">Formulas that are zero at all times, with symbols under assignment rules written out.</param>
    /// <param name="isFree">Whether a symbol may be what a rule determines.</param>
    /// <param name="preference">Where there is a choice, the symbol with the lowest is determined.</param>
    /// <exception cref="SbmlException">Rules are left that determine nothing.</exception>
    public static List<AlgebraicBlock> Find(IReadOnlyList<Syntax> rules, Func<string, bool> isFree, Func<string, int> preference)
    {
        var blocks = new List<AlgebraicBlock>();
        var open = rules.Select(rule => (Rule: rule, Free: rule.Names().Select(name => name.Name).Where(isFree).ToHashSet())).ToList();
        while (open.Count > 0)
        {
            if (open.Any(rule => rule.Free.Count == 0))
                throw new SbmlException(
                    "An algebraic rule of this model does not determine a symbol: all in it is said elsewhere. Take it out, or let "
                        + "one of its symbols change."
                );
            var chosen = Smallest(open);
            var together = chosen.SelectMany(k => open[k].Free).Distinct().OrderBy(preference).ToList();
            var unknowns = together[..chosen.Count];
            blocks.Add(new([.. unknowns], [.. chosen.Select(k => open[k].Rule)]));
            // The rest of them stay as they are, and may be determined by no rule that follows.
            var settled = together.ToHashSet();
            foreach (var k in chosen.OrderDescending())
                open.RemoveAt(k);
            foreach (var (_, free) in open)
                free.ExceptWith(chosen.Count == together.Count ? settled : unknowns);
        }
        return blocks;
    }

    /// <summary>
    /// The fewest rules with no more symbols than rules; else all that hang together, where their symbols are as many; else the first
    /// rule, with a choice.
    /// </summary>
    private static List<int> Smallest(List<(Syntax Rule, HashSet<string> Free)> open)
    {
        for (var size = 1; size <= Math.Min(LargestBlock, open.Count); size++)
        {
            if (Among(open, size, [], [], 0) is { } found)
                return found;
        }
        var connected = Connected(open);
        return connected.SelectMany(k => open[k].Free).Distinct().Count() == connected.Count ? connected : [0];
    }

    /// <summary>The first rule and all that share a symbol with it, directly or through others.</summary>
    private static List<int> Connected(List<(Syntax Rule, HashSet<string> Free)> open)
    {
        var (taken, names) = (new List<int> { 0 }, new HashSet<string>(open[0].Free));
        while (
            Enumerable.Range(0, open.Count).FirstOrDefault(k => !taken.Contains(k) && open[k].Free.Overlaps(names), -1) is var next and >= 0
        )
        {
            taken.Add(next);
            names.UnionWith(open[next].Free);
        }
        taken.Sort();
        return taken;
    }

    private static List<int>? Among(
        List<(Syntax Rule, HashSet<string> Free)> open,
        int size,
        List<int> taken,
        HashSet<string> names,
        int from
    )
    {
        if (taken.Count == size)
            return names.Count == size ? taken : null;
        for (var k = from; k < open.Count; k++)
        {
            HashSet<string> with = [.. names, .. open[k].Free];
            if (with.Count <= size && Among(open, size, [.. taken, k], with, k + 1) is { } found)
                return found;
        }
        return null;
    }
}
