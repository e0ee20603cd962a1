namespace ClearTide.Core.Ensembles;

/// <summary>What one number a curve or a condition comes to over a run that is looked at at its output times.</summary>
internal enum RunReduction
{
    /// <summary>The most.</summary>
    Peak,

    /// <summary>The first time of the most.</summary>
    PeakTime,

    /// <summary>The least.</summary>
    Lowest,

    /// <summary>The mean over time.</summary>
    Mean,

    /// <summary>Where the run begins.</summary>
    Start,

    /// <summary>Where it ends.</summary>
    End,

    /// <summary>The integral over time.</summary>
    Total,

    /// <summary>At a time: what it was at the output time before; not a number outside the run.</summary>
    Value,

    /// <summary>Whether a condition holds at any time.</summary>
    Ever,

    /// <summary>Whether it holds at all times.</summary>
    Always,

    /// <summary>The first time at which it holds; not a number where it never does.</summary>
    FirstTime,

    /// <summary>How long it holds.</summary>
    Duration,
}

/// <summary>Works out what curves come to; the names under which that is typed.</summary>
internal static class RunReductions
{
    private static readonly Dictionary<string, RunReduction> ByName = new()
    {
        ["peak"] = RunReduction.Peak,
        ["peak_time"] = RunReduction.PeakTime,
        ["lowest"] = RunReduction.Lowest,
        ["mean"] = RunReduction.Mean,
        ["start"] = RunReduction.Start,
        ["end"] = RunReduction.End,
        ["total"] = RunReduction.Total,
        ["value"] = RunReduction.Value,
        ["ever"] = RunReduction.Ever,
        ["always"] = RunReduction.Always,
        ["first_time"] = RunReduction.FirstTime,
        ["duration"] = RunReduction.Duration,
    };

    /// <summary>All names as a message lists them.</summary>
    public static readonly string Names = string.Join(", ", ByName.Keys.Select(name => $"{name}(…)"));

    /// <summary>The one of a name, or null.</summary>
    public static RunReduction? Named(string name) => ByName.TryGetValue(name, out var kind) ? kind : null;

    /// <param name="times">Ascending, at least two.</param>
    /// <param name="along">The curve at the times; a condition is 1 where it holds and 0 where not.</param>
    /// <param name="at">The time of <see cref="RunReduction.Value"/>.</param>
    public static double Of(RunReduction kind, IReadOnlyList<double> times, double[] along, double at) =>
        kind switch
        {
            RunReduction.Peak => along.Max(),
            RunReduction.PeakTime => along.Max() is var most && double.IsNaN(most) ? double.NaN : times[Array.IndexOf(along, most)],
            RunReduction.Lowest => along.Min(),
            RunReduction.Mean => Integral(times, along) / (times[^1] - times[0]),
            RunReduction.Start => along[0],
            RunReduction.End => along[^1],
            RunReduction.Total => Integral(times, along),
            RunReduction.Value => At(times, along, at),
            RunReduction.Ever => along.Any(holds => holds != 0) ? 1 : 0,
            RunReduction.Always => along.All(holds => holds != 0) ? 1 : 0,
            RunReduction.FirstTime => Array.FindIndex(along, holds => holds != 0) is >= 0 and var row ? times[row] : double.NaN,
            _ => Held(times, along),
        };

    private static double Integral(IReadOnlyList<double> times, double[] along)
    {
        var sum = 0.0;
        for (var row = 1; row < along.Length; row++)
            sum += 0.5 * (times[row] - times[row - 1]) * (along[row - 1] + along[row]);
        return sum;
    }

    private static double Held(IReadOnlyList<double> times, double[] along)
    {
        var sum = 0.0;
        for (var row = 1; row < along.Length; row++)
            sum += along[row - 1] != 0 ? times[row] - times[row - 1] : 0;
        return sum;
    }

    private static double At(IReadOnlyList<double> times, double[] along, double at)
    {
        if (!(at >= times[0] && at <= times[^1]))
            return double.NaN;
        var row = 0;
        while (row + 1 < along.Length && times[row + 1] <= at)
            row++;
        return along[row];
    }
}
