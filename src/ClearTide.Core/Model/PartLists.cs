using System.Collections.Immutable;

namespace ClearTide.Core.Model;

internal static class PartLists
{
    /// <summary>The list with the part of this id changed; the same list where no part has it.</summary>
    public static ImmutableArray<T> Change<T>(this ImmutableArray<T> parts, string id, Func<T, T> change)
        where T : class, IPart
    {
        for (var k = 0; k < parts.Length; k++)
        {
            if (parts[k].Id == id)
                return parts.SetItem(k, change(parts[k]));
        }
        return parts;
    }

    /// <summary>The list with a part in the place of the one of its id, or at the end where there is none.</summary>
    public static ImmutableArray<T> Put<T>(this ImmutableArray<T> parts, T part)
        where T : class, IPart
    {
        for (var k = 0; k < parts.Length; k++)
        {
            if (parts[k].Id == part.Id)
                return parts.SetItem(k, part);
        }
        return parts.Add(part);
    }
}
