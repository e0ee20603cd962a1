namespace ClearTide.Core.Simulation;

/// <summary>
/// Numbers that an algorithm takes together as if they were one: a single number, four components of one state, or one component of four
/// runs. What is written over it is compiled for each kind of its own, at no cost.
/// </summary>
internal interface ILanes<T>
    where T : unmanaged, ILanes<T>
{
    /// <summary>How many numbers there are.</summary>
    static abstract int Count { get; }

    /// <summary>The same number in all lanes.</summary>
    static abstract T Of(double value);

    /// <summary>The number of one lane, counted from 0.</summary>
    double this[int lane] { get; }

    static abstract T operator +(T a, T b);

    static abstract T operator -(T a, T b);

    static abstract T operator *(T a, T b);

    static abstract T operator /(T a, T b);

    /// <summary>Sizes without sign, lane by lane.</summary>
    static abstract T Abs(T a);

    /// <summary>The larger of two numbers, lane by lane.</summary>
    static abstract T Max(T a, T b);

    /// <summary>The sum of all lanes.</summary>
    static abstract double Sum(T a);
}
