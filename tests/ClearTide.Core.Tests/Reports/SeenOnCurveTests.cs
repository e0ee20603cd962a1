using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;

namespace ClearTide.Core.Tests.Reports;

public class SeenOnCurveTests
{
    private static readonly StudyDocument Study = Studies.Of("A(0) = 80; A -> B : 0.1 * A; rho = 0.25");
    private static readonly DataSet Data = new("d", "seen", [new(0, 2, 4) { Error = 1 }, new(2, 4, 3) { Below = true }]);

    private static IReadOnlyList<DataRow> On(string partId, Observation observation) =>
        SeenOnCurve.Of(Lowering.Lower(Study), new(observation, Data), partId);

    [Fact]
    public void Counts_of_a_flow_are_its_mean_rate_in_the_middle_of_their_interval()
    {
        var flow = Study.Flows[0].Id;
        var points = On(flow, new("o", "d", "Cases", flow, "rho"));
        // Four counted in two days, a quarter of them seen.
        Assert.Equal([(1.0, 8.0), (3.0, 6.0)], points.Select(point => (point.End, point.Value)));
        Assert.Equal(2.0, points[0].Error);
        Assert.True(points[1].Below);
        Assert.Empty(On(Study.Compartments[0].Id, new("o", "d", "Cases", flow, "rho")));
    }

    [Fact]
    public void What_stood_lies_on_its_curve_at_its_time()
    {
        var observation = new Observation("o", "d", "Level", "", "1") { Seen = ObservedAs.Standing, Formula = " A " };
        Assert.Equal([(2.0, 4.0), (4.0, 3.0)], On(Study.Compartments[0].Id, observation).Select(point => (point.End, point.Value)));
        Assert.Empty(On(Study.Compartments[1].Id, observation));
        Assert.Empty(On(Study.Compartments[0].Id, observation with { Formula = "A / 2" }));
    }

    [Fact]
    public void Where_the_share_cannot_be_told_there_are_no_points() =>
        Assert.Empty(On(Study.Flows[0].Id, new("o", "d", "Cases", Study.Flows[0].Id, "gone")));
}
