namespace ClearTide.Core.Reports;

/// <summary>What one number a curve or a condition comes to over a run.</summary>
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

    /// <summary>At a time; not a number outside the run.</summary>
    Value,

    /// <summary>Whether a condition holds at any time.</summary>
    Ever,

    /// <summary>Whether it holds at all times.</summary>
    Always,

    /// <summary>The first time at which it holds; not a number where it never does.</summary>
    FirstTime,

    /// <summary>How long it holds.</summary>
    Duration,

    /// <summary>The first time at which a condition is not what it was at the start; not a number where it stays. It has no name to
    /// type.</summary>
    Turn,
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
}
