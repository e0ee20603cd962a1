using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Model;

namespace ClearTide.Web.Diagram;

/// <summary>The lane of one member at the foot of a plate.</summary>
/// <param name="Parts">Ids of what it adds up, separated by spaces.</param>
/// <param name="Named">Whether there is room for its name and its amount.</param>
public sealed record PlateLane(string Member, string Name, string Parts, Box Box, bool Named);

/// <summary>Where the members of a split compartment stand at the foot of its plate: one lane for each member of its first group, which
/// adds
/// up what else it is split by.</summary>
public static class PlateLanes
{
    /// <summary>A lane that is lower than this has no room for words.</summary>
    private const double LeastNamed = 11;

    /// <summary>All that is to be seen of lanes, as a text.</summary>
    public static string Look(IReadOnlyList<PlateLane> lanes) => string.Join(',', lanes.Select(lane => lane.Name + lane.Parts));

    public static IReadOnlyList<PlateLane> Of(LoweredModel lowered, Compartment part, Box plate)
    {
        if (lowered.Study.GroupsOf(part.Id) is not [var group, ..])
            return [];
        var height = Math.Min(PlatePlacing.LaneHeight, PlatePlacing.MostLanes / group.Members.Length);
        var members = lowered.Written.Members(part.Id).ToLookup(member => member.Members[0], member => member.Id);
        return
        [
            .. group.Members.Select(
                (member, k) =>
                    new PlateLane(
                        member.Symbol,
                        member.Name,
                        string.Join(' ', members[member.Symbol]),
                        new(plate.X, plate.Y + PlatePlacing.Height + k * height, plate.Width, height),
                        height >= LeastNamed
                    )
            ),
        ];
    }
}
