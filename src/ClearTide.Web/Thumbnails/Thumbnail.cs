using System.Globalization;
using ClearTide.Core.Reports;
using ClearTide.Web.Curves;

namespace ClearTide.Web.Thumbnails;

public sealed record ThumbLine(string Points, int Colour);

/// <summary>The curves of a study as a small picture, 180 by 84.</summary>
public static class Thumbnail
{
    private const double Width = 180,
        Height = 84,
        Margin = 4;

    /// <summary>More curves than this are a blot in so small a picture.</summary>
    private const int MostCurves = 16;

    public static IReadOnlyList<ThumbLine> Of(StudyRun made)
    {
        if (made.Run is not { } run)
            return [];
        var document = made.Lowered.Document;
        var columns = Enumerable.Range(0, run.Network.Amounts.Count).Select(run.AmountColumn).ToList();
        var top = columns.SelectMany(column => column).Where(double.IsFinite).DefaultIfEmpty(1).Max();
        if (!(top > 0))
            top = 1;
        var (start, span) = (run.Times[0], run.Times[^1] - run.Times[0]);
        var every = Math.Max(1, run.Times.Count / 90);
        string Point(double time, double value)
        {
            var (x, y) = (Margin + (Width - 2 * Margin) * (time - start) / span, Math.Clamp(value / top, 0, 1));
            return string.Create(CultureInfo.InvariantCulture, $"{x:0.#},{Height - Margin - (Height - 2 * Margin) * y:0.#}");
        }
        return
        [
            .. columns
                .Take(MostCurves)
                .Select(
                    (column, k) =>
                        new ThumbLine(
                            string.Join(
                                ' ',
                                Enumerable.Range(0, run.Times.Count).Where(i => i % every == 0).Select(i => Point(run.Times[i], column[i]))
                            ),
                            Palette.Of(document, document.Compartments[k].Id)
                        )
                ),
        ];
    }
}
