using ClearTide.Core.Language;

namespace ClearTide.Formats.Sbml;

/// <summary>Changes trees of formulas.</summary>
internal static class MathTrees
{
    /// <summary>A tree with other trees in the place of some of its nodes.</summary>
    /// <param name="replace">What stands for a node, which is not looked into further; or null for the node itself.</param>
    public static Syntax Rewrite(Syntax tree, Func<Syntax, Syntax?> replace) =>
        replace(tree)
        ?? tree switch
        {
            UnarySyntax unary => unary with { Operand = Rewrite(unary.Operand, replace) },
            BinarySyntax binary => binary with { Left = Rewrite(binary.Left, replace), Right = Rewrite(binary.Right, replace) },
            CallSyntax call => call with { Arguments = [.. call.Arguments.Select(argument => Rewrite(argument, replace))] },
            UserCallSyntax call => call with { Arguments = [.. call.Arguments.Select(argument => Rewrite(argument, replace))] },
            _ => tree,
        };
}
