using System.Collections.Concurrent;
using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Web.Diagram;

namespace ClearTide.Web.Thumbnails;

/// <summary>A study in small: its diagram and its curves.</summary>
/// <param name="Diagram">Null where the study cannot be drawn.</param>
/// <param name="Remark">Why something is not to be seen; null where all is.</param>
public sealed record ShelfPicture(DiagramModel? Diagram, ThumbCurves? Curves, string? Remark = null)
{
    /// <summary>Size of each of the two pictures on the shelf, in pixels.</summary>
    public const double Width = 132,
        Height = 76;
}

/// <summary>Small pictures of studies, drawn in the background, one after the other and once for each revision; no study holds up the
/// shelf.</summary>
public sealed class ShelfPictures(ILogger<ShelfPictures> log)
{
    private const int Most = 400;

    /// <summary>The run behind a picture is given up after this time.</summary>
    private static readonly TimeSpan Longest = TimeSpan.FromSeconds(10);

    private readonly ConcurrentDictionary<(string Study, long Revision), Lazy<Task<ShelfPicture>>> _pictures = [];
    private readonly SemaphoreSlim _turn = new(1);

    /// <summary>The picture of a revision; it never fails.</summary>
    public Task<ShelfPicture> Of(string study, long revision, Func<StudyDocument> document)
    {
        if (_pictures.Count > Most)
            _pictures.Clear();
        return _pictures.GetOrAdd((study, revision), _ => new(() => Task.Run(() => InTurn(study, document)))).Value;
    }

    private async Task<ShelfPicture> InTurn(string study, Func<StudyDocument> document)
    {
        await _turn.WaitAsync();
        try
        {
            return Draw(document());
        }
        catch (Exception failure)
        {
            log.LogError(failure, "The study {Study} could not be drawn for the shelf", study);
            return new(null, null, "This study cannot be read. Open it to see why and what can be done.");
        }
        finally
        {
            _turn.Release();
        }
    }

    /// <summary>The picture of a document, drawn at once.</summary>
    /// <param name="width">Width of the curves in pixels.</param>
    /// <param name="height">Height of the curves in pixels.</param>
    public static ShelfPicture Draw(StudyDocument document, double width = ShelfPicture.Width, double height = ShelfPicture.Height)
    {
        using var limit = new CancellationTokenSource(Longest);
        try
        {
            var run = StudyRun.Of(document, cancel: limit.Token);
            return new(DiagramModel.Of(run.Lowered), Thumbnail.Of(run, width, height));
        }
        catch (OperationCanceledException)
        {
            return new(
                DiagramModel.Of(Lowering.Lower(document)),
                null,
                $"Its run takes longer than {Longest.TotalSeconds:0} seconds, so that no curves are shown here."
            );
        }
    }
}
