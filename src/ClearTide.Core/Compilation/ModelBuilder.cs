using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Expressions;
using ClearTide.Core.Groups;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;

namespace ClearTide.Core.Compilation;

/// <summary>What a document's reaction network is put together in: the graph, the vectors, and where each compartment's states
/// lie.</summary>
internal sealed class ModelBuilder(StudyDocument document)
{
    private readonly Dictionary<string, int> _firstState = [];
    private readonly Dictionary<string, int> _stages = [];
    private readonly HashSet<ValueAddress> _addresses = [];
    private readonly Dictionary<string, ISymbolPart> _bySymbol = BySymbol(document);

    public StudyDocument Document { get; } = document;

    /// <summary>How the document was written out.</summary>
    public WrittenOut Written { get; init; } = WrittenOut.Of(document);

    public UnitTable Units { get; } = document.UnitTable();

    public ExpressionGraph Graph { get; } = new();

    public FindingList Findings { get; } = new(document);

    public List<ModelValue> Values { get; } = [];

    public List<double> Slots { get; } = [];

    public List<string> SlotNames { get; } = [];

    public List<StateVariable> States { get; } = [];

    /// <summary>Initial amounts of the states that formulas add.</summary>
    public List<int> ExtraStarts { get; } = [];

    public List<(int State, int Node)> Rules { get; } = [];

    public List<Delay> Delays { get; } = [];

    public List<WatchedRange> Ranges { get; } = [];

    /// <summary>Symbols of parts that cannot be computed; what uses them counts as zero.</summary>
    public HashSet<string> Broken { get; } = [];

    public ISymbolPart? Part(string symbol) => _bySymbol.GetValueOrDefault(symbol);

    private static Dictionary<string, ISymbolPart> BySymbol(StudyDocument document)
    {
        var parts = new Dictionary<string, ISymbolPart>();
        foreach (var part in document.SymbolParts)
            parts.TryAdd(part.Symbol, part);
        return parts;
    }

    /// <summary>Adds a plain number to the parameter vector; all are added before any slot.</summary>
    public int AddValue(ValueAddress address, double value, string partId)
    {
        var unique = address;
        for (var twin = 2; !_addresses.Add(unique); twin++)
            unique = address with { Twin = twin };
        Values.Add(new(unique, value, partId));
        return Graph.Parameter(Values.Count - 1);
    }

    /// <summary>Adds a parameter that runs fill in themselves; returns its index in the parameter vector.</summary>
    /// <param name="first">What it is where a run starts.</param>
    /// <param name="name">What it stands for, by which it is found in a model that has more parts.</param>
    public int AddSlot(double first, string name)
    {
        Slots.Add(first);
        SlotNames.Add(name);
        return Values.Count + Slots.Count - 1;
    }

    private readonly Dictionary<string, List<(int Place, int Node)>> _freed = [];
    private int _startNode = -1;

    /// <summary>Makes values of the numbers that a fit asks for.</summary>
    public void AddFreed()
    {
        foreach (var address in Document.Freed)
        {
            if (address == FreedValues.StartDay)
                _startNode = AddValue(address, Document.Start, "");
            else if (FreedValues.PointOf(Document, address) is (var input, var place) && input.Between != Between.Smooth)
            {
                if (!_freed.TryGetValue(input.Id, out var points))
                    _freed[input.Id] = points = [];
                points.Add((place, AddValue(address, input.Points[place].Y * (Units.ReadAlone(input.Unit).Unit?.Scale ?? 1), input.Id)));
            }
        }
    }

    /// <summary>The node of the time that a run starts at.</summary>
    public int StartNode => _startNode >= 0 ? _startNode : Graph.Constant(Document.Start);

    /// <summary>What an input is at a place. A table in lines or steps goes in proportion to each of its values: those that are freed
    /// count by the table that is 1 at their point and 0 at the others.</summary>
    public int InputAt(Input input, int place)
    {
        var table = InputTables.Of(input, Units);
        if (!_freed.TryGetValue(input.Id, out var freed))
            return Graph.Table(Operation.Lookup, table, place);
        var held = freed.Aggregate(table, (left, one) => left.WithValue(one.Place, 0));
        var nothing = Enumerable.Range(0, input.Points.Length).Aggregate(table, (left, k) => left.WithValue(k, 0));
        return freed.Aggregate(Graph.Table(Operation.Lookup, held, place), (sum, one) =>
            Graph.Add(sum, Graph.Multiply(one.Node, Graph.Table(Operation.Lookup, nothing.WithValue(one.Place, 1), place)))
        );
    }

    private readonly Dictionary<string, int> _limits = [];

    /// <summary>The parameter that holds back all limited exits of a compartment while it is empty.</summary>
    public int LimitSlot(string compartmentId)
    {
        if (!_limits.TryGetValue(compartmentId, out var slot))
            _limits[compartmentId] = slot = AddSlot(1, $"limit {compartmentId}");
        return slot;
    }

    private readonly Dictionary<string, int[]> _equilibria = [];

    /// <summary>The parameters from which the stages of a compartment that starts at equilibrium read their initial amounts.</summary>
    public IReadOnlyList<int> EquilibriumSlots(string compartmentId)
    {
        if (!_equilibria.TryGetValue(compartmentId, out var slots))
            _equilibria[compartmentId] = slots = [
                .. Enumerable.Range(0, Stages(compartmentId)).Select(_ => AddSlot(0, $"equilibrium {compartmentId}")),
            ];
        return slots;
    }

    /// <summary>Gives each compartment its states: one, or one for each stage of the exit that has stages.</summary>
    public void PlanStates()
    {
        var exits = Document.Flows.Where(flow => flow.Stages > 1).ToLookup(flow => flow.From);
        foreach (var part in Document.Compartments)
        {
            var staged = exits[part.Id].ToList();
            foreach (var extra in staged.Skip(1))
            {
                Findings.AddWithEdits(
                    extra.Id,
                    PartField.Stages,
                    Severity.Unfinished,
                    null,
                    $"{Document.Describe(staged[0])} already passes the stay in {part.Symbol} in stages; a compartment has one such "
                        + "exit. Let one flow lead to both ends with shares.",
                    [new("In one stage", new SetField(extra.Id, PartField.Stages, "1"))]
                );
            }
            if (staged.Count > 0 && staged[0].Kind == RateKind.Whole)
            {
                Findings.AddWithEdits(
                    staged[0].Id,
                    PartField.Stages,
                    Severity.Unfinished,
                    null,
                    "Stages belong to a stay, and this flow's rate is a whole formula. Give the rate with “after” or “at”.",
                    [new("In one stage", new SetField(staged[0].Id, PartField.Stages, "1"))]
                );
            }
            var count = staged.Count > 0 && staged[0].Kind != RateKind.Whole ? staged[0].Stages : 1;
            _firstState[part.Id] = States.Count;
            _stages[part.Id] = count;
            for (var stage = 0; stage < count; stage++)
            {
                States.Add(
                    new(count == 1 ? part.Symbol : $"{part.Symbol} stage {stage + 1}", part.Id)
                    {
                        NeverBelowZero = part.NeverBelowZero,
                        WholeUnits = part.WholeUnits,
                    }
                );
            }
        }
    }

    public int FirstState(string compartmentId) => _firstState[compartmentId];

    public int Stages(string compartmentId) => _stages[compartmentId];

    /// <summary>The node of one stage of a compartment.</summary>
    public int Stage(string compartmentId, int stage) => Graph.State(_firstState[compartmentId] + stage);

    /// <summary>The node of a compartment's whole amount.</summary>
    public int Amount(Compartment part)
    {
        var sum = Stage(part.Id, 0);
        for (var stage = 1; stage < _stages[part.Id]; stage++)
            sum = Graph.Add(sum, Stage(part.Id, stage));
        return sum;
    }

    /// <summary>A state that no process moves; its start and its right-hand side come with it.</summary>
    public int AddState(string symbol, string partId, int start)
    {
        States.Add(new(symbol, partId, IsAmount: false));
        ExtraStarts.Add(start);
        return States.Count - 1;
    }
}
