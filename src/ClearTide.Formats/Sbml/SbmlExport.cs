using System.Collections.Immutable;
using ClearTide.Core.Compilation;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Stochastic;
using ClearTide.Core.Units;

namespace ClearTide.Formats.Sbml;

/// <summary>A study as SBML, and what of it SBML does not say, a sentence each.</summary>
public sealed record SbmlExported(SbmlModel Model, ImmutableArray<string> Left);

/// <summary>
/// Writes a study as an SBML model (Level 3 Version 2 core). It goes by way of the reaction network, so that all that lowers into it can
/// be said: states are
/// species counted in amounts, processes are reactions, quantities stand under assignment rules with their own names, tables become
/// choices between pieces.
/// </summary>
public sealed partial class SbmlExport
{
    private const string Everything = "system";

    private readonly StudyDocument _document;
    private readonly LoweredModel _lowered;
    private readonly ReactionNetwork _form;
    private readonly double[] _values;
    private readonly double[] _initial;
    private readonly SbmlIds _ids = new();
    private readonly string[] _states,
        _parameters;
    private readonly Dictionary<int, Syntax> _slots = [];
    private readonly Dictionary<int, string> _named = [];
    private readonly List<string> _left = [];
    private readonly HashSet<string> _read = [];

    private SbmlExport(StudyDocument document, LoweredModel lowered)
    {
        (_document, _lowered, _form) = (document, lowered, lowered.Network);
        _values = _form.ValueVector();
        _initial = lowered.Compiled.InitialState(_values, document.Start);
        _ids.Take(Everything);
        // Parts get their own names first; what has none of its own gives way.
        foreach (var part in document.SymbolParts)
            _ids.For(part);
        _states = [.. _form.States.Select((state, k) => StateId(k))];
        _parameters = [.. Enumerable.Range(0, _form.ParameterCount).Select(ParameterId)];
    }

    /// <exception cref="SbmlException">It has unfinished parts or goes in discrete steps; the message says what to do.</exception>
    /// <exception cref="SimulationException">Its initial amounts cannot be found.</exception>
    public static SbmlExported Of(StudyDocument document)
    {
        if (document.Solver.IsDiscrete)
            throw new SbmlException(
                "This model goes in discrete steps, and SBML models go on without steps. Choose another method under the curves to "
                    + "export it."
            );
        var lowered = Lowering.Lower(document);
        if (lowered.IsProvisional)
            throw new SbmlException("The model has unfinished parts. Finish what Build lists before exporting it as SBML.");
        return SbmlGroups.With(new SbmlExport(lowered.Document, lowered).All(), lowered);
    }

    private SbmlExported All()
    {
        PlanSlots();
        PlanNames();
        var units = new SbmlUnits(_ids);
        var species = Enumerable
            .Range(0, _states.Length)
            .Where(state => _form.States[state].IsAmount)
            .Select(state => Species(state, units))
            .ToImmutableArray();
        var reactions = _form.Processes.Select(Reaction).ToImmutableArray();
        var rates = _form.Rules.Select(rule => new SbmlRule(_states[rule.State], Tree(rule.Node))).ToImmutableArray();
        var assigned = Assigned().ToImmutableArray();
        var starts = Enumerable
            .Range(0, _states.Length)
            .Where(NeedsFormula)
            .Select(state => new SbmlRule(_states[state], StartTree(state)))
            .ToImmutableArray();
        var events = Events();
        var constraints = Constraints();
        var parameters = Parameters(units, assigned, events);
        TellLeft();
        var model = new SbmlModel(_ids.Free("model"), _document.Title)
        {
            Note = string.Join('\n', new[] { _document.Question, _document.Description }.Where(text => text.Length > 0)),
            Compartments = [new(Everything, "", 1, 3, true) { Units = "dimensionless" }],
            Species = species,
            Parameters = parameters,
            Reactions = reactions,
            InitialAssignments = starts,
            AssignmentRules = assigned,
            RateRules = rates,
            Events = [.. events],
            Constraints = constraints,
            TimeUnits = units.Of(_document.UnitTable().TimeMeasure),
            SubstanceUnits = "item",
            UnitDefinitions = units.Definitions,
        };
        return new(model, [.. _left.Distinct()]);
    }

    private string StateId(int state)
    {
        var (variable, part) = (_form.States[state], _document.Compartment(_form.States[state].PartId));
        if (part is null)
            return _ids.Free(variable.Symbol.Length > 0 ? variable.Symbol : "state");
        var stages = _form.States.Count(other => other.PartId == part.Id && other.IsAmount);
        return stages == 1
            ? _ids.For(part)
            : _ids.Free($"{part.Symbol}_{_form.States.Take(state + 1).Count(other => other.PartId == part.Id)}");
    }

    private string ParameterId(int index)
    {
        if (_form.Processes.Any(process => process.Limit == index))
            return _ids.Free(LimitId(index));
        if (index >= _form.Values.Count)
            return _ids.Free($"number_{index - _form.Values.Count + 1}");
        var value = _form.Values[index];
        if (_document.Definitions.FirstOrDefault(part => part.Id == value.PartId && value.Address.Field == ValueField.Own) is not { } own)
            return _ids.Free(value.Address.ToString());
        // Where a condition holds another value, the symbol stands for both, and the number needs an id of its own.
        return _form.Quantities.Any(quantity => quantity.PartId == own.Id && !IsLeaf(quantity.Node))
            ? _ids.Free($"{own.Symbol}_given")
            : _ids.For(own);
    }

    private Syntax Name(string id)
    {
        _read.Add(id);
        return new NameSyntax(default, id);
    }

    private Syntax Leaf(int node)
    {
        var (operation, index) = (_form.Graph[node].Operation, _form.Graph[node].A);
        return operation == Operation.State ? Name(_states[index]) : _slots.GetValueOrDefault(index) ?? Name(_parameters[index]);
    }

    private bool IsLeaf(int node) => _form.Graph[node].Operation is Operation.State or Operation.Parameter;

    /// <summary>A formula along the run, in which quantities stand by their names.</summary>
    private Syntax Tree(int node, bool defines = false) => new GraphTrees(_form.Graph, at => IsLeaf(at) ? Leaf(at)
            : _named.TryGetValue(at, out var name) ? Name(name)
            : null).Of(node, defines);

    /// <summary>A formula over states and numbers alone.</summary>
    private Syntax PlainTree(int node) => new GraphTrees(_form.Graph, at => IsLeaf(at) ? Leaf(at) : null).Of(node);

    /// <summary>The numbers that runs fill in, as what fills them in.</summary>
    private void PlanSlots()
    {
        PlanLimits();
        if (_form.Draws.Count > 0)
        {
            var series = DrawSeries.Of(_form, _document.Start, _document.End, _values);
            if (series is null)
                throw new SbmlException(
                    $"The random inputs of this model are drawn more than {DrawSeries.Most:N0} times over the span, which is too "
                        + "much to write down. Shorten the span, or draw at a longer interval."
                );
            for (var k = 0; k < series.Count; k++)
                _slots[_form.Draws[k].Slot] = TableTrees.Write(series[k], new NameSyntax(default, "t"));
            _left.Add($"SBML core has no random inputs: they are written as seed {_document.Seed} draws them up to {_document.End}.");
        }
        for (var k = 0; k < _form.Equilibria.Count; k++)
            _slots[_form.Equilibria[k].Slot] = MathReader.Of(_initial[_form.Equilibria[k].State]);
        if (_form.Equilibria.Count > 0)
            _left.Add("Amounts at equilibrium are written as the numbers that were found.");
        // What is delayed may hold further delays, in any order.
        foreach (var delay in _form.Delays)
            _slots[delay.Slot] = Name(_parameters[delay.Slot]);
    }

    /// <summary>The nodes that have a name of their own.</summary>
    private void PlanNames()
    {
        foreach (
            var one in _form.Amounts.Concat(_form.Quantities).Where(one => !IsLeaf(one.Node) && !_form.Graph.IsConstant(one.Node, out _))
        )
        {
            if (_document.Part(one.PartId) is ISymbolPart part)
                _named.TryAdd(one.Node, _ids.For(part));
        }
    }

    /// <summary>Quantities, sums of stages and delayed values under their names.</summary>
    private IEnumerable<SbmlRule> Assigned()
    {
        foreach (var one in _form.Amounts.Concat(_form.Quantities))
        {
            // The id of a reaction is its rate.
            if (_document.Part(one.PartId) is not ISymbolPart part || part is Reaction)
                continue;
            var id = _ids.For(part);
            if (
                _states.Contains(id)
                || IsLeaf(one.Node) && _form.Graph[one.Node].Operation == Operation.Parameter && _parameters[_form.Graph[one.Node].A] == id
            )
                continue;
            yield return new(id, _named.GetValueOrDefault(one.Node) == id ? Tree(one.Node, defines: true) : Tree(one.Node));
        }
        foreach (var limit in Limits())
            yield return limit;
        foreach (var delay in _form.Delays)
        {
            var lag = Tree(delay.Lag);
            Syntax past = MathReader.Call(Functions.Delay, Tree(delay.Expression), lag);
            if (delay.History >= 0)
                past = MathReader.Call(
                    "if",
                    new BinarySyntax(
                        default,
                        BinaryOperator.Less,
                        new BinarySyntax(default, BinaryOperator.Subtract, new NameSyntax(default, "t"), lag),
                        MathReader.Of(_document.Start)
                    ),
                    Tree(delay.History),
                    past
                );
            yield return new(_parameters[delay.Slot], past);
        }
    }

    private void TellLeft()
    {
        if (_document.Flows.Any(flow => flow.NoiseIntensity > 0))
            _left.Add("SBML core has no noise in rates: rates are written as their means.");
        if (_document.Start != 0)
            _left.Add($"The run begins at {_document.Start}; SBML files do not say where runs begin and end.");
        if (_form.States.Any(state => state.NeverBelowZero))
            _left.Add("That an amount is never below zero is not written.");
        if (_document.Events.Any(rule => rule.StopsWhenShort))
            _left.Add("That a run stops where an event is to move more than is there is not written: all that is there moves.");
        if (_document.Compartments.Any(part => !part.WholeUnits))
            _left.Add("That an amount is not counted in whole units is not written.");
        if (_document.Definitions.Any(part => part.Lower.Length + part.Upper.Length > 0))
            _left.Add("Bounds of values are not written.");
        if (_document.Definitions.Any(part => part.Origin != default))
            _left.Add("Where numbers come from (guessed, measured, fitted) is not written.");
        if (!_document.Curves.IsEmpty || !_document.Inputs.IsEmpty)
            _left.Add("Tables and response curves are written as choices between formulas.");
        if (!_document.Panels.IsEmpty)
            _left.Add("SBML does not hold the panels of Explore.");
        _left.Add("Span, method and tolerance are not part of an SBML file.");
        foreach (
            var (there, what) in new[]
            {
                (!_document.Observations.IsEmpty, "observations and data"),
                (!_document.Scenarios.IsEmpty, "scenarios"),
                (!_document.Assumptions.IsEmpty, "assumptions"),
                (
                    !_document.Regions.IsEmpty || !_document.Texts.IsEmpty || !_document.References.IsEmpty,
                    "regions, texts and second plates of the diagram"
                ),
            }
        )
        {
            if (there)
                _left.Add($"SBML does not hold {what}.");
        }
    }
}
