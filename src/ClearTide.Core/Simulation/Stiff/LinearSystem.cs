namespace ClearTide.Core.Simulation;

/// <summary>The linear systems (shift · I − J) x = b of one Jacobian structure, factored once for each step.</summary>
internal abstract unsafe class LinearSystem
{
    /// <summary>Matrices with fewer rows are always taken as dense: nothing is gained from their zeros.</summary>
    private const int SmallestSparse = 40;

    /// <summary>Factors shift · I − J; false where the matrix is singular to working precision.</summary>
    /// <param name="shift">1 / (γh) of the step.</param>
    /// <param name="entries">The entries of J, in the order of its structure.</param>
    public abstract bool Factor(double shift, double* entries);

    /// <summary>Solves in place.</summary>
    public abstract void Solve(double* vector);

    public static LinearSystem For(Jacobian jacobian, int dimension)
    {
        if (dimension >= SmallestSparse)
        {
            var pattern = new EliminationPattern(jacobian.Entries, dimension);
            // Where elimination fills a third of the matrix, plain rows are faster than lists of places.
            if (3L * pattern.Size < (long)dimension * dimension)
                return new SparseFactors(pattern, jacobian.Entries);
        }
        return new DenseFactors(jacobian.Entries, dimension);
    }
}

/// <summary>Gaussian elimination with row pivoting (Golub and Van Loan, Matrix Computations, 4th ed., algorithm 3.4.1).</summary>
internal sealed unsafe class DenseFactors(IReadOnlyList<(int Row, int Column)> entries, int n) : LinearSystem
{
    private readonly int[] _places = [.. entries.Select(entry => entry.Row * n + entry.Column)];
    private readonly double[] _matrix = GC.AllocateArray<double>(n * n, pinned: true);
    private readonly int[] _pivots = new int[n];

    public override bool Factor(double shift, double* values)
    {
        Array.Clear(_matrix);
        for (var k = 0; k < _places.Length; k++)
            _matrix[_places[k]] -= values[k];
        for (var i = 0; i < n; i++)
            _matrix[i * n + i] += shift;
        fixed (double* a = _matrix)
        {
            for (var k = 0; k < n; k++)
            {
                var best = k;
                for (var i = k + 1; i < n; i++)
                {
                    if (Math.Abs(a[i * n + k]) > Math.Abs(a[best * n + k]))
                        best = i;
                }
                var pivot = a[best * n + k];
                if (pivot == 0 || !double.IsFinite(pivot))
                    return false;
                _pivots[k] = best;
                double* row = a + k * n;
                if (best != k)
                {
                    var other = a + best * n;
                    for (var j = 0; j < n; j++)
                        (row[j], other[j]) = (other[j], row[j]);
                }
                for (var i = k + 1; i < n; i++)
                {
                    var below = a + i * n;
                    if (below[k] == 0)
                        continue;
                    var factor = below[k] /= pivot;
                    for (var j = k + 1; j < n; j++)
                        below[j] -= factor * row[j];
                }
            }
        }
        return true;
    }

    public override void Solve(double* x)
    {
        fixed (double* a = _matrix)
        {
            for (var k = 0; k < n; k++)
            {
                if (_pivots[k] != k)
                    (x[k], x[_pivots[k]]) = (x[_pivots[k]], x[k]);
            }
            for (var i = 1; i < n; i++)
            {
                var sum = x[i];
                var row = a + i * n;
                for (var j = 0; j < i; j++)
                    sum -= row[j] * x[j];
                x[i] = sum;
            }
            for (var i = n - 1; i >= 0; i--)
            {
                var sum = x[i];
                var row = a + i * n;
                for (var j = i + 1; j < n; j++)
                    sum -= row[j] * x[j];
                x[i] = sum / row[i];
            }
        }
    }
}
