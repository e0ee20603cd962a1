using System.Numerics;
using ClearTide.Core.Sampling;

namespace ClearTide.Core.Inference;

/// <summary>
/// Points of low discrepancy in the unit cube: the sequence of Sobol in the order of Bratley and Fox (Algorithm 659, ACM Trans. Math.
/// Softw.
/// 14, 1988, pp. 88–100) with the direction numbers of Joe and Kuo (SIAM J. Sci. Comput. 30, 2008, pp. 2635–2654). Of each 2^k points in a
/// row, beginning with a multiple of 2^k, one lies in each of as many equal parts of every coordinate.
/// </summary>
internal static class StartPoints
{
    private const int Bits = 30;

    /// <summary>For each coordinate from the second on the inner coefficients of a primitive polynomial over the field of two, and the
    /// first
    /// direction numbers; the degree is how many of these there are.</summary>
    private static readonly (int Coefficients, int[] First)[] Table =
    [
        (0, [1]),
        (1, [1, 3]),
        (1, [1, 3, 1]),
        (2, [1, 1, 1]),
        (1, [1, 1, 3, 3]),
        (4, [1, 3, 5, 13]),
        (2, [1, 1, 5, 5, 17]),
        (4, [1, 1, 5, 5, 5]),
        (7, [1, 1, 7, 11, 19]),
        (11, [1, 1, 5, 1, 1]),
        (13, [1, 1, 1, 3, 11]),
        (14, [1, 3, 5, 5, 31]),
        (1, [1, 3, 3, 9, 7, 49]),
        (13, [1, 1, 1, 15, 21, 21]),
        (16, [1, 3, 1, 13, 27, 49]),
        (19, [1, 1, 1, 15, 7, 5]),
        (22, [1, 3, 1, 15, 13, 25]),
        (25, [1, 1, 5, 5, 19, 61]),
    ];

    private static readonly uint[][] Directions = [.. Enumerable.Range(0, Table.Length + 1).Select(DirectionsOf)];

    /// <param name="index">From 0, the centre of the cube.</param>
    /// <param name="dimension">At least one; coordinates past the nineteenth are random.</param>
    /// <param name="shuffle">Another sequence for each number but 0: the points moved round the cube at random (Cranley and Patterson, SIAM
    /// J. Numer. Anal. 13, 1976, pp. 904–914).</param>
    public static double[] At(int index, int dimension, long shuffle = 0)
    {
        var point = new double[dimension];
        // The first point of the sequence is the corner, which is left out.
        var gray = (uint)(index + 1) ^ ((uint)(index + 1) >> 1);
        for (var j = 0; j < dimension; j++)
        {
            if (j >= Directions.Length)
            {
                point[j] = new RandomStream(0, index, "start", j.ToString(System.Globalization.CultureInfo.InvariantCulture)).NextUniform();
                continue;
            }
            var bits = 0u;
            for (var rest = gray; rest != 0; rest &= rest - 1)
                bits ^= Directions[j][BitOperations.TrailingZeroCount(rest)];
            point[j] = bits / (double)(1u << Bits);
        }
        if (shuffle != 0)
        {
            var stream = new RandomStream(shuffle, 0, "start", "shift");
            for (var j = 0; j < dimension; j++)
                point[j] = (point[j] + stream.NextUniform()) % 1;
        }
        return point;
    }

    private static uint[] DirectionsOf(int coordinate)
    {
        var directions = new uint[Bits];
        if (coordinate == 0)
        {
            for (var k = 0; k < Bits; k++)
                directions[k] = 1u << (Bits - 1 - k);
            return directions;
        }
        var (coefficients, first) = Table[coordinate - 1];
        var degree = first.Length;
        for (var k = 0; k < Bits; k++)
        {
            if (k < degree)
            {
                directions[k] = (uint)first[k] << (Bits - 1 - k);
                continue;
            }
            directions[k] = directions[k - degree] ^ (directions[k - degree] >> degree);
            for (var i = 1; i < degree; i++)
            {
                if (((coefficients >> (degree - 1 - i)) & 1) != 0)
                    directions[k] ^= directions[k - i];
            }
        }
        return directions;
    }
}
