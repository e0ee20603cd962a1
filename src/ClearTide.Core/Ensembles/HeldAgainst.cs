using ClearTide.Core.Data;

namespace ClearTide.Core.Ensembles;

/// <summary>A projection held against counts that came in since.</summary>
/// <param name="Rows">Counts of its intervals.</param>
/// <param name="Within50">How many lie within the middle half of what was projected.</param>
/// <param name="Within90">How many within the middle 90%.</param>
/// <param name="Crps">The mean continuous ranked probability score in the unit of the counts, from twenty quantiles (Gneiting and Raftery,
/// J. Am. Stat. Assoc. 102, 2007, section 4.2; as twice the mean quantile loss); the lower the better.</param>
public sealed record HeldAgainst(int Rows, int Within50, int Within90, double Crps)
{
    /// <summary>Ends of intervals closer than this are the same.</summary>
    private const double Same = 1e-6;

    /// <param name="projection">Of what data count.</param>
    /// <param name="rows">Counts, those before the projection among them.</param>
    /// <returns>Null where it follows something else, or no count of its intervals has come in.</returns>
    public static HeldAgainst? Of(ProjectionSummary projection, IEnumerable<DataRow> rows)
    {
        var baseline = projection.Scenarios[0];
        if (projection.Of.Length > 0 || projection.IsAmount || baseline.Quantiles.Count == 0)
            return null;
        var (count, half, most, loss) = (0, 0, 0, 0.0);
        foreach (var row in rows.Where(row => !row.LeftOut && !row.Below))
        {
            var place = Enumerable
                .Range(0, baseline.Intervals.Count)
                .FirstOrDefault(
                    k => Math.Abs(projection.Times[k] - row.Start) < Same && Math.Abs(projection.Times[k + 1] - row.End) < Same,
                    -1
                );
            if (place < 0)
                continue;
            count++;
            var band = baseline.Intervals[place];
            half += row.Value >= band.P25 && row.Value <= band.P75 ? 1 : 0;
            most += row.Value >= band.P5 && row.Value <= band.P95 ? 1 : 0;
            loss +=
                2
                * baseline
                    .Quantiles[place]
                    .Zip(ProjectionSummary.Shares, (value, share) => (row.Value - value) * (share - (row.Value < value ? 1 : 0)))
                    .Average();
        }
        return count == 0 ? null : new(count, half, most, loss / count);
    }
}
