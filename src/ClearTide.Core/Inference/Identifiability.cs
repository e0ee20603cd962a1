using System.Collections.Immutable;
using System.Globalization;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using MathNet.Numerics.LinearAlgebra;

namespace ClearTide.Core.Inference;

/// <summary>A direction in logarithms along which the likelihood is nearly flat, rounded to whole powers.</summary>
/// <param name="Members">Which values take part.</param>
/// <param name="StandardError">Of the logarithm along the direction.</param>
/// <param name="Direction">Powers, one for each value.</param>
internal sealed record FlatDirection(int[] Members, double StandardError, Vector<double> Direction);

/// <summary>
/// What the data can tell: directions of the expected information in log parameters (singular values of the scaled sensitivities; Raue et
/// al.,
/// Bioinformatics 25, 2009, pp. 1923–1929, for the distinction and for confirming by profiles).
/// </summary>
internal static class Identifiability
{
    /// <summary>A direction is flat when the standard error of the logarithm along it is above this: its 95% interval spans more than a
    /// factor of seven.</summary>
    public const double FlatStandardError = 0.5;

    /// <summary>A value takes part in a direction when its share of it is at least this much of the largest share.</summary>
    public const double Participation = 0.3;

    /// <param name="information">Expected information on the search scale.</param>
    /// <param name="onLogScale">For each value whether it is searched by its logarithm.</param>
    public static IReadOnlyList<FlatDirection> FlatDirections(Matrix<double> information, bool[] onLogScale)
    {
        var logs = Enumerable.Range(0, onLogScale.Length).Where(j => onLogScale[j]).ToArray();
        if (logs.Length == 0)
            return [];
        var matrix = Matrix<double>.Build.Dense(logs.Length, logs.Length, (a, b) => information[logs[a], logs[b]]);
        var evd = matrix.Evd(Symmetricity.Symmetric);
        var flat = new List<FlatDirection>();
        for (var d = 0; d < logs.Length; d++)
        {
            var value = evd.EigenValues[d].Real;
            var error = value > 0 ? 1 / Math.Sqrt(value) : double.PositiveInfinity;
            if (error <= FlatStandardError)
                continue;
            var vector = evd.EigenVectors.Column(d);
            var most = vector.AbsoluteMaximum();
            var members = Enumerable
                .Range(0, logs.Length)
                .Where(a => Math.Abs(vector[a]) >= Participation * most)
                .Select(a => logs[a])
                .ToArray();
            var full = Vector<double>.Build.Dense(onLogScale.Length);
            for (var a = 0; a < logs.Length; a++)
                full[logs[a]] = vector[a];
            flat.Add(new(members, error, full));
        }
        return flat;
    }

    /// <summary>
    /// The combination that stays known when <paramref name="flat"/> is not: for two values, a product (the direction moves them against
    /// each
    /// other) or a ratio (it moves them together).
    /// </summary>
    public static (int[] Members, int[] Powers)? Combination(FlatDirection flat)
    {
        if (flat.Members.Length != 2)
            return null;
        var (a, b) = (flat.Members[0], flat.Members[1]);
        return ([a, b], [1, flat.Direction[a] * flat.Direction[b] < 0 ? 1 : -1]);
    }

    public static string Write(IReadOnlyList<ValueAddress> addresses, IReadOnlyList<int> powers) =>
        $"{addresses[0]} {(powers[1] > 0 ? "×" : "÷")} {addresses[1]}";

    /// <summary>
    /// The combination with its 95% interval: how far it moves along the ridge of the likelihood, as the profile of one member walks it,
    /// and to
    /// both sides of that its spread across the ridge, from the expected information in the directions that are not flat.
    /// </summary>
    public static KnownCombination Measure(FitSetup setup, SearchPoint best, ProfileInterval profile, int[] members, int[] powers)
    {
        var weights = Vector<double>.Build.Dense(best.U.Length);
        var log = 0.0;
        for (var k = 0; k < members.Length; k++)
        {
            weights[members[k]] = powers[k];
            log += powers[k] * best.U[members[k]];
        }
        var evd = best.Information.Evd(Symmetricity.Symmetric);
        var variance = 0.0;
        for (var d = 0; d < weights.Count; d++)
        {
            var along = weights * evd.EigenVectors.Column(d);
            if (evd.EigenValues[d].Real * FlatStandardError * FlatStandardError > 1)
                variance += along * along / evd.EigenValues[d].Real;
        }
        var spread = 1.959964 * Math.Sqrt(variance);
        var (low, high) = (log, log);
        foreach (var u in profile.Ridge(members[0]))
        {
            var there = members.Select((member, k) => powers[k] * u[member]).Sum();
            (low, high) = (Math.Min(low, there), Math.Max(high, there));
        }
        var addresses = members.Select(j => setup.Parameters[j].Address).ToImmutableArray();
        return new(addresses, [.. powers], Write(addresses, powers), Math.Exp(log), Math.Exp(low - spread), Math.Exp(high + spread));
    }

    public static string Number(double value) =>
        value.ToString(Math.Abs(value) is >= 1000 or < 0.001 && value != 0 ? "G3" : "0.###", CultureInfo.InvariantCulture);
}
