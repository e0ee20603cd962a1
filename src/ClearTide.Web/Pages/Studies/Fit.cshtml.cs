using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json;
using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Storage;
using ClearTide.Web.Jobs;
using ClearTide.Web.Studies;
using ClearTide.Web.Words;
using Microsoft.AspNetCore.Mvc;

namespace ClearTide.Web.Pages.Studies;

/// <summary>Chooses what is estimated, runs the fit in the background, and shows what the data could tell.</summary>
public sealed partial class FitModel(StudyStore studies, StudyLibrary library, JobStore jobs, ResultStore results, JobSignal signal)
    : StudyPage(studies, library)
{
    private ImmutableArray<FitParameter>? _typed;
    private ErrorLaw? _typedLaw;
    private string? _typedStarts;
    private string? _typedBootstrap;
    private readonly Dictionary<ValueAddress, (string, string, string)> _typedBounds = [];
    private readonly Dictionary<ValueAddress, string> _typedTies = [];

    /// <summary>Fits of one study that are looked back at.</summary>
    private const int MostKept = 12;

    private (long Version, FitStatus Status)? _status;

    public override Step Step => Step.Fit;

    /// <summary>Starts of the search, as typed.</summary>
    public string Starts => _typedStarts ?? Document.Fit.Starts.ToString(CultureInfo.InvariantCulture);

    /// <summary>Sets of the bootstrap, as typed; empty for none.</summary>
    public string Bootstrap =>
        _typedBootstrap ?? (Document.Fit.Bootstrap > 0 ? Document.Fit.Bootstrap.ToString(CultureInfo.InvariantCulture) : "");

    /// <summary>The law that is chosen: as it was sent, also where the fit was refused.</summary>
    public ErrorLaw Law => _typedLaw ?? Document.Fit.Law;

    public FitStatus Status
    {
        get
        {
            if (_status is not { } known || known.Version != State.Version)
                _status = known = (State.Version, StatusOf(State.Id, Document));
            return known.Status;
        }
    }

    /// <summary>How the own values of subjects spread; empty where they have none.</summary>
    public static ImmutableArray<SubjectSpread> Spreads(FitResult result) =>
        result.Detail is { Subjects.IsDefaultOrEmpty: false } detail
            ? SubjectSpread.Of([.. detail.Setup.Parameters.Where(one => one.Own).Select(one => one.Address)], detail.Subjects)
            : [];

    /// <summary>How many subjects the data are of.</summary>
    public int Subjects => Series.SelectMany(one => one.Data.Rows).Select(row => row.Subject).OfType<string>().Distinct().Count();

    /// <summary>The name of the fit that is shown, as typed where it was refused.</summary>
    public string Name => TypedName ?? Status.Result?.Name ?? "";

    private string? TypedName { get; set; }

    /// <summary>Fits that have names and are not among those of these data.</summary>
    public IEnumerable<NamedFit> Named => Document.Fits.Where(one => Status.Comparable.All(other => other.Fit.Detail!.Setup != one.Setup));

    /// <summary>The samples that would tell most.</summary>
    public IEnumerable<NextSample> Next => Status is { IsCurrent: true, Result.Detail: { } detail } ? detail.Next.Take(3) : [];

    public void OnGet() { }

    public IActionResult OnGetStatus() => Partial(Status.IsRunning ? "_FitStatus" : "_FitEnded", this);

    /// <summary>A point of the chart that was clicked: fits leave it out from now on, or look at it again.</summary>
    public IActionResult OnPostPoint(long version, string? observation, int row)
    {
        TakeUp(LeavePoint(version, observation, row));
        return Partial("_FitAnswer", this);
    }

    public IActionResult OnPostStart(
        long version,
        ValueAddress?[] address,
        ValueAddress?[] tick,
        ValueAddress?[] own,
        string?[] lower,
        string?[] upper,
        string?[] prior,
        string?[] tie,
        string? starts,
        string? bootstrap,
        ErrorLaw law
    )
    {
        string? refused = null;
        var parameters = ImmutableArray.CreateBuilder<FitParameter>();
        var ties = ImmutableArray.CreateBuilder<FitTie>();
        for (var k = 0; k < address.Length && k < lower.Length && k < upper.Length; k++)
        {
            if (address[k] is not { } value)
                continue;
            var (low, high, typed) = (lower[k] ?? "", upper[k] ?? "", k < prior.Length ? prior[k] ?? "" : "");
            _typedBounds[value] = (low, high, typed);
            if ((k < tie.Length ? tie[k]?.Trim() : null) is { Length: > 0 } follows)
                ties.Add(new(value, follows));
            _typedTies[value] = k < tie.Length ? tie[k] ?? "" : "";
            if (!tick.Contains(value))
                continue;
            var (known, problem) = Prior.Read(typed);
            if (problem is not null)
                refused ??= $"The prior of {value}: {problem}";
            parameters.Add(new(value, Number(low), Number(high)) { Prior = known, Own = own.Contains(value) });
        }
        _typedStarts = starts;
        var count = string.IsNullOrWhiteSpace(starts) ? FitSetup.UsualStarts : TypedNumber.Read(starts) ?? double.NaN;
        if (!(count is >= 1 and <= FitSetup.MostStarts) || count != Math.Floor(count))
            refused ??= $"Starts: type a whole number from 1 to {FitSetup.MostStarts}.";
        _typedBootstrap = bootstrap;
        var sets = string.IsNullOrWhiteSpace(bootstrap) ? 0 : TypedNumber.ReadWhole(bootstrap) ?? -1;
        if (sets is < 0 or > FitSetup.MostSets)
            refused ??= $"Bootstrap: type how many sets as a whole number from 0 to {FitSetup.MostSets}.";
        _typed = parameters.ToImmutable();
        _typedLaw = law;
        if (parameters.Count == 0)
        {
            Say("Tick at least one value to estimate.");
            return Page();
        }
        if (refused is not null)
        {
            Say(refused);
            return Page();
        }
        if (Series.Count == 0)
        {
            Say("There are no data to fit to. Bring some under Data first.");
            return Page();
        }
        if (Status.IsRunning)
        {
            Say("A fit is under way. Wait for it, or stop it first.");
            return Page();
        }
        var setup = new FitSetup(law, _typed.Value)
        {
            Starts = (int)count,
            Bootstrap = sets,
            Ties = ties.ToImmutable(),
            Shuffle = Document.Fit.Shuffle,
        };
        if (setup != Document.Fit && !TakeUp(Save(version, new SetFit(setup))))
            return Page();
        jobs.Add(State.Id, FitJob.Kind, Fingerprints.Of(Document, Series), "");
        signal.Raise();
        return RedirectToPage(new { id = State.Id });
    }

    /// <summary>Takes up what another fit estimated: its result is shown again, where nothing else has changed since.</summary>
    public IActionResult OnPostShow(long version, string? fit) =>
        results.Find<FitResult>(State.Id, FitJob.Kind, fit ?? "") is { Detail: { } detail }
            ? Answer(Save(version, new SetFit(detail.Setup)))
            : RedirectToPage(new { id = State.Id });

    /// <summary>Takes up a fit by its name, as it was asked for, whatever has changed since.</summary>
    public IActionResult OnPostAgain(long version, string? name) =>
        Document.Fits.FirstOrDefault(one => one.Name == name) is { } known
            ? Answer(Save(version, new SetFit(known.Setup)))
            : RedirectToPage(new { id = State.Id });

    /// <summary>Calls a fit something; an empty name is the one that its values make.</summary>
    public IActionResult OnPostName(long version, string? fit, string? name)
    {
        if (results.Find<FitResult>(State.Id, FitJob.Kind, fit ?? "") is not { Detail: { } detail } result)
            return RedirectToPage(new { id = State.Id });
        TypedName = name;
        if (!TakeUp(Save(version, new NameFit(detail.Setup, name ?? ""))))
            return Page();
        results.Replace(State.Id, FitJob.Kind, result.Fingerprint, result with { Name = name?.Trim() ?? "" });
        return RedirectToPage(new { id = State.Id });
    }

    /// <summary>Throws a fit away that is no longer wanted in the comparison.</summary>
    public IActionResult OnPostForget(string? fit)
    {
        results.Remove(State.Id, FitJob.Kind, fit ?? "");
        return RedirectToPage(new { id = State.Id });
    }

    public IActionResult OnPostStop()
    {
        if (jobs.Newest(State.Id, FitJob.Kind) is { IsOver: false } job)
            jobs.Stop(job.Id);
        return RedirectToPage(new { id = State.Id });
    }

    /// <summary>The series of which what the fitted model lacks can be kept as an input.</summary>
    public IEnumerable<Series> Lacking => Status is { IsCurrent: true, Result: not null } ? Series.Where(MissingFlow.CanBe) : [];

    /// <summary>Keeps what a series has that the fitted model has not as an input, and shows it in Build.</summary>
    public IActionResult OnPostKeep(long version, string? observation)
    {
        if (
            Status.Result is not { } result
            || Series.ToList().FindIndex(one => one.Observation.Id == observation) is not (>= 0 and var place)
        )
            return Answer(Save(version, new RemoveSeries(observation ?? "")));
        var at = Series.Take(place).Sum(one => one.Data.Used.Count);
        var (series, lowered) = (Series[place], Lowering.Lower(TiedModel.Of(Document)));
        try
        {
            var values = lowered
                .With(result.Estimates.ToDictionary(estimate => estimate.Address, estimate => estimate.Value))
                .Network.ValueVector();
            var points = MissingFlow.Of(lowered, series, [.. result.Means.Skip(at).Take(series.Data.Used.Count)], values);
            return TakeUp(Save(version, new KeepMissingFlow(points, series.Observation.Label)))
                ? RedirectToPage("/Studies/Build", new { id = State.Id })
                : Page();
        }
        catch (ArgumentException refusal)
        {
            Say(refusal.Message);
            return Page();
        }
    }

    /// <summary>Writes the estimates into the model, in one edit.</summary>
    public IActionResult OnPostAdopt(long version)
    {
        if (Status.Result is not { } result)
            return Page();
        var values = result.Estimates.ToDictionary(estimate => estimate.Address, estimate => estimate.Value);
        // Of what each subject has of its own, the model takes what is typical.
        foreach (var spread in Spreads(result))
            values[spread.Address] = spread.Typical;
        // What follows from them goes with them.
        foreach (var (address, value) in TiedModel.Values(Document, values))
            values[address] = value;
        return Answer(Save(version, new AdoptValues(values)));
    }

    private FitStatus StatusOf(string id, StudyDocument document)
    {
        // Before the results: a fit that ends in between would be neither under way nor there, and the page would wait no longer.
        var job = jobs.Newest(id, FitJob.Kind);
        var kept = results.All<FitResult>(id, FitJob.Kind, MostKept);
        var fingerprint = Series.Count > 0 ? Fingerprints.Of(document, Series) : null;
        var current = kept.FirstOrDefault(one => one.Fingerprint == fingerprint);
        var result = current ?? kept.FirstOrDefault();
        return new(
            id,
            job,
            result,
            current is not null,
            [
                .. kept.Select(one => new ComparedFit(one))
                    .Concat(Relatives(id))
                    .Where(one => one.Fit.Detail is { } detail && detail.Data == result?.Detail?.Data)
                    // A copy that nothing was changed in has the same fit.
                    .DistinctBy(one => one.Fit.Fingerprint)
                    .OrderBy(one => one.Corrected),
            ]
        );
    }

    private IEnumerable<ComparedFit> Relatives(string id) =>
        results.OfRelatives<FitResult>(id, FitJob.Kind, MostKept).Select(one => new ComparedFit(one.Result, one.StudyId, one.Title));

    private static double Number(string text) => TypedNumber.Read(text) ?? double.NaN;
}
