using Microsoft.Extensions.Caching.Memory;

namespace ClearTide.Storage;

/// <summary>What was used last, of things that never change once made, up to a size of all together. Threads may ask at once.</summary>
/// <param name="limit">The most that is kept, in the unit of <paramref name="size"/>.</param>
/// <param name="size">The size of one thing.</param>
public class SizedCache<TKey, TValue>(long limit, Func<TValue, long> size) : IDisposable
    where TKey : notnull
    where TValue : class
{
    private readonly MemoryCache _known = new(new MemoryCacheOptions { SizeLimit = limit });

    /// <summary>Null where it is not kept, or no longer.</summary>
    public TValue? Find(TKey key) => _known.Get<TValue>(key);

    public TValue GetOrRead(TKey key, Func<TValue> read)
    {
        if (Find(key) is { } known)
            return known;
        var value = read();
        Keep(key, value);
        return value;
    }

    public void Keep(TKey key, TValue value) => _known.Set(key, value, new MemoryCacheEntryOptions { Size = size(value) });

    public void Clear() => _known.Clear();

    public void Dispose()
    {
        _known.Dispose();
        GC.SuppressFinalize(this);
    }
}
