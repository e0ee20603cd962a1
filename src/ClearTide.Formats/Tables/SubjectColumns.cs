using System.Collections.Immutable;
using ClearTide.Core.Data;
using ClearTide.Core.Language;

namespace ClearTide.Formats.Tables;

/// <summary>The columns that say of whom a row is, what was given to them, and what is known of them.</summary>
/// <param name="Subject">Null where all rows are of one.</param>
/// <param name="Dose">The column of amounts given at the row's time; null for none.</param>
/// <param name="Duration">Over how long they went in; null for at once.</param>
/// <param name="Covariates">Columns that hold one number for each subject, with the symbol that each stands for.</param>
public sealed record SubjectColumns(int? Subject, int? Dose, int? Duration, ImmutableArray<(int Column, string Symbol)> Covariates)
{
    /// <summary>The column that tells runs of one subject apart, each of which begins anew; null where each has one.</summary>
    public int? Occasion { get; init; }

    /// <summary>The column that says what doses go into; null where all go where the series says.</summary>
    public int? Target { get; init; }

    /// <summary>What doses may go into, by each name that a cell may hold, with its id.</summary>
    public ImmutableArray<(string Name, string Id)> Targets { get; init; } = [];

    /// <summary>Whether both read all tables alike.</summary>
    public bool Equals(SubjectColumns? other) =>
        other is not null
        && (Subject, Dose, Duration, Occasion, Target) == (other.Subject, other.Dose, other.Duration, other.Occasion, other.Target)
        && Covariates.SequenceEqual(other.Covariates)
        && Targets.SequenceEqual(other.Targets);

    public override int GetHashCode() => HashCode.Combine(Subject, Dose, Duration, Occasion, Target, Covariates.Length);

    /// <summary>The same with one run for each subject where the times of its occasions go on from one to the next: what was given on the
    /// first is still there on the second.</summary>
    /// <param name="notes">Is told where that is so.</param>
    internal SubjectColumns Settled(CountTable table, int timeColumn, RowClock clock, List<string> notes)
    {
        if (Occasion is not { } which)
            return this;
        var alone = this with { Occasion = null };
        var spans = new Dictionary<(string Subject, string Occasion), (double First, double Last)>();
        foreach (var cells in table.Rows)
        {
            var (subject, occasion) = (alone.NameOf(cells), which < cells.Length ? cells[which] : "");
            if (NumberForm.IsMissing(subject) || NumberForm.IsMissing(occasion) || timeColumn >= cells.Length)
                continue;
            if (clock.Read(cells[timeColumn], out _) is not var (_, time))
                continue;
            (double First, double Last) span = spans.GetValueOrDefault((subject, occasion), (time, time));
            spans[(subject, occasion)] = (Math.Min(span.First, time), Math.Max(span.Last, time));
        }
        var goesOn = spans
            .GroupBy(one => one.Key.Subject, one => one.Value)
            .All(group =>
            {
                var runs = group.OrderBy(span => span.First).ThenBy(span => span.Last).ToList();
                // What was given may stand at the time of the last sample before it.
                return runs.Zip(runs.Skip(1)).All(pair => pair.First.Last <= pair.Second.First && pair.First.First < pair.Second.First);
            });
        if (!goesOn || spans.Count == spans.Select(one => one.Key.Subject).Distinct().Count())
            return this;
        notes.Add(
            $"The times of {table.Columns[which]} go on from one to the next: they are read as one run of each subject. Of runs that begin "
                + "anew the times begin anew."
        );
        return alone;
    }

    /// <summary>Subjects of one table at most.</summary>
    public const int Most = 2_000;

    /// <summary>The name of the only one, where no column names them.</summary>
    public const string Alone = "the subject";

    /// <summary>Of whom a row is; where subjects have several runs, of which of them. Missing where a cell of it is.</summary>
    public string NameOf(ImmutableArray<string> cells)
    {
        string At(int column) => column < cells.Length ? cells[column] : "";
        var name = Subject is { } column ? At(column) : Alone;
        if (Occasion is not { } which)
            return name;
        return NumberForm.IsMissing(name) || NumberForm.IsMissing(At(which)) ? "" : $"{name}, {At(which)}";
    }

    /// <summary>What was given by a row; null where its cell is empty or says nothing was.</summary>
    public double? Given(ImmutableArray<string> cells, NumberForm numbers) =>
        Dose is { } column && column < cells.Length && numbers.Read(cells[column]) is { } amount and not 0 ? amount : null;

    /// <summary>All subjects of a table, in the order of their first row.</summary>
    /// <param name="bad">Takes the rows whose doses cannot be read.</param>
    /// <param name="notes">Takes what is worth a sentence.</param>
    /// <exception cref="TableException">There are too many.</exception>
    internal ImmutableArray<Subject> Read(
        CountTable table,
        int timeColumn,
        NumberForm numbers,
        RowClock clock,
        List<BadRow> bad,
        List<string> notes
    )
    {
        var doses = new Dictionary<string, List<Dose>>();
        var known = new Dictionary<string, Dictionary<string, double>>();
        var varies = new HashSet<(string Symbol, string Name)>();
        for (var k = 0; k < table.Rows.Length; k++)
        {
            var (row, cells) = (table.Lines[k], table.Rows[k]);
            var name = NameOf(cells);
            if (NumberForm.IsMissing(name) || timeColumn >= cells.Length || clock.Read(cells[timeColumn], out _) is not var (start, end))
                continue;
            if (doses.TryAdd(name, []))
                known[name] = [];
            if (doses.Count > Most)
                throw new TableException($"The table has more than {Most:N0} subjects, which is the limit. Bring it in pieces.");
            foreach (var (column, symbol) in Covariates)
            {
                if (column >= cells.Length || numbers.Read(cells[column]) is not { } value)
                    continue;
                if (!known[name].TryAdd(symbol, value) && known[name][symbol] != value)
                    varies.Add((symbol, name));
            }
            if (ReadDose(cells, row, numbers, end, bad) is { } dose)
                doses[name].Add(dose);
        }
        foreach (var group in varies.GroupBy(one => one.Symbol))
            notes.Add(
                $"{group.Key} is not one number for {Some([.. group.Select(one => one.Name)])}: the first counts. A value that changes in "
                    + "time belongs into an input."
            );
        foreach (var (_, symbol) in Covariates)
        {
            var without = known.Where(one => !one.Value.ContainsKey(symbol)).Select(one => one.Key).ToList();
            if (without.Count > 0 && without.Count < known.Count)
                notes.Add($"The table has no {symbol} for {Some(without)}: the model’s own value holds there.");
        }
        return
        [
            .. doses.Select(one => new Subject(one.Key) { Doses = [.. one.Value.OrderBy(dose => dose.Time)], Covariates = known[one.Key] }),
        ];
    }

    private Dose? ReadDose(ImmutableArray<string> cells, int row, NumberForm numbers, double time, List<BadRow> bad)
    {
        if (Dose is not { } column || column >= cells.Length || NumberForm.IsMissing(cells[column]))
            return null;
        void Refuse(string reason) => bad.Add(new(row, reason, CellText.Row(cells)));
        if (numbers.Read(cells[column]) is not { } amount || amount < 0)
        {
            Refuse($"the dose “{CellText.Short(cells[column], 20)}” is not an amount");
            return null;
        }
        if (amount == 0)
            return null;
        string? into = null;
        if (Target is { } target && target < cells.Length && !NumberForm.IsMissing(cells[target]))
        {
            var name = cells[target].Trim();
            // Of names that differ by their case alone, the one that is written so.
            into = Targets.FirstOrDefault(one => one.Name == name).Id
                ?? Targets.FirstOrDefault(one => string.Equals(one.Name, name, StringComparison.OrdinalIgnoreCase)).Id;
            if (into is null)
            {
                Refuse($"the dose goes into “{CellText.Short(name, 20)}”, which is no compartment of the model");
                return null;
            }
        }
        if (Duration is not { } over || over >= cells.Length || NumberForm.IsMissing(cells[over]))
            return new(time, amount) { Into = into };
        if (numbers.Read(cells[over]) is { } duration and >= 0)
            return new(time, amount, duration) { Into = into };
        Refuse($"the duration “{CellText.Short(cells[over], 20)}” is not a time");
        return null;
    }

    private static string Some(IReadOnlyList<string> names) =>
        names.Count <= 4 ? string.Join(", ", names) : $"{string.Join(", ", names.Take(3))} and {names.Count - 3} others";
}
