namespace ClearTide.Core.Simulation;

/// <summary>
/// Gaussian elimination row by row on a pattern found beforehand, without exchange of rows. The matrices of a stiff solver carry a positive
/// shift on their diagonal, and models of flows have columns that nearly sum to it, so that diagonal pivots are safe; where one
/// nevertheless
/// grows by more than can be afforded, the factoring says no and the step is made shorter.
/// </summary>
internal sealed unsafe class SparseFactors : LinearSystem
{
    /// <summary>A multiplier beyond this loses more digits than a solver's tolerance can spare.</summary>
    private const double MostGrowth = 1e8;

    private readonly EliminationPattern _pattern;
    private readonly int _n;
    private readonly int[] _upperStart,
        _lowerStart,
        _upperColumns,
        _lowerColumns;
    private readonly double[] _upper,
        _lower,
        _diagonal,
        _row,
        _vector;
    private readonly (int Column, int Entry)[][] _entries;

    public SparseFactors(EliminationPattern pattern, IReadOnlyList<(int Row, int Column)> entries)
    {
        _pattern = pattern;
        _n = pattern.Order.Length;
        (_upperStart, _upperColumns) = Packed(pattern.Upper);
        (_lowerStart, _lowerColumns) = Packed(pattern.Lower);
        _upper = new double[_upperColumns.Length];
        _lower = new double[_lowerColumns.Length];
        (_diagonal, _row, _vector) = (new double[_n], new double[_n], new double[_n]);
        var byRow = Enumerable.Range(0, _n).Select(_ => new List<(int, int)>()).ToArray();
        for (var k = 0; k < entries.Count; k++)
            byRow[pattern.Place[entries[k].Row]].Add((pattern.Place[entries[k].Column], k));
        _entries = [.. byRow.Select(row => row.ToArray())];
    }

    private static (int[] Start, int[] Columns) Packed(int[][] rows)
    {
        var start = new int[rows.Length + 1];
        for (var k = 0; k < rows.Length; k++)
            start[k + 1] = start[k] + rows[k].Length;
        return (start, [.. rows.SelectMany(row => row)]);
    }

    public override bool Factor(double shift, double* values)
    {
        var row = _row;
        for (var i = 0; i < _n; i++)
        {
            row[i] = shift;
            foreach (var (column, entry) in _entries[i])
                row[column] -= values[entry];
            for (var k = _lowerStart[i]; k < _lowerStart[i + 1]; k++)
            {
                var column = _lowerColumns[k];
                var factor = _lower[k] = row[column] / _diagonal[column];
                row[column] = 0;
                if (factor == 0)
                    continue;
                if (!(Math.Abs(factor) < MostGrowth))
                {
                    Array.Clear(row);
                    return false;
                }
                for (var j = _upperStart[column]; j < _upperStart[column + 1]; j++)
                    row[_upperColumns[j]] -= factor * _upper[j];
            }
            _diagonal[i] = row[i];
            row[i] = 0;
            if (_diagonal[i] == 0 || !double.IsFinite(_diagonal[i]))
            {
                Array.Clear(row);
                return false;
            }
            for (var j = _upperStart[i]; j < _upperStart[i + 1]; j++)
            {
                _upper[j] = row[_upperColumns[j]];
                row[_upperColumns[j]] = 0;
            }
        }
        return true;
    }

    public override void Solve(double* x)
    {
        var (v, order) = (_vector, _pattern.Order);
        for (var i = 0; i < _n; i++)
        {
            var sum = x[order[i]];
            for (var k = _lowerStart[i]; k < _lowerStart[i + 1]; k++)
                sum -= _lower[k] * v[_lowerColumns[k]];
            v[i] = sum;
        }
        for (var i = _n - 1; i >= 0; i--)
        {
            var sum = v[i];
            for (var j = _upperStart[i]; j < _upperStart[i + 1]; j++)
                sum -= _upper[j] * v[_upperColumns[j]];
            v[i] = sum / _diagonal[i];
        }
        for (var i = 0; i < _n; i++)
            x[order[i]] = v[i];
    }
}
