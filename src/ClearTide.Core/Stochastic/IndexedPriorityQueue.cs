namespace ClearTide.Core.Stochastic;

/// <summary>
/// The items 0 to n − 1 in a heap by their keys, with the place of each known, so that the key of any item can be changed at a cost of
/// O(log n) (Gibson and Bruck, J. Phys. Chem. A 104, 2000, pp. 1876–1889, section 3.2). Four below each rather than two: half the levels.
/// </summary>
internal sealed class IndexedPriorityQueue
{
    private const int Below = 4;

    private readonly Entry[] _heap;

    /// <summary>The place of each item in the heap.</summary>
    private readonly int[] _places;

    /// <param name="count">How many items; at least one.</param>
    public IndexedPriorityQueue(int count) => (_heap, _places) = (new Entry[count], new int[count]);

    private readonly record struct Entry(double Key, int Item);

    /// <summary>The item whose key is the least.</summary>
    public int First => _heap[0].Item;

    /// <summary>The least key.</summary>
    public double Least => _heap[0].Key;

    /// <summary>Gives every item a key at once, in O(n).</summary>
    /// <param name="keys">One number for each item; infinity for what never comes, never not-a-number.</param>
    public void Fill(ReadOnlySpan<double> keys)
    {
        for (var item = 0; item < keys.Length; item++)
            (_heap[item], _places[item]) = (new(keys[item], item), item);
        for (var place = (keys.Length - 2) / Below; place >= 0; place--)
            Sink(_heap[place], place);
    }

    /// <summary>Gives an item another key.</summary>
    public void Change(int item, double key)
    {
        var place = _places[item];
        if (key < _heap[place].Key)
            Rise(new(key, item), place);
        else
            Sink(new(key, item), place);
    }

    private void Rise(Entry entry, int place)
    {
        var heap = _heap;
        while (place > 0)
        {
            var above = (place - 1) / Below;
            if (heap[above].Key <= entry.Key)
                break;
            Put(heap[above], place);
            place = above;
        }
        Put(entry, place);
    }

    private void Sink(Entry entry, int place)
    {
        var heap = _heap;
        for (int first; (first = Below * place + 1) < heap.Length; )
        {
            var least = first;
            var last = Math.Min(first + Below, heap.Length);
            for (var other = first + 1; other < last; other++)
            {
                if (heap[other].Key < heap[least].Key)
                    least = other;
            }
            if (entry.Key <= heap[least].Key)
                break;
            Put(heap[least], place);
            place = least;
        }
        Put(entry, place);
    }

    private void Put(Entry entry, int place)
    {
        _heap[place] = entry;
        _places[entry.Item] = place;
    }
}
