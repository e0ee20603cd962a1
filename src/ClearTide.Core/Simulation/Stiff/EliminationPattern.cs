namespace ClearTide.Core.Simulation;

/// <summary>
/// The order in which rows of a sparse matrix are eliminated, and where its factors are not zero: minimum degree on the structure of A + Aᵀ
/// (Duff, Erisman, Reid, Direct Methods for Sparse Matrices, 2nd ed., sections 7.2 and 11.3), pivots kept on the diagonal.
/// </summary>
internal sealed class EliminationPattern
{
    public EliminationPattern(IReadOnlyList<(int Row, int Column)> entries, int n)
    {
        var neighbours = Enumerable.Range(0, n).Select(_ => new HashSet<int>()).ToArray();
        foreach (var (row, column) in entries)
        {
            if (row == column)
                continue;
            neighbours[row].Add(column);
            neighbours[column].Add(row);
        }
        Order = new int[n];
        Place = new int[n];
        var upper = new int[n][];
        var byDegree = new SortedSet<(int Degree, int Row)>(Enumerable.Range(0, n).Select(row => (neighbours[row].Count, row)));
        for (var step = 0; step < n; step++)
        {
            var next = byDegree.Min;
            byDegree.Remove(next);
            var row = next.Row;
            (Order[step], Place[row]) = (row, step);
            var around = neighbours[row].ToArray();
            upper[step] = around;
            foreach (var one in around)
            {
                byDegree.Remove((neighbours[one].Count, one));
                neighbours[one].Remove(row);
                foreach (var other in around)
                {
                    if (other != one)
                        neighbours[one].Add(other);
                }
                byDegree.Add((neighbours[one].Count, one));
            }
            neighbours[row] = [];
        }
        Upper = [.. upper.Select(row => row.Select(column => Place[column]).Order().ToArray())];
        var lower = Enumerable.Range(0, n).Select(_ => new List<int>()).ToArray();
        for (var row = 0; row < n; row++)
        {
            foreach (var column in Upper[row])
                lower[column].Add(row);
        }
        Lower = [.. lower.Select(row => row.ToArray())];
        Size = n + 2L * Upper.Sum(row => (long)row.Length);
    }

    /// <summary>Which row is eliminated at each step.</summary>
    public int[] Order { get; }

    /// <summary>At which step each row is eliminated.</summary>
    public int[] Place { get; }

    /// <summary>For each step the later steps in its row of the upper factor, ascending.</summary>
    public int[][] Upper { get; }

    /// <summary>For each step the earlier steps in its row of the lower factor, ascending.</summary>
    public int[][] Lower { get; }

    /// <summary>Entries of both factors together.</summary>
    public long Size { get; }
}
