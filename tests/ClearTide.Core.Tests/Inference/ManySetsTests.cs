using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Inference;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Inference;

/// <summary>Expectations at many sets of values, which go four in step, against closed forms.</summary>
public class ManySetsTests
{
    private static Series Seen(ObservedAs seen, string flow, string formula, params (double From, double Until)[] rows) =>
        new(
            new("o" + seen, "d" + seen, "Level", flow, "1") { Seen = seen, Formula = formula },
            new("d" + seen, "levels", [.. rows.Select(row => new DataRow(row.From, row.Until, 1))])
        );

    [Theory]
    // One model goes in step; the second has a condition, and its runs go alone.
    [InlineData("")]
    [InlineData("; when A < -1: A -> : A")]
    public void Sets_of_values_are_expected_what_each_alone_is(string more)
    {
        var document = Studies.Of("A -> at k; A(0) = 100; k = 0.2" + more, 20);
        var model = new ObservedModel(
            Lowering.Lower(document),
            [
                Seen(ObservedAs.Standing, "", "A", (1, 1), (6, 6)),
                Seen(ObservedAs.Flowed, document.Flows[0].Id, "", (0, 2), (2, 7)),
                Seen(ObservedAs.Mean, "", "A", (3, 5)),
                Seen(ObservedAs.Integral, "", "A", (3, 5)),
            ],
            ["k", "A.start"]
        );
        double[][] sets = [.. Enumerable.Range(1, 7).Select(k => new[] { 0.1 * k, 50.0 + k })];
        var found = model.MeansOfMany(sets, threads: 2, CancellationToken.None);
        foreach (var (set, mean) in sets.Zip(found))
        {
            double A(double t) => set[1] * Math.Exp(-set[0] * t);
            double Under(double from, double until) => (A(from) - A(until)) / set[0];
            double[] expected = [A(1), A(6), A(0) - A(2), A(2) - A(7), Under(3, 5) / 2, Under(3, 5)];
            for (var row = 0; row < expected.Length; row++)
                // Six digits of what is at most 100 at the start.
                Assert.Equal(expected[row], mean![row], 1e-4);
        }
    }

    [Fact]
    public void Where_a_model_cannot_be_run_nothing_is_expected()
    {
        var document = Studies.Of("-> A : r * A * A; A(0) = 1; r = 0.1", 20);
        var model = new ObservedModel(Lowering.Lower(document), [Seen(ObservedAs.Standing, "", "A", (5, 5))], ["r"]);
        // A = 1 / (1 − r t) has no value after 1 / r.
        var found = model.MeansOfMany(
            [
                [0.1],
                [0.9],
                [0.05],
            ],
            threads: 1,
            CancellationToken.None
        );
        Assert.Equal(2, found[0]![0], 1e-4);
        Assert.Null(found[1]);
        Assert.Equal(1 / 0.75, found[2]![0], 1e-4);
    }
}
