using ClearTide.Core.Models;

namespace ClearTide.Storage;

/// <summary>
/// Documents of the revisions used last. A revision never changes once it is stored, and documents are immutable, so what is found here is what
/// the database holds.
/// </summary>
internal sealed class DocumentCache
{
    private const int Capacity = 32;

    private readonly LinkedList<((string Study, long Number) Key, StudyDocument Document)> _documents = [];
    private readonly Lock _gate = new();

    public StudyDocument GetOrRead(string study, long number, Func<StudyDocument> read)
    {
        lock (_gate)
        {
            for (var node = _documents.First; node is not null; node = node.Next)
            {
                if (node.Value.Key != (study, number)) continue;
                _documents.Remove(node);
                _documents.AddFirst(node);
                return node.Value.Document;
            }
        }
        var document = read();
        Keep(study, number, document);
        return document;
    }

    public void Clear()
    {
        lock (_gate) _documents.Clear();
    }

    public void Keep(string study, long number, StudyDocument document)
    {
        lock (_gate)
        {
            _documents.AddFirst(((study, number), document));
            if (_documents.Count > Capacity) _documents.RemoveLast();
        }
    }
}
