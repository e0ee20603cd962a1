using System.Collections.Immutable;
using System.Text.Json.Serialization;
using ClearTide.Core.Language;
using ClearTide.Core.Units;

namespace ClearTide.Core.Model;

/// <summary>
/// A whole study as one immutable value. Editing makes a new one. Data sets, fits and runs lie beside it; it only refers to them.
/// </summary>
public sealed record StudyDocument : Stored
{
    /// <summary>What the study is called.</summary>
    public required string Title { get; init; }

    /// <summary>What it is to answer.</summary>
    public string Question { get; init; } = "";

    /// <summary>What it is about.</summary>
    public string Description { get; init; } = "";

    /// <summary>Words by which it is found.</summary>
    public ImmutableArray<string> Tags { get; init; } = [];

    /// <summary>The unit that its times are counted in.</summary>
    public TimeUnit TimeUnit { get; init; } = TimeUnit.Day;

    /// <summary>The date of time zero, or null where the study has no calendar.</summary>
    public DateOnly? Origin { get; init; }

    /// <summary>The model's time at the beginning of a date, in the unit of the study; null where it does not say which date its time zero
    /// is.</summary>
    /// <param name="date">Of the calendar.</param>
    public double? TimeOf(DateOnly date) => Origin is { } origin ? (date.DayNumber - origin.DayNumber) * 86400.0 / TimeUnit.Seconds : null;

    /// <summary>Start of the time span, in the study's time unit.</summary>
    public double Start { get; init; }

    /// <summary>End of the time span, in the study's time unit.</summary>
    public double End { get; init; } = 100;

    /// <summary>How its run is computed.</summary>
    public SolverChoice Solver { get; init; } = SolverChoice.Usual;

    /// <summary>The seed of random inputs.</summary>
    public long Seed { get; init; } = 1;

    /// <summary>Units that the study adds to those built in.</summary>
    public ImmutableArray<UnitRule> Units { get; init; } = [];

    /// <summary>Its compartments, in the order of the ledger.</summary>
    public ImmutableArray<Compartment> Compartments { get; init; } = [];

    /// <summary>Its flows, in the order of the ledger.</summary>
    public ImmutableArray<Flow> Flows { get; init; } = [];

    /// <summary>Its reactions, in the order of the ledger.</summary>
    public ImmutableArray<Reaction> Reactions { get; init; } = [];

    /// <summary>Its parameters and quantities, in the order of the ledger.</summary>
    public ImmutableArray<Definition> Definitions { get; init; } = [];

    /// <summary>Its known functions of time, in the order of the ledger.</summary>
    public ImmutableArray<Input> Inputs { get; init; } = [];

    /// <summary>Its known functions of a quantity, in the order of the ledger.</summary>
    public ImmutableArray<ResponseCurve> Curves { get; init; } = [];

    /// <summary>Its random inputs, in the order of the ledger.</summary>
    public ImmutableArray<RandomInput> RandomInputs { get; init; } = [];

    /// <summary>Its events, in the order of the ledger.</summary>
    public ImmutableArray<EventRule> Events { get; init; } = [];

    /// <summary>What its parts are split by, in the order of the ledger.</summary>
    public ImmutableArray<Group> Groups { get; init; } = [];

    /// <summary>Which parts are split, and how.</summary>
    public ImmutableArray<Split> Splits { get; init; } = [];

    /// <summary>What it takes for granted.</summary>
    public ImmutableArray<Assumption> Assumptions { get; init; } = [];

    /// <summary>What it must satisfy.</summary>
    public ImmutableArray<Expectation> Expectations { get; init; } = [];

    /// <summary>How its data relate to the model.</summary>
    public ImmutableArray<Observation> Observations { get; init; } = [];

    /// <summary>What is estimated, and how.</summary>
    public FitSetup Fit { get; init; } = FitSetup.Empty;

    /// <summary>Numbers that are values of the model while a fit is made, though they are none elsewhere. Never stored.</summary>
    [JsonIgnore]
    public ImmutableArray<ValueAddress> Freed { get; init; } = [];

    /// <summary>Fits that have names; the one that is chosen need not be among them.</summary>
    public ImmutableArray<NamedFit> Fits { get; init; } = [];

    /// <summary>Many bodies of the model, and how they differ; null where there is one.</summary>
    public SubjectGroup? Subjects { get; init; }

    /// <summary>Named sets of measures.</summary>
    public ImmutableArray<Scenario> Scenarios { get; init; } = [];

    /// <summary>The scenarios that are run, in their order, each with all that it builds on.</summary>
    public IEnumerable<Scenario> ActiveScenarios => Scenarios.Where(scenario => !scenario.IsOff).Select(Whole);

    /// <summary>A scenario with the measures and rules of those that it builds on, each of them once and before its own.</summary>
    /// <param name="scenario">The scenario.</param>
    public Scenario Whole(Scenario scenario)
    {
        if (scenario.BuildsOn.IsEmpty)
            return scenario;
        var (parts, seen) = (new List<Scenario>(), new HashSet<string>());
        void Gather(Scenario part)
        {
            // A file may go round in a circle, which no edit does.
            if (!seen.Add(part.Id))
                return;
            foreach (var id in part.BuildsOn)
            {
                if (Scenarios.FirstOrDefault(one => one.Id == id) is { } other)
                    Gather(other);
            }
            parts.Add(part);
        }
        Gather(scenario);
        return scenario with
        {
            BuildsOn = [],
            Measures = [.. parts.SelectMany(one => one.Measures)],
            Rules = [.. parts.SelectMany(one => one.Rules)],
            Costs = [.. parts.SelectMany(one => one.Costs)],
        };
    }

    /// <summary>Outcomes by which scenarios are compared besides the usual ones: formulas over whole runs, as typed.</summary>
    public ImmutableArray<string> OutcomeRows { get; init; } = [];

    /// <summary>So many of them at most.</summary>
    public const int MostOutcomeRows = 6;

    /// <summary>Panels of Explore; where there are none, the usual ones are shown.</summary>
    public ImmutableArray<Panel> Panels { get; init; } = [];

    /// <summary>Sliders of Explore.</summary>
    public ImmutableArray<Slider> Sliders { get; init; } = [];

    /// <summary>Models that are parts of this one.</summary>
    public ImmutableArray<Module> Modules { get; init; } = [];

    /// <summary>Named areas of the diagram.</summary>
    public ImmutableArray<Region> Regions { get; init; } = [];

    /// <summary>Compartments shown a second time.</summary>
    public ImmutableArray<Reference> References { get; init; } = [];

    /// <summary>Words on the diagram's paper.</summary>
    public ImmutableArray<PaperText> Texts { get; init; } = [];

    /// <summary>What the file that it was imported from says and the study does not hold, or holds in another way, a sentence
    /// each.</summary>
    public ImmutableArray<string> FileNotes { get; init; } = [];

    /// <summary>The number for the next id; ids are never used twice in a study.</summary>
    public int NextId { get; init; } = 1;

    /// <summary>All parts, kind by kind, in the order of the ledger.</summary>
    public IEnumerable<IPart> Parts => PartKinds.All.SelectMany(kind => kind.In(this));

    /// <summary>All parts that formulas can name.</summary>
    public IEnumerable<ISymbolPart> SymbolParts => PartKinds.Named.SelectMany(kind => kind.In(this)).Cast<ISymbolPart>();

    /// <summary>What moves amounts and can be counted: flows, then reactions.</summary>
    public IEnumerable<IPart> Moving => Flows.Concat<IPart>(Reactions);

    /// <summary>The part with this id, or null.</summary>
    /// <param name="id">Id of the part.</param>
    public IPart? Part(string? id) =>
        id is null
            ? null
            : Compartment(id)
                ?? PartIndex<Definition>.Find(Definitions, id)
                ?? (IPart?)Flow(id)
                ?? Parts.FirstOrDefault(part => part.Id == id);

    /// <summary>The first part with this symbol, or null.</summary>
    /// <param name="symbol">The name in formulas.</param>
    public ISymbolPart? PartBySymbol(string symbol) => SymbolParts.FirstOrDefault(part => part.Symbol == symbol);

    /// <summary>The compartment with this id, or null.</summary>
    /// <param name="id">Id of the part.</param>
    public Compartment? Compartment(string? id) => id is null ? null : PartIndex<Compartment>.Find(Compartments, id);

    /// <summary>Where a compartment stands among all, from 0; -1 for one of another study.</summary>
    /// <param name="part">The compartment.</param>
    public int PlaceOf(Compartment part) => PartIndex<Compartment>.IndexOf(Compartments, part.Id);

    /// <summary>The compartment with this symbol, or null.</summary>
    /// <param name="symbol">The name in formulas.</param>
    public Compartment? CompartmentBySymbol(string symbol) => PartIndex<Compartment>.FindSymbol(Compartments, symbol);

    /// <summary>The parameter or quantity with this symbol, or null.</summary>
    /// <param name="symbol">The name in formulas.</param>
    public Definition? DefinitionBySymbol(string symbol) => PartIndex<Definition>.FindSymbol(Definitions, symbol);

    /// <summary>The flow with this id, or null.</summary>
    /// <param name="id">Id of the part.</param>
    public Flow? Flow(string id) => PartIndex<Flow>.Find(Flows, id);

    /// <summary>The group with this symbol, or null.</summary>
    internal Group? GroupBySymbol(string symbol) => Groups.FirstOrDefault(group => group.Symbol == symbol);

    /// <summary>How a part is split, or null.</summary>
    /// <param name="partId">Id of the part.</param>
    public Split? SplitOf(string partId) => Splits.FirstOrDefault(split => split.PartId == partId);

    /// <summary>The groups that a part is split by, in the order of its indices; empty where it is not.</summary>
    /// <param name="partId">Id of the part.</param>
    public ImmutableArray<Group> GroupsOf(string? partId) =>
        partId is not null && SplitOf(partId) is { } split
            ? [.. split.Groups.Select(id => Groups.FirstOrDefault(group => group.Id == id)).OfType<Group>()]
            : [];

    /// <summary>The region that a compartment is in, or null.</summary>
    /// <param name="compartmentId">Id of the compartment.</param>
    public Region? RegionOf(string compartmentId) => Regions.FirstOrDefault(region => region.Members.Contains(compartmentId));

    /// <summary>The document with one of its parts replaced by another of the same id and kind.</summary>
    /// <param name="part">The part.</param>
    public StudyDocument With(IPart part) => PartKinds.Of(part).Put(this, part);

    /// <summary>A flow in words: “S → E”, with “outside” for an open end.</summary>
    /// <param name="flow">The flow.</param>
    public string Describe(Flow flow) =>
        $"{Tip(flow.From, flow.FromMember)} → {string.Join(", ", flow.To.Select(target => Tip(target.Id, target.Member)))}";

    private string Tip(string? id, string member) =>
        Compartment(id)?.Symbol is not { } symbol ? "outside"
        : member.Length == 0 ? symbol
        : MemberName.Print(MemberName.Of(symbol, [member]));

    /// <summary>A part as sentences speak of it.</summary>
    /// <param name="part">The part.</param>
    public string Describe(IPart part) => part is Flow flow ? Describe(flow) : part.Name;
}
