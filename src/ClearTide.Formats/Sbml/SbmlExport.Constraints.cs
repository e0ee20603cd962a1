using System.Collections.Immutable;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;

namespace ClearTide.Formats.Sbml;

/// <content>Expectations that are plain comparisons are constraints of the standard; the others are told.</content>
public sealed partial class SbmlExport
{
    private ImmutableArray<SbmlConstraint> Constraints()
    {
        var all = ImmutableArray.CreateBuilder<SbmlConstraint>();
        foreach (var part in _document.Expectations)
        {
            if (ExpectationLine.Read(part.Text).Line is { Claim: Claim.Holds, With: [], Tree: { } tree } && tree.All().All(IsPlain))
                all.Add(new(MathTrees.Rewrite(tree, Own), part.Note, 0));
            else
                _left.Add($"The expectation “{part.Text}” is no comparison of plain formulas, which is all that SBML has.");
        }
        return all.ToImmutable();
    }

    /// <summary>Whether a formula of the study means the same in the file, but for the names in it.</summary>
    private bool IsPlain(Syntax node) =>
        node switch
        {
            NumberSyntax number => number.Unit is null && !number.Percent,
            NameSyntax name => name.Name == "t"
                || _document.PartBySymbol(name.Name) is Compartment or Definition or ClearTide.Core.Model.Reaction,
            UserCallSyntax or CallSyntax { Function.Name: Functions.Delay or Functions.Smooth } => false,
            _ => true,
        };

    private Syntax? Own(Syntax node) =>
        node is NameSyntax name && _document.PartBySymbol(name.Name) is { } part ? Name(_ids.For(part)) : null;
}
