using System.Text;
using ClearTide.Core.Data;
using ClearTide.Core.Editing;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Tables;
using ClearTide.Storage;
using ClearTide.Web.Jobs;
using ClearTide.Web.Studies;
using ClearTide.Web.Words;
using Microsoft.AspNetCore.Mvc;

namespace ClearTide.Web.Pages.Studies;

/// <summary>The series on the model: how they were seen, their rows, and taking them away.</summary>
public sealed partial class DataModel
{
    /// <summary>Rows of a series on the page at once.</summary>
    public const int MostShown = 500;

    /// <summary>The series whose rows are looked at, and the first of those that are shown.</summary>
    private (string Id, int First) _window = ("", 0);

    /// <summary>The number of a row that was asked for and is none.</summary>
    public string? WantedRow { get; private set; }

    public bool IsLookedAt(Observation observation) => _window.Id == observation.Id;

    /// <summary>The place of the first row of a series that is shown.</summary>
    public int FirstRow(Series series) =>
        IsLookedAt(series.Observation) ? Math.Clamp(_window.First, 0, Math.Max(0, series.Data.Rows.Count - 1)) : 0;

    /// <summary>What was said of a series and refused, so that nothing typed is lost.</summary>
    private (string Id, SeriesForm Form)? _refused;

    /// <summary>A series as it is tied, or as it was said to be when that was refused.</summary>
    public Observation Typed(Observation observation) =>
        _refused is var (id, form) && id == observation.Id ? form.Observation(observation.Column) with { Id = id } : observation;

    /// <summary>Whether what was said of a series was refused.</summary>
    public bool IsRefused(Observation observation) => _refused?.Id == observation.Id;

    /// <summary>Whether values that were typed into its rows were.</summary>
    public bool IsTyped(Observation observation) => _typed?.Id == observation.Id;

    /// <summary>What the law of a series says of its spread.</summary>
    public LawBands? Bands(Observation observation, IReadOnlyList<DataRow> rows)
    {
        var place = Series.ToList().FindIndex(one => one.Observation.Id == observation.Id);
        var (law, fit) = (observation.LawIn(Document.Fit), place < 0 ? null : Fit);
        var fitted =
            fit is { Spreads.IsDefault: false } && place < fit.Spreads.Length && law == Series[place].Observation.LawIn(Document.Fit)
                ? fit.Spreads[place]
                : null;
        return observation.Spread switch
        {
            null => LawBands.Of(law, rows, fitted),
            > 0 and < double.PositiveInfinity and var known => LawBands.Of(law, rows, known),
            // What is typed and refused says nothing of a spread.
            _ => null,
        };
    }

    /// <summary>What another law would say of the spread of a series.</summary>
    public IActionResult OnGetBands(string? observation, ErrorLaw? law)
    {
        if (Series.FirstOrDefault(one => one.Observation.Id == observation) is not { } series)
            return NotFound();
        var seen = series.Observation with { Law = law };
        return Bands(seen, series.Data.Rows) is { } bands
            ? Partial("_LawBands", (bands, FitWords.Bands(bands, seen.LawIn(Document.Fit))))
            : Content(FitWords.NoBands(series, seen.LawIn(Document.Fit)));
    }

    /// <summary>The newest fit of the series as they are; null where there is none.</summary>
    private FitResult? Fit =>
        _fit ??= results.All<FitResult>(State.Id, FitJob.Kind, 1).FirstOrDefault(fit => fit.Detail?.Data == Fingerprints.OfData(Series));

    private FitResult? _fit;

    /// <summary>A series as it is used, to take away.</summary>
    public IActionResult OnGetRows(string? observation, string? form)
    {
        if (Series.FirstOrDefault(one => one.Observation.Id == observation) is not var (tie, data))
            return NotFound();
        var unit = Document.TimeUnit.Plural;
        List<TableColumn> columns = [new("value", [.. data.Rows.Select(row => row.Value)])];
        if (data.Rows.Any(row => row.Error is not null))
            columns.Add(new("error", [.. data.Rows.Select(row => row.Error ?? double.NaN)]));
        // A table of numbers has no room for names: subjects are counted in the order of the data.
        if (data.Subjects.Count > 0)
            columns.Insert(0, new("subject", [.. data.Rows.Select(row => SubjectNumber(data, row))]));
        if (data.Rows.Any(row => row.Below))
            columns.Add(new("below the value", [.. data.Rows.Select(row => row.Below ? 1.0 : 0)]));
        if (data.Rows.Any(row => row.OutOf is not null))
            columns.Add(new("out of", [.. data.Rows.Select(row => row.OutOf ?? double.NaN)]));
        if (data.Rows.Any(row => row.GivenWeight is not null))
            columns.Add(new("weight", [.. data.Rows.Select(row => row.Weight)]));
        if (tie.Seen.HasInterval())
            columns.Insert(0, new($"from ({unit})", [.. data.Rows.Select(row => row.Start)]));
        columns.Add(new("in fits", [.. data.Rows.Select(row => row.LeftOut ? 0.0 : 1)]));
        var first = tie.Seen.HasInterval() ? $"to ({unit})" : $"time ({unit})";
        return TableFile.Of($"{Document.Title} {tie.Label}", form ?? "csv", first, [.. data.Rows.Select(row => row.End)], columns);
    }

    /// <summary>Its name where that is a number, else its place among the subjects.</summary>
    private static double SubjectNumber(DataSet data, DataRow row) =>
        data.Subjects.All(one => TypedNumber.Read(one.Name) is not null)
            ? TypedNumber.Read(row.Subject) ?? double.NaN
            : 1 + data.Subjects.ToList().FindIndex(one => one.Name == row.Subject);

    /// <summary>The table that a series was read from, as it came.</summary>
    public IActionResult OnGetSource(string? observation)
    {
        if (
            Series.FirstOrDefault(one => one.Observation.Id == observation) is not { } series
            || dataSets.FindSource(State.Id, series.Data.Source) is not var (name, file)
        )
            return NotFound();
        return TableSheet.Is(file)
            ? File(file, "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", Path.ChangeExtension(name, ".xlsx"))
            : File(file, "text/csv", Path.ChangeExtension(name, ".csv"));
    }

    public IActionResult OnPostRemove(long version, string? observation) => Answer(Save(version, new RemoveSeries(observation ?? "")));

    /// <summary>How a series on the model was seen. Its rows go with the unit of that.</summary>
    public IActionResult OnPostSeen(long version, string? observation, SeriesForm form)
    {
        if (Series.FirstOrDefault(one => one.Observation.Id == observation) is not { } series)
            return Answer(Save(version, NoSuchSeries));
        var before = series.Observation;
        var seen = form.Observation(before.Column) with { Id = before.Id, DataSet = before.DataSet, TableUnit = before.TableUnit };
        var change = new ChangeSeries(seen, Changed(before, seen));
        if (change.Apply(Document).Refusal is null && SeriesUnits.Of(Document, seen) is { Unit: { } unit } units && units.Factor != 1)
        {
            var data = series.Data with { Rows = [.. series.Data.Rows.Select(row => row.Times(units.Factor))] };
            seen = seen with { DataSet = dataSets.AddVersion(State.Id, data).Id, Unit = SeriesUnits.Words(unit) };
            change = change with { Observation = seen };
        }
        if (change.Apply(Document).Refusal is not null)
            _refused = (seen.Id, form);
        return Answer(Save(version, change));
    }

    private string Changed(Observation before, Observation after) =>
        before with { Law = after.Law } == after
            ? after.Law is { } law
                ? FitWords.Of(law)
                : "the usual law"
            : TableWords.Sentence(after, Document).TrimEnd('.');

    /// <summary>Rows of a series: which of them fits look at (the others stay, and are shown hollow), and values that were
    /// changed.</summary>
    /// <param name="used">Places of the rows that are used.</param>
    /// <param name="value">What stands in the rows that are shown, in their order.</param>
    /// <param name="first">The place of the first row that is shown.</param>
    /// <param name="go">The place of the row that is to be the first shown afterwards; null to stay.</param>
    /// <param name="row">The same as a number that was typed, counted from one.</param>
    public IActionResult OnPostPoints(long version, string? observation, int[] used, string?[] value, int first, int? go, string? row)
    {
        if (Series.FirstOrDefault(one => one.Observation.Id == observation) is not { } series)
            return Answer(Save(version, NoSuchSeries));
        _window = (series.Observation.Id, first);
        first = FirstRow(series);
        var (chosen, rows) = (used.ToHashSet(), new List<DataRow>());
        for (var k = 0; k < series.Data.Rows.Count; k++)
        {
            var (here, place) = (series.Data.Rows[k], k - first);
            if (place >= 0 && place < MostShown)
                here = here with { LeftOut = !chosen.Contains(k) };
            if (place >= 0 && place < value.Length && value[place]?.Trim() is { } typed && typed != Cell(here))
            {
                if (Read(typed, here) is not { } changed)
                {
                    _typed = (series.Observation.Id, value);
                    Say(
                        $"“{typed}” at {Document.TimeUnit.Singular} {NumberWords.Of(here.End, 6)} of {series.Observation.Label} is not a "
                            + "number. Type one, with < before it where it is a limit, or leave the row out."
                    );
                    return Page();
                }
                here = changed;
            }
            rows.Add(here);
        }
        if (go is null && row?.Trim() is { Length: > 0 } wanted && wanted != $"{first + 1}")
        {
            if (TypedNumber.ReadWhole(wanted) is not { } number || number < 1 || number > rows.Count)
            {
                (_typed, WantedRow) = ((series.Observation.Id, value), wanted);
                Say($"“{wanted}” is no row of {series.Observation.Label}. Type a number from 1 to {rows.Count}.");
                return Page();
            }
            go = (int)number - 1;
        }
        var kept = Library.Leaving(State.Id, series, rows) is { } change ? Save(version, change) : new(SaveOutcome.Saved, State);
        if (!TakeUp(kept))
        {
            _typed = (series.Observation.Id, value);
            return Page();
        }
        if (go is null && first == 0)
            return RedirectToPage(new { id = State.Id });
        return RedirectToPage(
            new
            {
                id = State.Id,
                observation = series.Observation.Id,
                first = go ?? first,
            }
        );
    }

    private (string Id, string?[] Values)? _typed;

    /// <summary>What stands in the field of a row: as it is, or as it was typed when that was refused.</summary>
    public string Cell(Series series, int row) =>
        _typed is var (id, values) && id == series.Observation.Id && row - FirstRow(series) is >= 0 and var place && place < values.Length
            ? values[place] ?? ""
            : Cell(series.Data.Rows[row]);

    private static string Cell(DataRow row) => $"{(row.Below ? "< " : "")}{NumberWords.Of(row.Value, 6)}";

    private static DataRow? Read(string typed, DataRow row)
    {
        var below = typed.StartsWith('<');
        return TypedNumber.Read(below ? typed[1..].Trim() : typed) is { } number && double.IsFinite(number)
            ? row with
            {
                Value = number,
                Below = below,
            }
            : null;
    }
}
