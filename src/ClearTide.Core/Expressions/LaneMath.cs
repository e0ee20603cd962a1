using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;

namespace ClearTide.Core.Expressions;

/// <summary>
/// Each operation over four lanes. What the processor has no instruction for is done lane by lane with the same function as single
/// numbers, so
/// that a lane computes the same bits as a run of its own would.
/// </summary>
internal static class LaneMath
{
    private static readonly Vector256<double> One = Vector256.Create(1.0);

    public static Vector256<double> Add(Vector256<double> x, Vector256<double> y) => x + y;

    public static Vector256<double> Subtract(Vector256<double> x, Vector256<double> y) => x - y;

    public static Vector256<double> Multiply(Vector256<double> x, Vector256<double> y) => x * y;

    public static Vector256<double> Divide(Vector256<double> x, Vector256<double> y) => x / y;

    public static Vector256<double> Negate(Vector256<double> x) => -x;

    public static Vector256<double> Sqrt(Vector256<double> x) => Vector256.Sqrt(x);

    public static Vector256<double> Abs(Vector256<double> x) => Vector256.Abs(x);

    public static Vector256<double> Floor(Vector256<double> x) => Vector256.Floor(x);

    public static Vector256<double> Ceiling(Vector256<double> x) => Vector256.Ceiling(x);

    public static Vector256<double> Min(Vector256<double> x, Vector256<double> y) => Vector256.Min(x, y);

    public static Vector256<double> Max(Vector256<double> x, Vector256<double> y) => Vector256.Max(x, y);

    public static Vector256<double> Less(Vector256<double> x, Vector256<double> y) => Vector256.LessThan(x, y) & One;

    public static Vector256<double> LessOrEqual(Vector256<double> x, Vector256<double> y) => Vector256.LessThanOrEqual(x, y) & One;

    public static Vector256<double> Equal(Vector256<double> x, Vector256<double> y) => Vector256.Equals(x, y) & One;

    public static Vector256<double> And(Vector256<double> x, Vector256<double> y) => True(x) & True(y) & One;

    public static Vector256<double> Or(Vector256<double> x, Vector256<double> y) => (True(x) | True(y)) & One;

    public static Vector256<double> Not(Vector256<double> x) => Vector256.Equals(x, Vector256<double>.Zero) & One;

    /// <summary>What is not zero is true, and so is what is not a number, as for single numbers.</summary>
    public static Vector256<double> Choose(Vector256<double> condition, Vector256<double> then, Vector256<double> otherwise) =>
        Vector256.ConditionalSelect(True(condition), then, otherwise);

    private static Vector256<double> True(Vector256<double> x) => ~Vector256.Equals(x, Vector256<double>.Zero);

    public static Vector256<double> Power(Vector256<double> x, Vector256<double> y) => Each(Operation.Power, x, y);

    public static Vector256<double> Exp(Vector256<double> x) =>
        Vector256.Create(Math.Exp(x[0]), Math.Exp(x[1]), Math.Exp(x[2]), Math.Exp(x[3]));

    public static Vector256<double> Log(Vector256<double> x) =>
        Vector256.Create(Math.Log(x[0]), Math.Log(x[1]), Math.Log(x[2]), Math.Log(x[3]));

    public static Vector256<double> Sin(Vector256<double> x) =>
        Vector256.Create(Math.Sin(x[0]), Math.Sin(x[1]), Math.Sin(x[2]), Math.Sin(x[3]));

    public static Vector256<double> Cos(Vector256<double> x) =>
        Vector256.Create(Math.Cos(x[0]), Math.Cos(x[1]), Math.Cos(x[2]), Math.Cos(x[3]));

    public static Vector256<double> Factorial(Vector256<double> x) => Each(Operation.Factorial, x, x);

    public static Vector256<double> Tan(Vector256<double> x) => Each(Operation.Tan, x, x);

    public static Vector256<double> Asin(Vector256<double> x) => Each(Operation.Asin, x, x);

    public static Vector256<double> Acos(Vector256<double> x) => Each(Operation.Acos, x, x);

    public static Vector256<double> Atan(Vector256<double> x) => Each(Operation.Atan, x, x);

    public static Vector256<double> Sinh(Vector256<double> x) => Each(Operation.Sinh, x, x);

    public static Vector256<double> Cosh(Vector256<double> x) => Each(Operation.Cosh, x, x);

    public static Vector256<double> Tanh(Vector256<double> x) => Each(Operation.Tanh, x, x);

    public static Vector256<double> Asinh(Vector256<double> x) => Each(Operation.Asinh, x, x);

    public static Vector256<double> Acosh(Vector256<double> x) => Each(Operation.Acosh, x, x);

    public static Vector256<double> Atanh(Vector256<double> x) => Each(Operation.Atanh, x, x);

    public static Vector256<double> Lookup(TableFunction table, Vector256<double> x) =>
        Vector256.Create(table.At(x[0]), table.At(x[1]), table.At(x[2]), table.At(x[3]));

    public static Vector256<double> LookupSlope(TableFunction table, Vector256<double> x) =>
        Vector256.Create(table.Slope(x[0]), table.Slope(x[1]), table.Slope(x[2]), table.Slope(x[3]));

    public static Vector256<double> LookupPiece(TableFunction table, Vector256<double> x) =>
        Vector256.Create(table.Piece(x[0]), table.Piece(x[1]), table.Piece(x[2]), table.Piece(x[3]));

    public static Vector256<double> LookupIn(TableFunction table, Vector256<double> x, Vector256<double> piece) =>
        Vector256.Create(
            table.AtPiece(x[0], piece[0]),
            table.AtPiece(x[1], piece[1]),
            table.AtPiece(x[2], piece[2]),
            table.AtPiece(x[3], piece[3])
        );

    public static Vector256<double> LookupSlopeIn(TableFunction table, Vector256<double> x, Vector256<double> piece) =>
        Vector256.Create(
            table.SlopeInPiece(x[0], piece[0]),
            table.SlopeInPiece(x[1], piece[1]),
            table.SlopeInPiece(x[2], piece[2]),
            table.SlopeInPiece(x[3], piece[3])
        );

    [MethodImpl(MethodImplOptions.NoInlining)]
    private static Vector256<double> Each(Operation operation, Vector256<double> x, Vector256<double> y) =>
        Vector256.Create(
            GraphMath.Apply(operation, x[0], y[0]),
            GraphMath.Apply(operation, x[1], y[1]),
            GraphMath.Apply(operation, x[2], y[2]),
            GraphMath.Apply(operation, x[3], y[3])
        );
}
