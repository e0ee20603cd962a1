using System.Reflection;
using ClearTide.Core.Simulation;

namespace ClearTide.Web.Tests;

public class DependencyTests
{
    /// <summary>Web and command line use storage and formats, these use the core, and the core uses nothing of Clear Tide.</summary>
    private static readonly Dictionary<string, string[]> Allowed = new()
    {
        ["ClearTide.Core"] = [],
        ["ClearTide.Formats"] = ["ClearTide.Core"],
        ["ClearTide.Storage"] = ["ClearTide.Core", "ClearTide.Formats"],
        ["ClearTide.Web"] = ["ClearTide.Core", "ClearTide.Formats", "ClearTide.Storage"],
    };

    [Fact]
    public void Dependencies_point_one_way()
    {
        foreach (var (name, allowed) in Allowed)
        {
            var used = Assembly
                .Load(name)
                .GetReferencedAssemblies()
                .Select(reference => reference.Name!)
                .Where(reference => reference.StartsWith("ClearTide", StringComparison.Ordinal));
            Assert.Empty(used.Except(allowed));
        }
    }

    [Fact]
    public void The_core_leans_on_the_runtime_and_one_numerics_library_only()
    {
        var foreign = Assembly
            .Load("ClearTide.Core")
            .GetReferencedAssemblies()
            .Select(reference => reference.Name!)
            .Where(name => !name.StartsWith("System.", StringComparison.Ordinal) && name != "MathNet.Numerics");
        Assert.Empty(foreign);
        Assert.DoesNotContain(Assembly.Load("ClearTide.Core").GetReferencedAssemblies(), reference =>
            reference.Name is "System.Data.Common" or "System.Net.Http"
        );
    }
}
