using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;

namespace ClearTide.Formats.Sbml;

/// <content>The nodes of symbols, along the run and at its start.</content>
public sealed partial class SbmlLowering
{
    private FormulaBinder Binder(bool atStart, Func<string, int> resolve) =>
        new(_graph, _units, resolve, (call, binder) =>
            call is CallSyntax delay ? Delayed(delay, binder, atStart) : RateOf((UserCallSyntax)call, atStart)
        );

    private int Bind(Syntax tree, bool atStart) => Binder(atStart, name => Value(name, atStart)).Bind(AtZero(tree, atStart));

    /// <summary>At the start time is zero, also for symbols that keep what was worked out there.</summary>
    private static Syntax AtZero(Syntax tree, bool atStart) =>
        atStart ? MathTrees.Rewrite(tree, node => node is NameSyntax { Name: "t" } ? MathReader.Of(0) : null) : tree;

    /// <summary>How fast a symbol changes, as formulas speak of it.</summary>
    private int RateOf(UserCallSyntax call, bool atStart)
    {
        var id = ((NameSyntax)call.Arguments[0]).Name;
        if (_rates.TryGetValue(id, out var rule))
            return Bind(rule, atStart);
        if (_assigned.ContainsKey(id))
            throw new SbmlException($"{Where()}A formula asks for the rate of change of {id}, which a rule gives outright.");
        if (!_species.TryGetValue(id, out var species) || !_stateOf.ContainsKey(id))
            return _graph.Constant(0);
        var rate = _graph.Constant(0);
        foreach (var reaction in _model.Reactions.Where(reaction => reaction.Rate is not null))
        {
            foreach (var (references, sign) in new[] { (reaction.Reactants, -1.0), (reaction.Products, 1.0) })
            {
                foreach (var reference in references.Where(reference => reference.Species == id && !species.Boundary))
                    rate = _graph.Add(
                        rate,
                        _graph.Multiply(_graph.Multiply(_graph.Constant(sign), Factor(reference, species)), Value(reaction.Id, atStart))
                    );
            }
        }
        if (species.SubstanceOnly || !HasSize(species))
            return rate;
        // Of a concentration A / V: (A' - [A] V') / V.
        if (_rates.TryGetValue(species.Compartment, out var growth))
            rate = _graph.Subtract(rate, _graph.Multiply(Value(id, atStart), Bind(growth, atStart)));
        return _graph.Divide(rate, Size(species, atStart));
    }

    private int Delayed(CallSyntax call, FormulaBinder binder, bool atStart)
    {
        // Before the start everything is what it is there.
        if (atStart || call.Arguments[1] is NumberSyntax { Value: 0 })
            return binder.Bind(call.Arguments[0]);
        var slot = _values.Count + _slots.Count;
        _slots.Add(0);
        _lags.Add((slot, call.Arguments[0], call.Arguments[1]));
        return _graph.Parameter(slot);
    }

    /// <summary>The node of a symbol as formulas read it, along the run or at its start.</summary>
    private int Value(string id, bool atStart)
    {
        if (_nodes.TryGetValue((id, atStart), out var known))
            return known;
        if (_open.Contains((id, atStart)))
            throw new SbmlException(
                $"{_model.At(id)}{id} depends on itself: "
                    + $"{string.Join(" → ", _open.SkipWhile(name => name != (id, atStart)).Select(name => name.Id).Append(id))}."
            );
        if (_open.Count > LongestChain)
            throw new SbmlException(
                $"{_model.At(_open[0].Id)}{_open[0].Id} depends on {id} over more than {LongestChain:N0} other symbols. Give some of "
                    + "them outright."
            );
        _open.Add((id, atStart));
        var node = Make(id, atStart);
        _open.RemoveAt(_open.Count - 1);
        return _nodes[(id, atStart)] = node;
    }

    /// <summary>The line of what is being worked out.</summary>
    private string Where() => _open.Count < 2 ? "" : _model.At(_open[^2].Id);

    private int Make(string id, bool atStart)
    {
        if (atStart && _starting.TryGetValue(id, out var start))
            return Bind(start, true);
        if (_assigned.TryGetValue(id, out var rule))
            return Bind(rule, atStart);
        if (_algebraic.TryGetValue(id, out var equation))
            return Solve(id, equation, atStart);
        if (_reactions.TryGetValue(id, out var reaction))
            return reaction.Rate is { } rate ? Bind(rate, atStart) : _graph.Constant(double.NaN);
        if (!atStart && _stateOf.TryGetValue(id, out var state))
        {
            var own = _graph.State(state);
            return _species.TryGetValue(id, out var moved) && !_rates.ContainsKey(id) ? OfAmount(moved, own, atStart) : own;
        }
        // What does not change keeps what was worked out at the start.
        if (!atStart && _starting.ContainsKey(id))
            return Value(id, true);
        if (!_numbers.TryGetValue(id, out var number))
            throw new SbmlException($"{Where()}A formula names “{id}”, which is not in the model.");
        if (!_species.TryGetValue(id, out var species))
            return number;
        if (species.InitialAmount is not null)
            return OfAmount(species, number, atStart);
        return species.SubstanceOnly && species.InitialConcentration is not null ? _graph.Multiply(number, Size(species, atStart)) : number;
    }

    private bool HasSize(SbmlSpecies species) => _compartments[species.Compartment].Dimensions != 0;

    private int Size(SbmlSpecies species, bool atStart) => HasSize(species) ? Value(species.Compartment, atStart) : _graph.Constant(1);

    /// <summary>An amount as formulas speak of the species.</summary>
    private int OfAmount(SbmlSpecies species, int amount, bool atStart) =>
        species.SubstanceOnly ? amount : _graph.Divide(amount, Size(species, atStart));

    /// <summary>What formulas speak of as an amount.</summary>
    private int AmountOf(SbmlSpecies species, int value, bool atStart) =>
        species.SubstanceOnly ? value : _graph.Multiply(value, Size(species, atStart));
}
