namespace ClearTide.Core.Simulation;

/// <summary>
/// How much error a step may make: relative to the size of each component, and absolute, in its units, for all or for each. The size of an
/// error is the root mean square of its components over atol + rtol · |y| (Hairer, Nørsett, Wanner, Solving Ordinary Differential
/// Equations I,
/// 2nd ed., II.4, formula 4.11). A component whose absolute tolerance is infinite takes no part in it.
/// </summary>
public sealed unsafe class Tolerances
{
    private readonly double[] _absolute;

    /// <param name="relative">Share of the size of a state.</param>
    /// <param name="absolute">One for all components, or one for each.</param>
    /// <param name="dimension">How many states there are.</param>
    public Tolerances(double relative, IReadOnlyList<double> absolute, int dimension)
    {
        if (!(relative > 0) || absolute.Count == 0 || !absolute.All(tolerance => tolerance > 0))
            throw new ArgumentOutOfRangeException(nameof(relative), "Tolerances must be positive.");
        if (absolute.Count > 1 && absolute.Count != dimension)
            throw new ArgumentException($"There are {absolute.Count} absolute tolerances for {dimension} components.", nameof(absolute));
        // Below some units of rounding a step's error cannot be told from noise.
        Relative = Math.Max(relative, 1e-14);
        Controlled =
            absolute.Count == 1
                ? double.IsFinite(absolute[0])
                    ? dimension
                    : 0
                : absolute.Count(double.IsFinite);
        _absolute = absolute.Count == 1 ? [.. Enumerable.Repeat(absolute[0], Math.Max(1, dimension))] : [.. absolute];
    }

    /// <summary>Error allowed in a step, as a share of a component.</summary>
    public double Relative { get; }

    /// <summary>How many components take part in error control.</summary>
    public int Controlled { get; }

    /// <summary>Error allowed in a step where a component is near zero.</summary>
    /// <param name="component">Of the state, from 0.</param>
    public double Absolute(int component) => _absolute[component];

    /// <summary>Writes the absolute tolerances of all components.</summary>
    internal void WriteAbsolute(double* target)
    {
        for (var i = 0; i < _absolute.Length; i++)
            target[i] = _absolute[i];
    }

    /// <summary>The scaled size of an error: at most 1 is good enough.</summary>
    internal double Norm(double* error, double* before, double* after, int n)
    {
        var sum = 0.0;
        for (var i = 0; i < n; i++)
        {
            var scaled = error[i] / (_absolute[i] + Relative * Math.Max(Math.Abs(before[i]), Math.Abs(after[i])));
            sum += scaled * scaled;
        }
        return Controlled == 0 ? 0 : Math.Sqrt(sum / Controlled);
    }
}
