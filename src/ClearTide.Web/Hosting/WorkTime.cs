using ClearTide.Core.Language;
using Microsoft.AspNetCore.Http.Timeouts;

namespace ClearTide.Web.Hosting;

/// <summary>
/// The one place that says how long work may take and how many cores it may have. Every request ends in time; work of many runs has
/// longer, and shares the cores with others of its kind, so that nobody waits for the long work of somebody else.
/// </summary>
public sealed class WorkTime
{
    /// <summary>What a request takes at most, but for work of many runs.</summary>
    public static readonly TimeSpan Request = TimeSpan.FromSeconds(20);

    /// <summary>A run that somebody waits for is stopped after this time; what is worked out of a run has as long again.</summary>
    public static readonly TimeSpan Run = TimeSpan.FromSeconds(10),
        Report = TimeSpan.FromSeconds(8);

    /// <summary>Work of many runs that tells how far it is.</summary>
    public static readonly TimeSpan Many = TimeSpan.FromMinutes(2);

    /// <summary>So much work of many runs goes on at once; who asks for more is told to wait.</summary>
    private const int MostAtOnce = 12;

    /// <summary>Threads for those who wait beside work that computes: without them a request would wait for a thread, and not for a
    /// core.</summary>
    private const int Threads = 64;

    private int _going;

    /// <summary>Whether work of many runs goes on.</summary>
    public bool Busy => Volatile.Read(ref _going) > 0;

    public static void Prepare(IServiceCollection services)
    {
        ThreadPool.GetMinThreads(out _, out var ports);
        ThreadPool.SetMinThreads(Threads, ports);
        services.AddSingleton<WorkTime>();
        services.AddRequestTimeouts(options =>
            options.DefaultPolicy = new RequestTimeoutPolicy
            {
                Timeout = Request,
                TimeoutStatusCode = StatusCodes.Status503ServiceUnavailable,
            }
        );
    }

    /// <summary>Begins work of many runs; null where too much of it goes on.</summary>
    /// <param name="left">Cancelled when nobody waits for it any more.</param>
    public LongWork? Begin(CancellationToken left)
    {
        if (Interlocked.Increment(ref _going) > MostAtOnce)
        {
            Interlocked.Decrement(ref _going);
            return null;
        }
        return new(this, left);
    }

    /// <summary>The same for a request that waits for it: the work's own time takes the place of the request's.</summary>
    public LongWork? Begin(HttpContext context)
    {
        OwnTime(context);
        return Begin(context.RequestAborted);
    }

    /// <summary>Lets a request wait as long as the work does that it follows.</summary>
    public static void OwnTime(HttpContext context) => context.Features.Get<IHttpRequestTimeoutFeature>()?.DisableTimeout();

    /// <summary>Long work that goes on.</summary>
    public sealed class LongWork : IDisposable
    {
        private readonly WorkTime _time;
        private readonly CancellationTokenSource _limit;

        internal LongWork(WorkTime time, CancellationToken left)
        {
            (_time, _limit) = (time, CancellationTokenSource.CreateLinkedTokenSource(left));
            _limit.CancelAfter(Many);
        }

        /// <summary>Ends with the time, or when whoever asked has left.</summary>
        public CancellationToken Cancel => _limit.Token;

        /// <summary>The cores it may use: all of them where it is alone.</summary>
        public int Cores => Math.Max(1, Environment.ProcessorCount / Math.Max(1, Volatile.Read(ref _time._going)));

        public void Dispose()
        {
            Interlocked.Decrement(ref _time._going);
            _limit.Dispose();
        }
    }
}
