namespace ClearTide.Web.Studies;

/// <summary>
/// The versions shown last, by study and version: an answer to an edit holds only what is not as it was before. A few are kept, the oldest dropped
/// first, so that memory does not grow with edits.
/// </summary>
public sealed class RunCache
{
    private const int Capacity = 16;

    private readonly LinkedList<((string Study, long Version) Key, StudyView View)> _runs = [];
    private readonly Lock _gate = new();

    public StudyView? Find(string study, long version)
    {
        lock (_gate)
        {
            return _runs.FirstOrDefault(entry => entry.Key == (study, version)).View;
        }
    }

    public void Keep(string study, long version, StudyView view)
    {
        lock (_gate)
        {
            if (_runs.Any(entry => entry.Key == (study, version))) return;
            _runs.AddFirst(((study, version), view));
            if (_runs.Count > Capacity) _runs.RemoveLast();
        }
    }
}
