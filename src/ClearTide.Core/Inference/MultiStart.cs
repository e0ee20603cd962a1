using System.Collections.Immutable;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Inference;

/// <summary>Climbs from many starts at once and tells which optima they ended at.</summary>
internal static class MultiStart
{
    /// <summary>Heights closer than this cannot be told apart by any data.</summary>
    private const double SameHeight = 0.01;

    /// <summary>A start has found its optimum where a further step gains less than this.</summary>
    private const double Near = 1e-4;

    /// <summary>So many optima are climbed to the end.</summary>
    private const int Polished = 4;

    /// <summary>Expectations closer than this share of the law's standard deviation cannot be told apart either.</summary>
    private const double SameMean = 0.05;

    /// <summary>Estimates further apart than this many standard errors, where both are well determined, belong to two optima.</summary>
    private const double Apart = 6;

    /// <summary>The first start is the model's own values; the others lie within the middle of the bounds, spread evenly.</summary>
    /// <param name="search">The likelihood, with rows and values.</param>
    /// <param name="setup">What is estimated, under which law.</param>
    /// <param name="say">Says why a run failed.</param>
    /// <param name="threads">How many starts go on at once; the result does not depend on it.</param>
    /// <param name="progress">Told the share that is done, from any thread; null for nobody.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    /// <param name="from">Values that an earlier search had come to; null or of another length for none.</param>
    /// <exception cref="FitRefusedException">The model cannot be run at any of the starts.</exception>
    public static (SearchPoint Best, ImmutableArray<Optimum> Optima, ImmutableArray<FailedStart> Failures) Climb(
        LikelihoodSearch search,
        FitSetup setup,
        Func<SimulationException, string> say,
        int threads,
        Action<double>? progress,
        CancellationToken cancel,
        IReadOnlyList<double>? from = null
    )
    {
        // What an earlier search had come to is one start more.
        var starts = setup.Starts + (from?.Count == search.Dimension ? 1 : 0);
        var ends = new SearchPoint?[starts];
        var failures = new string?[starts];
        var done = 0;
        Workers.For(starts, threads, cancel, start =>
        {
            try
            {
                var begin = start < setup.Starts ? Start(search, start) : [.. from!.Select((value, j) => search.FromValue(j, value))];
                ends[start] = search.Climb(begin, enough: Near, coarse: true, cancel: cancel);
            }
            catch (SimulationException failure)
            {
                // A start from which the model cannot be run tells nothing; the others may.
                failures[start] = say(failure);
            }
            progress?.Invoke((double)Interlocked.Increment(ref done) / starts);
        });
        var found = ends.OfType<SearchPoint>().Where(end => double.IsFinite(end.Height)).ToList();
        if (found.Count == 0)
        {
            throw new FitRefusedException(
                failures.OfType<string>().FirstOrDefault() is { } why
                    ? $"The model cannot be run at any of the starts within the bounds ({why.TrimEnd('.')}). Narrow the bounds around "
                        + "values that run."
                    : "The data are impossible at all of the starts: something was seen where the model expects nothing. Choose other "
                        + "bounds, or leave rows out that cannot be."
            );
        }
        var groups = Joined(search, [.. found.Select(end => new Group(end, 1))]);
        // All that is compared is climbed to the end, with all digits.
        Workers.For(Math.Min(groups.Count, Polished), threads, cancel, k =>
            groups[k] = groups[k] with { Top = search.Climb(groups[k].Top.U, cancel: cancel) }
        );
        groups = Joined(search, groups);
        return (
            groups[0].Top,
            [.. groups.Select(group => Describe(search, setup, group))],
            [
                .. failures
                    .Select((why, start) => (why, start))
                    .Where(one => one.why is not null)
                    .Select(one => new FailedStart(one.start, one.why!)),
            ]
        );
    }

    private static double[] Start(LikelihoodSearch search, int start)
    {
        var u = new double[search.Dimension];
        // Without the model's own values, which come first.
        var point = start == 0 ? [] : StartPoints.At(start - 1, u.Length, search.Setup.Shuffle);
        for (var j = 0; j < u.Length; j++)
        {
            u[j] =
                start == 0
                    ? search.FromValue(j, search.Model.Values[search.Model.Chosen[j]])
                    : search.Lower(j) + (0.1 + 0.8 * point[j]) * (search.Upper(j) - search.Lower(j));
        }
        return u;
    }

    /// <summary>Ends of climbs that are of one optimum.</summary>
    private sealed record Group(SearchPoint Top, int Count);

    /// <summary>Those of one optimum as one, the highest first.</summary>
    private static List<Group> Joined(LikelihoodSearch search, List<Group> groups)
    {
        var joined = new List<Group>();
        foreach (var group in groups.OrderByDescending(group => group.Top.Height))
        {
            var place = joined.FindIndex(other => Same(search, other.Top, group.Top));
            if (place < 0)
                joined.Add(group);
            else
                joined[place] = joined[place] with { Count = joined[place].Count + group.Count };
        }
        return joined;
    }

    private static Optimum Describe(LikelihoodSearch search, FitSetup setup, Group group)
    {
        var (top, count) = (group.Top, search.Dimension);
        return new(
            top.Height,
            group.Count,
            [.. Enumerable.Range(0, count).Select(j => search.ToValue(j, top.U[j]))],
            [
                .. Enumerable
                    .Range(0, count)
                    .Where(j => search.AtBound(top, j) != 0)
                    .Select(j => new AtBound(setup.Parameters[j].Address, search.AtBound(top, j) > 0)),
            ]
        );
    }

    /// <summary>Two ends are of one optimum where they are as high as one another and expect the same, and not far apart if both are well
    /// known: along a ridge, where values are not, they differ and expectations do not.</summary>
    private static bool Same(LikelihoodSearch search, SearchPoint one, SearchPoint other)
    {
        if (Math.Abs(one.Height - other.Height) > SameHeight)
            return false;
        var at = 0;
        foreach (var ((law, rows), spread) in search.Laws.Zip(one.Spreads))
        {
            foreach (var row in rows)
            {
                var deviation = Math.Sqrt(law.Variance(row, law.Settle(one.Mean[at]), spread));
                if (Math.Abs(one.Mean[at] - other.Mean[at]) > SameMean * deviation)
                    return false;
                at++;
            }
        }
        return Covariances.Of(one.Information) is not { } near
            || Covariances.Of(other.Information) is not { } far
            || Enumerable
                .Range(0, search.Dimension)
                .All(j => Math.Abs(one.U[j] - other.U[j]) <= Math.Max(1e-3, Apart * (Math.Sqrt(near[j, j]) + Math.Sqrt(far[j, j]))));
    }
}
