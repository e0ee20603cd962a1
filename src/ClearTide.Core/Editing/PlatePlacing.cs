using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

/// <summary>Finds a free place on the paper for a new plate: right of its neighbour, else the nearest row below.</summary>
public static class PlatePlacing
{
    /// <summary>Width of a plate in paper units.</summary>
    public const double Width = 112;

    /// <summary>Height of a plate in paper units.</summary>
    public const double Height = 72;
    private const double StepX = 196;
    private const double StepY = 120;
    private const int PlatesInARow = 4;

    /// <summary>A free place for a plate, beside its neighbour where it has one, in paper units.</summary>
    public static (double X, double Y) Next(IReadOnlyCollection<Compartment> placed, Compartment? neighbour)
    {
        if (placed.Count == 0)
            return (40, 150);
        var (x, y) = neighbour is null
            ? (placed.Min(plate => plate.X), placed.Max(plate => plate.Y) + StepY)
            : (neighbour.X + StepX, neighbour.Y);
        var left = placed.Min(plate => plate.X);
        while (true)
        {
            if (x >= left + PlatesInARow * StepX)
            {
                x = left;
                y += StepY;
            }
            if (placed.All(plate => Math.Abs(plate.X - x) >= Width || Math.Abs(plate.Y - y) >= Height))
                return (x, y);
            x += StepX;
        }
    }
}
