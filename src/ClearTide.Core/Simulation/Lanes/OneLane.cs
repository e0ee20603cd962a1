namespace ClearTide.Core.Simulation;

/// <summary>One number.</summary>
internal readonly struct OneLane(double value) : ILanes<OneLane>
{
    private readonly double _value = value;

    public static int Count => 1;

    public static OneLane Of(double value) => new(value);

    public double this[int lane] => _value;

    public static OneLane operator +(OneLane a, OneLane b) => new(a._value + b._value);

    public static OneLane operator -(OneLane a, OneLane b) => new(a._value - b._value);

    public static OneLane operator *(OneLane a, OneLane b) => new(a._value * b._value);

    public static OneLane operator /(OneLane a, OneLane b) => new(a._value / b._value);

    public static OneLane Abs(OneLane a) => new(Math.Abs(a._value));

    public static OneLane Max(OneLane a, OneLane b) => new(Math.Max(a._value, b._value));

    public static double Sum(OneLane a) => a._value;
}
