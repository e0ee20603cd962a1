using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Formats.Sbml;

/// <content>What reactions and events do to states.</content>
public sealed partial class SbmlLowering
{
    private Process? Process(SbmlReaction reaction)
    {
        if (reaction.Rate is null)
            return null;
        var changes = new List<StateChange>();
        foreach (var (references, sign) in new[] { (reaction.Reactants, -1), (reaction.Products, 1) })
        {
            foreach (var reference in references)
            {
                var species = _species[reference.Species];
                if (
                    species.Boundary
                    || species.Constant
                    || !_stateOf.TryGetValue(species.Id, out var state)
                    || _rates.ContainsKey(species.Id)
                )
                    continue;
                var factor = Factor(reference, species);
                changes.Add(
                    _graph.IsConstant(factor, out var plain) && plain == Math.Floor(plain) && Math.Abs(plain) <= 1000
                        ? new(state, sign * (int)plain)
                        : new(state, sign) { Factor = factor }
                );
            }
        }
        return new(reaction.Id, reaction.Id, Value(reaction.Id, false), changes);
    }

    /// <summary>How much of a species, in its own units, one unit of a reaction moves.</summary>
    private int Factor(SbmlReference reference, SbmlSpecies species) =>
        (species.ConversionFactor ?? _model.ConversionFactor) is { } conversion
            ? _graph.Multiply(Stoichiometry(reference), Value(conversion, false))
            : Stoichiometry(reference);

    private int Stoichiometry(SbmlReference reference)
    {
        if (reference.Formula is { } formula)
            return Bind(formula, false);
        if (reference.Id is { } id && (Changes(id) || _starting.ContainsKey(id)))
            return Value(id, false);
        return _graph.Constant(reference.Stoichiometry);
    }

    private ModelEvent Event(SbmlEvent one)
    {
        var assignments = one
            .Assignments.Where(assignment => _stateOf.ContainsKey(assignment.Variable) || _placesSet.Contains(assignment.Variable))
            .Select(assignment => Set(one, assignment))
            .ToList();
        foreach (
            var species in _model.Species.Where(species =>
                _rates.ContainsKey(species.Id)
                && !species.SubstanceOnly
                && HasSize(species)
                && one.Assignments.All(assignment => assignment.Variable != species.Id)
            )
        )
        {
            // What is said as a concentration keeps its amount when its compartment gets another size.
            if (one.Assignments.FirstOrDefault(other => other.Variable == species.Compartment) is not { } resized)
                continue;
            assignments.Add(
                new(
                    true,
                    _stateOf[species.Id],
                    _graph.Divide(AmountOf(species, Value(species.Id, false), false), Bind(resized.Math, false))
                )
            );
        }
        return new(one.Id, -1, -1, Bind(one.Trigger, false), 0, [assignments])
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
        if (!_species.TryGetValue(id, out var species))
            return _stateOf.TryGetValue(id, out var state) ? new(true, state, value) : new(false, Place(id), value);
        if (_placesSet.Contains(id))
            return new(
                false,
                Place(id),
                species.InitialAmount is not null ? AmountOf(species, value, false)
                    : species.SubstanceOnly && species.InitialConcentration is not null ? _graph.Divide(value, Size(species, false))
                    : value
            );
        if (_rates.ContainsKey(id) || species.SubstanceOnly || !HasSize(species))
            return new(true, _stateOf[id], value);
        // A concentration is one in the size that the same event gives the compartment, if it does.
        var size = one.Assignments.FirstOrDefault(other => other.Variable == species.Compartment) is { } resized
            ? Bind(resized.Math, false)
            : Size(species, false);
        return new(true, _stateOf[id], _graph.Multiply(value, size));
    }

    private int Place(string id) => _graph[_numbers[id]].A;
}
