using ClearTide.Core.Compilation;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Storage;

namespace ClearTide.Web.Jobs;

/// <summary>A kind of long work. It reports progress, and leaves its result by fingerprint.</summary>
public interface IJobWork
{
    void Run(Job job, StudyState study, JobReport report, CancellationToken cancel);
}

/// <summary>How far a job is. Written by its work from any thread, read at each beat.</summary>
public sealed class JobReport
{
    private double _progress;

    /// <summary>From 0 to 1.</summary>
    public double Progress
    {
        get => Volatile.Read(ref _progress);
        set => Volatile.Write(ref _progress, value);
    }

    private Func<(string Words, string SoFar)>? _state;

    /// <summary>Makes what the job has come to so far: a sentence, and what it can go on from after an interruption.</summary>
    public Func<(string Words, string SoFar)> State
    {
        set => Volatile.Write(ref _state, value);
    }

    /// <summary>What there is new to say, once; null where that is nothing.</summary>
    public (string Words, string SoFar)? TakeState() => Interlocked.Exchange(ref _state, null)?.Invoke();
}

/// <summary>
/// Takes jobs, a few at a time so that a long one holds up nobody, keeps their lease alive, stops them when asked, and says how they
/// ended. A job left by a crash is taken up again when its lease has run out; work is a pure function of content, so that starting again
/// gives the same result.
/// </summary>
public sealed class JobRunner(
    JobStore jobs,
    StudyStore studies,
    JobSignal signal,
    FitJob fit,
    ProjectionJob projection,
    ILogger<JobRunner> log
) : BackgroundService
{
    private static readonly TimeSpan BeatEvery = TimeSpan.FromMilliseconds(100);
    private static readonly TimeSpan LookEvery = TimeSpan.FromSeconds(2);

    /// <summary>So many jobs go on at once: the system shares the cores among them.</summary>
    private const int AtOnce = 3;

    protected override Task ExecuteAsync(CancellationToken stoppingToken) =>
        Task.WhenAll(Enumerable.Range(0, AtOnce).Select(_ => TakeJobsAsync(Guid.NewGuid().ToString("N"), stoppingToken)));

    private async Task TakeJobsAsync(string worker, CancellationToken stoppingToken)
    {
        await Task.Yield();
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                if (jobs.Take(worker) is { } job)
                {
                    // There may be more of them: another worker looks.
                    signal.Raise();
                    await RunAsync(job, worker, stoppingToken);
                }
                else
                    await signal.WaitAsync(LookEvery, stoppingToken);
            }
            catch (OperationCanceledException) when (stoppingToken.IsCancellationRequested)
            {
                return;
            }
            catch (Exception failure)
            {
                // A runner that died here would leave every later job waiting for ever.
                log.LogError(failure, "The job runner failed and goes on");
                await Task.Delay(LookEvery, stoppingToken);
            }
        }
    }

    private async Task RunAsync(Job job, string worker, CancellationToken stopping)
    {
        using var cancel = CancellationTokenSource.CreateLinkedTokenSource(stopping);
        var report = new JobReport();
        var work = Task.Run(() => Work(job, report, cancel.Token), CancellationToken.None);
        while (await Task.WhenAny(work, Task.Delay(BeatEvery, CancellationToken.None)) != work)
        {
            if (!jobs.Beat(job.Id, worker, report.Progress, Told(job, report)))
                await cancel.CancelAsync();
        }
        var (state, message) = await work;
        // A server that shuts down leaves the job to be taken up again.
        if (state == JobState.Stopped && stopping.IsCancellationRequested)
            return;
        jobs.Finish(job.Id, worker, state, message);
    }

    /// <summary>What a job has come to; a fault in saying so does not end it.</summary>
    private (string, string)? Told(Job job, JobReport report)
    {
        try
        {
            return report.TakeState();
        }
        catch (Exception failure)
        {
            log.LogError(failure, "Job {Id} could not say how far it is", job.Id);
            return null;
        }
    }

    private (string State, string Message) Work(Job job, JobReport report, CancellationToken cancel)
    {
        try
        {
            if (studies.Load(job.StudyId) is not { } study)
                return (JobState.Failed, "The study is no longer there.");
            IJobWork work = job.Kind == FitJob.Kind ? fit : projection;
            work.Run(job, study, report, cancel);
            return (JobState.Done, "");
        }
        catch (Exception stopped)
            when (stopped is OperationCanceledException
                || (stopped is AggregateException many && many.InnerExceptions.Any(inner => inner is OperationCanceledException))
            )
        {
            return (JobState.Stopped, JobState.StoppedWords);
        }
        catch (Exception refusal) when (refusal is FitRefusedException or ProjectionRefusedException)
        {
            return (JobState.Failed, refusal.Message);
        }
        catch (Exception failure)
            when ((failure as SimulationException ?? (failure as AggregateException)?.InnerException as SimulationException)
                    is { } simulation
            )
        {
            return (
                JobState.Failed,
                studies.Load(job.StudyId) is { } study ? RunFailure.Say(simulation, Lowering.Lower(study.Document)) : simulation.Message
            );
        }
        catch (Exception failure)
        {
            log.LogError(failure, "Job {Id} failed", job.Id);
            return (
                JobState.Failed,
                "This could not be finished because of a fault in Clear Tide. The log of the server says more; nothing was changed."
            );
        }
    }
}
