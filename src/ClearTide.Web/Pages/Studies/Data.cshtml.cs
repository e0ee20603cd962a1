using System.Globalization;
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

/// <summary>Brings a table of counts to the model: as a file or pasted, previewed, mapped, tied to a flow.</summary>
[RequestSizeLimit(UploadLimits.RequestBytes)]
public sealed class DataModel(StudyStore studies, DataSetStore dataSets, StudyLibrary library) : StudyPage(studies, library)
{
    public override Step Step => Step.Data;

    public string Text { get; private set; } = "";

    public string Name { get; private set; } = "pasted counts";

    /// <summary>The table being brought in, or null before one is given.</summary>
    public CountTable? Table { get; private set; }

    public CountMapping Mapping { get; private set; } = new(0, 1);

    /// <summary>The mark between cells as chosen; empty for the guess.</summary>
    public string Separator { get; private set; } = "";

    /// <summary>The length of an interval as typed.</summary>
    public string Interval { get; private set; } = "";

    /// <summary>The table read through the mapping, where it can be.</summary>
    public MappedCounts? Mapped { get; private set; }

    public string Label { get; private set; } = "Reported cases";

    public string FlowId { get; private set; } = "";

    public string Reporting { get; private set; } = "";

    public Observation? Observation => Document.Observations.FirstOrDefault();

    public void OnGet() { }

    /// <summary>Shows the table and what the mapping makes of it; nothing is stored.</summary>
    public IActionResult OnPostPreview(TableForm form, [FromForm] IFormFile? file)
    {
        Take(form, file);
        return Page();
    }

    /// <summary>Stores the rows as a new version of the data and ties them to the model, in one edit.</summary>
    public IActionResult OnPostUse(TableForm form, long version)
    {
        Take(form, null);
        if (Mapped is not { } mapped)
            return Page();
        var tie = new SetObservation("pending", Label, FlowId, Reporting, mapped.Origin is { } origin ? origin.ToDateOnly() : null);
        // The edit is tried before anything is stored, so that a refused one leaves no data behind.
        if (tie.Apply(Document).Refusal is { } refusal)
        {
            Say(refusal);
            return Page();
        }
        var stored = dataSets.Add(State.Id, Name, mapped.Rows);
        return Answer(Save(version, tie with { DataSet = stored.Id }));
    }

    public IActionResult OnPostRemove(long version) => Answer(Save(version, new RemoveObservation()));

    private void Take(TableForm form, IFormFile? file)
    {
        Text = form.Text ?? "";
        Name = string.IsNullOrWhiteSpace(form.Name) ? "pasted counts" : form.Name.Trim()[..Math.Min(form.Name.Trim().Length, 120)];
        Label = form.Label?.Trim() ?? Observation?.Label ?? Label;
        FlowId = form.FlowId ?? Observation?.FlowId ?? Document.Moving.FirstOrDefault()?.Id ?? "";
        Interval = form.Interval ?? "";
        Separator = form.Separator ?? "";
        Mapping = new(
            form.TimeColumn ?? 0,
            form.ValueColumn ?? 1,
            form.Marks,
            Rule: form.Rule,
            Times: form.Times,
            Numbers: NumberForm.Known.FirstOrDefault(one => one.ToString() == form.Numbers),
            RunningTotals: form.RunningTotals,
            Same: form.Same
        );
        Reporting = form.Reporting?.Trim() ?? Observation?.Reporting ?? (Document.DefinitionBySymbol("rho") is null ? "1" : "rho");
        try
        {
            if (file is { Length: > UploadLimits.TableBytes })
                throw new TableException(
                    $"{file.FileName} has {file.Length / 1e6:0.#} MB; at most {UploadLimits.TableBytes / 1_000_000} MB are read. Cut "
                        + "it down to the columns of time and counts."
                );
            if (file is { Length: > 0 })
            {
                Name = Path.GetFileName(file.FileName);
                using var stream = file.OpenReadStream();
                Text = TableText.Read(stream);
            }
            Table = CountTable.Read(Text, TableWords.Separators.TryGetValue(Separator, out var mark) ? mark : null);
            Mapping = Mapping with
            {
                TimeColumn = Math.Min(Mapping.TimeColumn, Table.Columns.Length - 1),
                ValueColumn = Math.Min(Mapping.ValueColumn, Table.Columns.Length - 1),
            };
            double? interval = null;
            if (!string.IsNullOrWhiteSpace(form.Interval))
            {
                interval = TypedNumber.Read(form.Interval) is { } typed and > 0
                    ? typed
                    : throw new TableException($"The length of an interval, “{form.Interval}”, is not a number above zero.");
            }
            Mapping = Mapping with { Interval = interval };
            Mapped = CountMapper.Map(
                Table,
                Mapping,
                new(Document.Origin is { } zero ? LocalDate.FromDateOnly(zero) : null, Document.TimeUnit)
            );
        }
        catch (TableException wrong)
        {
            Say(wrong.Message);
        }
    }

    /// <summary>The form as posted; empty where the page was not asked yet.</summary>
    public sealed class TableForm
    {
        public string? Text { get; set; }

        public string? Name { get; set; }

        public int? TimeColumn { get; set; }

        public int? ValueColumn { get; set; }

        public TimeMark Marks { get; set; }

        public IntervalRule Rule { get; set; }

        public TimeForm? Times { get; set; }

        public string? Numbers { get; set; }

        public bool RunningTotals { get; set; }

        public SameTime Same { get; set; }

        public string? Separator { get; set; }

        public string? Interval { get; set; }

        public string? Label { get; set; }

        public string? FlowId { get; set; }

        public string? Reporting { get; set; }
    }
}
