namespace ClearTide.Core.Data;

/// <summary>What the next version of a series brings: rows are the same where they stand at the same times.</summary>
/// <param name="Added">Rows that were not there.</param>
/// <param name="Changed">Rows that hold something else.</param>
/// <param name="Gone">Rows that are no longer there.</param>
public readonly record struct DataChanges(int Added, int Changed, int Gone)
{
    /// <summary>Compares two versions.</summary>
    public static DataChanges Between(IReadOnlyList<DataRow> before, IReadOnlyList<DataRow> after)
    {
        var old = before.GroupBy(Place).ToDictionary(group => group.Key, group => group.First());
        var (added, changed, kept) = (0, 0, new HashSet<(double, double, string?)>());
        foreach (var row in after)
        {
            var place = Place(row);
            if (!old.TryGetValue(place, out var one))
            {
                added++;
                continue;
            }
            kept.Add(place);
            if (one with { LeftOut = false } != row with { LeftOut = false })
                changed++;
        }
        return new(added, changed, before.Count(row => !kept.Contains(Place(row))));
    }

    /// <summary>The rows of the next version, those left out that were left out before.</summary>
    public static IReadOnlyList<DataRow> Keeping(IReadOnlyList<DataRow> before, IReadOnlyList<DataRow> after)
    {
        var left = before.Where(row => row.LeftOut).Select(Place).ToHashSet();
        return left.Count == 0 ? after : [.. after.Select(row => left.Contains(Place(row)) ? row with { LeftOut = true } : row)];
    }

    private static (double Start, double End, string? Subject) Place(DataRow row) => (row.Start, row.End, row.Subject);
}
