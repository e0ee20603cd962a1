using ClearTide.Core.Data;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;

namespace ClearTide.Web.Curves;

/// <summary>
/// The run made last of each study, for pages that change what is shown of it: as long as only panels and sliders differ it is the same
/// run. A few are
/// kept, the oldest dropped first.
/// </summary>
public sealed class ExploredRuns
{
    private const int Capacity = 16;

    private readonly LinkedList<(string Study, StudyDocument Document, IReadOnlyList<Series> Series, StudyRun Run)> _runs = [];
    private readonly Lock _gate = new();

    public StudyRun GetOrMake(string study, StudyDocument document, IReadOnlyList<Series> series, Func<StudyRun> make)
    {
        lock (_gate)
        {
            foreach (var known in _runs)
            {
                // Documents share what an edit has left alone, so that this compares lists by looking at them, not into them.
                if (
                    known.Study == study
                    && known
                        .Series.Select(one => one.Data)
                        .SequenceEqual(series.Select(one => one.Data), ReferenceEqualityComparer.Instance)
                    && (known.Document with { Panels = document.Panels, Sliders = document.Sliders }).Equals(document)
                )
                    return known.Run;
            }
        }
        var run = make();
        lock (_gate)
        {
            _runs.AddFirst((study, document, series, run));
            if (_runs.Count > Capacity)
                _runs.RemoveLast();
        }
        return run;
    }
}
