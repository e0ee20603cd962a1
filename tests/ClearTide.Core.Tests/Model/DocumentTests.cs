using System.Collections.Immutable;
using ClearTide.Core.Editing;
using ClearTide.Core.Expressions;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Model;

/// <summary>What a document knows of its parts, and what stays the same when one is replaced.</summary>
public class DocumentTests
{
    [Fact]
    public void Parts_are_found_by_id_and_by_symbol_in_short_lists_and_in_long_ones()
    {
        foreach (var count in new[] { 3, 40 })
        {
            var document = Studies.Of(
                string.Join("; ", Enumerable.Range(0, count).Select(k => $"C{k}(0) = {k}; C{k} -> C{(k + 1) % count} at 0.1"))
            );
            foreach (var part in document.Compartments)
            {
                Assert.Same(part, document.Compartment(part.Id));
                Assert.Same(part, document.CompartmentBySymbol(part.Symbol));
                Assert.Same(part, document.Part(part.Id));
                Assert.Equal(document.Compartments.IndexOf(part), document.PlaceOf(part));
            }
            Assert.All(document.Flows, flow => Assert.Same(flow, document.Flow(flow.Id)));
            Assert.Null(document.Compartment("nobody"));
            Assert.Null(document.CompartmentBySymbol("nobody"));
            Assert.Null(document.Part(null));
            Assert.Equal(-1, document.PlaceOf(document.Compartments[0] with { Id = "other" }));
        }
    }

    [Fact]
    public void Of_two_parts_with_one_symbol_the_first_is_found()
    {
        var document = Studies.Of("A(0) = 1");
        var twice = document with
        {
            Compartments = [.. Enumerable.Range(0, 9).Select(k => document.Compartments[0] with { Id = $"c{100 + k}", Start = $"{k}" })],
        };
        Assert.Equal("c100", twice.CompartmentBySymbol("A")!.Id);
    }

    [Fact]
    public void Replacing_a_part_leaves_every_other_part_as_it_is()
    {
        var document = EveryPart.Study();
        foreach (var part in document.Parts.ToList())
        {
            var again = document.With(part);
            Assert.Empty(DocumentComparison.Of(document, again));
            Assert.Equal(document.Parts.Count(), again.Parts.Count());
        }
        var first = document.Compartments[0];
        var changed = document.With(first with { Label = "Another label" });
        Assert.Equal("Another label", changed.Compartment(first.Id)!.Label);
        Assert.Equal(
            document.Parts.Where(part => part.Id != first.Id).Select(part => part.Id),
            changed.Parts.Where(part => part.Id != first.Id).Select(part => part.Id)
        );
        var difference = Assert.Single(DocumentComparison.Of(document, changed));
        Assert.Equal(PartPresence.Changed, difference.Presence);
    }

    [Fact]
    public void Documents_that_were_made_alike_do_not_differ()
    {
        var (one, other) = (EveryPart.Study(), EveryPart.Study());
        Assert.Empty(DocumentComparison.Of(one, other));
        var longer = Assert.Single(DocumentComparison.Of(one, other with { End = one.End + 1 }));
        Assert.Equal(("Study", "end"), (longer.Name, Assert.Single(longer.Fields).Field));
    }

    [Fact]
    public void Flows_are_described_by_their_ends()
    {
        var document = Studies.Of("-> A : 1; A -> at 0.1; A -> B 40%, C the rest at 0.2; A(0) = 1; B(0) = 0; C(0) = 0");
        Assert.Equal(["outside → A", "A → outside", "A → B, C"], document.Flows.Select(document.Describe));
        Assert.Equal([false, false, true], document.Flows.Select(flow => flow.FansOut));
        var (a, b) = (document.CompartmentBySymbol("A")!.Id, document.CompartmentBySymbol("B")!.Id);
        Assert.All(document.Flows, flow => Assert.True(flow.Touches(a)));
        Assert.Equal([false, false, true], document.Flows.Select(flow => flow.Touches(b)));
    }

    [Fact]
    public void A_new_name_reaches_everything_that_names_the_value()
    {
        var document = Studies.Of("A(0) = 100; A -> at kappa; kappa = 0.1; q = 2 * kappa; assume: kappa is small");
        document = document with
        {
            Fit = document.Fit with { Parameters = [new(new("kappa"), 0.01, 1)] },
            Sliders = [new(new("kappa"), 0, 1)],
        };
        document = new AddScenario("Less").Apply(document).Document!;
        document = new SetMeasure(document.Scenarios[0].Id, null, "Half", new("kappa"), 0.5, 1, 2).Apply(document).Document!;
        var renamed = new SetField(document.DefinitionBySymbol("kappa")!.Id, PartField.Symbol, "mu").Apply(document).Document!;
        Assert.Equal("2 * mu", renamed.DefinitionBySymbol("q")!.Text);
        Assert.Equal("mu", renamed.Flows[0].Rate);
        var expected = new ValueAddress("mu");
        Assert.Equal(expected, renamed.Fit.Parameters[0].Address);
        Assert.Equal(expected, renamed.Sliders[0].Address);
        Assert.Equal(expected, renamed.Scenarios[0].Measures[0].Address);
    }

    [Theory]
    [InlineData("", "at least one point")]
    [InlineData("0 1, 0 2", "stands twice")]
    [InlineData("5 1, 3 2", "ascending order")]
    [InlineData("0 1, 3 2", null)]
    public void A_table_of_points_ascends(string points, string? words)
    {
        ImmutableArray<CurvePoint> made =
        [
            .. points
                .Split(", ", StringSplitOptions.RemoveEmptyEntries)
                .Select(pair => pair.Split(' '))
                .Select(pair => new CurvePoint(double.Parse(pair[0], System.Globalization.CultureInfo.InvariantCulture), 1)),
        ];
        if (words is null)
            Assert.Null(PointTables.Problem(made));
        else
            Assert.Contains(words, PointTables.Problem(made));
        Assert.Contains("not two numbers", PointTables.Problem([new(0, 1), new(double.NaN, 2)]));
    }

    /// <summary>The laws of response curves against their formulas, and where their handles stand.</summary>
    [Theory]
    [InlineData(CurveLaw.Linear, 3, 2 + 0.5 * 3)]
    [InlineData(CurveLaw.Exponential, 3, 2 * 4.4816890703380645)]
    // 2 + 8 (3/4)^0.5 / (1 + (3/4)^0.5).
    [InlineData(CurveLaw.Hill, 3, 5.712812921102037)]
    // 2 + 8 / (1 + exp(-0.5 (3 - 4))).
    [InlineData(CurveLaw.Logistic, 3, 5.020325350385163)]
    public void Named_laws_are_their_formulas(CurveLaw law, double x, double expected)
    {
        var values = new CurveLawValues(law, 2, 10, 4, 0.5, double.NegativeInfinity, double.PositiveInfinity);
        Assert.Equal(expected, values.At(x), 1e-13);
        foreach (var handle in values.Handles())
        {
            Assert.Equal(values.At(handle.X), handle.Y, 1e-12);
            // Dragged to where it stands, a handle says the number that it stands for.
            var number = handle.Field switch
            {
                PartField.Half => 4.0,
                PartField.Low => 2,
                _ => 0.5,
            };
            Assert.Equal(number, values.Dragged(handle.Field, handle.X, handle.Y), 1e-9);
        }
    }

    [Fact]
    public void A_law_holds_the_ends_of_its_range()
    {
        var values = new CurveLawValues(CurveLaw.Linear, 2, 10, 4, 0.5, 0, 6);
        Assert.Equal(5, values.At(100));
        Assert.Equal(2, values.At(-100));
        Assert.Equal((0.0, 6.0), values.Window());
    }

    [Fact]
    public void Another_law_keeps_what_it_can_of_the_shape()
    {
        var curve = new ResponseCurve("r1", "f", "Fall", CurveLaw.Points, [new(0, 8), new(10, 2)]);
        var line = CurveLaws.Change(curve, CurveLaw.Linear);
        Assert.Equal(("8", "-0.6"), (line.Low, line.Slope));
        var falling = CurveLaws.Change(curve, CurveLaw.Exponential);
        Assert.Equal(Math.Log(2.0 / 8) / 10, double.Parse(falling.Slope, System.Globalization.CultureInfo.InvariantCulture), 1e-6);
        // Back to points, the points are those that it came from.
        Assert.Equal(curve.Points, CurveLaws.Change(falling, CurveLaw.Points).Points);
        Assert.Same(curve, CurveLaws.Change(curve, CurveLaw.Points));
    }
}
