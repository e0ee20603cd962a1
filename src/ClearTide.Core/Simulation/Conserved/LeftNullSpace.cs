using System.Numerics;

namespace ClearTide.Core.Simulation;

/// <summary>
/// The left null space of an integer matrix given by sparse columns: all w with w·column = 0 for every column, as a basis of integer
/// vectors.
/// Exact elimination, one column an equation for w; columns with two entries, as those of flows, make no fill-in (Golub and Van Loan,
/// Matrix
/// Computations, 4th ed., 3.4, for elimination in reduced form; sparse bookkeeping as in Davis, Direct Methods for Sparse Linear Systems,
/// 2006).
/// </summary>
internal sealed class LeftNullSpace
{
    /// <summary>Each row that has been solved for, by the free rows that it depends on.</summary>
    private readonly Dictionary<int, Dictionary<int, Fraction>> _solved = [];

    /// <summary>The solved rows that depend on a free row.</summary>
    private readonly Dictionary<int, HashSet<int>> _users = [];

    private LeftNullSpace() { }

    /// <param name="rows">How many rows the matrix has.</param>
    /// <param name="columns">Row and entry of each non-zero of each column.</param>
    /// <returns>Basis vectors as pairs of row and whole number without a common divisor, the first one positive; ordered by their first
    /// row.</returns>
    public static IReadOnlyList<IReadOnlyList<(int Row, BigInteger Weight)>> Of(
        int rows,
        IEnumerable<IReadOnlyList<(int Row, int Entry)>> columns
    )
    {
        var space = new LeftNullSpace();
        foreach (var column in columns)
            space.Require(column);
        return
        [
            .. Enumerable
                .Range(0, rows)
                .Where(row => !space._solved.ContainsKey(row))
                .Select(space.Vector)
                .OrderBy(vector => vector[0].Row),
        ];
    }

    /// <summary>Takes up the equation that the weights of a column come to nothing.</summary>
    private void Require(IReadOnlyList<(int Row, int Entry)> column)
    {
        var equation = new Dictionary<int, Fraction>();
        foreach (var (row, entry) in column)
        {
            if (!_solved.TryGetValue(row, out var terms))
                Add(equation, row, entry);
            else
                foreach (var (free, share) in terms)
                    Add(equation, free, share * entry);
        }
        if (equation.Count == 0)
            return;
        // The row that the fewest others depend on is solved for, so that little has to be rewritten.
        var pivot = equation.Keys.MinBy(row => (_users.TryGetValue(row, out var users) ? users.Count : 0, -row));
        var lead = equation[pivot];
        equation.Remove(pivot);
        var solution = equation.ToDictionary(term => term.Key, term => -term.Value / lead);
        _solved[pivot] = solution;
        foreach (var free in solution.Keys)
            Users(free).Add(pivot);
        if (!_users.Remove(pivot, out var leaning))
            return;
        foreach (var row in leaning)
        {
            var terms = _solved[row];
            terms.Remove(pivot, out var share);
            foreach (var (free, factor) in solution)
            {
                Add(terms, free, share * factor);
                if (terms.ContainsKey(free))
                    Users(free).Add(row);
                else
                    Users(free).Remove(row);
            }
        }
    }

    private HashSet<int> Users(int row)
    {
        if (!_users.TryGetValue(row, out var users))
            _users[row] = users = [];
        return users;
    }

    private static void Add(Dictionary<int, Fraction> terms, int row, Fraction share)
    {
        var sum = terms.TryGetValue(row, out var known) ? known + share : share;
        if (sum.IsZero)
            terms.Remove(row);
        else
            terms[row] = sum;
    }

    /// <summary>The basis vector in which one free row has weight one and the others none, scaled to whole numbers.</summary>
    private IReadOnlyList<(int Row, BigInteger Weight)> Vector(int free)
    {
        var weights = new SortedDictionary<int, Fraction> { [free] = 1 };
        if (_users.TryGetValue(free, out var users))
        {
            foreach (var row in users)
                weights[row] = _solved[row][free];
        }
        var scale = weights.Values.Aggregate(BigInteger.One, (least, weight) =>
            least / BigInteger.GreatestCommonDivisor(least, weight.Denominator) * weight.Denominator
        );
        var whole = weights.Select(pair => (pair.Key, Weight: pair.Value.Numerator * (scale / pair.Value.Denominator))).ToList();
        var divisor = whole.Aggregate(BigInteger.Zero, (greatest, pair) => BigInteger.GreatestCommonDivisor(greatest, pair.Weight));
        if (whole[0].Weight.Sign < 0)
            divisor = -divisor;
        return [.. whole.Select(pair => (pair.Key, pair.Weight / divisor))];
    }
}
