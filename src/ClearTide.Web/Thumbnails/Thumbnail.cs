using System.Globalization;
using ClearTide.Core.Language;
using ClearTide.Core.Reports;
using ClearTide.Web.Curves;
using ClearTide.Web.Words;

namespace ClearTide.Web.Thumbnails;

/// <summary>One curve of a small picture, as points of its drawing.</summary>
public sealed record ThumbLine(string Points, int Colour);

/// <summary>The curves of a study in small, with their axes; lengths are pixels of the drawing.</summary>
/// <param name="Baseline">Where amounts are zero.</param>
/// <param name="Top">The greatest amount, in words; it is at the upper edge.</param>
public sealed record ThumbCurves(
    double Width,
    double Height,
    double Baseline,
    string Top,
    string Start,
    string End,
    IReadOnlyList<ThumbLine> Lines
)
{
    /// <summary>Room at each side of the curves.</summary>
    public const double Side = 5;
}

/// <summary>The curves of a study as a small picture.</summary>
public static class Thumbnail
{
    /// <summary>Room for a line of words above the curves and below them.</summary>
    private const double Words = 14;

    /// <summary>More curves than this are a blot in so small a picture.</summary>
    private const int MostCurves = 16;

    /// <summary>Points of a curve at most, as many as can be told apart.</summary>
    private const int MostPoints = 120;

    /// <param name="width">Width of the picture in pixels.</param>
    /// <param name="height">Height of the picture in pixels.</param>
    public static ThumbCurves Of(StudyRun made, double width, double height)
    {
        var document = made.Lowered.Study;
        var baseline = height - Words;
        var (start, end) = (Numbers.Say(document.Start), document.TimeUnit.Length(document.End));
        if (made.Run is not { } run)
            return new(width, height, baseline, "", start, end, []);
        // What is split is shown as one, by its total.
        var outputs = run.Network.Outputs.Select(one => one.PartId).ToList();
        var columns = document.Compartments.Select(part => run.OutputColumn(outputs.IndexOf(part.Id))).ToList();
        var top = columns.SelectMany(column => column).Where(double.IsFinite).DefaultIfEmpty(0).Max();
        var scale = top > 0 ? top : 1;
        var (first, span) = (run.Times[0], run.Times[^1] - run.Times[0]);
        var every = Math.Max(1, run.Times.Count / MostPoints);
        string Point(double time, double value)
        {
            var (x, y) = (
                ThumbCurves.Side + (width - 2 * ThumbCurves.Side) * (time - first) / span,
                baseline - (baseline - Words) * Math.Clamp(value / scale, 0, 1)
            );
            return string.Create(CultureInfo.InvariantCulture, $"{x:0.#},{y:0.#}");
        }
        string Points(double[] column) =>
            string.Join(
                ' ',
                Enumerable
                    .Range(0, run.Times.Count)
                    .Where(i => i % every == 0 || i == run.Times.Count - 1)
                    .Where(i => double.IsFinite(column[i]))
                    .Select(i => Point(run.Times[i], column[i]))
            );
        var lines = columns
            .Take(MostCurves)
            .Select((column, k) => new ThumbLine(Points(column), Palette.Of(document, document.Compartments[k].Id)));
        return new(width, height, baseline, top > 0 ? Numbers.Say(top) : "", start, end, [.. lines]);
    }
}
