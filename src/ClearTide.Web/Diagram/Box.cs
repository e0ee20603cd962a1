using System.Globalization;

namespace ClearTide.Web.Diagram;

/// <summary>An upright rectangle on the paper, in paper units.</summary>
public readonly record struct Box(double X, double Y, double Width, double Height)
{
    public double Right => X + Width;

    public double Bottom => Y + Height;

    public double CentreX => X + Width / 2;

    public double CentreY => Y + Height / 2;

    public static Box Around(double x, double y, double width, double height) => new(x - width / 2, y - height / 2, width, height);

    public Box Grown(double by) => new(X - by, Y - by, Width + 2 * by, Height + 2 * by);

    public bool Overlaps(Box other) => X < other.Right && other.X < Right && Y < other.Bottom && other.Y < Bottom;

    /// <summary>The smallest box that holds all of these; empty for none.</summary>
    public static Box Hull(IEnumerable<Box> boxes)
    {
        var (left, top, right, bottom) = (
            double.PositiveInfinity,
            double.PositiveInfinity,
            double.NegativeInfinity,
            double.NegativeInfinity
        );
        foreach (var box in boxes)
        {
            (left, top) = (Math.Min(left, box.X), Math.Min(top, box.Y));
            (right, bottom) = (Math.Max(right, box.Right), Math.Max(bottom, box.Bottom));
        }
        return left > right ? default : new(left, top, right - left, bottom - top);
    }

    /// <summary>The point of its rim or inside that is nearest to a point.</summary>
    public (double X, double Y) Nearest(double x, double y) => (Math.Clamp(x, X, Right), Math.Clamp(y, Y, Bottom));

    /// <summary>A coordinate as SVG writes it.</summary>
    public static string Write(double coordinate) => coordinate.ToString("0.#", CultureInfo.InvariantCulture);
}
