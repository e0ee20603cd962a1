using MathNet.Numerics.LinearAlgebra;

namespace ClearTide.Core.Conversion;

/// <summary>
/// A matrix of contacts: entry (i, j) says how many contacts one of i has with those of j per unit of time. Contacts are mutual, so that
/// N_i
/// C_ij = N_j C_ji for groups of N_i and N_j (Diekmann, Heesterbeek and Britton, Mathematical Tools for Understanding Infectious Disease
/// Dynamics, 2013, section 8.2).
/// </summary>
internal static class MixingMatrix
{
    /// <summary>The largest share by which contacts of i with j and of j with i differ from their mean; 0 where they agree.</summary>
    /// <param name="contacts">Square, from zero on.</param>
    /// <param name="sizes">Of the groups.</param>
    public static double Imbalance(double[,] contacts, IReadOnlyList<double> sizes)
    {
        var worst = 0.0;
        for (var i = 0; i < sizes.Count; i++)
        {
            for (var j = 0; j < i; j++)
            {
                var (there, back) = (sizes[i] * contacts[i, j], sizes[j] * contacts[j, i]);
                if (there + back > 0)
                    worst = Math.Max(worst, Math.Abs(there - back) / (there + back));
            }
        }
        return worst;
    }

    /// <summary>The matrix whose contacts are mutual, each pair the mean of what both sides say.</summary>
    public static double[,] Balanced(double[,] contacts, IReadOnlyList<double> sizes)
    {
        var balanced = new double[sizes.Count, sizes.Count];
        for (var i = 0; i < sizes.Count; i++)
        {
            for (var j = 0; j < sizes.Count; j++)
                balanced[i, j] = sizes[i] > 0 ? 0.5 * (sizes[i] * contacts[i, j] + sizes[j] * contacts[j, i]) / sizes[i] : contacts[i, j];
        }
        return balanced;
    }

    /// <summary>The spectral radius, by which an infection grows from one generation of contacts to the next.</summary>
    public static double LargestEigenvalue(double[,] contacts) =>
        Matrix<double>.Build.DenseOfArray(contacts).Evd().EigenValues.Max(value => value.Magnitude);

    /// <summary>Assortative mixing by one number: this share of contacts is kept for one's own group, the rest goes by size (Jacquez et
    /// al.,
    /// Modeling and analyzing HIV transmission, Mathematical Biosciences 92, 1988).</summary>
    /// <param name="kept">From 0, proportionate, to 1, each among themselves.</param>
    /// <param name="sizes">How many belong to each group; above zero.</param>
    public static double[,] Assortative(double kept, IReadOnlyList<double> sizes)
    {
        var all = sizes.Sum();
        var matrix = new double[sizes.Count, sizes.Count];
        for (var i = 0; i < sizes.Count; i++)
        {
            for (var j = 0; j < sizes.Count; j++)
                matrix[i, j] = (i == j ? kept : 0) + (1 - kept) * (all > 0 ? sizes[j] / all : 1.0 / sizes.Count);
        }
        return matrix;
    }
}
