namespace ClearTide.Web.Hosting;

/// <summary>
/// Collects short-lived objects right after an answer has been sent, while no other request is on its way and no work of many
/// runs goes on: the browser is busy drawing then, and nobody waits. Else every fourth or fifth edit of a large study would wait for a
/// collection on top of its own work.
/// </summary>
public sealed class QuietCollection(RequestDelegate next, WorkTime works)
{
    /// <summary>What is allocated before a collection pays: about what two edits of a large study leave behind.</summary>
    private const long Worth = 8 << 20;

    private int _waiting;
    private long _collectedAt;

    /// <summary>Answers the request, then collects if it is quiet.</summary>
    public Task InvokeAsync(HttpContext context)
    {
        Interlocked.Increment(ref _waiting);
        context.Response.OnCompleted(CollectIfQuiet);
        return next(context);
    }

    private Task CollectIfQuiet()
    {
        var quiet = Interlocked.Decrement(ref _waiting) == 0 && !works.Busy;
        var allocated = GC.GetTotalAllocatedBytes();
        if (quiet && allocated - Interlocked.Read(ref _collectedAt) > Worth)
        {
            Interlocked.Exchange(ref _collectedAt, allocated);
            GC.Collect(0, GCCollectionMode.Forced, blocking: true);
        }
        return Task.CompletedTask;
    }
}
