using System.Collections.Immutable;
using ClearTide.Core.Data;
using ClearTide.Core.Language;
using NodaTime;

namespace ClearTide.Formats.Tables;

/// <summary>Turns cells into rows of counts. Every row that is left out is listed with its reason.</summary>
public static partial class CountMapper
{
    /// <summary>Values that never fall over so many rows look like running totals.</summary>
    private const int LongRise = 8;

    /// <summary>No interval of counting is longer, in days; what is typed beyond it moves no calendar.</summary>
    private const double LongestInterval = 100_000;

    private readonly record struct Cell(int Row, double Start, double End, double Value, bool Below, ImmutableArray<string> Cells)
    {
        /// <summary>What stands beside the value.</summary>
        public BesideValue Beside { get; init; }

        /// <summary>Of whom it is; null where rows are of one.</summary>
        public string? Subject { get; init; }

        /// <summary>What the row holds, as it is listed where it cannot be used.</summary>
        public string Content => CellText.Row(Cells);
    }

    /// <exception cref="TableException">The mapping does not fit the table, or no row can be used.</exception>
    public static MappedCounts Map(CountTable table, CountMapping mapping, TableCalendar calendar)
    {
        Require(table, mapping);
        var numbers = mapping.Numbers ?? table.Numbers;
        var times = mapping.Times ?? table.TimesOf(mapping.TimeColumn, numbers);
        IReadOnlyList<string> timeCells = times == TimeForm.Number ? [] : table.Column(mapping.TimeColumn);
        if (times != TimeForm.Number && mapping.OtherEndColumn is { } ends)
            timeCells = [.. timeCells, .. table.Column(ends)];
        var (bad, notes) = (new List<BadRow>(), new List<string>());
        var origin = times == TimeForm.Number ? null : calendar.Origin ?? First(times, timeCells, mapping, calendar.Unit);
        var starts = new List<double>();
        var clock = new RowClock(times, numbers, origin, calendar.Unit);
        if (mapping.Subjects is { } columns)
            mapping = mapping with { Subjects = columns.Settled(table, mapping.TimeColumn, clock, notes) };
        var found = Cells(table, mapping, numbers, clock, bad, starts);
        var subjects = mapping.Subjects?.Read(table, mapping.TimeColumn, numbers, clock, bad, notes) ?? [];
        var wasSorted = false;
        var bodies = new List<List<Cell>>();
        var groups = mapping.Subjects is null ? [found] : found.GroupBy(cell => cell.Subject).Select(group => group.ToList());
        foreach (var group in groups)
        {
            var sorted = group;
            if (!IsInOrder(sorted))
            {
                sorted = [.. sorted.OrderBy(cell => cell.Start)];
                wasSorted = true;
            }
            // A running total has one value at a time.
            if (mapping.Same != SameTime.Each || mapping.RunningTotals && !mapping.AtOneTime)
                sorted = OneATime(sorted, mapping.Same, bad, notes);
            if (mapping.RunningTotals && !mapping.AtOneTime)
                sorted = Differences(sorted, bad);
            else if (!mapping.AtOneTime && sorted.Count >= LongRise && IsRising(sorted))
                notes.Add("These values never fall. If they are running totals, say so, and each row counts what was added.");
            if (!mapping.AtOneTime && mapping.OutOfColumn is null)
                sorted = Counts(sorted, bad, notes);
            bodies.Add(sorted);
        }
        List<Cell> all = bodies.Count == 1 ? bodies[0] : [.. bodies.SelectMany(body => body)];
        if (all.Count == 0)
            throw new TableException(
                bad.Count > 0
                    ? $"No row can be used: in row {bad[0].Row} {bad[0].Reason}. Check which column holds what."
                    : "The table has no rows."
            );
        if (DateForm.IsAmbiguous(times, timeCells))
        {
            var cell = timeCells.First(cell => DateForm.Read(times, cell) is not null);
            notes.Add($"The order of day and month is a guess: “{cell}” is read as {DateForm.Read(times, cell)!.Value.At:d MMMM}.");
        }
        var interval = mapping.Interval ?? UsualLength(all, starts);
        var rows = bodies.Select(body => Rows(body, mapping, interval)).ToList();
        return new(
            // Those of one body are in order.
            rows.Count == 1
                ? [.. rows[0]]
                : [.. rows.SelectMany(body => body).OrderBy(row => row.End)],
            [.. bad.DistinctBy(row => (row.Row, row.Reason)).OrderBy(row => row.Row)],
            interval,
            wasSorted,
            times,
            numbers,
            origin,
            [.. notes.Distinct()]
        )
        {
            Subjects = subjects,
        };
    }

    private static void Require(CountTable table, CountMapping mapping)
    {
        bool Has(int column) => column >= 0 && column < table.Columns.Length;
        if (!Has(mapping.TimeColumn) || !Has(mapping.ValueColumn))
            throw new TableException("Choose a column for the time and one for the counts.");
        if (mapping.TimeColumn == mapping.ValueColumn)
            throw new TableException("Time and counts cannot be the same column. Choose another for one of them.");
        if (mapping.ErrorColumn is { } error && (!Has(error) || error == mapping.ValueColumn || error == mapping.TimeColumn))
            throw new TableException("The errors of a series stand in a column of their own. Choose another for them.");
        if (mapping.OtherEndColumn is { } end && (!Has(end) || end == mapping.TimeColumn || end == mapping.ValueColumn))
            throw new TableException("The other end of an interval stands in a column of its own. Choose another for it.");
        if (mapping.BelowColumn is { } below && (!Has(below) || below == mapping.ValueColumn || below == mapping.TimeColumn))
            throw new TableException("What says which values are below detection stands in a column of its own. Choose another for it.");
        if (mapping.OutOfColumn is not null && mapping.RunningTotals)
            throw new TableException("Running totals are of counts, not of so many out of a number. Choose one of both.");
        if (mapping.Only is { } only && !Has(only.Column))
            throw new TableException("Choose the column that says which series a row belongs to.");
        if (mapping.Interval is <= 0)
            throw new TableException("The length of an interval is more than zero.");
    }

    /// <summary>The date at whose midnight time begins where the study does not say it: where the first interval of the table
    /// begins.</summary>
    private static LocalDate? First(TimeForm form, IReadOnlyList<string> cells, CountMapping mapping, TimeUnit unit)
    {
        var dates = cells.Select(cell => DateForm.Read(form, cell)).OfType<TableDate>().ToList();
        if (dates.Count == 0)
            return null;
        var days = dates.Select(date => date.At.Date).Distinct().Order().ToList();
        if (
            mapping.AtOneTime
            || mapping.OtherEndColumn is not null
            // A total says what was counted since the one before: the first interval begins with the first of them.
            || mapping.RunningTotals
            || mapping.Marks == TimeMark.Start
            || dates.Exists(date => date.Until is not null)
        )
        {
            return days[0];
        }
        var gaps = days.Zip(days.Skip(1), Period.DaysBetween).Order().ToList();
        var length = mapping.Interval * unit.Seconds / TimeUnit.Day.Seconds ?? (gaps.Count == 0 ? 1 : gaps[gaps.Count / 2]);
        return days[0].PlusDays(-(int)Math.Ceiling(Math.Min(mapping.Marks == TimeMark.Middle ? length / 2 : length, LongestInterval)));
    }

    private static List<Cell> Cells(
        CountTable table,
        CountMapping mapping,
        NumberForm numbers,
        RowClock clock,
        List<BadRow> bad,
        List<double> starts
    )
    {
        var found = new List<Cell>(mapping.Only is null ? table.Rows.Length : 0);
        var shares = BesideValue.AreShares(table, mapping, numbers);
        var (when, seen) = (table.NumbersOf(mapping.TimeColumn, numbers), table.NumbersOf(mapping.ValueColumn, numbers));
        var limits = mapping.BelowColumn is { } limit ? new BelowColumn(table, limit, numbers) : null;
        for (var k = 0; k < table.Rows.Length; k++)
        {
            var (row, cells) = (table.Lines[k], table.Rows[k]);
            void Refuse(string reason) => bad.Add(new(row, reason, CellText.Row(cells)));
            if (mapping.Only is var (which, name))
            {
                if (which >= cells.Length || cells[which].Length == 0)
                {
                    Refuse("it does not say which series it belongs to");
                    continue;
                }
                if (cells[which] != name)
                    continue;
            }
            if (cells.Length <= Math.Max(mapping.TimeColumn, mapping.ValueColumn))
            {
                Refuse("it has too few columns");
                continue;
            }
            var (time, count) = (cells[mapping.TimeColumn], cells[mapping.ValueColumn]);
            if (clock.Read(time, when[k], out var wrong) is not var (start, end))
            {
                Refuse(wrong);
                continue;
            }
            if (mapping.OtherEndColumn is { } last && !mapping.AtOneTime)
            {
                if (last >= cells.Length || NumberForm.IsMissing(cells[last]))
                {
                    Refuse("it does not say where its interval ends");
                    continue;
                }
                if (clock.Read(cells[last], out wrong) is not { } other)
                {
                    Refuse(wrong);
                    continue;
                }
                (start, end) = OtherEnds.Between((start, end), other);
            }
            var subject = mapping.Subjects?.NameOf(cells);
            if (subject is not null && NumberForm.IsMissing(subject))
            {
                Refuse("it does not say of whom it is");
                continue;
            }
            var (value, isNumber) = (seen[k], !double.IsNaN(seen[k]));
            // What was given is no value that was seen.
            if (!isNumber && NumberForm.IsMissing(count) && mapping.Subjects?.Given(cells, numbers) is not null)
                continue;
            starts.Add(start);
            if (!isNumber)
                value = numbers.ReadLimit(count) ?? double.NaN;
            var below = !double.IsNaN(value) && !isNumber;
            if (limits?.Read(cells, count, ref value, ref below) is { Length: > 0 } unread)
                Refuse(unread);
            else if (double.IsNaN(value))
                Refuse(NumberForm.IsMissing(count) ? "the count is missing" : $"the count “{CellText.Short(count, 20)}” is not a number");
            else if (BesideValue.Read(mapping, numbers, cells, shares, ref value, out wrong) is not { } beside)
                Refuse(wrong);
            else
                found.Add(new(row, start, end, value, below, cells) { Subject = subject, Beside = beside });
        }
        if (mapping.OtherEndColumn is null || mapping.AtOneTime)
            return found;
        var longer = OtherEnds.LastDay(found.Select(cell => (cell.Start, cell.End)), clock.Day);
        found = [.. found.Select(cell => cell with { End = cell.End + longer })];
        foreach (var cell in found.Where(cell => !(cell.End > cell.Start)))
            bad.Add(new(cell.Row, "its interval has no length", cell.Content));
        found.RemoveAll(cell => !(cell.End > cell.Start));
        return found;
    }

    private static bool IsInOrder(List<Cell> cells)
    {
        for (var k = 1; k < cells.Count; k++)
        {
            if (cells[k].Start < cells[k - 1].Start)
                return false;
        }
        return true;
    }

    private static bool IsRising(List<Cell> cells) =>
        cells[^1].Value > cells[0].Value && cells.Zip(cells.Skip(1)).All(pair => pair.Second.Value >= pair.First.Value);

    /// <summary>What each row adds to the one before. The first has nothing before it, and a fall counts nothing.</summary>
    private static List<Cell> Differences(List<Cell> cells, List<BadRow> bad)
    {
        var counts = new List<Cell>();
        for (var k = 0; k < cells.Count; k++)
        {
            if (cells[k].Below)
                bad.Add(new(cells[k].Row, "a running total below a limit tells no count", cells[k].Content));
            else if (k == 0)
                bad.Add(new(cells[k].Row, "the running total begins here: what was counted before is not known", cells[k].Content));
            else if (cells[k].Value < cells[k - 1].Value)
                bad.Add(
                    new(
                        cells[k].Row,
                        $"the running total falls from {cells[k - 1].Value:0.###} to {cells[k].Value:0.###}",
                        cells[k].Content
                    )
                );
            else
                counts.Add(cells[k] with { Value = cells[k].Value - cells[k - 1].Value, Beside = default });
        }
        return counts;
    }

    /// <summary>Counts are not below zero, and whole as a rule.</summary>
    private static List<Cell> Counts(List<Cell> cells, List<BadRow> bad, List<string> notes)
    {
        foreach (var cell in cells.Where(cell => cell.Value < 0))
            bad.Add(new(cell.Row, $"the count {cell.Value:0.###} is negative", cell.Content));
        List<Cell> counts = [.. cells.Where(cell => cell.Value >= 0)];
        var broken = counts.Where(cell => cell.Value != Math.Floor(cell.Value)).ToList();
        if (broken.Count > 0)
            notes.Add(
                $"{broken.Count} {(broken.Count == 1 ? "value is" : "values are")} not whole, as in row {broken[0].Row}: "
                    + $"{broken[0].Value:0.######}. If these are no counts, choose another law, or say that they were seen at one time."
            );
        return counts;
    }
}
