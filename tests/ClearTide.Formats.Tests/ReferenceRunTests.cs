using ClearTide.Bench;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Formats.Tests;

/// <summary>
/// Every shipped study gives the numbers that it gave before, by every kind of method. The numbers in <c>Reference/runs.txt</c> are what
/// <c>ClearTide.Bench reference</c> printed; where a mended fault changes them, the file is made anew and the commit says why.
/// </summary>
public class ReferenceRunTests
{
    private static readonly string Folder = AppContext.BaseDirectory;

    public static TheoryData<string> Studies => [.. Known.Keys];

    private static Dictionary<string, List<ReferenceRun>> Known { get; } =
        File.ReadLines(Path.Combine(Folder, "Reference", "runs.txt"))
            .Select(ReferenceRun.Parse)
            .GroupBy(run => run.Name.Split('/')[0])
            .ToDictionary(group => group.Key, group => group.ToList());

    // Made by the first test and not while tests are looked for, when nothing runs beside it.
    private static readonly Lazy<ILookup<string, ReferenceRun>> AllMade = new(() =>
        ReferenceRuns.All(Path.Combine(Folder, "demo")).ToLookup(run => run.Name)
    );

    private static ILookup<string, ReferenceRun> Made => AllMade.Value;

    [Theory]
    [MemberData(nameof(Studies))]
    public void A_study_gives_the_numbers_it_gave(string study)
    {
        foreach (var known in Known[study])
        {
            var now = Assert.Single(Made[known.Name]);
            Assert.Equal(known.Numbers.Length, now.Numbers.Length);
            var isExact = known.Name.EndsWith("/Exact", StringComparison.Ordinal);
            // Another machine's exp and log may differ in the last bit. Steps chosen by error carry that on, growing epidemics a
            // thousandfold; whole units of chance do not move by it.
            var slack = isExact ? 0 : 1e-9 * known.Numbers.Max(Math.Abs);
            for (var k = 0; k < known.Numbers.Length; k++)
                Assert.Equal(known.Numbers[k], now.Numbers[k], slack);
        }
    }

    [Fact]
    public void No_study_lacks_its_numbers() =>
        Assert.Equal(Made.Select(group => group.Key).Order(), Known.Values.SelectMany(runs => runs).Select(run => run.Name).Order());
}
