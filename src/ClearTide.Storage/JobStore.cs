using Dapper;

namespace ClearTide.Storage;

public static class JobState
{
    public const string Waiting = "waiting";
    public const string Running = "running";
    public const string Stopping = "stopping";
    public const string Stopped = "stopped";
    public const string Done = "done";
    public const string Failed = "failed";

    /// <summary>What a job that was stopped says.</summary>
    public const string StoppedWords = "Stopped. Nothing was changed; start it again when you like.";

    /// <summary>What a job says whose server was ended while it ran.</summary>
    public const string InterruptedWords = "Interrupted when the server was stopped; it starts again.";
}

/// <summary>A piece of long work. <paramref name="Fingerprint"/> names the content it is about and the result it leaves.</summary>
/// <param name="Progress">From 0 to 1.</param>
/// <param name="SoFar">What it had come to at its last beat, in a form of its kind's own; empty where that is nothing.</param>
public sealed record Job(
    string Id,
    string StudyId,
    string Kind,
    string Fingerprint,
    string Request,
    string State,
    double Progress,
    string Message,
    string SoFar,
    DateTime Created,
    DateTime Changed
)
{
    public bool IsOver => State is JobState.Done or JobState.Failed or JobState.Stopped;
}

/// <summary>Long work as rows with progress and a lease: a worker that goes silent loses its job, and no two work on the same
/// one.</summary>
public sealed class JobStore(Database database)
{
    public static readonly TimeSpan Lease = TimeSpan.FromSeconds(15);

    private sealed class Row
    {
        public string Id { get; set; } = "";
        public string StudyId { get; set; } = "";
        public string Kind { get; set; } = "";
        public string Fingerprint { get; set; } = "";
        public string Request { get; set; } = "";
        public string State { get; set; } = "";
        public double Progress { get; set; }
        public string Message { get; set; } = "";
        public string SoFar { get; set; } = "";
        public string Created { get; set; } = "";
        public string Changed { get; set; } = "";

        public Job ToJob() => new(Id, StudyId, Kind, Fingerprint, Request, State, Progress, Message, SoFar, Time(Created), Time(Changed));

        private static DateTime Time(string text) => DateTime.Parse(text, null, System.Globalization.DateTimeStyles.RoundtripKind);
    }

    // Jobs are told apart in order by rowid: ids that are made in one millisecond are in no order.
    private const string Columns =
        "id, study_id as StudyId, kind, fingerprint, request, state, progress, message, so_far as SoFar, created, changed";

    public string Add(string studyId, string kind, string fingerprint, string request)
    {
        var id = Database.NewId();
        database.Write(
            "insert into job (id, study_id, owner_id, kind, fingerprint, request, state, progress, message, created, "
                + "changed) values (@id, @studyId, @owner, @kind, @fingerprint, @request, @state, 0, '', @now, @now)",
            new
            {
                id,
                studyId,
                owner = Database.LocalOwner,
                kind,
                fingerprint,
                request,
                state = JobState.Waiting,
                now = Database.Now,
            }
        );
        return id;
    }

    public Job? Find(string id)
    {
        using var connection = database.Open();
        return connection
            .QuerySingleOrDefault<Row>(
                $"select {Columns} from job where id = @id and owner_id = @owner",
                new { id, owner = Database.LocalOwner }
            )
            ?.ToJob();
    }

    /// <summary>The newest job of a kind in a study.</summary>
    public Job? Newest(string studyId, string kind)
    {
        using var connection = database.Open();
        return connection
            .QueryFirstOrDefault<Row>(
                $"select {Columns} from job where study_id = @studyId and kind = @kind and owner_id = @owner order by rowid desc limit 1",
                new
                {
                    studyId,
                    kind,
                    owner = Database.LocalOwner,
                }
            )
            ?.ToJob();
    }

    /// <summary>Takes a job that waits, or whose worker has gone silent, for this worker; null where there is none. Studies take turns: one
    /// with many jobs holds up none that has one. Within a study the oldest comes first.</summary>
    public Job? Take(string worker)
    {
        // A look is cheaper than a turn to write.
        using (var connection = database.Open())
        {
            if (
                !connection.ExecuteScalar<bool>(
                    "select exists (select 1 from job where state = @waiting or (state in (@running, "
                        + "@stopping) and lease_until < @now))",
                    new
                    {
                        waiting = JobState.Waiting,
                        running = JobState.Running,
                        stopping = JobState.Stopping,
                        now = Database.Now,
                    }
                )
            )
            {
                return null;
            }
        }
        return database.Write(
            (connection, transaction) =>
            {
                // One that was asked to stop is not begun again when its worker has gone.
                connection.Execute(
                    "update job set state = @stopped, changed = @now where state = @stopping and lease_until < @now",
                    new
                    {
                        stopped = JobState.Stopped,
                        stopping = JobState.Stopping,
                        now = Database.Now,
                    },
                    transaction
                );
                return connection
                    .QuerySingleOrDefault<Row>(
                        $"""
                        update job set state = @running, worker = @worker, lease_until = @until, changed = @now
                        where id = (
                            select id from job where state = @waiting or (state = @running and lease_until < @now)
                            order by
                                (select count(*) from job as other where other.study_id = job.study_id
                                    and other.state in (@running, @stopping) and other.lease_until >= @now),
                                (select count(*) from job as other where other.study_id = job.study_id
                                    and other.state = @waiting and other.rowid < job.rowid),
                                rowid
                            limit 1)
                        returning {Columns}
                        """,
                        new
                        {
                            running = JobState.Running,
                            waiting = JobState.Waiting,
                            stopping = JobState.Stopping,
                            worker,
                            until = Until(),
                            now = Database.Now,
                        },
                        transaction
                    )
                    ?.ToJob();
            }
        );
    }

    /// <summary>Says of jobs whose server was ended that they start again: to be called before any is taken, by the only server of the
    /// data folder.</summary>
    public void BeginAgain() =>
        database.Write(
            "update job set state = @waiting, worker = null, lease_until = null, progress = 0, message = @words, changed "
                + "= @now where state = @running",
            new
            {
                waiting = JobState.Waiting,
                running = JobState.Running,
                words = JobState.InterruptedWords,
                now = Database.Now,
            }
        );

    /// <summary>Reports progress and renews the lease. False where the job was asked to stop, or belongs to another worker by
    /// now.</summary>
    /// <param name="state">A sentence, and what the job has come to; null where it has nothing new to say.</param>
    public bool Beat(string id, string worker, double progress, (string Words, string SoFar)? state = null)
    {
        return database.Write(
                "update job set progress = @progress, message = coalesce(@words, message), so_far = coalesce(@soFar, so_far), "
                    + "lease_until = @until, changed = @now where id = @id and worker = @worker and state = @running",
                new
                {
                    id,
                    worker,
                    progress,
                    words = state?.Words,
                    soFar = state?.SoFar,
                    until = Until(),
                    now = Database.Now,
                    running = JobState.Running,
                }
            ) > 0;
    }

    /// <summary>Says how a job ended. One that was asked to stop has stopped, also where its work came to its end meanwhile.</summary>
    public void Finish(string id, string worker, string state, string message)
    {
        database.Write(
            "update job set state = case when state = @stopping and @state = @done then @stopped else @state end, "
                + "message = case when state = @stopping and @state = @done then @words else @message end, progress = case when @state "
                + "= @done then 1 else progress end, so_far = case when @state = @done then '' else so_far end, "
                + "changed = @now where id = @id and worker = @worker",
            new
            {
                id,
                worker,
                state,
                message,
                done = JobState.Done,
                stopping = JobState.Stopping,
                stopped = JobState.Stopped,
                words = JobState.StoppedWords,
                now = Database.Now,
            }
        );
    }

    /// <summary>Asks a job to stop; one that waits stops at once.</summary>
    public void Stop(string id)
    {
        database.Write(
            "update job set state = case when state = @waiting then @stopped else @stopping end, changed = @now where id "
                + "= @id and owner_id = @owner and state in (@waiting, @running)",
            new
            {
                id,
                owner = Database.LocalOwner,
                waiting = JobState.Waiting,
                running = JobState.Running,
                stopped = JobState.Stopped,
                stopping = JobState.Stopping,
                now = Database.Now,
            }
        );
    }

    private static string Until() => DateTime.UtcNow.Add(Lease).ToString("O");
}
