using ClearTide.Core.Language;
using ClearTide.Core.Units;

namespace ClearTide.Formats.Print;

/// <summary>How strongly a printed formula holds together, so that parentheses stand where a reader needs them and nowhere else.</summary>
internal static class PrintStrength
{
    public static int Of(Syntax tree) =>
        tree switch
        {
            BinarySyntax binary => binary.Operator switch
            {
                BinaryOperator.Or => 1,
                BinaryOperator.And => 2,
                BinaryOperator.Add or BinaryOperator.Subtract => 5,
                BinaryOperator.Multiply => 6,
                // A fraction bar groups by itself inside a product, but not under a power.
                BinaryOperator.Divide => 7,
                BinaryOperator.Power => 7,
                _ => 4,
            },
            UnarySyntax { Operator: UnaryOperator.Not } => 3,
            UnarySyntax => 6,
            PerSyntax => 0,
            NumberSyntax { Unit: not null } => 6,
            _ => 9,
        };
}
