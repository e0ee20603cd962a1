using System.Collections.Concurrent;

namespace ClearTide.Web.Hosting;

/// <summary>
/// Work of many runs begun before it is asked for: the answer to an edit is on its way to the browser, which will ask for the runs as
/// soon as it has read it. What nobody asks for in time is stopped.
/// </summary>
public sealed class WorkAhead(WorkTime works)
{
    /// <summary>So long is what nobody has asked for kept.</summary>
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(3);

    /// <summary>Work that may never be asked for leaves most places to what is.</summary>
    private const int Most = 4;

    private readonly ConcurrentDictionary<string, GoingWork> _begun = new();

    /// <summary>Begins work, unless much goes on.</summary>
    /// <param name="key">By which it will be asked for: it holds all that the result depends on.</param>
    public void Begin(string key, Func<Action<int>, WorkTime.LongWork, object> work)
    {
        if (_begun.Count >= Most || GoingWork.Begin(works, work) is not { } going)
            return;
        if (!_begun.TryAdd(key, going))
        {
            going.Dispose();
            return;
        }
        _ = Task.Delay(Patience)
            .ContinueWith(
                _ =>
                {
                    if (_begun.TryRemove(new(key, going)))
                        going.Dispose();
                },
                TaskScheduler.Default
            );
    }

    /// <summary>What was begun under the key, once; null where nothing was.</summary>
    public GoingWork? Take(string key) => _begun.TryRemove(key, out var going) ? going : null;
}
