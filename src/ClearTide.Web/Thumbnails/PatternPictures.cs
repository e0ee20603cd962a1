using System.Collections.Concurrent;
using ClearTide.Core.Compilation;
using ClearTide.Core.Model;
using ClearTide.Web.Diagram;

namespace ClearTide.Web.Thumbnails;

/// <summary>The diagrams of the starting patterns, each drawn once: what ships does not change.</summary>
public sealed class PatternPictures
{
    private readonly ConcurrentDictionary<string, DiagramModel> _diagrams = [];

    /// <param name="key">The name of the pattern's file.</param>
    public DiagramModel Of(string key, StudyDocument pattern) => _diagrams.GetOrAdd(key, _ => DiagramModel.Of(Lowering.Lower(pattern)));
}
