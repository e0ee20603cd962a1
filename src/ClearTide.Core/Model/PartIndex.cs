using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace ClearTide.Core.Model;

/// <summary>
/// Parts of one kind by their ids and by their symbols, the first where two share one. It belongs to the list, not to the document:
/// documents that an
/// edit left alike share lists, and with them this.
/// </summary>
internal static class PartIndex<T>
    where T : class, IPart
{
    /// <summary>Up to this many parts are looked through faster than looked up.</summary>
    private const int Few = 6;

    private static readonly ConditionalWeakTable<T[], Dictionary<string, T>> ById = [];
    private static readonly ConditionalWeakTable<T[], Dictionary<string, T>> BySymbol = [];

    public static T? Find(ImmutableArray<T> parts, string id) => Find(parts, id, ById, static part => part.Id);

    public static T? FindSymbol(ImmutableArray<T> parts, string symbol) =>
        Find(parts, symbol, BySymbol, static part => ((ISymbolPart)part).Symbol);

    private static T? Find(
        ImmutableArray<T> parts,
        string name,
        ConditionalWeakTable<T[], Dictionary<string, T>> tables,
        Func<T, string> nameOf
    )
    {
        if (parts.Length <= Few)
        {
            foreach (var part in parts)
            {
                if (nameOf(part) == name)
                    return part;
            }
            return null;
        }
        var list = ImmutableCollectionsMarshal.AsArray(parts)!;
        if (!tables.TryGetValue(list, out var table))
            table = tables.GetValue(list, made => Table(made, nameOf));
        return table.GetValueOrDefault(name);
    }

    private static readonly ConditionalWeakTable<T[], Dictionary<string, int>> Places = [];

    /// <summary>Where in the list the part with this id stands, or -1.</summary>
    public static int IndexOf(ImmutableArray<T> parts, string id)
    {
        if (parts.IsEmpty)
            return -1;
        return Places
            .GetValue(ImmutableCollectionsMarshal.AsArray(parts)!, static made =>
            {
                var places = new Dictionary<string, int>(made.Length);
                for (var k = 0; k < made.Length; k++)
                    places.TryAdd(made[k].Id, k);
                return places;
            })
            .GetValueOrDefault(id, -1);
    }

    private static Dictionary<string, T> Table(T[] parts, Func<T, string> nameOf)
    {
        var table = new Dictionary<string, T>(parts.Length);
        foreach (var part in parts)
            table.TryAdd(nameOf(part), part);
        return table;
    }
}
