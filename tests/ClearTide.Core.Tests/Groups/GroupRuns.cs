using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests;

/// <summary>Studies with groups as tests make and run them.</summary>
internal static class GroupRuns
{
    public static readonly double[] Times = [0, 20, 50, 90];

    public static StudyDocument Fever(string members = "child, adult, old") =>
        Studies.Of($"group age = {members}; split all by age", Studies.Of(Studies.Latent));

    public static double[] Run(StudyDocument study, string symbol)
    {
        var lowered = Lowering.Lower(study);
        Assert.False(lowered.IsProvisional, string.Join("; ", lowered.Findings.Select(finding => finding.Message)));
        var run = Runs.Run(lowered.Compiled, Times);
        var outputs = run.Network.Amounts.Concat(run.Network.Flows).Concat(run.Network.Quantities).Select(one => one.Symbol).ToList();
        Assert.Contains(symbol, outputs);
        return run.OutputColumn(outputs.IndexOf(symbol));
    }

    public static void AssertSame(StudyDocument expected, StudyDocument actual)
    {
        foreach (var part in Studies.Of(Studies.Latent).Compartments)
        {
            var (was, now) = (Run(expected, part.Symbol), Run(actual, part.Symbol));
            for (var k = 0; k < Times.Length; k++)
                // Both runs keep a relative tolerance of 1e-8 in each step.
                Assert.Equal(was[k], now[k], 1e-6 * Math.Max(1, was[k]));
        }
    }
}
