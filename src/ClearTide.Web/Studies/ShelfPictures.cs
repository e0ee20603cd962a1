using System.Collections.Concurrent;
using ClearTide.Core.Models;
using ClearTide.Web.Diagram;

namespace ClearTide.Web.Studies;

/// <summary>A study in small: its diagram and its curves.</summary>
public sealed record ShelfPicture(DiagramModel Diagram, IReadOnlyList<ThumbLine> Curves);

/// <summary>Small pictures of studies, made once for each revision.</summary>
public sealed class ShelfPictures
{
    private const int Most = 400;

    private readonly ConcurrentDictionary<(string Study, long Revision), ShelfPicture> _pictures = [];

    public ShelfPicture Of(string study, long revision, Func<StudyDocument> document)
    {
        if (_pictures.Count > Most) _pictures.Clear();
        return _pictures.GetOrAdd((study, revision), _ => Draw(document()));
    }

    public static ShelfPicture Draw(StudyDocument document)
    {
        var run = StudyRun.Of(document);
        return new(DiagramModel.Of(run.Lowered), Thumbnail.Of(run));
    }
}
