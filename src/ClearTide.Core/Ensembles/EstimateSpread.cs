using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Sampling;
using MathNet.Numerics.Distributions;
using MathNet.Numerics.LinearAlgebra;

namespace ClearTide.Core.Ensembles;

/// <summary>One estimated value in the coordinate that it was searched in.</summary>
/// <param name="Address">Of the value.</param>
/// <param name="Centre">The estimate: its logarithm where <paramref name="OnLog"/>.</param>
/// <param name="OnLog">Whether the coordinate is the logarithm.</param>
/// <param name="Lower">The bounds of the fit, in that coordinate.</param>
/// <param name="Upper">See <paramref name="Lower"/>.</param>
public sealed record UncertainValue(ValueAddress Address, double Centre, bool OnLog, double Lower, double Upper);

/// <summary>
/// What a fit left uncertain: its own draws of what the data leave of the values; without them the normal law of its estimates in the
/// coordinates they were searched in: their large-sample law by the
/// expected information (Davison, Statistical Models, 2003, section 4.4). Draws outside the bounds of the fit are drawn again.
/// </summary>
/// <param name="Values">What is drawn, together.</param>
/// <param name="Root">The lower Cholesky factor of their covariance, row by row.</param>
public sealed record EstimateSpread(IReadOnlyList<UncertainValue> Values, IReadOnlyList<double> Root)
{
    private const int MostTries = 1000;

    /// <summary>Draws that the fit has made along what the data leave, one of which stands for each replicate; empty where the normal
    /// law is
    /// drawn from. In the order of <see cref="Values"/>.</summary>
    public IReadOnlyList<IReadOnlyList<double>> Draws { get; init; } = [];

    /// <summary>The spread of a fit; null where it made no draws and the data leave directions open, of which the normal law knows
    /// nothing.</summary>
    /// <param name="fit">The fit that was found.</param>
    /// <param name="setup">What was asked of the fit.</param>
    public static EstimateSpread? Of(FitResult fit, FitSetup setup)
    {
        if (fit.Detail is { Draws: { IsDefaultOrEmpty: false } draws })
            return new([.. fit.Estimates.Select(one => new UncertainValue(one.Address, one.Value, false, one.Value, one.Value))], [])
            {
                Draws = [.. draws.Select(draw => (IReadOnlyList<double>)draw)],
            };
        if (fit.Correlations is not { } correlations || fit.Combinations.Length > 0)
            return null;
        var count = fit.Estimates.Length;
        var values = new List<UncertainValue>(count);
        var errors = new double[count];
        for (var j = 0; j < count; j++)
        {
            var estimate = fit.Estimates[j];
            if (setup.Parameters.FirstOrDefault(one => one.Address == estimate.Address) is not { } asked || !(estimate.StandardError > 0))
                return null;
            var onLog = asked.Lower >= 0;
            errors[j] = onLog ? estimate.StandardError / estimate.Value : estimate.StandardError;
            double Coordinate(double value) => onLog ? Math.Log(value) : value;
            values.Add(
                new(
                    estimate.Address,
                    Coordinate(estimate.Value),
                    onLog,
                    Math.Max(Coordinate(asked.Lower), double.MinValue),
                    Coordinate(asked.Upper)
                )
            );
        }
        var covariance = Matrix<double>.Build.Dense(count, count, (i, j) => errors[i] * errors[j] * correlations[i * count + j]);
        if (!covariance.Enumerate().All(double.IsFinite))
            return null;
        try
        {
            return new(values, covariance.Cholesky().Factor.ToRowMajorArray());
        }
        catch (ArgumentException)
        {
            // Not positive definite: the data tell some of them only together.
            return null;
        }
    }

    /// <summary>One draw, the same for the same seed and replicate.</summary>
    /// <param name="seed">The seed of the study.</param>
    /// <param name="replicate">Counted from 0.</param>
    /// <returns>Values in the model's units, in the order of <see cref="Values"/>.</returns>
    public double[] Draw(long seed, int replicate)
    {
        var (stream, count) = (new RandomStream(seed, replicate, "estimates", "fit"), Values.Count);
        if (Draws.Count > 0)
            return [.. Draws[(int)(stream.NextUniform() * Draws.Count)]];
        var (standard, drawn) = (new double[count], new double[count]);
        for (var attempt = 0; attempt < MostTries; attempt++)
        {
            for (var j = 0; j < count; j++)
                standard[j] = Normal.InvCDF(0, 1, stream.NextUniform() + 1e-17);
            var inside = true;
            for (var j = 0; j < count && inside; j++)
            {
                var at = Values[j].Centre;
                for (var k = 0; k <= j; k++)
                    at += Root[j * count + k] * standard[k];
                inside = at >= Values[j].Lower && at <= Values[j].Upper;
                drawn[j] = Values[j].OnLog ? Math.Exp(at) : at;
            }
            if (inside)
                return drawn;
        }
        // Bounds so narrow that hardly anything lies between them leave the estimates.
        return [.. Values.Select(value => value.OnLog ? Math.Exp(value.Centre) : value.Centre)];
    }
}
