namespace ClearTide.Core.Data;

/// <summary>What the next version of a series brings: rows are the same where they stand at the same times, of several at one time each
/// with that of its turn.</summary>
/// <param name="Added">Rows that were not there.</param>
/// <param name="Changed">Rows that hold something else.</param>
/// <param name="Gone">Rows that are no longer there.</param>
public readonly record struct DataChanges(int Added, int Changed, int Gone)
{
    /// <summary>Compares two versions.</summary>
    /// <param name="before">The rows of the earlier version.</param>
    /// <param name="after">The rows of the later version.</param>
    public static DataChanges Between(IReadOnlyList<DataRow> before, IReadOnlyList<DataRow> after)
    {
        var old = Placed(before).ToDictionary(one => one.Place, one => one.Row);
        var (added, changed, kept) = (0, 0, new HashSet<RowPlace>());
        foreach (var (place, row) in Placed(after))
        {
            if (!old.TryGetValue(place, out var one))
            {
                added++;
                continue;
            }
            kept.Add(place);
            if (one with { LeftOut = false } != row with { LeftOut = false })
                changed++;
        }
        return new(added, changed, old.Count - kept.Count);
    }

    /// <summary>The rows of the next version, those left out that were left out before.</summary>
    /// <param name="before">The rows of the earlier version.</param>
    /// <param name="after">The rows of the later version.</param>
    public static IReadOnlyList<DataRow> Keeping(IReadOnlyList<DataRow> before, IReadOnlyList<DataRow> after)
    {
        var left = Placed(before).Where(one => one.Row.LeftOut).Select(one => one.Place).ToHashSet();
        return left.Count == 0
            ? after
            : [.. Placed(after).Select(one => left.Contains(one.Place) ? one.Row with { LeftOut = true } : one.Row)];
    }

    /// <param name="Start">Where the row's interval begins; the time itself for a row at one time.</param>
    /// <param name="End">Where it ends.</param>
    /// <param name="Subject">Of whom the row is; null where it names nobody.</param>
    /// <param name="Turn">Which of several rows of one time it is, from 0 on.</param>
    private readonly record struct RowPlace(double Start, double End, string? Subject, int Turn);

    private static IEnumerable<(RowPlace Place, DataRow Row)> Placed(IReadOnlyList<DataRow> rows)
    {
        var turns = new Dictionary<RowPlace, int>(rows.Count);
        foreach (var row in rows)
        {
            var first = new RowPlace(row.Start, row.End, row.Subject, 0);
            turns[first] = turns.GetValueOrDefault(first, -1) + 1;
            yield return (first with { Turn = turns[first] }, row);
        }
    }
}
