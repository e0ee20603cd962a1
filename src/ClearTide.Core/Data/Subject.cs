using System.Collections.Immutable;
using System.Text.Json.Serialization;

namespace ClearTide.Core.Data;

/// <summary>One dose.</summary>
/// <param name="Time">When it is given or begins, in the study's unit of time.</param>
/// <param name="Amount">How much in all, in the unit of the compartment it goes into; not a number where that depends on the amounts of a
/// run.</param>
/// <param name="Duration">Over how long it goes in; 0 for at once.</param>
public readonly record struct Dose(
    double Time,
    double Amount,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)] double Duration = 0
)
{
    /// <summary>Id of the compartment that it goes into; null for the one that its series says.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Into { get; init; }
}

/// <summary>One of those that rows of a series are of: a volunteer, a hive, a place.</summary>
/// <param name="Name">As the data name it.</param>
public sealed record Subject(string Name)
{
    /// <summary>What was given, in order of time.</summary>
    public IReadOnlyList<Dose> Doses { get; init; } = [];

    /// <summary>What is known of it, by the symbol of the value that it stands for: a weight, an age.</summary>
    public IReadOnlyDictionary<string, double> Covariates { get; init; } = ImmutableDictionary<string, double>.Empty;

    /// <summary>The same with its times in another unit.</summary>
    /// <param name="ratio">How many of the new unit one of the old is.</param>
    public Subject Scaled(double ratio) =>
        this with
        {
            Doses = [.. Doses.Select(dose => dose with { Time = dose.Time * ratio, Duration = dose.Duration * ratio })],
        };

    /// <summary>Those of several series, each name once: what any of them says of it.</summary>
    /// <param name="sets">The data sets, in any order.</param>
    public static IReadOnlyList<Subject> Of(IEnumerable<DataSet> sets)
    {
        var known = new Dictionary<string, Subject>();
        foreach (var subject in sets.SelectMany(set => set.Subjects))
        {
            known[subject.Name] = known.TryGetValue(subject.Name, out var before)
                ? before with
                {
                    Doses = before.Doses.Count > 0 ? before.Doses : subject.Doses,
                    Covariates = before.Covariates.Count > 0 ? before.Covariates : subject.Covariates,
                }
                : subject;
        }
        return [.. known.Values];
    }
}
