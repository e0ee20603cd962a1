using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>
/// A first step from the sizes of y, y' and an estimate of y'' (Hairer, Nørsett, Wanner I, II.4, algorithm "starting step size"). Its
/// bound of a hundred
/// times the length of the probe means a step in which y changes by its own size. Where y is nothing, as the tolerances see it, so is
/// that length, whatever
/// arrives: there the probe is made again further out for as long as it asks for more. No length is below the rounding of time.
/// </summary>
internal static unsafe class InitialStepSize
{
    /// <summary>The bound on the first step over the length of its probe.</summary>
    private const double Reach = 100;

    /// <summary>The first step; of several lanes the shortest that any of them asks for.</summary>
    /// <param name="f">The right-hand side.</param>
    /// <param name="time">In the model's unit of time.</param>
    /// <param name="y">The states at the start; of several lanes state by state.</param>
    /// <param name="parameters">All parameters, in the order of the network.</param>
    /// <param name="slope">f at the start.</param>
    /// <param name="moved">Work space for a state.</param>
    /// <param name="changed">Work space for a slope.</param>
    /// <param name="n">How many states there are.</param>
    /// <param name="absolute">The absolute tolerance of each entry.</param>
    /// <param name="relative">The relative tolerance.</param>
    /// <param name="limit">The longest step that is allowed.</param>
    /// <param name="order">The order of the method.</param>
    public static double Of<T>(
        VectorFunction f,
        double time,
        T* y,
        double* parameters,
        T* slope,
        T* moved,
        T* changed,
        int n,
        T* absolute,
        double relative,
        double limit,
        int order
    )
        where T : unmanaged, ILanes<T>
    {
        var (share, d0, d1) = (T.Of(relative), T.Of(0), T.Of(0));
        for (var i = 0; i < n; i++)
        {
            var scale = absolute[i] + share * T.Abs(y[i]);
            d0 += y[i] / scale * (y[i] / scale);
            d1 += slope[i] / scale * (slope[i] / scale);
        }
        var (probe, largest) = (double.PositiveInfinity, 0.0);
        for (var lane = 0; lane < T.Count; lane++)
        {
            var size = Math.Sqrt(d0[lane]);
            (probe, largest) = (Math.Min(probe, Probe(size, Math.Sqrt(d1[lane]), time, limit)), Math.Max(largest, size));
        }
        while (true)
        {
            var length = T.Of(probe);
            for (var i = 0; i < n; i++)
                moved[i] = y[i] + length * slope[i];
            f(time + probe, (double*)moved, parameters, (double*)changed);
            var d2 = T.Of(0);
            for (var i = 0; i < n; i++)
            {
                var difference = (changed[i] - slope[i]) / (absolute[i] + share * T.Abs(y[i]));
                d2 += difference * difference;
            }
            var asked = double.PositiveInfinity;
            for (var lane = 0; lane < T.Count; lane++)
                asked = Math.Min(asked, Asked(Math.Sqrt(d1[lane]), Math.Sqrt(d2[lane]) / probe, probe, order));
            if (IsFar(largest, probe, asked, time, limit))
                return Within(probe, asked, time, limit);
            probe = Further(probe, time, limit);
        }
    }

    /// <summary>The length of the first probe: it moves y by a hundredth of its size, and time by more than its rounding.</summary>
    /// <param name="size">Norm of y over the tolerances (d0 in the book).</param>
    /// <param name="speed">Norm of y' over the tolerances (d1).</param>
    /// <param name="time">In the model's unit of time.</param>
    /// <param name="limit">The longest step that is allowed.</param>
    private static double Probe(double size, double speed, double time, double limit)
    {
        var length = size <= 1e-5 || speed <= 1e-5 ? 1e-6 : 0.01 * (size / speed);
        return Math.Min(Math.Max(length, Least(time)), limit - time);
    }

    /// <summary>The step at which the terms that y' and y'' stand for are a hundredth of what is tolerated.</summary>
    /// <param name="speed">Norm of y' over the tolerances (d1).</param>
    /// <param name="turn">Norm of the change of y' over the probe, for each unit of time (d2).</param>
    /// <param name="probe">Length of the probe.</param>
    /// <param name="order">The order of the method.</param>
    private static double Asked(double speed, double turn, double probe, int order)
    {
        var most = Math.Max(speed, turn);
        // Where the probe has left the domain of f, the step stays well on this side of it.
        if (!double.IsFinite(most))
            return 1e-3 * probe;
        return most <= 1e-15 ? Math.Max(1e-6, probe * 1e-3) : Math.Pow(0.01 / most, 1.0 / order);
    }

    /// <summary>Whether the probe has come as far as its answer needs.</summary>
    private static bool IsFar(double size, double probe, double asked, double time, double limit) =>
        size > 1 || Reach * probe >= asked || probe >= limit - time;

    /// <summary>The next probe where the last was not far enough.</summary>
    private static double Further(double probe, double time, double limit) => Math.Min(Reach * probe, limit - time);

    /// <summary>What is asked for, within the reach of the probe and up to the limit, and never less than moves time.</summary>
    private static double Within(double probe, double asked, double time, double limit) =>
        Math.Min(Math.Max(Math.Min(Reach * probe, asked), Least(time)), limit - time);

    /// <summary>Some hundred units of rounding of time: less cannot be told from standing still.</summary>
    private static double Least(double time) => 1e-13 * Math.Abs(time);
}
