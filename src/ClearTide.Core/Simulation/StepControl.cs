namespace ClearTide.Core.Simulation;

/// <summary>
/// The length of steps of a pair of orders 5 and 4 from the scaled errors that they made: proportional and integral control (Hairer,
/// Nørsett,
/// Wanner, Solving Ordinary Differential Equations I, 2nd ed., II.4; Hairer and Wanner II, IV.2).
/// </summary>
internal struct StepControl(double first)
{
    private const double Safety = 0.9,
        Smallest = 0.2,
        Largest = 10,
        Beta = 0.04,
        Exponent = 0.2 - 0.75 * Beta;

    /// <summary>Logarithm of the least error that says anything about the next step.</summary>
    private static readonly double Least = Math.Log(1e-4);

    private double _next = first;
    private double _lastError = Least;
    private bool _rejected;

    /// <summary>The length of the step to try, no further than a limit; zero where no step is long enough to move time.</summary>
    public readonly double Proposed(double time, double limit) => Fitted(_next, time, limit);

    /// <summary>A length that ends at the limit where it nearly reaches it; zero where it is lost in the rounding of time.</summary>
    public static double Fitted(double length, double time, double limit)
    {
        // What is left to the limit may be as short as it likes: two changes can lie side by side.
        if (time + 1.01 * length >= limit)
            return limit - time;
        return length <= 1e-15 * Math.Abs(time) || !(length > 0) ? 0 : length;
    }

    /// <summary>Whether a step with this error is good enough; either way the next one is known afterwards.</summary>
    /// <param name="h">Its length.</param>
    /// <param name="error">Its scaled error: at most 1 is good enough.</param>
    public bool Takes(double h, double error)
    {
        if (error <= 1)
        {
            // Powers by way of logarithms: one of each error serves two steps.
            var size = Math.Log(error);
            var factor = Math.Clamp(Math.Exp(Exponent * size - Beta * _lastError) / Safety, 1 / Largest, 1 / Smallest);
            // A step cut short by the limit says little about the next one: keep the longer proposal.
            var proposal = h / factor;
            _next = h < _next ? Math.Max(proposal, _next) : proposal;
            if (_rejected)
                _next = Math.Min(_next, h);
            (_lastError, _rejected) = (Math.Max(size, Least), false);
            return true;
        }
        _rejected = true;
        _next = double.IsFinite(error) ? h / Math.Min(1 / Smallest, Math.Pow(error, Exponent) / Safety) : 0.1 * h;
        return false;
    }
}
