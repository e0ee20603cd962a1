namespace ClearTide.Web.Jobs;

/// <summary>Wakes the job runner when there is something to do.</summary>
public sealed class JobSignal
{
    private readonly SemaphoreSlim _raised = new(0, 1);

    public void Raise()
    {
        try
        {
            _raised.Release();
        }
        catch (SemaphoreFullException)
        {
            // It is awake already.
        }
    }

    public Task WaitAsync(TimeSpan longest, CancellationToken cancel) => _raised.WaitAsync(longest, cancel);
}
