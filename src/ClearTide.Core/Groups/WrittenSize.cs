using ClearTide.Core.Model;

namespace ClearTide.Core.Groups;

/// <summary>How large a study becomes when its groups are written out, told before it is.</summary>
public static class WrittenSize
{
    /// <summary>Compartments of a model at most, with all members.</summary>
    public const long MostCompartments = 5_000;

    /// <summary>Flows of a model at most, with those of all members and between them.</summary>
    public const long MostFlows = 12_000;

    /// <summary>Values and quantities at most, with all members: a matrix of 200 by 200, or several smaller ones.</summary>
    public const long MostValues = 50_000;

    /// <summary>Terms of all sums over members together at most.</summary>
    public const int MostTerms = 400_000;

    /// <summary>Null where it can be computed; else a sentence that says what to do.</summary>
    /// <param name="study">The study as it is edited, not written out.</param>
    public static string? Refusal(StudyDocument study)
    {
        if (study.Groups.IsEmpty)
            return null;
        var table = new IndexTable(study);
        long Members(string? id) => table.OfPart(id).Aggregate(1L, (all, group) => all * group.Members.Length);
        var compartments = study.Compartments.Sum(part => Members(part.Id));
        if (compartments > MostCompartments)
            return Say(compartments, MostCompartments, "compartments");
        var values = study.Definitions.Sum(part => Members(part.Id));
        if (values > MostValues)
            return Say(values, MostValues, "values");
        var flows = study.Flows.Sum(flow => Math.Max(Members(flow.From), flow.To.Max(target => Members(target.Id))));
        foreach (var group in study.Groups)
        {
            var each = group.Passages.Sum(passage => passage.Kind == PassageKind.Along ? 1L : group.Members.Length - 1);
            flows += each * study.Compartments.Where(part => table.OfPart(part.Id).Contains(group)).Sum(part => Members(part.Id));
        }
        return flows > MostFlows ? Say(flows, MostFlows, "flows") : null;
    }

    private static string Say(long count, long most, string what) =>
        $"With all members that would be {count:N0} {what}; at most {most:N0} are possible. Split by fewer groups, or merge members.";
}
