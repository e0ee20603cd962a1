using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Inference;

/// <summary>Rows of several subjects on one model: what is expected of each against closed forms, and fits of what they share and of what
/// each has of its own.</summary>
public class SubjectFitTests
{
    private const double Ka = 0.8;

    // One compartment by mouth: what a dose D at zero leaves after t (Rowland and Tozer, Clinical Pharmacokinetics, 4th ed., appendix E).
    private static double ByMouth(double dose, double ke, double volume, double t) =>
        t <= 0 ? 0 : dose * Ka / (volume * (Ka - ke)) * (Math.Exp(-ke * t) - Math.Exp(-Ka * t));

    // An infusion of an amount over T into one compartment (the same, appendix D).
    private static double Infused(double amount, double over, double k, double t) =>
        t <= 0 ? 0
        : t <= over ? amount / over / k * (1 - Math.Exp(-k * t))
        : amount / over / k * (1 - Math.Exp(-k * over)) * Math.Exp(-k * (t - over));

    private static StudyDocument Model(string more = "") =>
        Studies.Of(
            $"G -> C at ka; C -> at CL / V; G(0) = 0; C(0) = 0; ka = {Ka}; CL = 3; V = V70 * weight / 70; V70 = 40; weight = 70; {more}",
            60
        ) with
        {
            TimeUnit = TimeUnit.Hour,
        };

    private static readonly (string Name, double Weight, double[] Doses)[] People =
    [
        ("1", 55, [200, 200]),
        ("2", 70, [200, 150]),
        ("3", 92, [400, 100]),
    ];

    private static readonly double[] Times = [0, 0.5, 1, 2, 4, 8, 12, 13, 16, 24, 36];

    private static double Expected((string Name, double Weight, double[] Doses) one, double cl, double v70, double t)
    {
        var volume = v70 * one.Weight / 70;
        return ByMouth(one.Doses[0], cl / volume, volume, t) + ByMouth(one.Doses[1], cl / volume, volume, t - 12);
    }

    private static Series Data(StudyDocument document, Func<int, double, double> value, ErrorLaw law = ErrorLaw.Normal)
    {
        var rows = People.Index().SelectMany(one => Times.Select(t => new DataRow(t, t, value(one.Index, t)) { Subject = one.Item.Name }));
        var data = new DataSet("d", "levels", [.. rows.OrderBy(row => row.End)])
        {
            Subjects =
            [
                .. People.Select(one => new Subject(one.Name)
                {
                    Doses = [new(0, one.Doses[0]), new(12, one.Doses[1])],
                    Covariates = new Dictionary<string, double> { ["weight"] = one.Weight },
                }),
            ],
        };
        var seen = new Observation("o", "d", "Level", "", "1")
        {
            Seen = ObservedAs.Standing,
            Formula = "C / V",
            Law = law,
            DosesInto = document.CompartmentBySymbol("G")!.Id,
        };
        return new(seen, data);
    }

    [Fact]
    public void Each_subject_is_expected_what_its_own_doses_and_weight_say()
    {
        // The doses of the model itself do not count where the table says what was given.
        var document = Model("500 into G every 6 hours");
        var series = Data(document, (_, _) => 1);
        var mean = new ObservedModel(Lowering.Lower(document), [series], []).Predict([]).Mean;
        for (var k = 0; k < mean.Length; k++)
        {
            var row = series.Data.Rows[k];
            // Twelve hours is the trough: the row was seen before the second dose. The solver holds 1e-9 of amounts near 400.
            Assert.Equal(Expected(People.First(one => one.Name == row.Subject), 3, 40, row.End), mean[k], 1e-7);
        }
    }

    [Fact]
    public void Doses_of_one_subject_may_go_into_different_compartments()
    {
        var document = Model();
        var series = Data(document, (_, _) => 1);
        var blood = document.CompartmentBySymbol("C")!.Id;
        var people = series.Data.Subjects.Select(one =>
            one with
            {
                Doses = [new(0, 200), new(2, 90) { Into = blood }, new(4, 60, 3) { Into = blood }, new(12, 100)],
            }
        );
        series = series with { Data = series.Data with { Subjects = [.. people] } };
        var mean = new ObservedModel(Lowering.Lower(document), [series], []).Predict([]).Mean;
        for (var k = 0; k < mean.Length; k++)
        {
            var row = series.Data.Rows[k];
            var weight = People.First(one => one.Name == row.Subject).Weight;
            var (volume, t) = (40 * weight / 70, row.End);
            var ke = 3 / volume;
            // Each by itself and added, since the model is linear.
            var expected =
                ByMouth(200, ke, volume, t)
                + ByMouth(100, ke, volume, t - 12)
                + (t > 2 ? 90 / volume * Math.Exp(-ke * (t - 2)) : 0)
                + Infused(60, 3, ke, t - 4) / volume;
            Assert.Equal(expected, mean[k], 1e-7);
        }
    }

    [Fact]
    public void Slopes_go_through_doses_exactly()
    {
        foreach (var document in new[] { Model(), Model("at 20: C -> : C / 2") })
        {
            var model = new ObservedModel(Lowering.Lower(document), [Data(document, (_, _) => 1)], ["CL", "V70"]);
            double[] at = [3, 40];
            var found = model.Predict(at);
            for (var j = 0; j < 2; j++)
            {
                double[] Shifted(double by) => model.Predict([at[0] + (j == 0 ? by : 0), at[1] + (j == 1 ? by : 0)]).Mean;
                // Differences of order four (Abramowitz and Stegun, 25.3.6): truncation and rounding of the solver are near 1e-8.
                var h = 1e-2 * at[j];
                var (a, b, c, d) = (Shifted(-2 * h), Shifted(-h), Shifted(h), Shifted(2 * h));
                for (var row = 0; row < found.Mean.Length; row++)
                    Assert.Equal((a[row] - 8 * b[row] + 8 * c[row] - d[row]) / (12 * h), found.Gradient[row, j], 1e-6);
            }
        }
    }

    [Fact]
    public void Infusions_of_a_subject_follow_the_closed_form()
    {
        var document = Studies.Of("C -> at k; C(0) = 0; k = 0.2", 40);
        var data = new DataSet("d", "levels", [.. new[] { 1.0, 2, 3, 5, 6, 7, 9, 30 }.Select(t => new DataRow(t, t, 1) { Subject = "1" })])
        {
            Subjects = [new("1") { Doses = [new(0, 100, 2), new(1, 50, 4), new(6, 10)] }],
        };
        var seen = new Observation("o", "d", "Level", "", "1")
        {
            Seen = ObservedAs.Standing,
            Formula = "C",
            DosesInto = document.CompartmentBySymbol("C")!.Id,
        };
        var mean = new ObservedModel(Lowering.Lower(document), [new(seen, data)], []).Predict([]).Mean;
        for (var k = 0; k < mean.Length; k++)
        {
            var t = data.Rows[k].End;
            var expected = Infused(100, 2, 0.2, t) + Infused(50, 4, 0.2, t - 1) + (t > 6 ? 10 * Math.Exp(-0.2 * (t - 6)) : 0);
            Assert.Equal(expected, mean[k], 1e-7);
        }
    }

    [Fact]
    public void What_all_share_and_what_each_has_of_its_own_come_back()
    {
        // Data without error: the estimates are the values that made them, but for the solver's nine digits.
        double[] own = [2, 3, 5];
        var document = Model() with
        {
            Fit = new(ErrorLaw.Poisson, [new("CL", 0.5, 20) { Own = true }, new("V70", 10, 100)]) { Starts = 3 },
        };
        var series = Data(document, (who, t) => Expected(People[who], own[who], 40, t));
        var fit = Fitter.Run(document with { Observations = [series.Observation] }, [series]);
        Assert.Equal("V70", Assert.Single(fit.Estimates).Address.ToString());
        Assert.Equal(40, fit.Estimates[0].Value, 1e-5);
        Assert.Equal(["1", "2", "3"], fit.Detail!.Subjects.Select(one => one.Subject));
        for (var who = 0; who < 3; who++)
            Assert.Equal(own[who], fit.Detail.Subjects[who].Values[0], 1e-6);
        var spread = Assert.Single(SubjectSpread.Of(["CL"], fit.Detail.Subjects));
        Assert.Equal(Math.Cbrt(30), spread.Typical, 1e-5);
        // The logarithms of 2, 3 and 5 have a variance of 0.21082 by hand.
        Assert.Equal(Math.Sqrt(Math.Exp(0.2108225) - 1), spread.Spread, 1e-4);
    }

    [Fact]
    public void What_a_table_says_wrongly_of_subjects_is_refused_in_words()
    {
        var document = Model() with { Fit = new(ErrorLaw.Poisson, [new("weight", 10, 100)]) };
        var series = Data(document, (_, _) => 1);
        string Refusal(StudyDocument study, Series one) =>
            Assert.Throws<FitRefusedException>(() => Fitter.Run(study with { Observations = [one.Observation] }, [one])).Message;
        Assert.Contains("known of each subject", Refusal(document, series));
        var other = document with { Fit = new(ErrorLaw.Poisson, [new("CL", 1, 10)]) };
        Assert.Contains(
            "into which compartment",
            Refusal(other, series with { Observation = series.Observation with { DosesInto = "gone" } })
        );
        Assert.Contains(
            "before the model begins",
            Refusal(other, series with { Data = series.Data with { Subjects = [new("1") { Doses = [new(-3, 100)] }] } })
        );
    }
}
