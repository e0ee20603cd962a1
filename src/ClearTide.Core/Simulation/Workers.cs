using System.Runtime.ExceptionServices;

namespace ClearTide.Core.Simulation;

/// <summary>Work on threads of its own, so that it takes none of those that answer others.</summary>
internal static class Workers
{
    /// <summary>Calls the body once for each index, on several threads; returns when all calls are over. Given
    /// up, no further call begins.</summary>
    /// <exception cref="OperationCanceledException">The work was given up.</exception>
    public static void For(int count, int threads, CancellationToken cancel, Action<int> body)
    {
        cancel.ThrowIfCancellationRequested();
        threads = Math.Clamp(threads, 1, Math.Max(1, count));
        var next = -1;
        Exception? failure = null;
        void Work()
        {
            try
            {
                for (int k; failure is null && (k = Interlocked.Increment(ref next)) < count; )
                {
                    // A short call may never look at it by itself.
                    cancel.ThrowIfCancellationRequested();
                    body(k);
                }
            }
            catch (Exception wrong)
            {
                Interlocked.CompareExchange(ref failure, wrong, null);
            }
        }
        var others = Enumerable.Range(1, threads - 1).Select(_ => new Thread(Work) { IsBackground = true }).ToList();
        others.ForEach(thread => thread.Start());
        Work();
        others.ForEach(thread => thread.Join());
        if (failure is not null)
            ExceptionDispatchInfo.Throw(failure);
    }
}
