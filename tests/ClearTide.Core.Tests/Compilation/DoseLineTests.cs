using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Compilation;

/// <summary>Doses as they are said: which are given when, against lists by hand, and what they leave in a body against
/// superposition.</summary>
public class DoseLineTests
{
    private static StudyDocument Study(string lines, double end) => Studies.Of(lines, end) with { TimeUnit = TimeUnit.Hour };

    private static IReadOnlyList<Dose> Doses(string line, double end = 200)
    {
        var lowered = Lowering.Lower(Study($"G(0) = 0; tau = 12; {line}", end));
        Assert.DoesNotContain(lowered.Findings, finding => finding.Severity == Severity.Unfinished);
        return
        [
            .. lowered
                .Network.Doses.SelectMany(series => series.Within(lowered.Network.Graph, lowered.Network.ValueVector(), 0, end))
                .OrderBy(dose => dose.Time),
        ];
    }

    [Theory]
    [InlineData("200 into G", "0:200")]
    [InlineData("give 200 into G at 3", "3:200")]
    [InlineData("200 into G every 12 hours 3 times", "0:200 12:200 24:200")]
    [InlineData("200 into G every 12 hours for 2 days, first dose doubled", "0:400 12:200 24:200 36:200")]
    [InlineData("200 into G every tau from 6 until 30, first dose 50", "6:50 18:200 30:200")]
    [InlineData("200 into G every 24 hours for 50 hours", "0:200 24:200 48:200")]
    [InlineData("10 * tau into G every day, first dose halved, for 2 days, over 2 hours after 30 minutes", "0.5:60/2 24.5:120/2")]
    [InlineData("200 into G every 12 hours 14 times, first dose doubled", "")]
    public void Doses_are_given_when_they_are_said_to_be(string line, string expected)
    {
        var doses = Doses(line);
        if (expected.Length == 0)
            Assert.Equal((14, 3000, 156), (doses.Count, doses.Sum(dose => dose.Amount), doses[^1].Time));
        else
            Assert.Equal(
                expected,
                string.Join(' ', doses.Select(dose => $"{dose.Time}:{dose.Amount}{(dose.Duration > 0 ? $"/{dose.Duration}" : "")}"))
            );
    }

    [Fact]
    public void Repeated_doses_by_mouth_follow_superposition()
    {
        // One compartment with absorption: after a dose D at zero, D ka / (V (ka - ke)) (exp(-ke t) - exp(-ka t)) (Rowland and Tozer,
        // Clinical Pharmacokinetics, 4th ed., appendix E); doses add up, since the model is linear.
        const double ka = 0.6,
            ke = 0.0525,
            dose = 200;
        var study = Study(
            $"G -> C at {ka}; C -> at {ke}; G(0) = 0; C(0) = 0; {dose} into G every 12 hours for 7 days, first dose doubled",
            200
        );
        var lowered = Lowering.Lower(study);
        var times = Enumerable.Range(0, 200).Select(k => k + 0.25).Prepend(0).ToArray();
        var run = Engines.Run(
            new(lowered.Compiled, lowered.Network.ValueVector(), times)
            {
                Settings = SolverSettings.Default with { RelativeTolerance = 1e-10, AbsoluteTolerance = 1e-11 },
            }
        );
        for (var row = 1; row < times.Length; row++)
        {
            var expected = Enumerable
                .Range(0, 14)
                .Where(k => 12 * k <= times[row])
                .Sum(k =>
                    (k == 0 ? 2 : 1)
                    * dose
                    * ka
                    / (ka - ke)
                    * (Math.Exp(-ke * (times[row] - 12 * k)) - Math.Exp(-ka * (times[row] - 12 * k)))
                );
            // Ten digits are asked for; steps may lose two of them over 200 hours.
            Assert.Equal(expected, run.Amount(row, 1), 1e-8 * Math.Max(1, expected));
        }
    }

    [Theory]
    [InlineData("200 into", "into")]
    [InlineData("200 into Q", "Q")]
    [InlineData("200 into G for 7 days", "how often")]
    [InlineData("200 into G at 3 every 12", "from")]
    [InlineData("200 into G every 12 for 3 days until 40", "already")]
    [InlineData("200 into G every 12 every 6", "twice")]
    [InlineData("200 into G every 12 2.5 times", "whole number")]
    [InlineData("200 into G every 0", "above zero")]
    [InlineData("200 into G every 12 for 0 days", "above zero")]
    [InlineData("-200 into G", "above zero")]
    [InlineData("0 into G", "above zero")]
    [InlineData("200 into G over 0 hours", "above zero")]
    [InlineData("200 into G daily", "every 12 hours")]
    [InlineData("200 into G every 12 hours 2 times first doubled", "first dose")]
    [InlineData("200 into G first dose doubled", "how often")]
    [InlineData("200 into tau", "compartment")]
    public void What_cannot_be_meant_is_said(string line, string said)
    {
        var study = Studies.Of("G(0) = 0; tau = 12", 100);
        study = study with { Events = [new("x1", "", line)] };
        var findings = Lowering.Lower(study).Findings;
        Assert.Contains(findings, finding => finding.Severity == Severity.Unfinished && finding.Message.Contains(said));
    }

    [Theory]
    [InlineData("200 mg into G", "G is in g, and the formula is in mg")]
    [InlineData("1 g into G every 12 hours, first dose 500 mg", "G is in g, and the formula is in mg")]
    [InlineData("at 3: G -> : 20 mg", "G is in g, and the formula is in mg")]
    [InlineData("3 L into G", "G is in g, and the formula is in L")]
    [InlineData("at 5: k = 2 per day", "")]
    [InlineData("at 5: k = 2 g", "k is in 1/day, and the formula is in g")]
    [InlineData("2 g into G", "")]
    [InlineData("2 into G", "")]
    public void What_is_given_has_the_unit_of_where_it_goes(string line, string said)
    {
        var lowered = Lowering.Lower(Studies.Of($"G(0) = 1 g; G -> at k; k = 0.1 per day; {line}", 10));
        var doubts = lowered.Findings.Where(finding =>
            finding.Severity == Severity.Doubt && finding.PartId == lowered.Document.Events[0].Id
        );
        if (said.Length == 0)
            Assert.Empty(doubts);
        else
            Assert.Contains(doubts, finding => finding.Message.Contains(said));
    }

    [Fact]
    public void Infusions_that_overlap_are_told_and_add_up()
    {
        var lowered = Lowering.Lower(Study("G(0) = 0; 60 into G every 2 hours over 3 hours 2 times", 10));
        Assert.Contains(lowered.Findings, finding => finding.Message.Contains("add up"));
        var run = StudyRun.Of(lowered.Document).Run!;
        Assert.Equal(120, run.Amount(run.Times.Count - 1, 0), 1e-9);
    }

    [Fact]
    public void A_line_of_doses_is_an_event_and_a_name_in_it_can_change()
    {
        Assert.True(EventLine.Begins("dose * weight into gut every 12 hours"));
        Assert.False(EventLine.Begins("S -> I : into x"));
        Assert.False(EventLine.Begins("into = 3"));
        var study = Studies.Of("G(0) = 0; A = 100; A into G every A / 10, first dose doubled", 50);
        Assert.Single(study.Events);
        var renamed = new Core.Editing.SetField(study.DefinitionBySymbol("A")!.Id, PartField.Symbol, "amount").Apply(study).Document!;
        Assert.Equal("amount into G every amount / 10, first dose doubled", renamed.Events[0].Text);
    }
}
