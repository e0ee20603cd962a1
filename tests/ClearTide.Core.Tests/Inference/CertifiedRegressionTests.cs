using ClearTide.Core.Data;
using ClearTide.Core.Inference;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Inference;

/// <summary>
/// Curves without compartments against certified values: the Statistical Reference Datasets for nonlinear regression of the National
/// Institute of Standards and Technology (Misra1a and DanWood, from the second of their starts).
/// </summary>
public class CertifiedRegressionTests
{
    private static readonly (double X, double Y)[] Misra1a =
    [
        (77.6, 10.07),
        (114.9, 14.73),
        (141.1, 17.94),
        (190.8, 23.93),
        (239.9, 29.61),
        (289.0, 35.18),
        (332.8, 40.02),
        (378.4, 44.82),
        (434.8, 50.76),
        (477.3, 55.05),
        (536.8, 61.01),
        (593.1, 66.40),
        (689.1, 75.47),
        (760.0, 81.78),
    ];

    private static readonly (double X, double Y)[] DanWood =
    [
        (1.309, 2.138),
        (1.471, 3.421),
        (1.490, 3.597),
        (1.565, 4.340),
        (1.611, 4.882),
        (1.680, 5.660),
    ];

    /// <param name="certified">Address, value, standard deviation.</param>
    private static void Agrees(
        string lines,
        (double X, double Y)[] data,
        double residuals,
        FitParameter[] parameters,
        params (string Address, double Value, double Deviation)[] certified
    )
    {
        var document = Studies.Of(lines, 1000) with { Fit = new(ErrorLaw.Poisson, [.. parameters]) };
        Series series = new(
            new("o", "d", "y", "", "1") { Seen = ObservedAs.Standing, Formula = "y" },
            new("d", "table", [.. data.Select(row => new DataRow(row.X, row.X, row.Y))])
        );
        var result = Fitter.Run(document, [series]);
        double n = data.Length,
            free = n - parameters.Length;
        // The certified figure is the sum of squares; the law's own spread is its mean, without the degrees of freedom that fitting took.
        Assert.Equal(residuals, n * Math.Pow(result.Spreads[0]!.Value.Main, 2), 1e-9 * residuals);
        foreach (var (address, value, deviation) in certified)
        {
            var estimate = result.Estimates.Single(one => one.Address == address);
            // Nine digits of estimates and eight of deviations: they are certified to eleven.
            Assert.Equal(value, estimate.Value, 1e-9 * Math.Abs(value));
            Assert.Equal(deviation, estimate.StandardError * Math.Sqrt(n / free), 1e-8 * deviation);
        }
    }

    [Fact]
    public void Misra1a_has_its_certified_values() =>
        Agrees(
            "b1 = 250; b2 = 0.0005; y = b1 * (1 - exp(-b2 * t))",
            Misra1a,
            1.2455138894E-01,
            [new("b1", 1, 1e5), new("b2", 1e-6, 1)],
            ("b1", 2.3894212918E+02, 2.7070075241E+00),
            ("b2", 5.5015643181E-04, 7.2668688436E-06)
        );

    [Fact]
    public void DanWood_has_its_certified_values() =>
        Agrees(
            "b1 = 0.7; b2 = 4; y = b1 * t^b2",
            DanWood,
            4.3173084083E-03,
            [new("b1", 0.001, 100), new("b2", 0.01, 20)],
            ("b1", 7.6886226176E-01, 1.8281973860E-02),
            ("b2", 3.8604055871E+00, 5.1726610913E-02)
        );
}
