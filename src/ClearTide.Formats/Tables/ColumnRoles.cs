using System.Collections.Immutable;

namespace ClearTide.Formats.Tables;

/// <summary>What a column of a table is.</summary>
public enum ColumnRole
{
    /// <summary>When.</summary>
    Time,

    /// <summary>What was counted or measured: a series.</summary>
    Value,

    /// <summary>The standard deviation or error of the values left of it.</summary>
    Error,

    /// <summary>Which series a row belongs to: a subject, a place, a kind. The table is long then.</summary>
    Which,

    /// <summary>Left out.</summary>
    Out,

    /// <summary>Of whom a row is: a series of several bodies.</summary>
    Subject,

    /// <summary>What was given at the row's time.</summary>
    Dose,

    /// <summary>Over how long that went in.</summary>
    Duration,

    /// <summary>One number for each subject.</summary>
    Covariate,

    /// <summary>Which of several runs of a subject a row is of, each of which begins anew.</summary>
    Occasion,

    /// <summary>Of how many the values beside it were counted.</summary>
    OutOf,

    /// <summary>As how many rows a row counts in fits.</summary>
    Weight,

    /// <summary>The other end of the row's interval, of which the time is one.</summary>
    OtherEnd,

    /// <summary>Whether the values left of it are below what could be seen, or the limit from which they could.</summary>
    Below,

    /// <summary>What was given went into this compartment.</summary>
    Target,
}

/// <summary>One series of a table: a column, or in a long table the rows of it that belong together.</summary>
/// <param name="Value">Its column.</param>
/// <param name="Error">The column of its errors; null where it has none.</param>
/// <param name="Which">In a long table, the column that says which series a row belongs to, and what it holds for this one.</param>
/// <param name="Heading">The name it has in the table.</param>
public sealed record TableSeries(int Value, int? Error, (int Column, string Cell)? Which, string Heading)
{
    /// <summary>The column that says out of how many; null where none does.</summary>
    public int? OutOf { get; init; }

    /// <summary>The column of weights; null where rows count alike.</summary>
    public int? Weight { get; init; }

    /// <summary>The column that says which values are below what could be seen; null where none does.</summary>
    public int? Below { get; init; }

    /// <summary>How the series is read, with all else as it looks.</summary>
    /// <param name="roles">What the columns of the table are.</param>
    /// <param name="subjects">The columns that speak of subjects; null where none does.</param>
    /// <exception cref="TableException">Several columns hold the other ends of intervals.</exception>
    public CountMapping Mapping(IReadOnlyList<ColumnRole> roles, SubjectColumns? subjects = null) =>
        new(roles.ToList().IndexOf(ColumnRole.Time), Value)
        {
            ErrorColumn = Error,
            OutOfColumn = OutOf,
            WeightColumn = Weight,
            BelowColumn = Below,
            OtherEndColumn = ColumnRoles.OtherEnd(roles),
            Only = Which,
            Subjects = subjects,
        };
}

/// <summary>What the columns of a table are, guessed from their headings and what they hold.</summary>
public static class ColumnRoles
{
    /// <summary>Series of one table at most.</summary>
    public const int MostSeries = 40;

    /// <summary>Rows looked at for a guess.</summary>
    private const int Sample = 400;

    /// <summary>A guess: the first column that holds times is the time; numbers are series, those with a heading like “se” the errors of
    /// the series before them; a column of words that come again and again says which series a row belongs to.</summary>
    public static ImmutableArray<ColumnRole> Guess(CountTable table)
    {
        var rows = table.Rows.Length <= Sample ? table.Rows : table.Rows[..Sample];
        IReadOnlyList<string> Cells(int column) =>
            [.. rows.Select(row => column < row.Length ? row[column] : "").Where(cell => !NumberForm.IsMissing(cell))];
        var all = Enumerable.Range(0, table.Columns.Length).Select(Cells).ToList();
        double Numbers(int column) => Share(all[column], table.Numbers.IsValue);
        double Dates(int column) =>
            Enum.GetValues<TimeForm>()
                .Where(form => form != TimeForm.Number && form != TimeForm.Year)
                .Max(form => Share(all[column], cell => DateForm.Read(form, cell) is not null));
        var columns = Enumerable.Range(0, table.Columns.Length).ToList();
        var dated = columns.Find(column => all[column].Count > 0 && Dates(column) > 0.5);
        var time =
            columns.Exists(column => all[column].Count > 0 && Dates(column) > 0.5) ? dated
            : columns.Exists(column => ColumnHeadings.TimeHeading().IsMatch(table.Columns[column]) && Numbers(column) > 0.5)
                ? columns.Find(column => ColumnHeadings.TimeHeading().IsMatch(table.Columns[column]) && Numbers(column) > 0.5)
            : columns.Exists(column => Numbers(column) > 0.5) ? columns.Find(column => Numbers(column) > 0.5)
            : 0;
        var roles = columns.Select(_ => ColumnRole.Out).ToArray();
        roles[time] = ColumnRole.Time;
        var repeated = all[time].Count > 0 && all[time].Distinct().Count() < 0.75 * all[time].Count;
        var subject = columns.FindIndex(column => column != time && ColumnHeadings.SubjectHeading().IsMatch(table.Columns[column]));
        if (subject >= 0 && all[subject].Distinct().Count() < all[subject].Count)
            roles[subject] = ColumnRole.Subject;
        else
            subject = -1;
        // Cases beside how many were tested are counts still; those that were positive are so many of them.
        var surveyed = table.Columns.Any(heading => ColumnHeadings.PartHeading().IsMatch(heading));
        var given = columns.Exists(column => ColumnHeadings.DoseHeading().IsMatch(table.Columns[column]));
        foreach (var column in columns.Where(column => column != time && column != subject && all[column].Count > 0))
        {
            // Each series may have limits of its own.
            if (
                ByHeading(table.Columns[column], table.Columns[time], given, roles[..column]) is { } told
                && (told == ColumnRole.Below || !roles.Contains(told))
            )
            {
                roles[column] = told;
                continue;
            }
            if (subject >= 0 && ColumnHeadings.OccasionHeading().IsMatch(table.Columns[column]))
            {
                // Visits of one run are numbered, and nothing that was measured.
                roles[column] = StartsAnew(rows, subject, time, column) ? ColumnRole.Occasion : ColumnRole.Out;
                continue;
            }
            if (subject >= 0 && Numbers(column) > 0.5 && OfSubject(table, rows, subject, column) is { } role)
            {
                roles[column] = roles.Contains(role) && role != ColumnRole.Covariate ? ColumnRole.Out : role;
                continue;
            }
            if (Numbers(column) > 0.5)
                roles[column] =
                    ColumnHeadings.ErrorHeading().IsMatch(table.Columns[column]) && roles[..column].Contains(ColumnRole.Value)
                        ? ColumnRole.Error
                    : ColumnHeadings.OutOfHeading().IsMatch(table.Columns[column])
                    || surveyed && ColumnHeadings.TestedHeading().IsMatch(table.Columns[column])
                        ? ColumnRole.OutOf
                    : ColumnHeadings.WeightHeading().IsMatch(table.Columns[column]) ? ColumnRole.Weight
                    : repeated
                    && subject < 0
                    && ColumnHeadings.NameHeading().IsMatch(table.Columns[column])
                    && !roles.Contains(ColumnRole.Which)
                        ? ColumnRole.Which
                    : ColumnRole.Value;
            else if (
                repeated
                && subject < 0
                && !roles.Contains(ColumnRole.Which)
                && all[column].Distinct().Count() is > 1 and <= MostSeries
            )
                roles[column] = ColumnRole.Which;
        }
        // Where nothing looks like a number, the column beside the time is asked about.
        if (!roles.Contains(ColumnRole.Value) && table.Columns.Length > 1)
            roles[time == 0 ? 1 : 0] = ColumnRole.Value;
        return [.. roles];
    }

    /// <summary>What a heading alone says that its column is; null where it says nothing of the kind.</summary>
    /// <param name="time">The heading of the times.</param>
    /// <param name="given">Whether the table has doses.</param>
    /// <param name="before">What the columns left of it are.</param>
    private static ColumnRole? ByHeading(string heading, string time, bool given, ReadOnlySpan<ColumnRole> before) =>
        ColumnHeadings.StartHeading().IsMatch(time) && ColumnHeadings.EndHeading().IsMatch(heading)
        || ColumnHeadings.EndHeading().IsMatch(time) && ColumnHeadings.StartHeading().IsMatch(heading)
            ? ColumnRole.OtherEnd
        : given && ColumnHeadings.TargetHeading().IsMatch(heading) ? ColumnRole.Target
        : before.Contains(ColumnRole.Value) && ColumnHeadings.BelowHeading().IsMatch(heading) ? ColumnRole.Below
        : null;

    /// <summary>Whether a column tells runs apart that begin anew: without it, one subject would have rows of one time twice.</summary>
    private static bool StartsAnew(ImmutableArray<ImmutableArray<string>> rows, int subject, int time, int occasion)
    {
        string At(ImmutableArray<string> row, int column) => column >= 0 && column < row.Length ? row[column] : "";
        var all = rows.Select(row => (Whom: At(row, subject), When: At(row, time), Which: At(row, occasion))).ToList();
        return all.GroupBy(one => (one.Whom, one.When)).Any(group => group.Select(one => one.Which).Distinct().Count() > 1)
            && all.Select(one => one.Which).Distinct().Count() is > 1 and <= 50;
    }

    /// <summary>The column of the other ends of intervals; null where there is none.</summary>
    /// <exception cref="TableException">There are several.</exception>
    public static int? OtherEnd(IReadOnlyList<ColumnRole> roles) =>
        roles.Count(role => role == ColumnRole.OtherEnd) switch
        {
            0 => null,
            1 => roles.ToList().IndexOf(ColumnRole.OtherEnd),
            _ => throw new TableException("One column holds the other end of each interval. Choose one of them."),
        };

    /// <summary>The series of a table.</summary>
    /// <exception cref="TableException">The roles do not make one.</exception>
    public static ImmutableArray<TableSeries> Series(CountTable table, IReadOnlyList<ColumnRole> roles)
    {
        if (roles.Count(role => role == ColumnRole.Time) != 1)
            throw new TableException("Say of one column that it is the time.");
        var values = Enumerable.Range(0, roles.Count).Where(k => roles[k] == ColumnRole.Value).ToList();
        if (values.Count == 0)
            throw new TableException("Say of at least one column that it holds counts or measured values.");
        int? ErrorOf(int value)
        {
            var next = Enumerable.Range(value + 1, roles.Count - value - 1).FirstOrDefault(k => roles[k] != ColumnRole.Out, -1);
            return next >= 0 && roles[next] == ColumnRole.Error ? next : null;
        }
        if (roles.ToList().IndexOf(ColumnRole.Below) is >= 0 and var first && first < values[0])
            throw new TableException("What says which values are below a limit stands right of them. Choose another column for it.");
        if (roles.Count(role => role == ColumnRole.Weight) > 1)
            throw new TableException("One column holds the weights of rows. Choose one of them.");
        int? weight = roles.Contains(ColumnRole.Weight) ? roles.ToList().IndexOf(ColumnRole.Weight) : null;
        // The number may stand on either side of what was counted out of it.
        int? OutOf(int value)
        {
            var numbers = Enumerable.Range(0, roles.Count).Where(k => roles[k] == ColumnRole.OutOf).ToList();
            var (left, right) = (values.FindLast(k => k < value), values.Find(k => k > value));
            return numbers.Count == 1
                ? numbers[0]
                : numbers.Where(k => k > value && (right == 0 || k < right)).Cast<int?>().FirstOrDefault()
                    ?? numbers.Where(k => k < value && k >= left).Cast<int?>().LastOrDefault();
        }
        // What says it of the values left of it may stand behind their errors.
        int? BelowOf(int value)
        {
            var next = values.Find(k => k > value);
            var found = Enumerable
                .Range(value, (next == 0 ? roles.Count : next) - value)
                .FirstOrDefault(k => roles[k] == ColumnRole.Below, -1);
            return found < 0 ? null : found;
        }
        TableSeries Of(int value, (int, string)? only, string heading) =>
            new(value, ErrorOf(value), only, heading)
            {
                OutOf = OutOf(value),
                Weight = weight,
                Below = BelowOf(value),
            };
        var which = roles.ToList().IndexOf(ColumnRole.Which);
        if (roles.Count(role => role == ColumnRole.Which) > 1)
            throw new TableException("One column says which series a row belongs to. Choose one of them.");
        var names = which < 0 ? [] : table.Column(which).Where(cell => cell.Length > 0).Distinct().ToList();
        if (Math.Max(names.Count, 1) * values.Count > MostSeries)
            throw new TableException(
                $"This would be {Math.Max(names.Count, 1) * values.Count:N0} series; {MostSeries} is the limit. Leave out columns, or choose "
                    + "another one that says which series a row belongs to."
            );
        return which < 0
            ? [.. values.Select(value => Of(value, null, table.Columns[value]))]
            :
            [
                .. values.SelectMany(value =>
                    names.Select(name => Of(value, (which, name), values.Count == 1 ? name : $"{table.Columns[value]}, {name}"))
                ),
            ];
    }

    /// <summary>What a column of numbers says of subjects: what was given to them, or one number that each has; null where it says
    /// neither.</summary>
    private static ColumnRole? OfSubject(CountTable table, ImmutableArray<ImmutableArray<string>> rows, int subject, int column)
    {
        if (ColumnHeadings.DoseHeading().IsMatch(table.Columns[column]))
            return ColumnRole.Dose;
        if (ColumnHeadings.DurationHeading().IsMatch(table.Columns[column]))
            return ColumnRole.Duration;
        var each = rows.Where(row => Math.Max(subject, column) < row.Length && !NumberForm.IsMissing(row[column]))
            .GroupBy(row => row[subject], row => row[column])
            .ToList();
        return
            each.Count > 1
            && each.All(group => group.Distinct().Count() == 1)
            && each.Any(group => group.Count() > 1)
            && each.Select(group => group.First()).Distinct().Count() > 1
            ? ColumnRole.Covariate
            : null;
    }

    /// <summary>The columns that speak of subjects; null where none does.</summary>
    /// <param name="symbols">The values of the model that a heading may be the symbol of.</param>
    /// <param name="targets">What doses may go into, by each name that a cell may hold, with its id.</param>
    /// <exception cref="TableException">The roles do not fit together.</exception>
    public static SubjectColumns? Subjects(
        CountTable table,
        IReadOnlyList<ColumnRole> roles,
        IEnumerable<string> symbols,
        params IEnumerable<(string Name, string Id)> targets
    )
    {
        int? Only(ColumnRole role, string what)
        {
            var all = Enumerable.Range(0, roles.Count).Where(k => roles[k] == role).ToList();
            return all.Count <= 1 ? all.Cast<int?>().FirstOrDefault() : throw new TableException($"One column {what}. Choose one of them.");
        }
        var subject = Only(ColumnRole.Subject, "says of whom a row is");
        var occasion = Only(ColumnRole.Occasion, "says which run of a subject a row is of");
        var dose = Only(ColumnRole.Dose, "holds what was given");
        var duration = Only(ColumnRole.Duration, "says over how long doses went in");
        if (duration is not null && dose is null)
            throw new TableException("A duration belongs to doses. Say which column holds what was given.");
        var target = Only(ColumnRole.Target, "says what doses go into");
        if (target is not null && dose is null)
            throw new TableException("What doses go into belongs to doses. Say which column holds what was given.");
        List<int> covariates = [.. Enumerable.Range(0, roles.Count).Where(k => roles[k] == ColumnRole.Covariate)];
        if (covariates.Count > 0 && subject is null)
            throw new TableException("A number for each subject belongs to subjects. Say which column says of whom a row is.");
        if (subject is null && dose is null && occasion is null)
            return null;
        string Symbol(string heading)
        {
            // A unit may stand behind the name.
            var name = ColumnHeadings.FirstWord().Match(heading.Trim()).Value;
            return symbols.FirstOrDefault(symbol => string.Equals(symbol, name, StringComparison.OrdinalIgnoreCase)) ?? name;
        }
        return new(subject, dose, duration, [.. covariates.Select(column => (column, Symbol(table.Columns[column])))])
        {
            Occasion = occasion,
            Target = target,
            Targets = target is null ? [] : [.. targets],
        };
    }

    private static double Share(IReadOnlyCollection<string> cells, Func<string, bool> matches) =>
        cells.Count == 0 ? 0 : (double)cells.Count(matches) / cells.Count;
}
