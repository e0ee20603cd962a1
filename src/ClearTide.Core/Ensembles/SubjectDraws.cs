using ClearTide.Core.Compilation;
using ClearTide.Core.Model;
using ClearTide.Core.Sampling;
using MathNet.Numerics.Distributions;

namespace ClearTide.Core.Ensembles;

/// <summary>
/// Draws the values of subjects: normal numbers with the correlations of the group, turned into each value's law (a Gaussian copula where
/// laws are not normal; Nelsen, An Introduction to Copulas, 2nd ed., 2.3). A subject is drawn from the seed and its number alone: its
/// values do not depend on how many others there are. What lies beyond a limit is drawn again, all values together, so that the law is that
/// of the group within its limits.
/// </summary>
public sealed class SubjectDraws
{
    /// <summary>Draws beyond the limits after which they leave too little.</summary>
    private const int MostTries = 2_000;

    private readonly double[] _values,
        _typical;
    private readonly int[] _places;
    private readonly double[,] _root;
    private readonly SubjectGroup _group;
    private readonly long _seed;

    /// <param name="lowered">The model, lowered.</param>
    /// <param name="group">Which values vary, by which laws, and how they go together.</param>
    /// <param name="values">All parameters of the model, of which those that vary are what is typical.</param>
    /// <exception cref="ArgumentException">The group cannot be drawn; the message says what to do.</exception>
    public SubjectDraws(LoweredModel lowered, SubjectGroup group, double[] values)
    {
        (_group, _values, _seed) = (group, values, lowered.Document.Seed);
        _places =
        [
            .. group.Varying.Select(one =>
                lowered.Network.IndexOf(one.Address) is var index and >= 0
                    ? index
                    : throw new ArgumentException($"There is no value “{one.Address}” in the model any more. Take it out of what varies.")
            ),
        ];
        _typical = [.. _places.Select(place => values[place])];
        for (var k = 0; k < _typical.Length; k++)
        {
            if (group.Varying[k].Refusal(_typical[k]) is { } refusal)
                throw new ArgumentException(refusal);
        }
        _root = CorrelationMatrix.Root(group.Matrix())
            ?? throw new ArgumentException(
                "These correlations cannot all hold at once. Bring some of them nearer to zero, or take the nearest ones that can."
            );
    }

    /// <summary>All parameters of one subject.</summary>
    /// <param name="number">From 1 on.</param>
    /// <exception cref="ArgumentException">The limits leave nothing to draw; the message says so.</exception>
    public double[] Values(int number)
    {
        var values = (double[])_values.Clone();
        LayOver(number, values);
        return values;
    }

    /// <summary>The values of one subject that vary, in the order of the group.</summary>
    /// <param name="number">Of the subject, counted from 0.</param>
    public double[] Own(int number) => Own(number, _typical);

    /// <summary>Lays the values of one subject over parameters that say what is typical, as a draw of what a fit left uncertain
    /// does.</summary>
    /// <param name="number">Of the subject, from 0.</param>
    /// <param name="values">All parameters of the model, changed in place.</param>
    internal void LayOver(int number, double[] values)
    {
        var own = Own(number, [.. _places.Select(place => values[place])]);
        for (var k = 0; k < own.Length; k++)
            values[_places[k]] = own[k];
    }

    private double[] Own(int number, double[] typical)
    {
        var count = _places.Length;
        var streams = new RandomStream[count];
        for (var k = 0; k < count; k++)
            streams[k] = new(_seed, number, "subjects", _group.Varying[k].Address.ToString());
        double[] standard = new double[count],
            own = new double[count];
        for (var attempt = 0; attempt < MostTries; attempt++)
        {
            for (var k = 0; k < count; k++)
                standard[k] = Normal.InvCDF(0, 1, Math.Max(streams[k].NextUniform(), 1e-17));
            var inside = true;
            for (var k = 0; k < count; k++)
            {
                var z = 0.0;
                for (var l = 0; l <= k; l++)
                    z += _root[k, l] * standard[l];
                own[k] = Of(_group.Varying[k], typical[k], z);
                inside &= !(own[k] < _group.Varying[k].Low) && !(own[k] > _group.Varying[k].High);
            }
            if (inside)
                return own;
        }
        throw new ArgumentException(
            "The limits leave next to nothing of what can be drawn: "
                + string.Join(", ", _group.Varying.Where(one => one.Low is not null || one.High is not null).Select(one => one.Address))
                + ". Widen them, or move the typical values between them."
        );
    }

    private static double Of(VaryingValue value, double typical, double z) =>
        value.Law switch
        {
            VariationLaw.LogNormal => typical * Math.Exp(VaryingValue.DeviationOfLog(value.Spread) * z),
            VariationLaw.Normal => typical + value.Spread * z,
            VariationLaw.LogitNormal => 1 / (1 + Math.Exp(-(Math.Log(typical / (1 - typical)) + value.Spread * z))),
            _ => value.Low!.Value + (value.High!.Value - value.Low.Value) * Normal.CDF(0, 1, z),
        };
}
