namespace ClearTide.Core.Simulation;

/// <summary>
/// Stops a run in which an amount that must not has fallen below zero by more than the solver's error, at the time at which it did.
/// </summary>
internal sealed class BelowZero(ReactionNetwork network, SolverSettings settings)
{
    private readonly int[] _watched = [.. Enumerable.Range(0, network.States.Count).Where(state => network.States[state].NeverBelowZero)];
    private readonly double[] _state = new double[network.States.Count];
    private double _largest;

    /// <summary>Looks at a stretch of the step that was just made.</summary>
    /// <exception cref="SimulationException">An amount is below zero at its end.</exception>
    public void Check(Stepper stepper, double from, double until, double[] parameters)
    {
        if (_watched.Length == 0)
            return;
        stepper.At(until, _state);
        foreach (var amount in _state)
            _largest = Math.Max(_largest, Math.Abs(amount));
        // A hundred times the tolerance of one step leaves room for what many steps add up to.
        var least = -100 * (settings.AbsoluteTolerance + settings.RelativeTolerance * _largest);
        var found = Array.FindIndex(_watched, state => _state[state] < least);
        if (found < 0)
            return;
        var fallen = _watched[found];
        var (low, high) = (from, until);
        while (high - low > 1e-12 * Math.Max(Math.Abs(high), high - from))
        {
            var middle = 0.5 * (low + high);
            if (middle <= low || middle >= high)
                break;
            stepper.At(middle, _state);
            if (_state[fallen] < least)
                high = middle;
            else
                low = middle;
        }
        stepper.At(high, _state);
        throw new SimulationException(FailureReason.BelowZero, high, [.. _state], parameters[..network.ParameterCount]) { Index = fallen };
    }
}
