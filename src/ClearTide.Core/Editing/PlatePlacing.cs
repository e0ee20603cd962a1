using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

/// <summary>Finds a free place on the paper for a new plate: right of its neighbour, or below what is there already, so that no ribbon
/// has to pass behind a plate; else the nearest row below.</summary>
public static class PlatePlacing
{
    /// <summary>Width of a plate in paper units.</summary>
    public const double Width = 112;

    /// <summary>Height of a plate in paper units.</summary>
    public const double Height = 72;

    /// <summary>Height of the lane of one member below a plate, where there are few.</summary>
    public const double LaneHeight = 15;

    /// <summary>What the lanes of a plate take up at most: of many members they are thinner.</summary>
    public const double MostLanes = 90;

    /// <summary>Height of a plate with the lanes of its members.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="part">The compartment.</param>
    public static double HeightOf(StudyDocument document, Compartment part) =>
        Height + LanesOf(document.GroupsOf(part.Id).FirstOrDefault());

    private static double LanesOf(Group? group) => group is null ? 0 : Math.Min(MostLanes, LaneHeight * group.Members.Length) + 3;

    /// <summary>The document with plates moved down as far as those above them have grown since.</summary>
    internal static StudyDocument MakeRoom(StudyDocument before, StudyDocument after)
    {
        double Grown(Compartment part) => after.Compartment(part.Id) is { } same ? HeightOf(after, same) - HeightOf(before, part) : 0;
        double Shift(Compartment part) =>
            before
                .Compartments.Where(above => above.Y + Height <= part.Y)
                .GroupBy(above => Math.Round(above.Y / StepY))
                .Sum(row => row.Max(Grown));
        return after with
        {
            Compartments =
            [
                .. after.Compartments.Select(part =>
                    before.Compartment(part.Id) is { } same ? part with { Y = part.Y + Shift(same) } : part
                ),
            ],
        };
    }

    private const double StepX = 196;
    private const double StepY = 120;
    private const int PlatesInARow = 4;

    /// <summary>How many plates one under the other stand right of a neighbour.</summary>
    private const int PlatesInAColumn = 3;

    /// <summary>A free place for a plate, beside its neighbour where it has one, in paper units.</summary>
    /// <param name="placed">The compartments that are on the paper.</param>
    /// <param name="neighbour">The one to stand beside, or null.</param>
    public static (double X, double Y) Next(IReadOnlyCollection<Compartment> placed, Compartment? neighbour)
    {
        if (placed.Count == 0)
            return (40, 150);
        bool IsFree(double x, double y) => placed.All(plate => Math.Abs(plate.X - x) >= Width || Math.Abs(plate.Y - y) >= Height);
        var left = placed.Min(plate => plate.X);
        if (neighbour is not null && neighbour.X + StepX < left + PlatesInARow * StepX)
        {
            for (var row = 0; row < PlatesInAColumn; row++)
            {
                if (IsFree(neighbour.X + StepX, neighbour.Y + row * StepY))
                    return (neighbour.X + StepX, neighbour.Y + row * StepY);
            }
        }
        var (x, y) = neighbour is null ? (left, placed.Max(plate => plate.Y) + StepY) : (neighbour.X + StepX, neighbour.Y);
        while (true)
        {
            if (x >= left + PlatesInARow * StepX)
            {
                x = left;
                y += StepY;
            }
            if (IsFree(x, y))
                return (x, y);
            x += StepX;
        }
    }
}
