using ClearTide.Core.Data;

namespace ClearTide.Formats.Tables;

/// <summary>Where the intervals of rows begin and end.</summary>
public static partial class CountMapper
{
    /// <summary>Intervals overlap where they do so by more than rounding.</summary>
    private const double Overlap = 1e-9;

    /// <summary>The rows of one body, in order of time.</summary>
    /// <exception cref="TableException">Their intervals overlap.</exception>
    private static List<DataRow> Rows(List<Cell> cells, CountMapping mapping, double interval)
    {
        var rows = cells.Select((cell, k) => Row(cells, k, mapping, interval)).ToList();
        for (var k = 1; k < rows.Count && !mapping.AtOneTime; k++)
        {
            // What differs by rounding alone is no gap.
            if (Math.Abs(rows[k].Start - rows[k - 1].End) <= Overlap * interval)
                rows[k] = rows[k] with { Start = rows[k - 1].End };
            // What was seen twice has the same interval.
            if (rows[k].Start < rows[k - 1].End - Overlap && (rows[k].Start, rows[k].End) != (rows[k - 1].Start, rows[k - 1].End))
                throw new TableException(
                    $"With intervals of {interval:0.###}, the rows {cells[k - 1].Row} and {cells[k].Row} of the file overlap. "
                        + "Type a shorter interval, or let each reach to the next."
                );
        }
        return rows;
    }

    private static DataRow Row(List<Cell> cells, int k, CountMapping mapping, double interval)
    {
        var cell = cells[k];
        var (start, end) = mapping.AtOneTime ? (At(cell, mapping.Marks), At(cell, mapping.Marks)) : Span(cells, k, mapping, interval);
        // A tenth less a tenth is zero, which a model that begins there has not missed.
        if (Math.Abs(start) <= Overlap * interval)
            start = 0;
        return new(start, end, cell.Value)
        {
            Error = cell.Beside.Error,
            OutOf = cell.Beside.OutOf,
            GivenWeight = cell.Beside.Weight,
            Below = cell.Below,
            Subject = cell.Subject,
        };
    }

    /// <summary>The one time of a row. A week, a month or a year says itself where it begins and ends.</summary>
    private static double At(Cell cell, TimeMark marks) =>
        marks switch
        {
            TimeMark.End => cell.End,
            TimeMark.Start => cell.Start,
            _ => (cell.Start + cell.End) / 2,
        };

    private static (double Start, double End) Span(List<Cell> cells, int k, CountMapping mapping, double interval)
    {
        var cell = cells[k];
        if (cell.End > cell.Start)
            return (cell.Start, cell.End);
        if (mapping.Rule == IntervalRule.ToNeighbour)
        {
            var (left, right) = (k - 1, k + 1);
            while (left >= 0 && cells[left].Start == cell.Start)
                left--;
            while (right < cells.Count && cells[right].Start == cell.Start)
                right++;
            var before = left >= 0 ? cells[left].Start : cell.Start - interval;
            var after = right < cells.Count ? cells[right].Start : cell.Start + interval;
            return mapping.Marks switch
            {
                TimeMark.End => (before, cell.Start),
                TimeMark.Start => (cell.Start, after),
                _ => ((before + cell.Start) / 2, (cell.Start + after) / 2),
            };
        }
        return mapping.Marks switch
        {
            TimeMark.End => (cell.Start - interval, cell.Start),
            TimeMark.Start => (cell.Start, cell.Start + interval),
            _ => (cell.Start - interval / 2, cell.Start + interval / 2),
        };
    }

    /// <summary>The median spacing, so that a missing week does not lengthen the others; one row alone counts one unit of time.</summary>
    /// <param name="starts">The times of all rows, also of those without a count.</param>
    private static double UsualLength(List<Cell> cells, List<double> starts)
    {
        var lengths = cells.Where(cell => cell.End > cell.Start).Select(cell => cell.End - cell.Start).Order().ToList();
        if (lengths.Count == 0)
        {
            starts.Sort();
            for (var k = 1; k < starts.Count; k++)
            {
                if (starts[k] > starts[k - 1])
                    lengths.Add(starts[k] - starts[k - 1]);
            }
            lengths.Sort();
        }
        return lengths.Count == 0 ? 1 : lengths[lengths.Count / 2];
    }
}
