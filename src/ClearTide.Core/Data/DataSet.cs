using ClearTide.Core.Simulation;

namespace ClearTide.Core.Data;

/// <summary>One row of counts: what was counted from <paramref name="Start"/> to <paramref name="End"/>, in the study's time
/// unit.</summary>
public sealed record DataRow(double Start, double End, double Value);

/// <summary>A version of a data set: rows in order of time. Never changed once made.</summary>
public sealed record DataSet(string Id, string Name, IReadOnlyList<DataRow> Rows)
{
    /// <summary>Where the data end: the end of the last row. A projection starts here.</summary>
    public double Now => Rows[^1].End;
}
