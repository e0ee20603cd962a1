using ClearTide.Core.Groups;
using ClearTide.Core.Inference;
using ClearTide.Core.Model;

namespace ClearTide.Web.Studies;

/// <summary>The fields that say how a series was seen.</summary>
/// <param name="Tie">As it is, or as it was typed.</param>
/// <param name="Prefix">What stands before the names of its fields.</param>
/// <param name="RunningTotals">Whether values are running totals; null where that is not asked any more.</param>
/// <param name="HasDoses">Whether its subjects have doses.</param>
/// <param name="Bands">What its law says of its spread; null where it says nothing yet.</param>
public sealed record HowSeen(StudyDocument Document, Observation Tie, string Prefix, bool? RunningTotals, bool HasDoses, LawBands? Bands)
{
    /// <summary>The name of a field.</summary>
    public string Field(string name) => Prefix + name;

    /// <summary>The flows that can be counted, those of single members with them.</summary>
    public IEnumerable<(string Id, string Name)> Moving => WrittenOut.Of(Document).Moving;

    /// <summary>Whether what comes in late or by weekdays is said.</summary>
    public bool IsTimed => Tie.IsTimed;

    /// <summary>What is said of a weekday.</summary>
    public string Day(int day) => Tie.Weekdays.IsEmpty ? "" : Tie.Weekdays[day];
}
