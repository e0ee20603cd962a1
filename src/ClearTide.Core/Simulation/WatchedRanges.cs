namespace ClearTide.Core.Simulation;

/// <summary>Looks along a run for expressions that left the range they were given for.</summary>
internal static class WatchedRanges
{
    /// <summary>Rounding may take a share or a place a little over the edge.</summary>
    private const double Slack = 1e-9;

    /// <summary>The run with a note for each stretch outside a range.</summary>
    /// <exception cref="SimulationException">An expression that must not has left its range.</exception>
    public static Trajectory Check(Trajectory run, ParameterSchedule schedule)
    {
        var network = run.Network;
        if (network.Ranges.Count == 0)
            return run;
        var notes = run.Notes.ToList();
        for (var k = 0; k < network.Ranges.Count; k++)
        {
            var range = network.Ranges[k];
            var values = run.RangeColumn(k);
            // An amount that must not end below zero has no scale but its own.
            var size = range.High == double.PositiveInfinity && range.Low == 0 ? 100 * values.Max(Math.Abs) : 0;
            var slack =
                Slack
                * Math.Max(
                    size,
                    Math.Max(Math.Abs(double.IsFinite(range.High) ? range.High : 0), Math.Abs(double.IsFinite(range.Low) ? range.Low : 0))
                );
            var since = double.NaN;
            for (var row = 0; row <= values.Length; row++)
            {
                var outside = row < values.Length && (values[row] < range.Low - slack || values[row] > range.High + slack);
                if (outside && range.Stops)
                {
                    var state = Enumerable.Range(0, network.States.Count).Select(state => run.State(row, state)).ToArray();
                    throw new SimulationException(FailureReason.OutOfRange, run.Times[row], state, schedule.At(run.Times[row]))
                    {
                        Index = k,
                        Before = run.First(row),
                    };
                }
                if (outside && double.IsNaN(since))
                    since = run.Times[row];
                if (outside || double.IsNaN(since))
                    continue;
                var note = new RunNote(RunNoteKind.OutOfRange, range.PartId, since, run.Times[row - 1]);
                if (!notes.Contains(note))
                    notes.Add(note);
                since = double.NaN;
            }
        }
        return new(run, notes);
    }
}
