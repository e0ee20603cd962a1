using System.Collections.Immutable;
using MathNet.Numerics.LinearAlgebra;

namespace ClearTide.Core.Inference;

/// <summary>Covariances of estimates on the search scale.</summary>
internal static class Covariances
{
    /// <summary>The inverse of the information; null where it is singular to rounding.</summary>
    public static Matrix<double>? Of(Matrix<double> information)
    {
        var scale = information.Diagonal().Map(d => d > 0 ? 1 / Math.Sqrt(d) : 0);
        if (scale.Any(s => s == 0))
            return null;
        var scaled = Matrix<double>.Build.Dense(information.RowCount, information.ColumnCount, (a, b) =>
            information[a, b] * scale[a] * scale[b]
        );
        // Scaled to a unit diagonal, a reciprocal condition below rounding means that the inverse would be noise.
        if (scaled.ConditionNumber() > 1e13)
            return null;
        var inverse = scaled.Inverse();
        return Matrix<double>.Build.Dense(information.RowCount, information.ColumnCount, (a, b) => inverse[a, b] * scale[a] * scale[b]);
    }

    /// <summary>Row by row; null where there is no covariance.</summary>
    public static ImmutableArray<double>? Correlations(Matrix<double>? covariance)
    {
        if (covariance is null)
            return null;
        var list = ImmutableArray.CreateBuilder<double>();
        for (var a = 0; a < covariance.RowCount; a++)
        {
            for (var b = 0; b < covariance.ColumnCount; b++)
                list.Add(covariance[a, b] / Math.Sqrt(covariance[a, a] * covariance[b, b]));
        }
        return list.ToImmutable();
    }

    /// <summary>
    /// The inverse of the information where nothing is known of a value but its bounds besides: each is taken as spread evenly between
    /// them. Flat directions are as wide as the bounds then, and others as the data say.
    /// </summary>
    public static Matrix<double> WithinBounds(LikelihoodSearch search, Matrix<double> information)
    {
        var with = information.Clone();
        for (var j = 0; j < with.RowCount; j++)
        {
            var width = search.Upper(j) - search.Lower(j);
            // The variance of an even spread over a stretch is a twelfth of its square.
            with[j, j] += 12 / (width * width);
        }
        return with.Inverse();
    }
}
