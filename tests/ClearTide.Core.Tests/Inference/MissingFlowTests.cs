using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Editing;
using ClearTide.Core.Expressions;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Inference;

/// <summary>What data have that the model has not, as a flow: by hand, and let into the model it brings the data back.</summary>
public class MissingFlowTests
{
    private static Series Census(params (double Time, double Value)[] rows) =>
        new(
            new("o", "d", "Census", "", "1") { Seen = ObservedAs.Standing, Formula = "N" },
            new("d", "census", [.. rows.Select(row => new DataRow(row.Time, row.Time, row.Value))])
        );

    [Fact]
    public void Between_two_counts_as_much_is_missing_as_the_difference_grows()
    {
        // Births and deaths balance, so that all of 106 at 2 and 112 at 5 came from elsewhere: 3 a day, then 2.
        var study = Studies.Of("N(0) = 100; -> N : b * N; N -> at b; b = 0.1", 10);
        var series = Census((2, 106), (5, 112));
        var lowered = Lowering.Lower(study);
        var means = new ObservedModel(lowered, [series], []).Predict([]).Mean;
        var points = MissingFlow.Of(lowered, series, means, lowered.Network.ValueVector());
        Assert.Equal([0.0, 2, 5], points.Select(point => point.X));
        // The solver keeps nine digits of a hundred.
        Assert.Equal(3, points[0].Y, 1e-6);
        Assert.Equal(2, points[1].Y, 1e-6);
        Assert.Equal(0, points[2].Y);
    }

    [Fact]
    public void Of_counts_what_is_over_counts_whole_also_where_a_part_was_reported()
    {
        var study = Studies.Of("A(0) = 1000; A -> B : 10; B(0) = 0; rho = 0.5", 30);
        var seen = new Observation("o", "d", "Cases", study.Flows[0].Id, "rho");
        // Five are expected a day: 70 in the first week instead of 35 are 10 a day too many, and a gap tells nothing.
        var series = new Series(seen, new("d", "cases", [new(0, 7, 70), new(14, 21, 35)]));
        var lowered = Lowering.Lower(study);
        var means = new ObservedModel(lowered, [series], []).Predict([]).Mean;
        var points = MissingFlow.Of(lowered, series, means, lowered.Network.ValueVector());
        Assert.Equal([0.0, 7, 14, 21], points.Select(point => point.X));
        Assert.Equal([10.0, 0, 0, 0], points.Select(point => Math.Round(point.Y, 6)));
    }

    [Fact]
    public void Let_into_the_model_it_brings_the_data_back()
    {
        var study = Studies.Of("N(0) = 100; -> N : b; N -> at d; b = 4; d = 0", 12);
        var series = Census((1, 110), (4, 95), (9, 200));
        var lowered = Lowering.Lower(study);
        var means = new ObservedModel(lowered, [series], []).Predict([]).Mean;
        var points = MissingFlow.Of(lowered, series, means, lowered.Network.ValueVector());
        var kept = new KeepMissingFlow(points, "Census").Apply(study).Document!;
        var input = Assert.Single(kept.Inputs);
        Assert.Equal(("missing", Between.Step), (input.Symbol, input.Between));
        kept = new AddLines("-> N : missing(t)").Apply(kept).Document!;
        var again = Lowering.Lower(kept);
        var run = Engines.Run(new(again.Compiled, again.Network.ValueVector(), [0, 1, 4, 9, 12]));
        Assert.Equal([110, 95, 200, 212], Enumerable.Range(1, 4).Select(row => Math.Round(run.Amount(row, 0), 5)));
        // A second one has a name of its own.
        Assert.Equal("missing2", new KeepMissingFlow(points, "Census").Apply(kept).Document!.Inputs[1].Symbol);
        Assert.Contains("too few", new KeepMissingFlow([], "Census").Apply(study).Refusal);
    }
}
