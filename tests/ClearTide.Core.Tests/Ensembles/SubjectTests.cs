using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Sampling;
using MathNet.Numerics.Distributions;

namespace ClearTide.Core.Tests.Ensembles;

/// <summary>Subjects: drawn values against their laws, exposures against closed forms, plans side by side.</summary>
public class SubjectTests
{
    private const int Many = 4000;

    private static StudyDocument Study(string doses, double end = 168) =>
        Studies.Of(
            $"G -> C at ka; C -> at CL / V; G(0) = 0; C(0) = 0; ka = 0.6; CL = 3.15; V = 60; F = 0.8; weight = 70; conc = C / V; {doses}",
            end
        ) with
        {
            TimeUnit = TimeUnit.Hour,
        };

    private static double[][] Draw(SubjectGroup group, StudyDocument? study = null)
    {
        var lowered = Lowering.Lower(study ?? Study(""));
        var draws = new SubjectDraws(lowered, group, lowered.Network.ValueVector());
        return [.. Enumerable.Range(1, Many).Select(draws.Own)];
    }

    // A mean of n lies within 4.5 standard errors but for 7 in a million: no test of these fails by chance with a fixed seed that passed.
    private static void MeanIs(double expected, double deviation, IEnumerable<double> values) =>
        Assert.Equal(expected, values.Average(), 4.5 * deviation / Math.Sqrt(Many));

    [Fact]
    public void Drawn_values_have_the_moments_and_correlations_of_their_laws()
    {
        var drawn = Draw(
            new(
                Many,
                [
                    new("CL", VariationLaw.LogNormal, 0.24),
                    new("V", VariationLaw.LogNormal, 0.15),
                    new("weight", VariationLaw.Normal, 13),
                    new("F", VariationLaw.LogitNormal, 0.5),
                    new("ka", VariationLaw.Uniform, 0) { Low = 0.2, High = 1 },
                ],
                [new("CL", "V", 0.45), new("weight", "V", -0.3)]
            )
        );
        var deviation = Math.Sqrt(Math.Log(1 + 0.24 * 0.24));
        MeanIs(Math.Log(3.15), deviation, drawn.Select(one => Math.Log(one[0])));
        // The mean square of a normal number has a standard deviation of √2.
        MeanIs(1, Math.Sqrt(2), drawn.Select(one => Math.Pow((Math.Log(one[0]) - Math.Log(3.15)) / deviation, 2)));
        MeanIs(70, 13, drawn.Select(one => one[2]));
        MeanIs(Math.Log(4), 0.5, drawn.Select(one => Math.Log(one[3] / (1 - one[3]))));
        MeanIs(0.6, 0.8 / Math.Sqrt(12), drawn.Select(one => one[4]));
        Assert.All(drawn, one => Assert.InRange(one[4], 0.2, 1));
        double Correlation(int a, int b, Func<double, double> of) =>
            MathNet.Numerics.Statistics.Correlation.Pearson(
                drawn.Select(one => of(one[a])),
                drawn.Select(one => b == 2 ? one[b] : of(one[b]))
            );
        // By Fisher's transform a correlation of n is known to 1/√n on its own scale.
        Assert.Equal(Math.Atanh(0.45), Math.Atanh(Correlation(0, 1, Math.Log)), 4.5 / Math.Sqrt(Many));
        Assert.Equal(Math.Atanh(-0.3), Math.Atanh(Correlation(1, 2, Math.Log)), 4.5 / Math.Sqrt(Many));
        Assert.Equal(0, Math.Atanh(Correlation(0, 2, Math.Log)), 4.5 / Math.Sqrt(Many));
    }

    [Fact]
    public void Limits_cut_a_law_off_and_do_not_heap_it_up()
    {
        var drawn = Draw(new(Many, [new("weight", VariationLaw.Normal, 13) { Low = 60, High = 75 }], [])).Select(one => one[0]).ToList();
        Assert.All(drawn, value => Assert.InRange(value, 60, 75));
        // The mean of a normal law cut off at a and b (Johnson, Kotz and Balakrishnan, Continuous Univariate Distributions 1, 13.10.1).
        var (a, b) = ((60 - 70) / 13.0, (75 - 70) / 13.0);
        var mass = Normal.CDF(0, 1, b) - Normal.CDF(0, 1, a);
        var shift = (Normal.PDF(0, 1, a) - Normal.PDF(0, 1, b)) / mass;
        var variance = 1 + (a * Normal.PDF(0, 1, a) - b * Normal.PDF(0, 1, b)) / mass - shift * shift;
        MeanIs(70 + 13 * shift, 13 * Math.Sqrt(variance), drawn);
    }

    [Fact]
    public void A_subject_is_the_same_alone_and_among_others_and_whatever_else_varies()
    {
        var lowered = Lowering.Lower(Study(""));
        var values = lowered.Network.ValueVector();
        var alone = new SubjectDraws(lowered, new(10, [new("CL", VariationLaw.LogNormal, 0.24)], []), values);
        var beside = new SubjectDraws(
            lowered,
            new(99, [new("CL", VariationLaw.LogNormal, 0.24), new("V", VariationLaw.Normal, 5)], []),
            values
        );
        Assert.Equal(alone.Own(7)[0], beside.Own(7)[0]);
        Assert.NotEqual(alone.Own(7)[0], alone.Own(8)[0]);
    }

    [Theory]
    [InlineData("gone", 0.2, 0, 0, "no value")]
    [InlineData("CL", 0.2, 5, 2, "limits of CL cross")]
    [InlineData("CL", 12, 0, 0, "leaves nothing typical")]
    [InlineData("CL", -1, 0, 0, "from zero on")]
    [InlineData("CL", 0.1, 100, 101, "next to nothing")]
    [InlineData("G.start", 0.2, 0, 0, "above zero")]
    public void What_cannot_be_drawn_is_refused_in_words(string address, double spread, double low, double high, string said)
    {
        var value = new VaryingValue(address, VariationLaw.LogNormal, spread);
        if (high > 0)
            value = value with { Low = low, High = high };
        Assert.Contains(said, new SetSubjects(new(10, [value], [])).Apply(Study("")).Refusal);
    }

    [Fact]
    public void Correlations_that_cannot_hold_are_refused_and_the_nearest_are_offered()
    {
        // Of the textbook example of Higham (2002, section 1): ones in a band, whose nearest correlation matrix has 0.7607 and 0.1573.
        var group = new SubjectGroup(
            10,
            [new("CL", VariationLaw.LogNormal, 0.2), new("V", VariationLaw.LogNormal, 0.2), new("ka", VariationLaw.LogNormal, 0.2)],
            [new("CL", "V", 0.9), new("V", "ka", 0.9), new("CL", "ka", -0.9)]
        );
        Assert.Contains("cannot all hold", new SetSubjects(group).Apply(Study("")).Refusal);
        var nearest = NearestCorrelations.Of(group);
        Assert.NotNull(new SetSubjects(nearest).Apply(Study("")).Document);
        var higham = CorrelationMatrix.Nearest(
            new double[,]
            {
                { 1, 1, 0 },
                { 1, 1, 1 },
                { 0, 1, 1 },
            }
        );
        Assert.Equal(0.7607, higham[0, 1], 1e-4);
        Assert.Equal(0.1573, higham[0, 2], 1e-4);
    }

    [Fact]
    public void Exposures_of_the_last_interval_follow_superposition()
    {
        var study = Study("200 into G every 12 hours for 7 days, first dose doubled") with
        {
            Solver = SolverChoice.Usual with { Tolerance = 1e-10 },
        };
        var group = new SubjectGroup(3, [new("CL", VariationLaw.LogNormal, 0.3)], []) { TargetLow = 3.4, TargetHigh = 4.4 };
        var runs = SubjectRuns.Of(Lowering.Lower(study), group, study.DefinitionBySymbol("conc")!.Id, 3);
        Assert.Equal((156, 168), (runs.Window.From, runs.Window.Until));
        for (var who = 0; who < 3; who++)
        {
            var (ka, ke) = (0.6, runs.Own[who][0] / 60);
            double Level(double t) =>
                Enumerable
                    .Range(0, 14)
                    .Where(k => 12 * k < t)
                    .Sum(k =>
                        (k == 0 ? 2 : 1) * 200 * ka / (60 * (ka - ke)) * (Math.Exp(-ke * (t - 12 * k)) - Math.Exp(-ka * (t - 12 * k)))
                    );
            // The area by the integrals of the exponentials.
            double Area(double t) =>
                Enumerable
                    .Range(0, 14)
                    .Where(k => 12 * k < t)
                    .Sum(k =>
                        (k == 0 ? 2 : 1)
                        * 200
                        * ka
                        / (60 * (ka - ke))
                        * ((1 - Math.Exp(-ke * (t - 12 * k))) / ke - (1 - Math.Exp(-ka * (t - 12 * k))) / ka)
                    );
            var exposure = runs.Plans[0].Exposures[who]!.Value;
            var (peak, at) = Peak(Level, 156, 168);
            // Ten digits are asked for, of amounts of several hundred: eight of the maximum stand.
            Assert.Equal(peak, exposure.Maximum, 1e-8 * peak);
            Assert.Equal(at - 156, exposure.MaximumTime, 1e-4);
            Assert.Equal(Level(168), exposure.Trough, 1e-8 * peak);
            Assert.Equal(Area(168) - Area(156), exposure.Area, 1e-7);
            Assert.Equal((Area(168) - Area(156)) / 12, exposure.Average, 1e-7);
            var inside = Enumerable.Range(0, 120_000).Count(k => Level(156 + (k + 0.5) / 10_000) is >= 3.4 and <= 4.4) / 10_000.0;
            // Counted on a grid of a ten-thousandth of an hour, at four crossings.
            Assert.Equal(inside, exposure.Inside, 5e-4);
        }
    }

    private static (double Value, double Time) Peak(Func<double, double> of, double low, double high)
    {
        for (var round = 0; round < 200; round++)
        {
            var (a, b) = (low + (high - low) / 3, high - (high - low) / 3);
            if (of(a) < of(b))
                low = a;
            else
                high = b;
        }
        return (of(low), low);
    }

    [Fact]
    public void A_line_of_doses_in_a_scenario_takes_the_place_of_the_models()
    {
        var study = new AddScenario("By weight").Apply(Study("200 into G every 12 hours 4 times", 48)).Document!;
        study = new AddMeasureLine(study.Scenarios[0].Id, "3 * weight into G every 12 hours 4 times").Apply(study).Document!;
        var lowered = Lowering.Lower(study);
        var group = new SubjectGroup(4, [new("weight", VariationLaw.Normal, 13) { Low = 45, High = 115 }], []);
        var runs = SubjectRuns.Of(lowered, group, study.CompartmentBySymbol("C")!.Id, 4);
        Assert.Equal(["Model", "By weight"], runs.Plans.Select(plan => plan.Name));
        for (var who = 0; who < 4; who++)
        {
            // The model is linear in the dose, so that the curve goes with it; weight is in nothing else.
            var ratio = 3 * runs.Own[who][0] / 200;
            for (var row = 0; row < runs.Times.Length; row++)
                Assert.Equal(ratio * runs.Plans[0].Curves[who][row], runs.Plans[1].Curves[who][row], 1e-3);
        }
        // From a time on, what was given before stays.
        var later = ScenarioModel.Of(lowered, study.Scenarios[0], 24);
        var run = Core.Simulation.Engines.Run(
            new(later.Lowered.Compiled, later.Parameters(lowered.Network, lowered.Network.ValueVector()), [0, 48]) { Plan = later.Plan }
        );
        Assert.Equal([0.0, 12, 24, 36], run.Acts.Select(act => act.Time));
        Assert.Equal(2, run.Acts.Count(act => act.PartId == study.Scenarios[0].Rules[0].Id));
    }

    [Theory]
    [InlineData("200 into G every 12 hours for 7 days, first dose doubled")]
    [InlineData("3 * weight into G every 12 hours; at 30: C = C / 2; at 30: -> C : 10")]
    [InlineData("200 into G every 12 hours over 2 hours")]
    [InlineData("200 into G every 4 * F")]
    public void Subjects_in_step_are_what_each_is_alone(string doses)
    {
        var study = Study(doses) with { Solver = SolverChoice.Usual with { Tolerance = 1e-9 } };
        var group = new SubjectGroup(6, [new("CL", VariationLaw.LogNormal, 0.4), new("F", VariationLaw.LogitNormal, 0.5)], []);
        var (lowered, of) = (Lowering.Lower(study), study.CompartmentBySymbol("C")!.Id);
        var together = SubjectRuns.Of(lowered, group, of, 6);
        for (var who = 0; who < 6; who++)
        {
            var values = lowered.Network.ValueVector();
            values[lowered.Network.IndexOf("CL")] = together.Own[who][0];
            values[lowered.Network.IndexOf("F")] = together.Own[who][1];
            var alone = Core.Simulation.Engines.Run(new(lowered.Compiled, values, together.Times) { Settings = study.Solver.Settings });
            // Both hold nine digits of amounts of some hundreds, over 14 doses.
            for (var row = 0; row < together.Times.Length; row++)
                Assert.Equal(alone.Amount(row, 1), together.Plans[0].Curves[who][row], 1e-5);
        }
    }

    [Fact]
    public void The_share_on_target_against_a_dose_is_that_of_the_law()
    {
        // A bolus D leaves D / V exp(-k T) after T: that is L at least where V is D exp(-k T) / L at most, whose share is Φ of the
        // logarithm over its deviation.
        var study = Studies.Of("C -> at 0.1; C(0) = 0; V = 50; D = 100; level = C / V; D into C", 12) with { TimeUnit = TimeUnit.Hour };
        var group = new SubjectGroup(2000, [new("V", VariationLaw.LogNormal, 0.3)], []) { TargetLow = 1 };
        var lowered = Lowering.Lower(study);
        var of = study.DefinitionBySymbol("level")!.Id;
        var found = TargetAttainment.Of(lowered, group, of, "D", 100, 300, 9, 2000);
        for (var k = 0; k < 9; k++)
        {
            var share = Normal.CDF(0, 1, Math.Log(found.Values[k] * Math.Exp(-1.2) / 50) / VaryingValue.DeviationOfLog(0.3));
            // Four and a half standard errors of a share of 2,000, and a subject for where it is next to none.
            Assert.Equal(share, found.Shares[k], 4.5 * Math.Sqrt(share * (1 - share) / 2000) + 5e-4);
        }
        var at = Assert.Single(found.AtLeast(0.5));
        // Half of them are inside from the median on: 50 exp(1.2); steps of 25 are joined by straight lines.
        Assert.Equal(50 * Math.Exp(1.2), at.From, 4.0);
        Assert.Equal(300, at.To);
        Assert.Empty(found.AtLeast(1.1));
        Assert.Contains(
            "no target",
            Assert
                .Throws<ArgumentException>(() => TargetAttainment.Of(lowered, group with { TargetLow = null }, of, "D", 1, 2, 3, 9))
                .Message
        );
        Assert.Contains("cross", Assert.Throws<ArgumentException>(() => TargetAttainment.Of(lowered, group, of, "D", 3, 2, 3, 9)).Message);
        Assert.Contains(
            "no value",
            Assert.Throws<ArgumentException>(() => TargetAttainment.Of(lowered, group, of, "Q", 1, 2, 3, 9)).Message
        );
    }

    [Fact]
    public void The_stretch_of_one_plan_cuts_the_steps_of_another_where_it_begins_and_ends()
    {
        var study = Study("200 into G every 12 hours for 2 days", 48) with { Solver = SolverChoice.Usual with { Tolerance = 1e-10 } };
        study = new AddScenario("Often").Apply(study).Document!;
        study = new AddMeasureLine(study.Scenarios[0].Id, "70 into G every 7 hours from 1").Apply(study).Document!;
        var runs = SubjectRuns.Of(Lowering.Lower(study), SubjectGroup.None, study.DefinitionBySymbol("conc")!.Id, 1);
        Assert.Equal((36, 48), (runs.Window.From, runs.Window.Until));
        const double ka = 0.6,
            ke = 3.15 / 60;
        double Area(double t) =>
            Enumerable
                .Range(0, 7)
                .Select(k => t - 1 - 7 * k)
                .Where(since => since > 0)
                .Sum(since => 70 * ka / (60 * (ka - ke)) * ((1 - Math.Exp(-ke * since)) / ke - (1 - Math.Exp(-ka * since)) / ka));
        // The continuous output of a step is of order four: at this tolerance seven digits stand.
        Assert.Equal(Area(48) - Area(36), runs.Plans[1].Exposures[0]!.Value.Area, 1e-6);
        Assert.Equal(12, runs.Plans[1].Exposures[0]!.Value.Length, 1e-9);
    }

    [Fact]
    public void A_summary_is_geometric_where_it_can_be()
    {
        var summary = ExposureSummary.Of([1, 10, 100]);
        Assert.Equal(10, summary.Mean, 1e-12);
        // ln 10 twice about the middle: the variance of the logs is its square.
        Assert.Equal(Math.Sqrt(Math.Exp(Math.Pow(Math.Log(10), 2)) - 1), summary.Variation, 1e-9);
        Assert.Equal(5, ExposureSummary.Of([0, 5, 10]).Mean, 1e-12);
    }

    [Fact]
    public void Levels_accumulate_as_the_sum_of_what_each_dose_leaves()
    {
        // By vein every 12 hours: the area within the n-th interval is that of the first times (1 − e^(−nkτ)) / (1 − e^(−kτ)).
        var study = Studies.Of("C -> at k; C(0) = 0; k = 0.05; 100 into C every 12 from 0", 96) with { TimeUnit = TimeUnit.Hour };
        var runs = SubjectRuns.Of(Lowering.Lower(study), SubjectGroup.None, study.CompartmentBySymbol("C")!.Id, 1);
        var exposure = runs.Plans[0].Exposures[0]!.Value;
        var kept = Math.Exp(-0.05 * 12);
        // Eight intervals end by 96; the solver's tolerance of 1e-8 leaves seven digits of an area.
        Assert.Equal((1 - Math.Pow(kept, 8)) / (1 - kept), exposure.Accumulation, 1e-6);
        Assert.Equal(100 / 0.05 * (1 - kept), exposure.FirstArea, 1e-4);
    }
}
