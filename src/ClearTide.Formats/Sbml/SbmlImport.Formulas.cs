using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Formats.Sbml;

/// <content>Formulas of the file in the words of the study.</content>
public sealed partial class SbmlImport
{
    private string Text(Syntax formula) => FormulaText.Of(Written(formula));

    /// <summary>At the start time is zero.</summary>
    private static Syntax AtStart(Syntax formula) =>
        MathTrees.Rewrite(formula, node => node is NameSyntax { Name: "t" } ? MathReader.Of(0) : null);

    private Syntax Written(Syntax formula) => MathTrees.Rewrite(formula, node => node switch
            {
                // A number below zero stands behind a sign, which a power would take apart otherwise.
                NumberSyntax { Value: < 0 } number => new UnarySyntax(default, UnaryOperator.Negate, Written(MathReader.Of(-number.Value))),
                NumberSyntax number when !double.IsFinite(number.Value) => new BinarySyntax(
                    default,
                    BinaryOperator.Divide,
                    MathReader.Of(double.IsNaN(number.Value) ? 0 : 1),
                    MathReader.Of(0)
                ),
                NameSyntax { Name: "t" } => node,
                NameSyntax name => Named(name.Name),
                CallSyntax { Function.Name: Functions.Delay, Arguments: [var now, NumberSyntax { Value: 0 }] } => Written(now),
                UserCallSyntax { Callee.Name: MathReader.RateOf } rate => Written(RateOf(((NameSyntax)rate.Arguments[0]).Name)),
                _ => null,
            });

    private Syntax Named(string id)
    {
        _read.Add(id);
        var own = new NameSyntax(default, Symbol(id));
        if (!_species.TryGetValue(id, out var species))
            return own;
        if (_amounts.Contains(id))
            return species.SubstanceOnly || !HasSize(species)
                ? own
                : new BinarySyntax(default, BinaryOperator.Divide, own, Written(SizeOf(species)));
        if (_assigned.ContainsKey(id) || _states.Contains(id) || _starting.ContainsKey(id))
            return own;
        // A number that stays is the one of the file: an amount or a concentration.
        if (species.InitialAmount is not null)
            return species.SubstanceOnly || !HasSize(species)
                ? own
                : new BinarySyntax(default, BinaryOperator.Divide, own, Written(SizeOf(species)));
        return species.SubstanceOnly && species.InitialConcentration is not null && HasSize(species)
            ? new BinarySyntax(default, BinaryOperator.Multiply, own, Written(SizeOf(species)))
            : own;
    }

    /// <summary>Whether a species' compartment makes its amount and its concentration two numbers.</summary>
    private bool HasSize(SbmlSpecies species) =>
        _sizes[species.Compartment] is var size
        && size.Dimensions != 0
        && (size.Size is not 1 || _changing.Contains(size.Id) || _starting.ContainsKey(size.Id));

    private static NameSyntax SizeOf(SbmlSpecies species) => new(default, species.Compartment);

    private static BinarySyntax Product(Syntax a, Syntax b) => new(default, BinaryOperator.Multiply, a, b);

    /// <summary>What formulas speak of as an amount.</summary>
    private Syntax AmountOf(SbmlSpecies species, Syntax spoken) =>
        species.SubstanceOnly || !HasSize(species) ? spoken : Product(spoken, SizeOf(species));

    /// <summary>The initial number of a species as formulas speak of it.</summary>
    private Syntax Spoken(SbmlSpecies species)
    {
        var sized = HasSize(species);
        if (species.InitialAmount is { } amount)
            return species.SubstanceOnly || !sized
                ? MathReader.Of(amount)
                : new BinarySyntax(default, BinaryOperator.Divide, MathReader.Of(amount), SizeOf(species));
        var concentration = MathReader.Of(species.InitialConcentration!.Value);
        return species.SubstanceOnly && sized ? Product(concentration, SizeOf(species)) : concentration;
    }

    /// <summary>How fast a symbol changes, written out.</summary>
    private Syntax RateOf(string id)
    {
        if (_rates.TryGetValue(id, out var rule))
            return rule;
        if (!_species.TryGetValue(id, out var species) || !_amounts.Contains(id))
            return MathReader.Of(0);
        Syntax? sum = null;
        foreach (var reaction in _model.Reactions.Where(reaction => reaction.Rate is not null))
        {
            if (Net(reaction, species) is not { } net)
                continue;
            var part = net is NumberSyntax { Value: 1 } ? reaction.Rate! : Product(net, reaction.Rate!);
            sum = sum is null ? part : new BinarySyntax(default, BinaryOperator.Add, sum, part);
        }
        if (sum is null)
            return MathReader.Of(0);
        if (species.SubstanceOnly || !HasSize(species))
            return sum;
        // Of a concentration A / V: (A' - [A] V') / V.
        if (_rates.TryGetValue(species.Compartment, out var growth))
            sum = new BinarySyntax(default, BinaryOperator.Subtract, sum, Product(new NameSyntax(default, id), growth));
        return new BinarySyntax(default, BinaryOperator.Divide, sum, SizeOf(species));
    }

    private readonly Dictionary<string, Syntax> _algebra = [];

    /// <summary>What algebraic rules determine linearly, alone or together, is written as quantities; the rest is told.</summary>
    private void SolveAlgebra()
    {
        foreach (var (ids, rules) in SbmlLowering.Algebra(_model))
        {
            if (LinearRules.Solve(rules, ids) is { } solved)
            {
                foreach (var (id, formula) in solved)
                {
                    _algebra[id] = _assigned[id] = formula;
                    _changing.Add(id);
                }
                continue;
            }
            var names = string.Join(" and ", ids.Select(Symbol));
            _notes.Add(
                $"{(ids.Length > 1 ? $"Algebraic rules determine {names} together" : $"An algebraic rule determines {names}")} by "
                    + "more than products and sums, which a study cannot say. "
                    + $"{(ids.Length > 1 ? "They stand at their values" : "It stands at its value")} in the file; the command line "
                    + "simulates the file as it is."
            );
        }
    }
}
