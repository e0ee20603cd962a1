using ClearTide.Core.Model;
using Dapper;

namespace ClearTide.Storage.Tests;

public sealed class JobStoreTests : IDisposable
{
    private readonly TemporaryFolder _folder = new();
    private readonly Database _database;
    private readonly JobStore _jobs;
    private readonly string _study;

    public JobStoreTests()
    {
        _database = new(_folder.Path);
        _jobs = new(_database);
        _study = new StudyStore(_database).Add(new StudyDocument { Title = "Estuary" });
    }

    public void Dispose() => _folder.Dispose();

    [Fact]
    public void A_job_is_taken_once_and_its_end_is_kept()
    {
        var id = _jobs.Add(_study, "fit", "f", "");
        Assert.Equal(id, _jobs.Take("one")!.Id);
        Assert.Null(_jobs.Take("two"));
        Assert.True(_jobs.Beat(id, "one", 0.4));
        Assert.False(_jobs.Beat(id, "two", 0.9));
        Assert.Equal(0.4, _jobs.Find(id)!.Progress);
        _jobs.Finish(id, "one", JobState.Done, "");
        Assert.True(_jobs.Newest(_study, "fit")!.IsOver);
    }

    [Fact]
    public void What_a_job_has_come_to_stays_when_it_is_interrupted()
    {
        var id = _jobs.Add(_study, "fit", "f", "");
        Assert.Equal("", _jobs.Take("one")!.SoFar);
        Assert.True(_jobs.Beat(id, "one", 0.2, ("Best so far.", "{\"best\":1}")));
        Assert.True(_jobs.Beat(id, "one", 0.3));
        Assert.Equal(("Best so far.", "{\"best\":1}"), (_jobs.Find(id)!.Message, _jobs.Find(id)!.SoFar));
        _jobs.BeginAgain();
        var again = _jobs.Take("two")!;
        Assert.Equal((id, "{\"best\":1}", JobState.InterruptedWords), (again.Id, again.SoFar, again.Message));
        // A worker that lost it says nothing more.
        Assert.False(_jobs.Beat(id, "one", 0.9, ("Late.", "{}")));
        Assert.Equal("{\"best\":1}", _jobs.Find(id)!.SoFar);
    }

    [Fact]
    public void Studies_take_turns_and_a_study_with_many_jobs_holds_up_none_that_has_one()
    {
        var other = new StudyStore(_database).Add(new StudyDocument { Title = "Lagoon" });
        string[] many = [.. Enumerable.Range(0, 3).Select(_ => _jobs.Add(_study, "fit", "f", ""))];
        var single = _jobs.Add(other, "projection", "p", "");
        Assert.Equal(many[0], _jobs.Take("one")!.Id);
        // The first study has a job that runs: the other's comes next, though it was added last.
        Assert.Equal(single, _jobs.Take("two")!.Id);
        Assert.Equal(many[1], _jobs.Take("three")!.Id);
        _jobs.Finish(many[0], "one", JobState.Done, "");
        // Nobody else waits: its own jobs follow in the order in which they were added.
        Assert.Equal(many[2], _jobs.Take("one")!.Id);
        Assert.Null(_jobs.Take("four"));
    }

    [Fact]
    public void Of_jobs_added_at_once_the_newest_is_the_last_one_and_the_first_is_taken_first()
    {
        for (var k = 0; k < 20; k++)
        {
            var kind = $"kind {k}";
            var (first, second) = (_jobs.Add(_study, kind, "f", ""), _jobs.Add(_study, kind, "f", ""));
            Assert.Equal(second, _jobs.Newest(_study, kind)!.Id);
            Assert.Equal(first, _jobs.Take("one")!.Id);
            Assert.Equal(second, _jobs.Take("one")!.Id);
            _jobs.Finish(first, "one", JobState.Done, "");
            _jobs.Finish(second, "one", JobState.Done, "");
        }
    }

    [Fact]
    public void A_worker_that_went_silent_loses_its_job()
    {
        var id = _jobs.Add(_study, "fit", "f", "");
        _jobs.Take("one");
        using (var connection = _database.Open())
            connection.Execute("update job set lease_until = '2000-01-01T00:00:00Z'");
        Assert.Equal(id, _jobs.Take("two")!.Id);
        Assert.False(_jobs.Beat(id, "one", 0.5));
        _jobs.Finish(id, "one", JobState.Done, "");
        Assert.Equal(JobState.Running, _jobs.Find(id)!.State);
    }

    [Fact]
    public void Stopping_reaches_a_waiting_job_at_once_and_a_running_one_at_its_next_beat()
    {
        var waiting = _jobs.Add(_study, "fit", "f", "");
        _jobs.Stop(waiting);
        Assert.Equal(JobState.Stopped, _jobs.Find(waiting)!.State);
        Assert.Null(_jobs.Take("one"));
        var running = _jobs.Add(_study, "fit", "f", "");
        _jobs.Take("one");
        _jobs.Stop(running);
        Assert.False(_jobs.Beat(running, "one", 0.5));
        // Its work came to an end before it saw that it was asked to stop: it has stopped all the same.
        _jobs.Finish(running, "one", JobState.Done, "");
        Assert.Equal((JobState.Stopped, JobState.StoppedWords), (_jobs.Find(running)!.State, _jobs.Find(running)!.Message));
    }
}
