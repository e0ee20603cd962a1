using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests;

internal static class Runs
{
    public static CompiledModel Compile(string lines)
    {
        var lowered = Lowering.Lower(Studies.Of(lines));
        Assert.False(lowered.IsProvisional, string.Join("; ", lowered.Findings.Select(finding => finding.Message)));
        return new(lowered.Network);
    }

    public static Trajectory Run(CompiledModel model, double[] times, SolverSettings? settings = null)
    {
        var values = model.Network.ValueVector();
        return Engines.Run(new(model, values, times) { Settings = settings ?? SolverSettings.Default });
    }

    public static double Final(string lines, string symbol, double end, SolverSettings? settings = null)
    {
        var model = Compile(lines);
        var state = model.Network.States.ToList().FindIndex(candidate => candidate.Symbol == symbol);
        return Run(model, [0, end], settings).State(1, state);
    }

    /// <summary>A study typed as lines, run over these times.</summary>
    public static Trajectory OfLines(string lines, params double[] times)
    {
        var lowered = Lowering.Lower(Studies.Of(lines, times[^1]));
        var unfinished = lowered.Findings.FirstOrDefault(finding => finding.Severity == Severity.Unfinished);
        Assert.True(unfinished is null, unfinished?.Message);
        return Run(new(lowered.Network), times);
    }
}
