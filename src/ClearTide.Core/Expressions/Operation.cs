namespace ClearTide.Core.Expressions;

/// <summary>What a node of an expression graph computes from its arguments A, B and C.</summary>
public enum Operation
{
    /// <summary>A number.</summary>
    Constant,

    /// <summary>Entry A of the state vector.</summary>
    State,

    /// <summary>Entry A of the parameter vector.</summary>
    Parameter,

    /// <summary>The time.</summary>
    Time,

    /// <summary>A + B.</summary>
    Add,

    /// <summary>A − B.</summary>
    Subtract,

    /// <summary>A · B.</summary>
    Multiply,

    /// <summary>A / B.</summary>
    Divide,

    /// <summary>A to the power B.</summary>
    Power,

    /// <summary>−A.</summary>
    Negate,

    /// <summary>e to the power A.</summary>
    Exp,

    /// <summary>The natural logarithm of A.</summary>
    Log,

    /// <summary>The square root of A.</summary>
    Sqrt,

    /// <summary>The size of A.</summary>
    Abs,

    /// <summary>The largest whole number not above A.</summary>
    Floor,

    /// <summary>The smallest whole number not below A.</summary>
    Ceiling,

    /// <summary>A factorial, Γ(A + 1).</summary>
    Factorial,

    /// <summary>The sine of A in radians.</summary>
    Sin,

    /// <summary>The cosine of A in radians.</summary>
    Cos,

    /// <summary>The tangent of A in radians.</summary>
    Tan,

    /// <summary>The inverse sine of A, in radians.</summary>
    Asin,

    /// <summary>The inverse cosine of A, in radians.</summary>
    Acos,

    /// <summary>The inverse tangent of A, in radians.</summary>
    Atan,

    /// <summary>The hyperbolic sine of A.</summary>
    Sinh,

    /// <summary>The hyperbolic cosine of A.</summary>
    Cosh,

    /// <summary>The hyperbolic tangent of A.</summary>
    Tanh,

    /// <summary>The inverse hyperbolic sine of A.</summary>
    Asinh,

    /// <summary>The inverse hyperbolic cosine of A.</summary>
    Acosh,

    /// <summary>The inverse hyperbolic tangent of A.</summary>
    Atanh,

    /// <summary>The lesser of A and B.</summary>
    Min,

    /// <summary>The greater of A and B.</summary>
    Max,

    /// <summary>1 where A is below B, else 0.</summary>
    Less,

    /// <summary>1 where A is not above B, else 0.</summary>
    LessOrEqual,

    /// <summary>1 where A and B are the same number, else 0.</summary>
    Equal,

    /// <summary>1 where neither A nor B is 0, else 0.</summary>
    And,

    /// <summary>1 where A or B is not 0, else 0.</summary>
    Or,

    /// <summary>1 where A is 0, else 0.</summary>
    Not,

    /// <summary>B where A is not 0, else C.</summary>
    Choose,

    /// <summary>A table at a place, its slope there, and which of its pieces the place lies in.</summary>
    Lookup,

    /// <summary>The slope of a table at A.</summary>
    LookupSlope,

    /// <summary>The piece of a table that A lies in.</summary>
    LookupPiece,

    /// <summary>A table, or its slope, at a place by the law of a given piece.</summary>
    LookupIn,

    /// <summary>The slope of a table at A, within a piece that is known.</summary>
    LookupSlopeIn,
}
