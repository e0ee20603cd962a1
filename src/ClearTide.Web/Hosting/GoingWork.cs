namespace ClearTide.Web.Hosting;

/// <summary>Work of many runs that goes on beside the request that asked for it: how far it is, and what comes of it.</summary>
public sealed class GoingWork : IDisposable
{
    private readonly CancellationTokenSource _stop;
    private int _percent;

    private GoingWork(WorkTime.LongWork time, CancellationTokenSource stop, Func<Action<int>, WorkTime.LongWork, object> work)
    {
        _stop = stop;
        Result = Task.Run(() => work(done => Volatile.Write(ref _percent, done), time), stop.Token);
        // The share of the cores is given back when the work has ended, not when somebody has asked it to.
        _ = Result.ContinueWith(_ => time.Dispose(), TaskScheduler.Default);
    }

    /// <summary>Begins it; null where too much work of this kind goes on.</summary>
    /// <param name="work">Tells how many percent are done, and says what came of it.</param>
    public static GoingWork? Begin(WorkTime works, Func<Action<int>, WorkTime.LongWork, object> work)
    {
        var stop = new CancellationTokenSource();
        if (works.Begin(stop.Token) is { } time)
            return new(time, stop, work);
        stop.Dispose();
        return null;
    }

    public int Percent => Volatile.Read(ref _percent);

    public Task<object> Result { get; }

    public void Stop() => _stop.Cancel();

    public void Dispose()
    {
        Stop();
        _stop.Dispose();
    }
}
