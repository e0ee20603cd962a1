using System.Collections.Immutable;
using ClearTide.Core.Formulas;
using ClearTide.Core.Models;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;

namespace ClearTide.Formats.Sbml;

/// <summary>An SBML model in the form that solvers know.</summary>
/// <param name="Columns">Everything with an id that has a value along a run, in the order of the file: species, parameters, compartments, then reactions and stoichiometries.</param>
public sealed record LoweredSbml(GeneralForm Form, IReadOnlyList<SbmlColumn> Columns);

/// <param name="Concentration">Index among the form's quantities of the value as formulas speak of it: a concentration, unless the species says substance only.</param>
/// <param name="Amount">Index of it as an amount.</param>
/// <param name="IsShown">Whether it stands among the columns where none are named: species, and parameters and compartments that change.</param>
public sealed record SbmlColumn(string Id, int Concentration, int Amount, bool IsShown);

/// <summary>
/// Lowers an SBML model (Level 3 Version 2 core, sections 4.6 to 4.11). Species that reactions or events may change are states in amounts; a symbol
/// under a rate rule is a state in its own units; a symbol under an assignment rule is its formula; what may be set by events and nothing else is a
/// state that stays. Formulas read a species as its concentration, amount over size, unless it says substance only.
/// </summary>
public sealed class SbmlLowering
{
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
    private readonly Dictionary<string, Syntax> _assigned, _rates, _starting;
    private readonly Dictionary<string, SbmlSpecies> _species;
    private readonly Dictionary<string, SbmlCompartment> _compartments;
    private readonly Dictionary<string, SbmlReaction> _reactions;
    private readonly Dictionary<string, SbmlReference> _references;
    private readonly HashSet<string> _setByEvents;
    private readonly Dictionary<(string, bool), int> _nodes = [];
    private readonly Dictionary<string, AlgebraicBlock> _algebraic = [];
    private readonly HashSet<string> _placesSet = [];
    private readonly List<string> _open = [];

    private SbmlLowering(SbmlModel model)
    {
        _model = model;
        _assigned = model.AssignmentRules.ToDictionary(rule => rule.Variable, rule => rule.Math);
        _rates = model.RateRules.ToDictionary(rule => rule.Variable, rule => rule.Math);
        _starting = model.InitialAssignments.GroupBy(rule => rule.Variable).ToDictionary(group => group.Key, group => group.First().Math);
        _species = model.Species.ToDictionary(part => part.Id);
        _compartments = model.Compartments.ToDictionary(part => part.Id);
        _reactions = model.Reactions.ToDictionary(part => part.Id);
        _references = model.Reactions.SelectMany(reaction => reaction.Reactants.Concat(reaction.Products)).Where(reference => reference.Id is not null).GroupBy(reference => reference.Id!).ToDictionary(group => group.Key, group => group.First());
        _setByEvents = [.. model.Events.SelectMany(one => one.Assignments).Select(assignment => assignment.Variable)];
    }

    /// <exception cref="SbmlException">Symbols depend on each other in a circle, or one is not in the model.</exception>
    public static LoweredSbml Lower(SbmlModel model) => new SbmlLowering(model).All();

    private LoweredSbml All()
    {
        // All plain numbers come first in the parameter vector.
        foreach (var part in _model.Compartments) Number(part.Id, part.Size ?? (part.Dimensions == 0 ? 1 : double.NaN));
        foreach (var part in _model.Species) Number(part.Id, part.InitialAmount ?? part.InitialConcentration ?? double.NaN);
        foreach (var part in _model.Parameters) Number(part.Id, part.Value ?? double.NaN);
        foreach (var part in _model.Reactions.SelectMany(reaction => reaction.Locals)) Number(part.Id, part.Value ?? double.NaN);
        foreach (var (id, reference) in _references) Number(id, reference.Stoichiometry);
        PlanStates();
        SolveAlgebra();
        foreach (var (id, state) in _stateOf.OrderBy(pair => pair.Value)) _initial.Add(Start(id));
        foreach (var (id, state) in _stateOf)
        {
            if (_rates.TryGetValue(id, out var rate)) _rules.Add((state, Bind(rate, false)));
        }
        var processes = _model.Reactions.Select(Process).OfType<Process>().ToList();
        var events = _model.Events.Select(Event).ToList();
        var (quantities, columns) = Columns();
        for (var k = 0; k < _lags.Count; k++)
        {
            // Binding what is delayed may meet further delays, which come behind in the list.
            var (slot, expression, lag) = _lags[k];
            _delays.Add(new(slot, Bind(expression, false), Bind(lag, false), -1));
        }
        return new(new()
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
            Events = events,
        }, columns);
    }

    /// <summary>What a state starts from: an amount for species, unless a rule gives its rate.</summary>
    private int Start(string id)
    {
        if (!_species.TryGetValue(id, out var species) || _rates.ContainsKey(id)) return Value(id, true);
        // An amount that is given needs no way round by its concentration.
        return species.InitialAmount is not null && !_starting.ContainsKey(id) ? _numbers[id] : AmountOf(species, Value(id, true), true);
    }

    private void Number(string id, double value)
    {
        _numbers[id] = _graph.Parameter(_values.Count);
        _values.Add(new(SbmlText.Id(id), value, id));
    }

    /// <summary>
    /// Gives a state to all that changes by itself and is not assigned. What only events set, and nothing keeps from the start, is its number itself,
    /// which may have no value until then.
    /// </summary>
    private void PlanStates()
    {
        var moved = _model.Reactions.SelectMany(reaction => reaction.Reactants.Concat(reaction.Products)).Select(reference => reference.Species).ToHashSet();
        var kept = KeptFromStart();
        bool IsNumber(string id) => !_rates.ContainsKey(id) && !_starting.ContainsKey(id) && !kept.Contains(id);
        foreach (var part in _model.Species)
        {
            if (_assigned.ContainsKey(part.Id) || part.Constant && !_rates.ContainsKey(part.Id)) continue;
            if (_setByEvents.Contains(part.Id) && (part.Boundary || !moved.Contains(part.Id)) && !Changes(part.Compartment) && IsNumber(part.Id))
            {
                _placesSet.Add(part.Id);
                continue;
            }
            // An amount stays what it is when its compartment changes: it is a state even where nothing moves it.
            if (_rates.ContainsKey(part.Id) || _setByEvents.Contains(part.Id) || moved.Contains(part.Id) && !part.Boundary || Changes(part.Compartment)) State(part.Id, isAmount: !_rates.ContainsKey(part.Id));
        }
        foreach (var id in _model.Compartments.Select(part => part.Id).Concat(_model.Parameters.Select(part => part.Id)).Concat(_references.Keys))
        {
            if (_assigned.ContainsKey(id) || !_rates.ContainsKey(id) && !_setByEvents.Contains(id)) continue;
            if (IsNumber(id)) _placesSet.Add(id);
            else State(id, isAmount: false);
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
                if (_assigned.TryGetValue(name, out var rule)) open.Enqueue(rule);
                if (_reactions.TryGetValue(name, out var reaction) && reaction.Rate is not null) open.Enqueue(reaction.Rate);
                if (_species.TryGetValue(name, out var species)) open.Enqueue(new NameSyntax(default, species.Compartment));
            }
        }
        return kept;
    }

    private bool Changes(string id) => _assigned.ContainsKey(id) || _rates.ContainsKey(id) || _setByEvents.Contains(id);

    private void State(string id, bool isAmount)
    {
        _stateOf[id] = _states.Count;
        _states.Add(new(SbmlText.Id(id), id, isAmount));
        if (!isAmount && !_rates.ContainsKey(id)) _rules.Add((_stateOf[id], _graph.Constant(0)));
    }

    private FormulaBinder Binder(bool atStart, Func<string, int> resolve) =>
        new(_graph, _units, resolve, (call, binder) => call is CallSyntax delay ? Delayed(delay, binder, atStart) : RateOf((UserCallSyntax)call, atStart));

    private int Bind(Syntax tree, bool atStart) => Binder(atStart, name => Value(name, atStart)).Bind(AtZero(tree, atStart));

    /// <summary>At the start time is zero, also for symbols that keep what was worked out there.</summary>
    private static Syntax AtZero(Syntax tree, bool atStart) => atStart ? MathTrees.Rewrite(tree, node => node is NameSyntax { Name: "t" } ? MathReader.Of(0) : null) : tree;

    /// <summary>How fast a symbol changes, as formulas speak of it.</summary>
    private int RateOf(UserCallSyntax call, bool atStart)
    {
        var id = ((NameSyntax)call.Arguments[0]).Name;
        if (_rates.TryGetValue(id, out var rule)) return Bind(rule, atStart);
        if (_assigned.ContainsKey(id)) throw new SbmlException($"A formula asks for the rate of change of {id}, which a rule gives outright.");
        if (!_species.TryGetValue(id, out var species) || !_stateOf.ContainsKey(id)) return _graph.Constant(0);
        var rate = _graph.Constant(0);
        foreach (var reaction in _model.Reactions.Where(reaction => reaction.Rate is not null))
        {
            foreach (var (references, sign) in new[] { (reaction.Reactants, -1.0), (reaction.Products, 1.0) })
            {
                foreach (var reference in references.Where(reference => reference.Species == id && !species.Boundary)) rate = _graph.Add(rate, _graph.Multiply(_graph.Multiply(_graph.Constant(sign), Factor(reference, species)), Value(reaction.Id, atStart)));
            }
        }
        if (species.SubstanceOnly || !HasSize(species)) return rate;
        // Of a concentration A / V: (A' - [A] V') / V.
        if (_rates.TryGetValue(species.Compartment, out var growth)) rate = _graph.Subtract(rate, _graph.Multiply(Value(id, atStart), Bind(growth, atStart)));
        return _graph.Divide(rate, Size(species, atStart));
    }

    private void SolveAlgebra()
    {
        if (_model.AlgebraicRules.Length == 0) return;
        var fixedIds = _model.Compartments.Where(part => part.Constant).Select(part => part.Id).Concat(_model.Parameters.Where(part => part.Constant).Select(part => part.Id)).Concat(_model.Species.Where(part => part.Constant).Select(part => part.Id)).ToHashSet();
        bool IsFree(string id) => id != "t" && (_numbers.ContainsKey(id) || _species.ContainsKey(id)) && !fixedIds.Contains(id) && !_assigned.ContainsKey(id) && !_stateOf.ContainsKey(id) && !_placesSet.Contains(id) && !id.Contains('.', StringComparison.Ordinal);
        // What has no value needs a rule most; then what is moved about most often.
        int Preference(string id) => (double.IsNaN(_values[Place(id)].Value) ? 0 : 4) + (_species.ContainsKey(id) ? 0 : _compartments.ContainsKey(id) ? 2 : 1);
        foreach (var block in AlgebraicBlocks.Find([.. _model.AlgebraicRules.Select(rule => WrittenOut(rule, []))], IsFree, Preference))
        {
            foreach (var id in block.Unknowns) _algebraic[id] = block;
            var missing = block.Rules.SelectMany(rule => rule.Names()).Select(name => name.Name).FirstOrDefault(name => !_algebraic.ContainsKey(name) && IsFree(name) && double.IsNaN(_values[Place(name)].Value));
            if (missing is not null) throw new SbmlException($"An algebraic rule of this model does not determine one symbol: both {block.Unknowns[0]} and {missing} are open. Give one of them a value or an assignment rule.");
        }
    }

    /// <summary>A formula with symbols under assignment rules, and rates of reactions, written out.</summary>
    private Syntax WrittenOut(Syntax tree, ImmutableHashSet<string> within) => MathTrees.Rewrite(tree, node =>
    {
        if (node is not NameSyntax { Name: var id } || (_assigned.GetValueOrDefault(id) ?? _reactions.GetValueOrDefault(id)?.Rate) is not { } rule) return null;
        if (within.Contains(id)) throw new SbmlException($"{id} depends on itself.");
        return WrittenOut(rule, within.Add(id));
    });

    private int Solve(string id, AlgebraicBlock block, bool atStart)
    {
        // Parameters that no value has stand for the unknowns while the equations are solved.
        int[] unknowns = [.. block.Unknowns.Select((_, k) => _graph.Parameter(int.MaxValue - k))];
        int With(Syntax rule) => Binder(atStart, name => block.Unknowns.IndexOf(name) is var k and >= 0 ? unknowns[k] : Value(name, atStart)).Bind(AtZero(rule, atStart));
        int[] starts = [.. block.Unknowns.Select(unknown =>
        {
            var given = _values[Place(unknown)].Value;
            return _graph.Constant(double.IsFinite(given) && given != 0 ? given : 1);
        })];
        var solved = new AlgebraicSolution(_graph).Solve([.. block.Rules.Select(With)], unknowns, starts)
            ?? throw new SbmlException($"The algebraic rules for {string.Join(", ", block.Unknowns)} cannot be solved for {(block.Unknowns.Length == 1 ? "it" : "them")}. Give {id} by an assignment rule.");
        for (var k = 0; k < solved.Length; k++) _nodes[(block.Unknowns[k], atStart)] = solved[k];
        return _nodes[(id, atStart)];
    }

    private int Delayed(CallSyntax call, FormulaBinder binder, bool atStart)
    {
        // Before the start everything is what it is there.
        if (atStart) return binder.Bind(call.Arguments[0]);
        var slot = _values.Count + _slots.Count;
        _slots.Add(0);
        _lags.Add((slot, call.Arguments[0], call.Arguments[1]));
        return _graph.Parameter(slot);
    }

    /// <summary>The node of a symbol as formulas read it, along the run or at its start.</summary>
    private int Value(string id, bool atStart)
    {
        if (_nodes.TryGetValue((id, atStart), out var known)) return known;
        if (_open.Contains($"{id}{atStart}")) throw new SbmlException($"{id} depends on itself: {string.Join(" → ", _open.SkipWhile(name => name != $"{id}{atStart}").Select(name => name.Replace("True", "", StringComparison.Ordinal).Replace("False", "", StringComparison.Ordinal)).Append(id))}.");
        _open.Add($"{id}{atStart}");
        var node = Make(id, atStart);
        _open.RemoveAt(_open.Count - 1);
        return _nodes[(id, atStart)] = node;
    }

    private int Make(string id, bool atStart)
    {
        if (atStart && _starting.TryGetValue(id, out var start)) return Bind(start, true);
        if (_assigned.TryGetValue(id, out var rule)) return Bind(rule, atStart);
        if (_algebraic.TryGetValue(id, out var equation)) return Solve(id, equation, atStart);
        if (_reactions.TryGetValue(id, out var reaction)) return reaction.Rate is { } rate ? Bind(rate, atStart) : _graph.Constant(double.NaN);
        if (!atStart && _stateOf.TryGetValue(id, out var state))
        {
            var own = _graph.State(state);
            return _species.TryGetValue(id, out var moved) && !_rates.ContainsKey(id) ? OfAmount(moved, own, atStart) : own;
        }
        // What does not change keeps what was worked out at the start.
        if (!atStart && _starting.ContainsKey(id)) return Value(id, true);
        if (!_numbers.TryGetValue(id, out var number)) throw new SbmlException($"A formula names “{id}”, which is not in the model.");
        if (!_species.TryGetValue(id, out var species)) return number;
        if (species.InitialAmount is not null) return OfAmount(species, number, atStart);
        return species.SubstanceOnly && species.InitialConcentration is not null ? _graph.Multiply(number, Size(species, atStart)) : number;
    }

    private bool HasSize(SbmlSpecies species) => _compartments[species.Compartment].Dimensions != 0;

    private int Size(SbmlSpecies species, bool atStart) => HasSize(species) ? Value(species.Compartment, atStart) : _graph.Constant(1);

    /// <summary>An amount as formulas speak of the species.</summary>
    private int OfAmount(SbmlSpecies species, int amount, bool atStart) => species.SubstanceOnly ? amount : _graph.Divide(amount, Size(species, atStart));

    /// <summary>What formulas speak of as an amount.</summary>
    private int AmountOf(SbmlSpecies species, int value, bool atStart) => species.SubstanceOnly ? value : _graph.Multiply(value, Size(species, atStart));

    private Process? Process(SbmlReaction reaction)
    {
        if (reaction.Rate is null) return null;
        var changes = new List<StateChange>();
        foreach (var (references, sign) in new[] { (reaction.Reactants, -1), (reaction.Products, 1) })
        {
            foreach (var reference in references)
            {
                var species = _species[reference.Species];
                if (species.Boundary || species.Constant || !_stateOf.TryGetValue(species.Id, out var state) || _rates.ContainsKey(species.Id)) continue;
                var factor = Factor(reference, species);
                changes.Add(_graph.IsConstant(factor, out var plain) && plain == Math.Floor(plain) && Math.Abs(plain) <= 1000
                    ? new(state, sign * (int)plain)
                    : new(state, sign) { Factor = factor });
            }
        }
        return new(reaction.Id, reaction.Id, Value(reaction.Id, false), changes);
    }

    /// <summary>How much of a species, in its own units, one unit of a reaction moves.</summary>
    private int Factor(SbmlReference reference, SbmlSpecies species) =>
        (species.ConversionFactor ?? _model.ConversionFactor) is { } conversion ? _graph.Multiply(Stoichiometry(reference), Value(conversion, false)) : Stoichiometry(reference);

    private int Stoichiometry(SbmlReference reference)
    {
        if (reference.Formula is { } formula) return Bind(formula, false);
        if (reference.Id is { } id && (Changes(id) || _starting.ContainsKey(id))) return Value(id, false);
        return _graph.Constant(reference.Stoichiometry);
    }

    private ModelEvent Event(SbmlEvent one)
    {
        var assignments = one.Assignments.Where(assignment => _stateOf.ContainsKey(assignment.Variable) || _placesSet.Contains(assignment.Variable)).Select(assignment => Set(one, assignment)).ToList();
        foreach (var species in _model.Species.Where(species => _rates.ContainsKey(species.Id) && !species.SubstanceOnly && HasSize(species) && one.Assignments.All(assignment => assignment.Variable != species.Id)))
        {
            // What is said as a concentration keeps its amount when its compartment gets another size.
            if (one.Assignments.FirstOrDefault(other => other.Variable == species.Compartment) is not { } resized) continue;
            assignments.Add(new(true, _stateOf[species.Id], _graph.Divide(AmountOf(species, Value(species.Id, false), false), Bind(resized.Math, false))));
        }
        return new(one.Id, -1, -1, Bind(one.Trigger, false), false, [assignments])
        {
            Delay = one.Delay is null ? -1 : Bind(one.Delay, false),
            Priority = one.Priority is null ? -1 : Bind(one.Priority, false),
            ValuesAtTrigger = one.ValuesAtTrigger,
            ActsAtStart = !one.InitialValue,
            IsDroppedWhenFalse = !one.Persistent,
        };
    }

    private Assignment Set(SbmlEvent one, SbmlRule assignment)
    {
        var (id, value) = (assignment.Variable, Bind(assignment.Math, false));
        if (!_species.TryGetValue(id, out var species)) return _stateOf.TryGetValue(id, out var state) ? new(true, state, value) : new(false, Place(id), value);
        if (_placesSet.Contains(id)) return new(false, Place(id), species.InitialAmount is not null ? AmountOf(species, value, false) : species.SubstanceOnly && species.InitialConcentration is not null ? _graph.Divide(value, Size(species, false)) : value);
        if (_rates.ContainsKey(id) || species.SubstanceOnly || !HasSize(species)) return new(true, _stateOf[id], value);
        // A concentration is one in the size that the same event gives the compartment, if it does.
        var size = one.Assignments.FirstOrDefault(other => other.Variable == species.Compartment) is { } resized ? Bind(resized.Math, false) : Size(species, false);
        return new(true, _stateOf[id], _graph.Multiply(value, size));
    }

    private int Place(string id) => _graph[_numbers[id]].A;

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
        foreach (var part in _model.Parameters) Rest(part.Id);
        foreach (var part in _model.Compartments) Rest(part.Id);
        foreach (var reaction in _model.Reactions) Rest(reaction.Id);
        foreach (var id in _references.Keys) Rest(id);
        return (quantities, columns);
    }
}
