using System.Globalization;
using System.Text;

namespace ClearTide.Web.Diagram;

/// <summary>The drawn parts of a plate: its tide staff with the places that amounts have on it.</summary>
public static class PlateDrawing
{
    /// <summary>Top and bottom of the staff, from the plate's upper edge.</summary>
    public const double StaffTop = 8,
        StaffBottom = 64;
    private const double StaffLeft = 9,
        ShortMark = 3.5,
        LongMark = 6;
    private const int Marks = 10;

    /// <summary>The graduated scale as one path.</summary>
    public static string Staff(Box box)
    {
        var path = new StringBuilder();
        path.Append(
            CultureInfo.InvariantCulture,
            $"M{Box.Write(box.X + StaffLeft)} {Box.Write(box.Y + StaffTop)}V{Box.Write(box.Y + StaffBottom)}"
        );
        for (var mark = 0; mark <= Marks; mark++)
        {
            var y = box.Y + StaffBottom - (StaffBottom - StaffTop) * mark / Marks;
            path.Append(
                CultureInfo.InvariantCulture,
                $"M{Box.Write(box.X + StaffLeft)} {Box.Write(y)}h{Box.Write(mark % 5 == 0 ? LongMark : ShortMark)}"
            );
        }
        return path.ToString();
    }

    /// <summary>The head of a ribbon: a triangle whose tip is the end of its line.</summary>
    public static string Head(FlowLine line, double halfWidth)
    {
        var (ux, uy) = line.Heading;
        var (x, y) = (line.X2 - FlowLine.HeadLength * ux, line.Y2 - FlowLine.HeadLength * uy);
        return $"M{Box.Write(line.X2)} {Box.Write(line.Y2)}L{Box.Write(x - halfWidth * uy)} "
            + $"{Box.Write(y + halfWidth * ux)}L{Box.Write(x + halfWidth * uy)} {Box.Write(y - halfWidth * ux)}Z";
    }
}
