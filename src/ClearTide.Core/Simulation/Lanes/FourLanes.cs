using System.Runtime.Intrinsics;

namespace ClearTide.Core.Simulation;

/// <summary>Four numbers, in one register of the processor where it has such.</summary>
internal readonly struct FourLanes(Vector256<double> values) : ILanes<FourLanes>
{
    private readonly Vector256<double> _values = values;

    public static int Count => 4;

    public static FourLanes Of(double value) => new(Vector256.Create(value));

    public double this[int lane] => _values[lane];

    public static FourLanes operator +(FourLanes a, FourLanes b) => new(a._values + b._values);

    public static FourLanes operator -(FourLanes a, FourLanes b) => new(a._values - b._values);

    public static FourLanes operator *(FourLanes a, FourLanes b) => new(a._values * b._values);

    public static FourLanes operator /(FourLanes a, FourLanes b) => new(a._values / b._values);

    public static FourLanes Abs(FourLanes a) => new(Vector256.Abs(a._values));

    public static FourLanes Max(FourLanes a, FourLanes b) => new(Vector256.Max(a._values, b._values));

    public static double Sum(FourLanes a) => Vector256.Sum(a._values);
}
