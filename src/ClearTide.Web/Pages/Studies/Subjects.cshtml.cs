using System.Collections.Immutable;
using System.Globalization;
using ClearTide.Core.Analysis;
using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Tables;
using ClearTide.Storage;
using ClearTide.Web.Curves;
using ClearTide.Web.Hosting;
using ClearTide.Web.Jobs;
using ClearTide.Web.Studies;
using ClearTide.Web.Words;
using Microsoft.AspNetCore.Mvc;

namespace ClearTide.Web.Pages.Studies;

/// <summary>Many bodies of one model: how they differ, their curves as bands, and what each is exposed to under each plan of
/// doses.</summary>
public sealed class SubjectsModel(StudyStore studies, StudyLibrary library, ResultStore results, WorkTime works)
    : StudyPage(studies, library)
{
    /// <summary>Subjects that are drawn first, so that a change shows at once.</summary>
    public const int First = 50;

    /// <summary>Subjects on the screen at most; more change no picture.</summary>
    public const int MostShown = 5_000;

    /// <summary>A value that differs, as its row shows it: what was typed stays where it was refused.</summary>
    public sealed record Row(
        ValueAddress Address,
        string Label,
        double Typical,
        VariationLaw Law,
        string Spread,
        string Beside,
        string Low,
        string High
    );

    private SubjectGroup? _typed;
    private List<Row>? _rows;

    public override Step Step => Step.Subjects;

    public SubjectGroup Group => _typed ?? Document.Subjects ?? SubjectGroup.None;

    public IReadOnlyList<Row> Rows =>
        _rows ??= [
            .. Group.Varying.Select(one => new Row(
                one.Address,
                LabelOf(one.Address),
                Typical(one.Address),
                one.Law,
                SubjectWords.Field(one),
                SubjectWords.Beside(one),
                Text(one.Low),
                Text(one.High)
            )),
        ];

    /// <summary>Values that could differ and do not yet.</summary>
    public IEnumerable<ModelValue> Others =>
        Lowered().Network.Values.Where(value => Group.Varying.All(one => one.Address != value.Address));

    /// <summary>Why the correlations cannot hold, where the nearest are offered; else false.</summary>
    public bool OffersNearest { get; private set; }

    /// <summary>The value that single subjects are coloured and ordered by, where one is chosen.</summary>
    [BindProperty(Name = "by", SupportsGet = true)]
    public string? By { get; set; }

    /// <summary>The curve that is looked at.</summary>
    public string Of =>
        Document.Part(Group.Of)?.Id
        ?? Series.Select(one => Document.PartBySymbol(one.Observation.Formula.Trim())?.Id).FirstOrDefault(id => id is not null)
        ?? Document.Compartments.LastOrDefault()?.Id
        ?? "";

    /// <summary>What can be looked at.</summary>
    public IEnumerable<IPart> Curves =>
        Document.Compartments.Concat<IPart>(
            Lowered().Network.Quantities.Select(one => Document.Part(one.PartId)).OfType<IPart>().DistinctBy(part => part.Id)
        );

    /// <summary>The spread of subjects' own values in the newest fit; empty where there is none.</summary>
    public ImmutableArray<SubjectSpread> Fitted =>
        results.All<FitResult>(State.Id, FitJob.Kind, 12).Select(FitModel.Spreads).FirstOrDefault(spreads => spreads.Length > 0, []);

    /// <summary>Of each series of levels, what each subject was exposed to after its first dose, from the data alone.</summary>
    public IReadOnlyList<(Series Series, IReadOnlyList<(string Name, ObservedExposure Exposure)> Subjects)> Observed =>
        [
            .. Series
                .Where(one => !one.Observation.Seen.HasInterval())
                .Select(one =>
                    (
                        one,
                        (IReadOnlyList<(string, ObservedExposure)>)
                            [
                                .. one
                                    .Data.Subjects.Select(subject => (subject.Name, AfterFirstDose(one.Data, subject)))
                                    .Where(pair => pair.Item2 is not null)
                                    .Select(pair => (pair.Name, pair.Item2!)),
                            ]
                    )
                )
                .Where(one => one.Item2.Count > 0),
        ];

    private static ObservedExposure? AfterFirstDose(DataSet data, Subject subject)
    {
        var from = subject.Doses.Count > 0 ? subject.Doses[0].Time : double.NegativeInfinity;
        var until = subject.Doses.Where(dose => dose.Time > from).Select(dose => dose.Time).DefaultIfEmpty(double.PositiveInfinity).Min();
        return ObservedExposure.Of(data.Rows.Where(row => row.Subject == subject.Name), ObservedExposure.UsualPoints, from, until);
    }

    public void OnGet() { }

    /// <summary>The runs of the first so many subjects; the page asks for the rest by itself.</summary>
    public IActionResult OnGetRuns(int count)
    {
        var all = Math.Min(Group.Count, MostShown);
        var wanted = Math.Clamp(count, 1, all);
        try
        {
            var runs = InTime(
                WorkTime.Run,
                cancel => (Made: (SubjectRuns?)SubjectRuns.Of(Lowering.Lower(Document), Group, Of, wanted, 2, cancel), Why: ""),
                why => (null, why)
            );
            return Partial("_SubjectRuns", new SubjectPicture(this, runs.Made, wanted, all, runs.Why));
        }
        catch (ArgumentException refusal)
        {
            return Partial("_SubjectRuns", new SubjectPicture(this, null, wanted, all, refusal.Message));
        }
    }

    /// <summary>The value that doses depend on, as a rule: the first one that a line of doses names.</summary>
    public ValueAddress? DoseValue
    {
        get
        {
            var network = Lowered().Network;
            return Document
                .Events.Select(rule => EventLine.Read(rule.Text).Line)
                .Where(line => line?.Dose is not null)
                .SelectMany(line => line!.Trees.SelectMany(tree => tree.Names()))
                .Select(name => (ValueAddress?)new ValueAddress(name.Name))
                .FirstOrDefault(address => address is { } one && network.IndexOf(one) >= 0);
        }
    }

    /// <summary>The share of subjects inside the target against one value.</summary>
    public IActionResult OnGetAttain(ValueAddress? value, string? from, string? to, string? share)
    {
        double Number(string? typed, string what) =>
            TypedNumber.Read(typed?.Trim().TrimEnd('%').Trim().Replace(',', '.'))
            ?? throw new ArgumentException($"Type {what} as a number.");
        try
        {
            var wanted = Number(share, "the share of subjects") / 100;
            if (wanted is not (> 0 and <= 1))
                throw new ArgumentException("A share of subjects lies between 0 and 100 %.");
            if (value is not { } address)
                throw new ArgumentException("Choose the value that changes.");
            var (low, high) = (Number(from, "where the value begins"), Number(to, "where it ends"));
            var count = Math.Min(Group.Count, MostAttaining);
            var found = ManyInTime(works, time =>
                TargetAttainment.Of(Lowering.Lower(Document), Group, Of, address, low, high, AttainmentSteps, count, time.Cancel)
            );
            return Partial("_Attainment", new AttainmentPicture(found, address, wanted, count, ""));
        }
        catch (ArgumentException refusal)
        {
            return Partial("_Attainment", new AttainmentPicture(null, value ?? default!, 0, 0, refusal.Message));
        }
    }

    private const int AttainmentSteps = 25,
        MostAttaining = 300;

    /// <summary>Every subject with its own values and exposures under each plan, to take away.</summary>
    public IActionResult OnGetTable(string? form)
    {
        SubjectRuns runs;
        try
        {
            runs = ManyInTime(works, time =>
                SubjectRuns.Of(Lowering.Lower(Document), Group, Of, Math.Min(Group.Count, MostShown), time.Cores, time.Cancel)
            );
        }
        catch (ArgumentException refusal)
        {
            Say(refusal.Message);
            return Page();
        }
        var numbers = Enumerable.Range(1, runs.Own.Count).Select(number => (double)number).ToArray();
        List<TableColumn> columns =
        [
            .. Group.Varying.Select((one, k) => new TableColumn(one.Address.ToString(), [.. runs.Own.Select(own => own[k])])),
        ];
        foreach (var plan in runs.Plans)
        {
            foreach (var (name, of) in SubjectPicture.Numbers(Document.TimeUnit))
                columns.Add(
                    new($"{plan.Name}, {name}", [.. plan.Exposures.Select(one => one is { } exposure ? of(exposure) : double.NaN)])
                );
        }
        return TableFile.Of($"{Document.Title} subjects", form ?? "csv", "subject", numbers, columns);
    }

    /// <summary>All that is said of the group, in one form.</summary>
    public IActionResult OnPostSet(GroupForm form, long version)
    {
        var group = Read(form);
        if (form.Nearest)
            group = NearestCorrelations.Of(group);
        if (Notice is not null)
            return Page();
        var answer = Answer(Save(version, new SetSubjects(group)));
        if (Notice is not null)
        {
            _typed = group;
            OffersNearest = Core.Sampling.CorrelationMatrix.Root(group.Matrix()) is null;
        }
        return answer;
    }

    /// <summary>Takes typical values and spreads from the newest fit in which subjects had their own.</summary>
    public IActionResult OnPostFitted(long version)
    {
        var group = Group;
        foreach (var spread in Fitted)
        {
            var value = new VaryingValue(spread.Address, spread.IsRelative ? VariationLaw.LogNormal : VariationLaw.Normal, spread.Spread);
            var place = group.Varying.ToList().FindIndex(one => one.Address == spread.Address);
            group = group with { Varying = place < 0 ? group.Varying.Add(value) : group.Varying.SetItem(place, value) };
        }
        return Answer(Save(version, new SetSubjects(group)));
    }

    private SubjectGroup Read(GroupForm form)
    {
        var varying = ImmutableArray.CreateBuilder<VaryingValue>();
        _rows = [];
        double? Limit(string? typed)
        {
            if (string.IsNullOrWhiteSpace(typed))
                return null;
            if (TypedNumber.Read(typed.Trim().Replace(',', '.')) is { } limit)
                return limit;
            Say($"“{typed}” is no number. Type a limit, or leave it empty.");
            return null;
        }
        for (var k = 0; k < form.Values.Count; k++)
        {
            var one = form.Values[k];
            if (one.Address is not { } address || form.Remove == address.ToString())
                continue;
            var value = new VaryingValue(address, one.Law, SubjectWords.Read(one.Law, one.Spread))
            {
                Low = Limit(one.Low),
                High = Limit(one.High),
            };
            _rows.Add(
                new(
                    address,
                    LabelOf(address),
                    Typical(address),
                    one.Law,
                    one.Spread ?? "",
                    SubjectWords.Beside(value),
                    one.Low ?? "",
                    one.High ?? ""
                )
            );
            if (double.IsNaN(value.Spread))
                Say($"The spread of {address}, “{one.Spread}”, is no number. Type one, as in 24 %.");
            varying.Add(value);
        }
        if (form.Add is { } added && varying.All(one => one.Address != added))
        {
            // What is usual between people, until something is known.
            varying.Add(Typical(added) > 0 ? new(added, VariationLaw.LogNormal, 0.3) : new(added, VariationLaw.Normal, 1));
            _rows = null;
        }
        var correlations = ImmutableArray.CreateBuilder<ValueCorrelation>();
        foreach (var pair in form.Pairs)
        {
            if (pair.First is not { } first || pair.Second is not { } second || string.IsNullOrWhiteSpace(pair.Correlation))
                continue;
            if (TypedNumber.Read(pair.Correlation.Trim().Replace(',', '.').Replace('−', '-')) is not { } correlation)
                Say($"The correlation of {first} and {second}, “{pair.Correlation}”, is no number.");
            else if (correlation != 0)
                correlations.Add(new(first, second, correlation));
        }
        var count = TypedNumber.ReadWhole(form.Count?.Replace(" ", "", StringComparison.Ordinal));
        if (count is null)
            Say($"Type how many subjects there are as a whole number from 1 to {SubjectGroup.Most:N0}.");
        var group = new SubjectGroup(count ?? Group.Count, varying.ToImmutable(), correlations.ToImmutable())
        {
            TargetLow = Limit(form.TargetLow),
            TargetHigh = Limit(form.TargetHigh),
            Of = form.Of ?? "",
        };
        if (Notice is not null)
            _typed = group with { Varying = [.. group.Varying.Where(one => !double.IsNaN(one.Spread))] };
        return group;
    }

    /// <summary>All values of the model.</summary>
    public IReadOnlyList<ModelValue> AllValues => Lowered().Network.Values;

    /// <summary>What the model says of a value.</summary>
    public double TypicalOf(ValueAddress address) => Typical(address);

    private double Typical(ValueAddress address) =>
        Lowered().Network is var network && network.IndexOf(address) is var index and >= 0 ? network.Values[index].Value : double.NaN;

    private string LabelOf(ValueAddress address) =>
        Lowered().Network is var network && network.IndexOf(address) is var index and >= 0
            ? ValueWords.Of(Document, network.Values[index])
            : "no longer in the model";

    private static string Text(double? number) => number is { } value ? TypedNumber.Short(value) : "";

    /// <summary>A value that differs, as posted.</summary>
    public sealed class ValueForm
    {
        public ValueAddress? Address { get; set; }

        public VariationLaw Law { get; set; }

        public string? Spread { get; set; }

        public string? Low { get; set; }

        public string? High { get; set; }
    }

    /// <summary>A correlation, as posted.</summary>
    public sealed class PairForm
    {
        public ValueAddress? First { get; set; }

        public ValueAddress? Second { get; set; }

        public string? Correlation { get; set; }
    }

    /// <summary>The whole form, as posted.</summary>
    public sealed class GroupForm
    {
        public List<ValueForm> Values { get; set; } = [];

        public List<PairForm> Pairs { get; set; } = [];

        public ValueAddress? Add { get; set; }

        public string? Remove { get; set; }

        public bool Nearest { get; set; }

        public string? Count { get; set; }

        public string? TargetLow { get; set; }

        public string? TargetHigh { get; set; }

        public string? Of { get; set; }
    }
}
