namespace ClearTide.Web.Diagram;

/// <summary>Boxes and points by the cells of a grid they lie in, so that asking what a box touches looks at its neighbours alone.</summary>
public sealed class BoxGrid
{
    private const double Cell = 96;

    private readonly Dictionary<(int, int), List<Box>> _boxes = [];
    private readonly Dictionary<(int, int), List<(double X, double Y)>> _points = [];

    public void Add(Box box)
    {
        foreach (var cell in Cells(box))
            At(_boxes, cell).Add(box);
    }

    public void Add(double x, double y) => At(_points, (Index(x), Index(y))).Add((x, y));

    /// <summary>Whether a box covers part of one that is there.</summary>
    public bool IsTaken(Box box) => Cells(box).Any(cell => _boxes.TryGetValue(cell, out var there) && there.Any(box.Overlaps));

    /// <summary>How many points lie in a box.</summary>
    public int PointsIn(Box box)
    {
        var count = 0;
        foreach (var cell in Cells(box))
        {
            if (!_points.TryGetValue(cell, out var there))
                continue;
            foreach (var (x, y) in there)
            {
                if (x > box.X && x < box.Right && y > box.Y && y < box.Bottom)
                    count++;
            }
        }
        return count;
    }

    private static int Index(double coordinate) => (int)Math.Floor(coordinate / Cell);

    private static IEnumerable<(int, int)> Cells(Box box)
    {
        for (var x = Index(box.X); x <= Index(box.Right); x++)
        {
            for (var y = Index(box.Y); y <= Index(box.Bottom); y++)
                yield return (x, y);
        }
    }

    private static List<T> At<T>(Dictionary<(int, int), List<T>> cells, (int, int) cell) =>
        cells.TryGetValue(cell, out var list) ? list : cells[cell] = [];
}
