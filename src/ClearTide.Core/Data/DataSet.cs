using System.Text.Json.Serialization;

namespace ClearTide.Core.Data;

/// <summary>One row of data: what was seen from <paramref name="Start"/> to <paramref name="End"/>, in the study's time unit. What was
/// seen at one time has it as its end.</summary>
/// <param name="Start">When the interval began; the same as its end for what was seen at one time.</param>
/// <param name="End">When it ended.</param>
/// <param name="Value">What was seen, in the unit of the series.</param>
public sealed record DataRow(double Start, double End, double Value)
{
    /// <summary>The standard deviation of the value, where it is known.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public double? Error { get; init; }

    /// <summary>Whether all that is known is that it is below its value, as below a limit of detection.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Below { get; init; }

    /// <summary>The subject that it is of; null where the series is of one alone.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Subject { get; init; }

    /// <summary>Of how many the value is a share, where it is one of those that were looked at: the 200 of 13 of 200.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public double? OutOf { get; init; }

    /// <summary>As how many rows it counts in a fit.</summary>
    [JsonIgnore]
    public double Weight => GivenWeight ?? 1;

    /// <summary><see cref="Weight"/> where the data say it; else it is 1.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    [JsonPropertyName("weight")]
    public double? GivenWeight { get; init; }

    /// <summary>Whether it is shown but left out of fits.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool LeftOut { get; init; }

    /// <summary>The same row in another unit.</summary>
    /// <param name="factor">By which values and their errors are multiplied.</param>
    public DataRow Times(double factor) => this with { Value = Value * factor, Error = Error * factor };
}

/// <summary>A version of a data set: rows in order of time. Never changed once made.</summary>
/// <param name="Id">Names it within its study, never changed.</param>
/// <param name="Name">The name that people read.</param>
/// <param name="Rows">In order of time.</param>
public sealed record DataSet(string Id, string Name, IReadOnlyList<DataRow> Rows)
{
    /// <summary>Where the data end: the end of the last row. A projection starts here.</summary>
    public double Now => Rows[^1].End;

    /// <summary>Those that the rows are of, where they are of several: what was given to each, and what is known of it.</summary>
    public IReadOnlyList<Subject> Subjects { get; init; } = [];

    /// <summary>Id of the table that it came from, as it came; empty where that is not kept.</summary>
    [JsonIgnore]
    public string Source { get; init; } = "";

    /// <summary>The rows that fits look at.</summary>
    [JsonIgnore]
    public IReadOnlyList<DataRow> Used => Rows.Any(row => row.LeftOut) ? [.. Rows.Where(row => !row.LeftOut)] : Rows;
}
