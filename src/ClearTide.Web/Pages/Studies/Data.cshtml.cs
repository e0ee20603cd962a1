using System.Collections.Immutable;
using System.Text;
using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Tables;
using ClearTide.Storage;
using ClearTide.Web.Hosting;
using ClearTide.Web.Studies;
using ClearTide.Web.Words;
using Microsoft.AspNetCore.Mvc;
using NodaTime;

namespace ClearTide.Web.Pages.Studies;

/// <summary>Brings a table to the model: as a file or pasted, previewed, mapped column by column, each series tied to what it has
/// seen.</summary>
[RequestSizeLimit(UploadLimits.RequestBytes)]
public sealed partial class DataModel(
    StudyStore studies,
    DataSetStore dataSets,
    StudyLibrary library,
    ResultStore results,
    ReadTables tables,
    MappedTables mapped,
    KeptTables keptTables,
    KeptFiles files,
    TableLayoutStore layouts
) : StudyPage(studies, library)
{
    public override Step Step => Step.Data;

    public string Text { get; private set; } = "";

    /// <summary>Whether the text is too long for a field that can be edited: a browser takes seconds to lay it out.</summary>
    public bool IsLong => Text.Length > 200_000;

    /// <summary>The name that a long table is kept under.</summary>
    public string Kept => Form.Kept is { Length: > 0 } key && ReferenceEquals(keptTables.Find(key), Text) ? key : keptTables.Keep(Text);

    /// <summary>The lines of the table as they stand in it.</summary>
    public TableLines Lines => _lines ??= new(Text);

    private TableLines? _lines;

    public string Name { get; private set; } = "pasted table";

    /// <summary>Key of the file that the table comes from; empty for what was pasted.</summary>
    public string KeptFile { get; private set; } = "";

    /// <summary>The sheets of a workbook, and the one that is shown.</summary>
    public IReadOnlyList<string> Sheets { get; private set; } = [];

    public string Sheet { get; private set; } = "";

    /// <summary>The encoding in which a text file is read; empty where all read it alike.</summary>
    public string FileEncoding { get; private set; } = "";

    /// <summary>Whether columns are what was said of the last table with the same headings.</summary>
    public bool IsRemembered { get; private set; }

    /// <summary>The table being brought in, or null before one is given.</summary>
    public CountTable? Table { get; private set; }

    /// <summary>What each column is.</summary>
    public ImmutableArray<ColumnRole> Roles { get; private set; } = [];

    /// <summary>How the table is read, for all its series alike.</summary>
    public TableForm Form { get; private set; } = new();

    /// <summary>The series of the table, as they are to be tied.</summary>
    public ImmutableArray<BroughtSeries> Brought { get; private set; } = [];

    /// <summary>What is said of each series, to be sent again with a table that was mended.</summary>
    public IReadOnlyList<SeriesForm> Said => Brought.IsEmpty ? Form.Series : [.. Brought.Select(SeriesForm.Of)];

    /// <summary>The first series that could be read, for what is said of the whole table.</summary>
    public MappedCounts? Mapped => Brought.FirstOrDefault(one => one.Mapped is not null)?.Mapped;

    /// <param name="observation">The series whose rows are looked at.</param>
    /// <param name="first">The place of the first of them that is shown.</param>
    public void OnGet(string? observation, int first) => _window = (observation ?? "", first);

    /// <summary>Shows the table and what the choices make of it; nothing is stored.</summary>
    public IActionResult OnPostPreview(TableForm form, [FromForm] IFormFile? file)
    {
        Take(form, file);
        return Page();
    }

    /// <summary>Rows that cannot be used and can be mended on the page.</summary>
    public const int MostMended = 200;

    /// <summary>All rows of a series that cannot be used, to take away.</summary>
    public IActionResult OnPostBad(TableForm form, int series)
    {
        Take(form, null);
        if (series < 0 || series >= Brought.Length || Brought[series].Mapped is not { } mapped)
            return Page();
        var text = BadRowTable.Write(mapped.Bad, Lines);
        return File(Encoding.UTF8.GetBytes(text), "text/csv", $"{Path.GetFileNameWithoutExtension(Name)} left out.csv");
    }

    /// <summary>Stores the rows as new versions of data and ties them to the model, in one edit.</summary>
    public IActionResult OnPostUse(TableForm form, long version)
    {
        Take(form, null);
        if (Table is null || Notice is not null)
            return Page();
        if (Brought.FirstOrDefault(one => one.Problem is not null) is { } wrong)
        {
            Say($"{wrong.Label}: {wrong.Problem}");
            return Page();
        }
        var tie = new TieSeries([.. Brought.Select(one => one.Tied)], Mapped?.Origin is { } origin ? origin.ToDateOnly() : null);
        // The edit is tried before anything is stored, so that a refused one leaves no data behind.
        if (tie.Apply(Document).Refusal is { } refusal)
        {
            Say(refusal);
            return Page();
        }
        // The file itself where it is at hand: lines may have been mended, and a workbook has more than one sheet's text.
        var file = KeptFile.Length > 0 ? files.Find(KeptFile) : null;
        var source = dataSets.AddSource(State.Id, Name, file ?? Encoding.UTF8.GetBytes(Text));
        var stored = Brought.Select(one =>
            one.Tied with
            {
                DataSet = dataSets.AddVersion(State.Id, Version(one) with { Source = source }).Id,
            }
        );
        layouts.Keep(State.Id, Table.Columns, TableLayout.Of(Form, Roles).Write());
        return Answer(Save(version, tie with { Observations = [.. stored] }));
    }

    /// <summary>The series on the model that a brought one takes the place of; null where it is a new one.</summary>
    public Series? Before(BroughtSeries brought) =>
        Series.FirstOrDefault(one => string.Equals(one.Observation.Label.Trim(), brought.Label.Trim(), StringComparison.OrdinalIgnoreCase));

    /// <summary>Its rows; points that were left out stay so.</summary>
    private IReadOnlyList<DataRow> Rows(BroughtSeries brought) =>
        Before(brought) is { } before ? DataChanges.Keeping(before.Data.Rows, brought.Mapped!.Rows) : brought.Mapped!.Rows;

    private DataSet Version(BroughtSeries brought) =>
        new("", Brought.Length == 1 ? Name : $"{Name}, {brought.Label}", Rows(brought)) { Subjects = brought.Mapped!.Subjects };

    /// <summary>From so many rows on, two series are read at once.</summary>
    private const int LongTable = 5_000;

    private void Take(TableForm form, IFormFile? file)
    {
        (Form, Roles) = (form, [.. form.Role]);
        Name = string.IsNullOrWhiteSpace(form.Name) ? "pasted table" : form.Name.Trim()[..Math.Min(form.Name.Trim().Length, 120)];
        try
        {
            Text = (
                !string.IsNullOrWhiteSpace(form.Pasted) ? form.Pasted
                : form.Kept is { Length: > 0 } key && file is not { Length: > 0 } ? keptTables.Read(key)
                : form.Text
            ) ?? "";
            if (form.MendRow.Length > 0)
                Text = new TableLines(Text).With(form.MendRow.Zip(form.MendLine, (row, line) => (row, line ?? "")));
            if (file is { Length: > UploadLimits.TableBytes })
                throw new TableException(
                    $"{file.FileName} has {file.Length / 1e6:0.#} MB; at most {UploadLimits.TableBytes / 1_000_000} MB are read. Cut "
                        + "it down to the columns of time and counts."
                );
            if (file is { Length: > 0 })
            {
                Name = Path.GetFileName(file.FileName);
                TakeFile(file);
            }
            else if (form.FileKey is { Length: > 0 } kept)
            {
                TakeKept(form, kept);
            }
            Table = tables.Read(Text, Form.Reading());
            // What was said of the columns of one table is not meant for another that has as many.
            var said = Form.Role.Length == Table.Columns.Length && (Form.Column.Length == 0 || Form.Column.SequenceEqual(Table.Columns));
            if (form.Afresh)
                TakeLayout(TableLayout.None);
            else if (said)
                Roles = [.. Form.Role];
            else if (TableLayout.Read(layouts.Find(State.Id, Table.Columns)) is { } layout)
                TakeLayout(layout);
            else
                Roles = ColumnRoles.Guess(Table);
            var series = ColumnRoles.Series(Table, Roles);
            var brought = new BroughtSeries[series.Length];
            BroughtSeries Of(int k) =>
                BroughtSeries.Of(
                    Document,
                    Table,
                    mapped,
                    series[k],
                    () => Mapping(series[k]),
                    k < Form.Series.Count ? Form.Series[k] : null,
                    series.Length == 1
                );
            // Series of a long table take a while each.
            if (series.Length > 1 && Table.Rows.Length > LongTable)
                Parallel.For(0, series.Length, new() { MaxDegreeOfParallelism = 2 }, k => brought[k] = Of(k));
            else
                for (var k = 0; k < series.Length; k++)
                    brought[k] = Of(k);
            Brought = [.. brought];
            if (Brought.All(one => one.Mapped is null))
                Say(Brought[0].Problem!);
        }
        catch (TableException wrong)
        {
            Say(wrong.Message);
        }
    }

    /// <summary>Reads a new file as it looks: what was said of another is not meant for it.</summary>
    private void TakeFile(IFormFile file)
    {
        using var memory = new MemoryStream();
        file.CopyTo(memory);
        var bytes = memory.ToArray();
        Form = Form with { Cells = null, Heading = null, Separator = null };
        KeptFile = files.Keep(bytes);
        if (TableSheet.Is(bytes))
        {
            Show(TableSheet.Read(memory, null));
            return;
        }
        Text = TextEncoding.Decode(bytes, null);
        if (TextEncoding.Matters(bytes))
            FileEncoding = TextEncoding.Guess(bytes);
    }

    /// <summary>Reads another sheet of a workbook, or a text in another encoding, where that is asked for.</summary>
    private void TakeKept(TableForm form, string kept)
    {
        (KeptFile, Sheets, Sheet, FileEncoding) = (kept, form.Sheets, form.SheetShown ?? "", form.EncodingShown ?? "");
        if (form.Sheet is { Length: > 0 } asked && asked != form.SheetShown)
        {
            Show(TableSheet.Read(new MemoryStream(files.Read(kept)), asked));
            // Another sheet is another table.
            Form = new() { Name = form.Name };
            Roles = [];
        }
        else if (form.Encoding is { Length: > 0 } encoding && encoding != form.EncodingShown)
        {
            Text = TextEncoding.Decode(files.Read(kept), encoding);
            FileEncoding = encoding;
        }
    }

    private void Show(TableSheet sheet) => (Sheets, Sheet, Text) = (sheet.Names, sheet.Name, sheet.Text);

    /// <summary>What was said of the last table with these headings; where nothing is, what the columns look like.</summary>
    private void TakeLayout(TableLayout layout)
    {
        Form = layout.On(Form);
        Table = tables.Read(Text, Form.Reading());
        IsRemembered = layout.Roles.Length == Table.Columns.Length;
        Roles = IsRemembered ? [.. layout.Roles] : ColumnRoles.Guess(Table);
    }

    private CountMapping Mapping(TableSeries series)
    {
        double? interval = null;
        if (!string.IsNullOrWhiteSpace(Form.Interval))
        {
            interval = TypedNumber.Read(Form.Interval) is { } typed and > 0
                ? typed
                : throw new TableException($"The length of an interval, “{Form.Interval}”, is not a number above zero.");
        }
        var subjects = ColumnRoles.Subjects(
            Table!,
            Roles,
            Document.Definitions.Select(part => part.Symbol),
            Document.Compartments.SelectMany(part => new[] { (part.Symbol, part.Id), (part.Label, part.Id) })
        );
        return series.Mapping(Roles, subjects) with
        {
            Marks = Form.Marks,
            Interval = interval,
            Rule = Form.Rule,
            Times = Form.Times,
            Numbers = NumberForm.Known.FirstOrDefault(one => one.ToString() == Form.Numbers),
            Same = Form.Same,
        };
    }
}
