using ClearTide.Core.Compilation;
using ClearTide.Core.Conversion;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Conversion;

public class TimeUnitTests
{
    private static double[] Final(StudyDocument document)
    {
        var lowered = Lowering.Lower(document);
        Assert.False(lowered.IsProvisional);
        var model = new CompiledModel(lowered.Network);
        var values = lowered.Network.ValueVector();
        var run = Engines.Run(new(model, values, [document.Start, document.End]));
        return [.. Enumerable.Range(0, document.Compartments.Length).Select(k => run.Amount(1, k))];
    }

    [Theory]
    [InlineData("S -> I : beta * S * I / N; I -> R after 5 days; beta = 0.4 per day; N = S + I + R; S(0) = 900; I(0) = 3")]
    [InlineData("S -> I : beta * S * I / N; I -> R at gamma; beta = 0.4; gamma = 0.2; N = S + I + R; S(0) = 900 people; I(0) = 3")]
    [InlineData("S -> I : 0.0004 * S * I; I -> R at 0.2; S(0) = 900; I(0) = 3")]
    [InlineData("S -> I : force * S; force = 0.0004 * I; I -> R after 5; S(0) = 900; I(0) = 3")]
    [InlineData("A -> B : 0.1 * A * (1 + sin(2 * pi * t / 28)); A(0) = 50")]
    [InlineData("A -> B at k; k = 0.1; at 20: A = A + 5; every 10 from 15: B = B + 1; A(0) = 50")]
    [InlineData("-> A : rain(t); A -> at 0.1; rain = points 0 1, 20 4, 40 2 then repeat 50; A(0) = 5")]
    [InlineData("A -> B : 0.1 * delay(A, 6); A(0) = 50")]
    [InlineData("A -> B after 12 in 3 stages; A(0) = 50")]
    [InlineData("A -> B : 2 limited; A(0) = 50")]
    [InlineData("A -> B at k; k = 1/7 per day; A(0) = 50")]
    [InlineData("reaction r: A + B -> C : 0.004 * A * B; reaction s: -> 2 A : 3; A(0) = 50; B(0) = 20")]
    public void Converting_keeps_what_every_number_means(string lines)
    {
        var document = Studies.Of(lines, 70);
        var before = Final(document);
        foreach (var unit in new[] { TimeUnit.Week, TimeUnit.Hour })
        {
            var converted = new SetTimeUnit(unit, Convert: true).Apply(document).Document!;
            var after = Final(converted);
            // Two solves of one model in two units of time: each is good to about 1e-8.
            for (var k = 0; k < before.Length; k++)
                Assert.Equal(before[k], after[k], 1e-5 * (1 + Math.Abs(before[k])));
            Assert.Equal(70 * 86400.0, converted.End * unit.Seconds, 1e-6);
            // And back again.
            var back = Final(new SetTimeUnit(TimeUnit.Day, Convert: true).Apply(converted).Document!);
            for (var k = 0; k < before.Length; k++)
                Assert.Equal(before[k], back[k], 1e-5 * (1 + Math.Abs(before[k])));
        }
    }

    [Fact]
    public void Relabelling_keeps_the_numbers()
    {
        var document = Studies.Of("A -> B at 0.1; A(0) = 50", 70);
        var relabelled = new SetTimeUnit(TimeUnit.Week, Convert: false).Apply(document).Document!;
        Assert.Equal(("0.1", 70.0), (relabelled.Flows[0].Rate, relabelled.End));
        Assert.Equal(Final(document)[0], Final(relabelled)[0], 1e-9);
    }

    [Fact]
    public void Bounds_of_a_fit_and_windows_of_measures_go_along()
    {
        var document = Studies.Of("A -> B at k; k = 0.7 per day; A(0) = 50", 70);
        document = document with
        {
            Fit = document.Fit with { Parameters = [new("k", 0.1, 1.4)] },
            Scenarios = [new("s1", "less", [new("m1", "less", "k", 0.5, 14, 28)])],
        };
        var weeks = new SetTimeUnit(TimeUnit.Week, Convert: true).Apply(document).Document!;
        Assert.Equal(0.7, weeks.Fit.Parameters[0].Lower, 1e-9);
        Assert.Equal(9.8, weeks.Fit.Parameters[0].Upper, 1e-9);
        Assert.Equal((2.0, 4.0), (weeks.Scenarios[0].Measures[0].From, weeks.Scenarios[0].Measures[0].Until));
    }

    [Fact]
    public void Sliders_and_sweeps_go_along()
    {
        var document = Studies.Of("A -> B at k; k = 0.7 per day; A(0) = 50", 70) with
        {
            Sliders = [new("k", 0.1, 1.4) { Step = 0.1 }, new("A.start", 10, 90)],
            Panels =
            [
                new("x1", PanelKind.Sweep)
                {
                    Address = "k",
                    From = "0.2",
                    To = "0.4",
                    List = "0.2, 0.3",
                    SecondAddress = "A.start",
                    SecondFrom = "10",
                    SecondTo = "20",
                },
                new("x2", PanelKind.Table) { Every = "14" },
                new("x3", PanelKind.Table) { Every = "1 day" },
            ],
        };
        var weeks = new SetTimeUnit(TimeUnit.Week, Convert: true).Apply(document).Document!;
        Assert.Equal((0.7, 9.8, 0.7), (weeks.Sliders[0].Low, weeks.Sliders[0].High, weeks.Sliders[0].Step));
        Assert.Equal((10.0, 90.0), (weeks.Sliders[1].Low, weeks.Sliders[1].High));
        var sweep = weeks.Panels[0];
        Assert.Equal(("1.4", "2.8", "1.4, 2.1", "10", "20"), (sweep.From, sweep.To, sweep.List, sweep.SecondFrom, sweep.SecondTo));
        Assert.Equal(("2", "1 day"), (weeks.Panels[1].Every, weeks.Panels[2].Every));
    }

    [Fact]
    public void The_same_unit_again_is_refused() =>
        Assert.Contains("already", new SetTimeUnit(TimeUnit.Day, true).Apply(Studies.Of("A -> B at 0.1")).Refusal);
}
