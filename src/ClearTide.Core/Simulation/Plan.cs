namespace ClearTide.Core.Simulation;

/// <summary>
/// What is laid over a model for one run: values that change at known times, and amounts that are given at known times. Measures become
/// one; so do the doses of a subject. What happens on conditions is an event of the model itself.
/// </summary>
/// <param name="Changes">Times, ascending, each with what becomes of the values there.</param>
/// <example>
/// <code>
/// // k is halved from day 2 on and has its own value again from day 5 on.
/// int k = lowered.Network.IndexOf("k");
/// var plan = new Plan([new(2, [new(k, Factor: 0.5)]), new(5, [])]);
/// Trajectory run = Engines.Run(request with { Plan = plan });
/// </code>
/// </example>
public sealed record Plan(IReadOnlyList<PlannedChange> Changes)
{
    /// <summary>What is added to states at known times, in any order; several of one time add up.</summary>
    public IReadOnlyList<GivenAmount> Given { get; init; } = [];

    /// <summary>The values that are in force over time.</summary>
    /// <param name="values">All parameters of the model as they are without the plan.</param>
    /// <exception cref="ArgumentException">Times do not ascend.</exception>
    public ParameterSchedule Over(double[] values) => new(values, [.. Changes.Select(change => (change.Time, change.Of(values)))], Given);
}

/// <summary>An amount that is added to a state at a time.</summary>
/// <param name="Time">When it is given, in the model's unit of time.</param>
/// <param name="State">Among the states of the model.</param>
/// <param name="Amount">In the model's units.</param>
public readonly record struct GivenAmount(double Time, int State, double Amount);

/// <summary>What holds from a time on.</summary>
/// <param name="Time">From when on.</param>
/// <param name="Values">What is changed; all other values are as they are without the plan.</param>
public sealed record PlannedChange(double Time, IReadOnlyList<ValueChange> Values)
{
    internal double[] Of(double[] values)
    {
        var changed = (double[])values.Clone();
        foreach (var change in Values)
            changed[change.Index] = change.Factor * changed[change.Index] + change.Shift;
        return changed;
    }
}

/// <summary>One value scaled, then shifted; by a factor of zero it is set.</summary>
/// <param name="Index">Among the parameters of the model.</param>
/// <param name="Factor">What the value is multiplied by.</param>
/// <param name="Shift">In the model's units.</param>
public readonly record struct ValueChange(int Index, double Factor, double Shift = 0);
