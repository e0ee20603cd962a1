using MathNet.Numerics;

namespace ClearTide.Core.Expressions;

/// <summary>The meaning of each operation on numbers: one definition for folding constants, walking the graph and compiled code.</summary>
internal static class GraphMath
{
    public static double Apply(Operation operation, double x, double y) =>
        operation switch
        {
            Operation.Add => x + y,
            Operation.Subtract => x - y,
            Operation.Multiply => x * y,
            Operation.Divide => x / y,
            Operation.Power => Math.Pow(x, y),
            Operation.Negate => -x,
            Operation.Exp => Math.Exp(x),
            Operation.Log => Math.Log(x),
            Operation.Sqrt => Math.Sqrt(x),
            Operation.Abs => Math.Abs(x),
            Operation.Floor => Math.Floor(x),
            Operation.Ceiling => Math.Ceiling(x),
            Operation.Factorial => Factorial(x),
            Operation.Sin => Math.Sin(x),
            Operation.Cos => Math.Cos(x),
            Operation.Tan => Math.Tan(x),
            Operation.Asin => Math.Asin(x),
            Operation.Acos => Math.Acos(x),
            Operation.Atan => Math.Atan(x),
            Operation.Sinh => Math.Sinh(x),
            Operation.Cosh => Math.Cosh(x),
            Operation.Tanh => Math.Tanh(x),
            Operation.Asinh => Math.Asinh(x),
            Operation.Acosh => Math.Acosh(x),
            Operation.Atanh => Math.Atanh(x),
            Operation.Min => Math.Min(x, y),
            Operation.Max => Math.Max(x, y),
            Operation.Less => x < y ? 1 : 0,
            Operation.LessOrEqual => x <= y ? 1 : 0,
            Operation.Equal => x == y ? 1 : 0,
            Operation.And => x != 0 && y != 0 ? 1 : 0,
            Operation.Or => x != 0 || y != 0 ? 1 : 0,
            Operation.Not => x == 0 ? 1 : 0,
            _ => throw new ArgumentOutOfRangeException(nameof(operation), operation, "Not an operation on one or two numbers."),
        };

    /// <summary>The factorial of a whole number that is not negative; not a number for anything else.</summary>
    public static double Factorial(double x) =>
        x >= 0 && x == Math.Floor(x) ? (x <= 170 ? SpecialFunctions.Factorial((int)x) : double.PositiveInfinity) : double.NaN;

    /// <summary>The method that compiled code calls for an operation that has no instruction of its own.</summary>
    public static System.Reflection.MethodInfo Method(Operation operation) =>
        operation switch
        {
            Operation.Factorial => typeof(GraphMath).GetMethod(nameof(Factorial))!,
            Operation.Power => typeof(Math).GetMethod(nameof(Math.Pow))!,
            Operation.Min or Operation.Max => typeof(Math).GetMethod(operation.ToString(), [typeof(double), typeof(double)])!,
            _ => typeof(Math).GetMethod(operation.ToString(), [typeof(double)])!,
        };
}
