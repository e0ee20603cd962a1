using System.Collections.Immutable;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;

namespace ClearTide.Formats.Sbml;

/// <summary>An SBML model in the form that solvers know.</summary>
/// <param name="Columns">Everything with an id that has a value along a run, in the order of the file: species, parameters, compartments,
/// then reactions and stoichiometries.</param>
public sealed record LoweredSbml(ReactionNetwork Network, IReadOnlyList<SbmlColumn> Columns)
{
    /// <summary>Index among the form's quantities of each constraint of the model: 1 where it holds, else 0.</summary>
    public IReadOnlyList<int> Constraints { get; init; } = [];

    /// <summary>Ids of what algebraic rules determine.</summary>
    public IReadOnlyList<string> Algebraic { get; init; } = [];
}

/// <param name="Concentration">Index among the form's quantities of the value as formulas speak of it: a concentration, unless the
/// species says substance only.</param>
/// <param name="Amount">Index of it as an amount.</param>
/// <param name="IsShown">Whether it stands among the columns where none are named: species, and parameters and compartments that
/// change.</param>
public sealed record SbmlColumn(string Id, int Concentration, int Amount, bool IsShown);

/// <summary>
/// Lowers an SBML model (Level 3 Version 2 core, sections 4.6 to 4.11). Species that reactions or events may change are states in
/// amounts; a symbol
/// under a rate rule is a state in its own units; a symbol under an assignment rule is its formula; what may be set by events and nothing
/// else is a
/// state that stays. Formulas read a species as its concentration, amount over size, unless it says substance only.
/// </summary>
public sealed partial class SbmlLowering
{
    /// <summary>Symbols are worked out one within the other.</summary>
    private const int LongestChain = 1000;

    private const int LongestWrittenOut = 1_000_000;

    private readonly SbmlModel _model;
    private readonly ExpressionGraph _graph = new();
    private readonly UnitTable _units = new StudyDocument { Title = "" }.UnitTable();
    private readonly List<ModelValue> _values = [];
    private readonly List<double> _slots = [];
    private readonly List<StateVariable> _states = [];
    private readonly List<int> _initial = [];
    private readonly List<(int State, int Node)> _rules = [];
    private readonly List<Delay> _delays = [];
    private readonly List<(int Slot, Syntax Expression, Syntax Lag)> _lags = [];
    private readonly Dictionary<string, int> _numbers = [];
    private readonly Dictionary<string, int> _stateOf = [];
    private readonly Dictionary<string, Syntax> _assigned,
        _rates,
        _starting;
    private readonly Dictionary<string, SbmlSpecies> _species;
    private readonly Dictionary<string, SbmlCompartment> _compartments;
    private readonly Dictionary<string, SbmlReaction> _reactions;
    private readonly Dictionary<string, SbmlReference> _references;
    private readonly HashSet<string> _setByEvents;
    private readonly Dictionary<(string, bool), int> _nodes = [];
    private readonly Dictionary<string, AlgebraicBlock> _algebraic = [];
    private readonly List<ImplicitBlock> _implicit = [],
        _implicitAtStart = [];
    private readonly HashSet<string> _placesSet = [];
    private int _writtenOut;
    private readonly List<(string Id, bool AtStart)> _open = [];

    private SbmlLowering(SbmlModel model)
    {
        _model = model;
        _assigned = model.AssignmentRules.ToDictionary(rule => rule.Variable, rule => rule.Math);
        _rates = model.RateRules.ToDictionary(rule => rule.Variable, rule => rule.Math);
        _starting = model.InitialAssignments.GroupBy(rule => rule.Variable).ToDictionary(group => group.Key, group => group.First().Math);
        _species = model.Species.ToDictionary(part => part.Id);
        _compartments = model.Compartments.ToDictionary(part => part.Id);
        _reactions = model.Reactions.ToDictionary(part => part.Id);
        _references = model
            .Reactions.SelectMany(reaction => reaction.Reactants.Concat(reaction.Products))
            .Where(reference => reference.Id is not null)
            .GroupBy(reference => reference.Id!)
            .ToDictionary(group => group.Key, group => group.First());
        _setByEvents = [.. model.Events.SelectMany(one => one.Assignments).Select(assignment => assignment.Variable)];
    }

    /// <exception cref="SbmlException">Symbols depend on each other in a circle, or one is not in the model.</exception>
    public static LoweredSbml Lower(SbmlModel model) => new SbmlLowering(model).All();

    private LoweredSbml All()
    {
        // All plain numbers come first in the parameter vector.
        foreach (var part in _model.Compartments)
            Number(part.Id, part.Size ?? (part.Dimensions == 0 ? 1 : double.NaN));
        foreach (var part in _model.Species)
            Number(part.Id, part.InitialAmount ?? part.InitialConcentration ?? double.NaN);
        foreach (var part in _model.Parameters)
            Number(part.Id, part.Value ?? double.NaN);
        foreach (var part in _model.Reactions.SelectMany(reaction => reaction.Locals))
            Number(part.Id, part.Value ?? double.NaN);
        foreach (var (id, reference) in _references)
            Number(id, reference.Stoichiometry);
        PlanStates();
        SolveAlgebra();
        foreach (var (id, state) in _stateOf.OrderBy(pair => pair.Value))
            _initial.Add(Start(id));
        foreach (var (id, state) in _stateOf)
        {
            if (_rates.TryGetValue(id, out var rate))
                _rules.Add((state, Bind(rate, false)));
        }
        var processes = _model.Reactions.Select(Process).OfType<Process>().ToList();
        var events = _model.Events.Select(Event).ToList();
        var (quantities, columns) = Columns();
        var constraints = new List<int>();
        foreach (var constraint in _model.Constraints)
        {
            constraints.Add(quantities.Count);
            quantities.Add(new("", "", Bind(constraint.Math, false)));
        }
        for (var k = 0; k < _lags.Count; k++)
        {
            // Binding what is delayed may meet further delays, which come behind in the list.
            var (slot, expression, lag) = _lags[k];
            _delays.Add(new(slot, Bind(expression, false), Bind(lag, false), -1));
        }
        return new(
            new()
            {
                Graph = _graph,
                States = _states,
                Values = _values,
                Slots = _slots,
                Initial = _initial,
                Processes = processes,
                Rules = _rules,
                Amounts = [],
                Flows = [],
                Quantities = quantities,
                Delays = _delays,
                Implicit = _implicit,
                ImplicitAtStart = _implicitAtStart,
                Events = events,
            },
            columns
        )
        {
            Constraints = constraints,
            Algebraic = [.. _algebraic.Keys.Select(SbmlText.Id)],
        };
    }

    /// <summary>What a state starts from: an amount for species, unless a rule gives its rate.</summary>
    private int Start(string id)
    {
        if (!_species.TryGetValue(id, out var species) || _rates.ContainsKey(id))
            return Value(id, true);
        // An amount that is given needs no way round by its concentration.
        return species.InitialAmount is not null && !_starting.ContainsKey(id) ? _numbers[id] : AmountOf(species, Value(id, true), true);
    }

    private void Number(string id, double value)
    {
        _numbers[id] = _graph.Parameter(_values.Count);
        _values.Add(new(SbmlText.Id(id), value, id));
    }

    /// <summary>
    /// Gives a state to all that changes by itself and is not assigned. What only events set, and nothing keeps from the start, is its
    /// number itself,
    /// which may have no value until then.
    /// </summary>
    private void PlanStates()
    {
        var moved = _model
            .Reactions.SelectMany(reaction => reaction.Reactants.Concat(reaction.Products))
            .Select(reference => reference.Species)
            .ToHashSet();
        var kept = KeptFromStart();
        bool IsNumber(string id) => !_rates.ContainsKey(id) && !_starting.ContainsKey(id) && !kept.Contains(id);
        foreach (var part in _model.Species)
        {
            if (_assigned.ContainsKey(part.Id) || part.Constant && !_rates.ContainsKey(part.Id))
                continue;
            if (
                _setByEvents.Contains(part.Id)
                && (part.Boundary || !moved.Contains(part.Id))
                && !Changes(part.Compartment)
                && IsNumber(part.Id)
            )
            {
                _placesSet.Add(part.Id);
                continue;
            }
            // An amount stays what it is when its compartment changes: it is a state even where nothing moves it.
            if (
                _rates.ContainsKey(part.Id)
                || _setByEvents.Contains(part.Id)
                || moved.Contains(part.Id) && !part.Boundary
                || Changes(part.Compartment)
            )
                State(part.Id, isAmount: !_rates.ContainsKey(part.Id));
        }
        foreach (
            var id in _model.Compartments.Select(part => part.Id).Concat(_model.Parameters.Select(part => part.Id)).Concat(_references.Keys)
        )
        {
            if (_assigned.ContainsKey(id) || !_rates.ContainsKey(id) && !_setByEvents.Contains(id))
                continue;
            if (IsNumber(id))
                _placesSet.Add(id);
            else
                State(id, isAmount: false);
        }
    }

    /// <summary>The symbols of which something worked out at the start is kept along the run.</summary>
    private HashSet<string> KeptFromStart()
    {
        var (kept, open) = (new HashSet<string>(), new Queue<Syntax>(_starting.Values));
        while (open.TryDequeue(out var tree))
        {
            foreach (var name in tree.Names().Select(name => name.Name).Where(kept.Add))
            {
                if (_assigned.TryGetValue(name, out var rule))
                    open.Enqueue(rule);
                if (_reactions.TryGetValue(name, out var reaction) && reaction.Rate is not null)
                    open.Enqueue(reaction.Rate);
                if (_species.TryGetValue(name, out var species))
                    open.Enqueue(new NameSyntax(default, species.Compartment));
            }
        }
        return kept;
    }

    private bool Changes(string id) => _assigned.ContainsKey(id) || _rates.ContainsKey(id) || _setByEvents.Contains(id);

    private void State(string id, bool isAmount)
    {
        _stateOf[id] = _states.Count;
        _states.Add(new(SbmlText.Id(id), id, isAmount));
        if (!isAmount && !_rates.ContainsKey(id))
            _rules.Add((_stateOf[id], _graph.Constant(0)));
    }

    private (List<NamedExpression>, List<SbmlColumn>) Columns()
    {
        var (quantities, columns) = (new List<NamedExpression>(), new List<SbmlColumn>());
        int Add(string id, int node)
        {
            quantities.Add(new(SbmlText.Id(id), id, node));
            return quantities.Count - 1;
        }
        foreach (var part in _model.Species)
        {
            var value = Value(part.Id, false);
            var shown = Add(part.Id, value);
            columns.Add(new(SbmlText.Id(part.Id), shown, part.SubstanceOnly ? shown : Add(part.Id, AmountOf(part, value, false)), true));
        }
        void Rest(string id)
        {
            var shown = Add(id, Value(id, false));
            columns.Add(new(SbmlText.Id(id), shown, shown, Changes(id) || _algebraic.ContainsKey(id)));
        }
        foreach (var part in _model.Parameters)
            Rest(part.Id);
        foreach (var part in _model.Compartments)
            Rest(part.Id);
        foreach (var reaction in _model.Reactions)
            Rest(reaction.Id);
        foreach (var id in _references.Keys)
            Rest(id);
        return (quantities, columns);
    }
}
