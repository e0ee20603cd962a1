using ClearTide.Core.Data;
using ClearTide.Core.Inference;
using ClearTide.Core.Model;
using MathNet.Numerics.Distributions;

namespace ClearTide.Core.Tests.Inference;

/// <summary>What a fit tells of subjects besides their estimates: where each has a mean of its own and errors are known, all of it is in
/// closed form.</summary>
public class SubjectDetailTests
{
    // Below zero, where an expectation is uncertain by so much either way and not by a factor.
    private static readonly (string Name, double[] Values)[] People =
    [
        ("Asta", [-10, -12, -11, -13, -12.5]),
        ("Bram", [-20, -22, -19, -21, -24]),
    ];

    private const double Error = 2;

    private static Series Levels() =>
        new(
            new("o", "d", "Level", "", "1")
            {
                Seen = ObservedAs.Standing,
                Formula = "y",
                Law = ErrorLaw.Normal,
            },
            new(
                "d",
                "levels",
                [
                    .. Enumerable
                        .Range(0, 5)
                        .SelectMany(k =>
                            People.Select(one => new DataRow(k + 1, k + 1, one.Values[k]) { Subject = one.Name, Error = Error })
                        ),
                ]
            )
        );

    private static FitResult Fit() =>
        Fitter.Run(
            Studies.Of("m = -15; y = m + 0 * t", 20) with
            {
                Fit = new(ErrorLaw.Normal, [new("m", -1e6, 1e6) { Own = true }]),
            },
            [Levels()]
        );

    [Fact]
    public void Own_values_have_intervals_by_profile()
    {
        foreach (var (one, person) in Fit().Detail!.Subjects.Zip(People))
        {
            var mean = person.Values.Average();
            Assert.Equal(person.Name, one.Subject);
            Assert.Equal(mean, one.Values[0], 1e-7);
            // The likelihood is normal in a mean, so that its profile falls by the limit at the same number of standard errors either way;
            // ends are found to some ten-thousandths of the fall.
            var half = Math.Sqrt(2 * ProfileInterval.Fall) * Error / Math.Sqrt(5);
            Assert.Equal(mean - half, one.Ends[0].Low!.Value, 1e-3);
            Assert.Equal(mean + half, one.Ends[0].High!.Value, 1e-3);
        }
    }

    [Fact]
    public void The_next_sample_of_each_subject_narrows_its_own_value()
    {
        var next = Fit().Detail!.Next;
        Assert.Equal(["Asta", "Bram"], next.Select(one => one.Subject).Order());
        Assert.All(next, one =>
        {
            Assert.Equal(one.Subject, one.OwnOf);
            Assert.True(one.Start > 5);
            // Five rows of one error, then six.
            Assert.Equal(Normal.InvCDF(0, 1, 0.975) * Error / Math.Sqrt(5), one.Before, 1e-6);
            Assert.Equal(Normal.InvCDF(0, 1, 0.975) * Error / Math.Sqrt(6), one.After, 1e-6);
        });
    }

    [Fact]
    public void The_last_row_of_each_subject_is_forecast_from_its_others()
    {
        var score = Fit().Detail!.Forecast!;
        Assert.Equal((2, 2, 5.0), (score.Subjects, score.Rows, score.From));
        // A new row is normal around the mean of the four before, with the error of the row and that of the mean.
        var deviation = Error * Math.Sqrt(1 + 1.0 / 4);
        var log = People.Sum(one => Normal.PDFLn(one.Values[..4].Average(), deviation, one.Values[4]));
        // Five nodes of Gauss and Hermite give this integral to four digits.
        Assert.Equal(log, score.LogScore, 1e-3);
        var inside = People.Count(one => Math.Abs(one.Values[4] - one.Values[..4].Average()) < Normal.InvCDF(0, 1, 0.75) * deviation);
        Assert.Equal(inside, score.Within50);
    }
}
