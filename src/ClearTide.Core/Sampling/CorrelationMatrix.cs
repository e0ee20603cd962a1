using MathNet.Numerics.LinearAlgebra;

namespace ClearTide.Core.Sampling;

/// <summary>Whether a matrix of correlations can be one, and the nearest that can.</summary>
public static class CorrelationMatrix
{
    /// <summary>No eigenvalue of the nearest one is below this, so that it has a root.</summary>
    private const double LeastEigenvalue = 1e-8;

    /// <summary>The lower triangular root L with L Lᵀ the matrix (Cholesky); null where the matrix is not positive definite.</summary>
    /// <param name="matrix">Symmetric, with ones on its diagonal.</param>
    public static double[,]? Root(double[,] matrix)
    {
        var n = matrix.GetLength(0);
        var root = new double[n, n];
        for (var i = 0; i < n; i++)
        {
            for (var j = 0; j <= i; j++)
            {
                var sum = matrix[i, j];
                for (var k = 0; k < j; k++)
                    sum -= root[i, k] * root[j, k];
                if (i != j)
                    root[i, j] = sum / root[j, j];
                else if (sum > LeastEigenvalue * LeastEigenvalue)
                    root[i, i] = Math.Sqrt(sum);
                else
                    return null;
            }
        }
        return root;
    }

    /// <summary>The nearest correlation matrix in the Frobenius norm, by projections in turn with Dykstra's correction (Higham, IMA J.
    /// Numer. Anal. 22, 2002, algorithm 3.3), its eigenvalues kept off zero.</summary>
    /// <param name="matrix">Symmetric.</param>
    public static double[,] Nearest(double[,] matrix)
    {
        var (y, correction) = (
            Matrix<double>.Build.DenseOfArray(matrix),
            Matrix<double>.Build.Dense(matrix.GetLength(0), matrix.GetLength(1))
        );
        for (var round = 0; round < 500; round++)
        {
            var r = y - correction;
            var eigen = r.Evd(Symmetricity.Symmetric);
            var kept = eigen.EigenValues.Map(value => Math.Max(value.Real, LeastEigenvalue));
            var x =
                eigen.EigenVectors
                * Matrix<double>.Build.DiagonalOfDiagonalVector(kept.Map(value => value))
                * eigen.EigenVectors.Transpose();
            correction = x - r;
            var before = y;
            y = 0.5 * (x + x.Transpose());
            y.SetDiagonal(Vector<double>.Build.Dense(y.RowCount, 1));
            if ((y - before).FrobeniusNorm() < 1e-12)
                break;
        }
        return y.ToArray();
    }
}
