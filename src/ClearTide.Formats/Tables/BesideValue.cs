namespace ClearTide.Formats.Tables;

/// <summary>What stands beside a value in its row: its error, out of how many it was counted, and its weight. Null for what is not
/// said.</summary>
internal readonly record struct BesideValue(double? Error, double? OutOf, double? Weight)
{
    /// <summary>Reads it off a row. A count out of a number becomes the share of it.</summary>
    /// <param name="shares">Whether values are shares already: see <see cref="AreShares"/>.</param>
    /// <param name="value">What was counted; its share afterwards.</param>
    /// <param name="wrong">Why it cannot be read.</param>
    /// <returns>Null where it cannot be read.</returns>
    public static BesideValue? Read(
        CountMapping mapping,
        NumberForm numbers,
        IReadOnlyList<string> cells,
        bool shares,
        ref double value,
        out string wrong
    )
    {
        wrong = "";
        // Nothing stands in the cell, or a number that will do: else the row cannot be used.
        bool Take(int? column, Func<double, bool> will, out double? number)
        {
            number = null;
            if (column is not { } at || at >= cells.Count || NumberForm.IsMissing(cells[at]))
                return true;
            number = numbers.Read(cells[at]);
            return number is { } read && will(read);
        }
        string Cell(int? column) => CellText.Short(cells[column!.Value], 20);
        if (!Take(mapping.ErrorColumn, error => error > 0, out var error))
            wrong = $"the error “{Cell(mapping.ErrorColumn)}” is not a number above zero";
        if (!Take(mapping.WeightColumn, weight => weight >= 0, out var weight))
            wrong = $"the weight “{Cell(mapping.WeightColumn)}” is not a number from zero on";
        if (!Take(mapping.OutOfColumn, number => number >= 1, out var outOf))
            wrong = $"“{Cell(mapping.OutOfColumn)}” is not how many were looked at";
        else if (mapping.OutOfColumn is not null && outOf is null)
            wrong = "it does not say out of how many";
        else if (outOf is { } number && (value < 0 || value > (shares ? 1 : number)))
            wrong = shares ? $"{value:0.######} is no share" : $"{value:0.######} of {number:0.######} is more than all";
        else if (outOf is { } all && !shares)
            value /= all;
        return wrong.Length == 0 ? new(error, outOf, weight) : null;
    }

    /// <summary>Whether the values beside a column of numbers looked at are shares of them and not counts: none is above one, and one of
    /// them is not whole.</summary>
    public static bool AreShares(CountTable table, CountMapping mapping, NumberForm numbers)
    {
        if (mapping.OutOfColumn is null)
            return false;
        var read = table
            .Column(mapping.ValueColumn)
            .Select(cell => numbers.Read(cell) ?? numbers.ReadLimit(cell))
            .OfType<double>()
            .ToList();
        return read.TrueForAll(value => value <= 1) && read.Exists(value => value != Math.Floor(value));
    }

    /// <summary>Two values of one time as one, with what stands beside both: errors are those of independent values, and shares are
    /// pooled.</summary>
    /// <param name="count">How many have been averaged with this one; 0 to sum them.</param>
    public (double Value, BesideValue Beside) With(double value, double next, BesideValue beside, int count)
    {
        var weight = (Weight ?? 1) + (beside.Weight ?? 1);
        double? both = Weight is null && beside.Weight is null ? null : weight;
        if (OutOf is { } one && beside.OutOf is { } two)
            return ((value * one + next * two) / (one + two), new(null, one + two, both));
        var (before, scale) = count == 0 ? (1.0, 1.0) : (count - 1.0, 1.0 / count);
        double? joined =
            Error is { } error && beside.Error is { } other ? Math.Sqrt(error * error * before * before + other * other) * scale : null;
        return ((value * before + next) * scale, new(joined, null, both));
    }
}
