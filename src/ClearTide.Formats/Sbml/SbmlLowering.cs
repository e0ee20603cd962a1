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
    private readonly Dictionary<string, Syntax> _algebraic = [];
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
        _values.Add(new(id, value, id));
    }

    /// <summary>Gives a state to all that changes by itself and is not assigned.</summary>
    private void PlanStates()
    {
        var moved = _model.Reactions.SelectMany(reaction => reaction.Reactants.Concat(reaction.Products)).Select(reference => reference.Species).ToHashSet();
        foreach (var part in _model.Species)
        {
            if (_assigned.ContainsKey(part.Id) || part.Constant && !_rates.ContainsKey(part.Id)) continue;
            // An amount stays what it is when its compartment changes: it is a state even where nothing moves it.
            if (_rates.ContainsKey(part.Id) || _setByEvents.Contains(part.Id) || moved.Contains(part.Id) && !part.Boundary || Changes(part.Compartment)) State(part.Id, isAmount: !_rates.ContainsKey(part.Id));
        }
        foreach (var id in _model.Compartments.Select(part => part.Id).Concat(_model.Parameters.Select(part => part.Id)).Concat(_references.Keys))
        {
            if (!_assigned.ContainsKey(id) && (_rates.ContainsKey(id) || _setByEvents.Contains(id))) State(id, isAmount: false);
        }
    }

    private bool Changes(string id) => _assigned.ContainsKey(id) || _rates.ContainsKey(id) || _setByEvents.Contains(id);

    private void State(string id, bool isAmount)
    {
        _stateOf[id] = _states.Count;
        _states.Add(new(id, id, isAmount));
        if (!isAmount && !_rates.ContainsKey(id)) _rules.Add((_stateOf[id], _graph.Constant(0)));
    }

    private int Bind(Syntax tree, bool atStart) => new FormulaBinder(_graph, _units, name => Value(name, atStart), (call, binder) => call is CallSyntax delay ? Delayed(delay, binder, atStart) : RateOf((UserCallSyntax)call, atStart)).Bind(AtZero(tree, atStart));

    /// <summary>At the start time is zero, also for symbols that keep what was worked out there.</summary>
    private static Syntax AtZero(Syntax tree, bool atStart) => atStart ? Replace(tree) : tree;

    private static Syntax Replace(Syntax tree) => tree switch
    {
        NameSyntax { Name: "t" } => MathReader.Of(0),
        UnarySyntax unary => unary with { Operand = Replace(unary.Operand) },
        BinarySyntax binary => binary with { Left = Replace(binary.Left), Right = Replace(binary.Right) },
        CallSyntax call => call with { Arguments = [.. call.Arguments.Select(Replace)] },
        _ => tree,
    };

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

    /// <summary>
    /// Finds what each algebraic rule determines: the one symbol in it that may change and that nothing else says. In that symbol it has to be linear,
    /// a x + b = 0; the symbol is then -b / a.
    /// </summary>
    private void SolveAlgebra()
    {
        var open = _model.AlgebraicRules.ToList();
        var fixedIds = _model.Compartments.Where(part => part.Constant).Select(part => part.Id).Concat(_model.Parameters.Where(part => part.Constant).Select(part => part.Id)).Concat(_model.Species.Where(part => part.Constant).Select(part => part.Id)).ToHashSet();
        bool IsFree(string id) => id != "t" && (_numbers.ContainsKey(id) || _species.ContainsKey(id)) && !fixedIds.Contains(id) && !_assigned.ContainsKey(id) && !_algebraic.ContainsKey(id) && !_stateOf.ContainsKey(id) && !id.Contains('.', StringComparison.Ordinal);
        while (open.Count > 0)
        {
            var next = open.FindIndex(rule => rule.Names().Select(name => name.Name).Where(IsFree).Distinct().Count() == 1);
            if (next < 0) throw new SbmlException("An algebraic rule of this model does not determine one symbol, and cannot be solved. Give the symbol by an assignment rule.");
            _algebraic[open[next].Names().Select(name => name.Name).First(IsFree)] = open[next];
            open.RemoveAt(next);
        }
    }

    private int Solve(string id, Syntax rule, bool atStart)
    {
        int With(int node) => new FormulaBinder(_graph, _units, name => name == id ? node : Value(name, atStart), (call, binder) => call is CallSyntax delay ? Delayed(delay, binder, atStart) : RateOf((UserCallSyntax)call, atStart)).Bind(AtZero(rule, atStart));
        // A parameter that no value has stands for the unknown while it is looked at whether the rule is linear in it.
        var unknown = _graph.Parameter(int.MaxValue);
        var slope = new Differentiation(_graph, node => node.Operation == Operation.Parameter && node.A == int.MaxValue ? _graph.Constant(1) : -1).Of(With(unknown));
        if (_graph.Reachable([slope])[unknown]) throw new SbmlException($"An algebraic rule is not linear in {id}, and cannot be solved. Give {id} by an assignment rule.");
        return _graph.Negate(_graph.Divide(With(_graph.Constant(0)), slope));
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
        var assignments = one.Assignments.Where(assignment => _stateOf.ContainsKey(assignment.Variable)).Select(assignment =>
        {
            var value = Bind(assignment.Math, false);
            if (!_species.TryGetValue(assignment.Variable, out var species) || _rates.ContainsKey(species.Id) || species.SubstanceOnly || !HasSize(species)) return new Assignment(true, _stateOf[assignment.Variable], value);
            // A concentration is one in the size that the same event gives the compartment, if it does.
            var size = one.Assignments.FirstOrDefault(other => other.Variable == species.Compartment) is { } resized ? Bind(resized.Math, false) : Size(species, false);
            return new Assignment(true, _stateOf[species.Id], _graph.Multiply(value, size));
        }).ToList();
        return new(one.Id, -1, -1, Bind(one.Trigger, false), false, [assignments])
        {
            Delay = one.Delay is null ? -1 : Bind(one.Delay, false),
            Priority = one.Priority is null ? -1 : Bind(one.Priority, false),
            ValuesAtTrigger = one.ValuesAtTrigger,
            ActsAtStart = !one.InitialValue,
            IsDroppedWhenFalse = !one.Persistent,
        };
    }

    private (List<NamedExpression>, List<SbmlColumn>) Columns()
    {
        var (quantities, columns) = (new List<NamedExpression>(), new List<SbmlColumn>());
        int Add(string id, int node)
        {
            quantities.Add(new(id, id, node));
            return quantities.Count - 1;
        }
        foreach (var part in _model.Species)
        {
            var value = Value(part.Id, false);
            var shown = Add(part.Id, value);
            columns.Add(new(part.Id, shown, part.SubstanceOnly ? shown : Add(part.Id, AmountOf(part, value, false)), true));
        }
        void Rest(string id)
        {
            var shown = Add(id, Value(id, false));
            columns.Add(new(id, shown, shown, Changes(id) || _algebraic.ContainsKey(id)));
        }
        foreach (var part in _model.Parameters) Rest(part.Id);
        foreach (var part in _model.Compartments) Rest(part.Id);
        foreach (var reaction in _model.Reactions) Rest(reaction.Id);
        foreach (var id in _references.Keys) Rest(id);
        return (quantities, columns);
    }
}
