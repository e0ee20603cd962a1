using System.Collections.Immutable;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;

namespace ClearTide.Formats.Sbml;

/// <content>Algebraic rules.</content>
public sealed partial class SbmlLowering
{
    /// <summary>What the algebraic rules of a model determine, those that hang together in one, with the rules written out.</summary>
    /// <exception cref="SbmlException">One determines nothing.</exception>
    internal static IReadOnlyList<(ImmutableArray<string> Unknowns, ImmutableArray<Syntax> Rules)> Algebra(SbmlModel model)
    {
        var lowering = new SbmlLowering(model);
        lowering.All();
        return [.. lowering._algebraic.Values.Distinct().Select(block => (block.Unknowns, block.Rules))];
    }

    /// <summary>Finds what each algebraic rule determines, and that each determines something.</summary>
    private void SolveAlgebra()
    {
        if (_model.AlgebraicRules.Length == 0)
            return;
        var fixedIds = _model
            .Compartments.Where(part => part.Constant)
            .Select(part => part.Id)
            .Concat(_model.Parameters.Where(part => part.Constant).Select(part => part.Id))
            .Concat(_model.Species.Where(part => part.Constant).Select(part => part.Id))
            .ToHashSet();
        bool IsFree(string id) =>
            id != "t"
            && (_numbers.ContainsKey(id) || _species.ContainsKey(id))
            && !fixedIds.Contains(id)
            && !_assigned.ContainsKey(id)
            && !_stateOf.ContainsKey(id)
            && !_placesSet.Contains(id)
            && !id.Contains('.', StringComparison.Ordinal);
        // What has no value needs a rule most; then what is moved about most often.
        int Preference(string id) =>
            (double.IsNaN(_values[Place(id)].Value) ? 0 : 4)
            + (
                _species.ContainsKey(id) ? 0
                : _compartments.ContainsKey(id) ? 2
                : 1
            );
        foreach (var block in AlgebraicBlocks.Find([.. _model.AlgebraicRules.Select(rule => WrittenOut(rule, []))], IsFree, Preference))
        {
            foreach (var id in block.Unknowns)
                _algebraic[id] = block;
            var missing = block
                .Rules.SelectMany(rule => rule.Names())
                .Select(name => name.Name)
                .FirstOrDefault(name => !_algebraic.ContainsKey(name) && IsFree(name) && double.IsNaN(_values[Place(name)].Value));
            if (missing is not null)
                throw new SbmlException(
                    $"{_model.At(block.Unknowns[0])}An algebraic rule of this model does not determine one symbol: both "
                        + $"{block.Unknowns[0]} and {missing} are open. Give one of them a value or an assignment rule."
                );
        }
    }

    /// <summary>A formula with symbols under assignment rules, and rates of reactions, written out.</summary>
    private Syntax WrittenOut(Syntax tree, ImmutableHashSet<string> within) => MathTrees.Rewrite(tree, node =>
        {
            if (
                node is not NameSyntax { Name: var id }
                || (_assigned.GetValueOrDefault(id) ?? _reactions.GetValueOrDefault(id)?.Rate) is not { } rule
            )
                return null;
            if (within.Contains(id))
                throw new SbmlException($"{_model.At(id)}{id} depends on itself.");
            if (++_writtenOut > LongestWrittenOut || within.Count > LongestChain)
                throw new SbmlException(
                    $"{_model.At(id)}An algebraic rule of this model depends on too much when rules are written out in it, as for {id}."
                );
            return WrittenOut(rule, within.Add(id));
        });

    private int Solve(string id, AlgebraicBlock block, bool atStart)
    {
        // Parameters that no value has stand for the unknowns while the equations are solved.
        int[] unknowns = [.. block.Unknowns.Select((_, k) => _graph.Parameter(int.MaxValue - k))];
        int With(Syntax rule) =>
            Binder(atStart, name => block.Unknowns.IndexOf(name) is var k and >= 0 ? unknowns[k] : Value(name, atStart))
                .Bind(AtZero(rule, atStart));
        int[] equations = [.. block.Rules.Select(With)];
        var solution = new AlgebraicSolution(_graph);
        var solved = solution.Solve(equations, unknowns);
        if (solved is null)
        {
            var reads = _graph.Reachable(equations);
            if (!unknowns.Any(unknown => reads[unknown]))
                throw new SbmlException(
                    $"{_model.At(id)}The algebraic rules for {string.Join(", ", block.Unknowns)} cannot be solved for "
                        + $"{(block.Unknowns.Length == 1 ? "it" : "them")}. Give {id} by an assignment rule."
                );
            solved = Implicit(block, equations, unknowns, solution, atStart);
        }
        for (var k = 0; k < solved.Length; k++)
            _nodes[(block.Unknowns[k], atStart)] = solved[k];
        return _nodes[(id, atStart)];
    }

    /// <summary>
    /// Leaves equations to the run, which solves them wherever their symbols are read, from the values that the file gives on.
    /// </summary>
    private int[] Implicit(AlgebraicBlock block, int[] equations, int[] unknowns, AlgebraicSolution solution, bool atStart)
    {
        int[] Places() =>
            [
                .. unknowns.Select(_ =>
                {
                    _slots.Add(double.NaN);
                    return _graph.Parameter(_values.Count + _slots.Count - 1);
                }),
            ];
        // The start is solved by itself, since initial amounts may read it; a run goes on from there.
        int Guess(string unknown) =>
            _values[Place(unknown)].Value is var given && double.IsFinite(given) ? _graph.Constant(given) : _graph.Constant(1);
        int[] guesses = [.. block.Unknowns.Select(unknown => atStart ? Guess(unknown) : Value(unknown, true))];
        var places = Places();
        (atStart ? _implicitAtStart : _implicit).Add(
            new(
                [.. block.Unknowns.Select(SbmlText.Id)],
                [.. places.Select(place => _graph[place].A)],
                [.. equations.Select(node => solution.At(node, unknowns, places))],
                guesses
            )
        );
        return places;
    }
}
