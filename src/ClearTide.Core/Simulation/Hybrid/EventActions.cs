namespace ClearTide.Core.Simulation;

/// <summary>What becomes of the numbers that an action is about to set.</summary>
/// <param name="action">The assignments, made at once.</param>
/// <param name="values">Their values, in the same order; changed in place.</param>
internal delegate void ActionPolicy(IReadOnlyList<Assignment> action, double[] values);

/// <summary>Does what the events of one run say to its state and parameters, and notes what could not be done as it was said.</summary>
/// <param name="network">The model.</param>
/// <param name="policy">Makes whole units of amounts where a run counts them; null where amounts are real numbers.</param>
internal sealed class EventActions(ReactionNetwork network, ActionPolicy? policy = null)
{
    /// <summary>Events that set off one another at one instant are stopped after this many.</summary>
    private const int MostAtOnce = 1000;

    /// <summary>An amount of which less than this share is missing is all there but for the solver's error.</summary>
    private const double Visible = 1e-6;

    private int _atOnce;

    public List<RunNote> Notes { get; } = [];

    /// <summary>What was done, in order of time: once for each event and instant, however many assignments it took.</summary>
    public List<EventAct> Acts { get; } = [];

    /// <summary>A new instant begins.</summary>
    public void Begin() => _atOnce = 0;

    /// <exception cref="SimulationException">Too many events have set off one another, an event that may not runs short, or sets what
    /// is no number.</exception>
    public void Act(Firing firing, double time, double[] state, double[] parameters)
    {
        SimulationException Failed(FailureReason reason, string partId) =>
            new(reason, time, state[..network.States.Count], [.. parameters]) { PartId = partId };
        var rule = firing.Rule;
        var act = new EventAct(rule.PartId, time, rule.MarksEnd);
        if (Acts.Count < EventAct.Most && (Acts.Count == 0 || Acts[^1] with { Moved = 0 } != act))
            Acts.Add(act);
        if (++_atOnce > MostAtOnce)
            throw Failed(FailureReason.EventsWithoutEnd, rule.PartId);
        var (came, went) = (0.0, 0.0);
        for (var step = 0; step < rule.Actions.Count; step++)
        {
            CheckWithdrawals(network, rule, step, time, state, parameters, Notes);
            var action = rule.Actions[step];
            var values = firing.Values?[step]
                ?? [.. action.Select(assignment => network.Graph.Evaluate(assignment.Node, time, state, parameters))];
            policy?.Invoke(action, values);
            for (var k = 0; k < action.Count; k++)
            {
                ref var place = ref (action[k].IsState ? state : parameters)[action[k].Index];
                var before = place;
                place = action[k].Adds ? place + values[k] : values[k];
                if (!double.IsFinite(place))
                {
                    place = before;
                    throw Failed(FailureReason.BadAction, rule.PartId);
                }
                if (action[k].IsState && network.States[action[k].Index].IsAmount)
                    (came, went) = (came + Math.Max(0, place - before), went + Math.Max(0, before - place));
                if (action[k].IsState && IsBelowZero(action[k].Index, place, before))
                    Notes.Add(
                        new(RunNoteKind.SetBelowZero, rule.PartId, time, time)
                        {
                            CompartmentId = network.States[action[k].Index].PartId,
                            Amount = place,
                        }
                    );
            }
        }
        // What goes from one place to another is moved once.
        if (Math.Max(came, went) is var moved and > 0 && Acts.Count > 0 && Acts[^1].PartId == rule.PartId)
            Acts[^1] = Acts[^1] with { Moved = Acts[^1].Moved + moved };
    }

    private bool IsBelowZero(int index, double after, double before) =>
        network.States[index].IsAmount && after < 0 && after < before && -after > Visible * (Math.Abs(after) + Math.Abs(before));

    /// <summary>Looks whether what an action takes is there.</summary>
    /// <param name="network">The model.</param>
    /// <param name="rule">The event that acts.</param>
    /// <param name="action">Which of its actions, from 0.</param>
    /// <param name="time">In the model's unit of time.</param>
    /// <param name="state">The states, in the order of the network.</param>
    /// <param name="parameters">All parameters, in the order of the network.</param>
    /// <param name="notes">Takes a note where it is not, or null.</param>
    /// <exception cref="SimulationException">It is not, and the event is to stop then.</exception>
    public static void CheckWithdrawals(
        ReactionNetwork network,
        ModelEvent rule,
        int action,
        double time,
        ReadOnlySpan<double> state,
        ReadOnlySpan<double> parameters,
        List<RunNote>? notes
    )
    {
        foreach (var withdrawal in rule.Withdrawals)
        {
            if (withdrawal.Action != action)
                continue;
            var (asked, there) = (
                network.Graph.Evaluate(withdrawal.Asked, time, state, parameters),
                network.Graph.Evaluate(withdrawal.There, time, state, parameters)
            );
            if (!(asked - there > Visible * Math.Abs(asked)))
                continue;
            if (withdrawal.Stops)
                throw new SimulationException(
                    FailureReason.RanShort,
                    time,
                    state[..network.States.Count].ToArray(),
                    parameters[..network.ParameterCount].ToArray()
                )
                {
                    PartId = rule.PartId,
                    Index = network.States.ToList().FindIndex(one => one.PartId == withdrawal.PartId),
                };
            notes?.Add(
                new(RunNoteKind.RanShort, rule.PartId, time, time)
                {
                    CompartmentId = withdrawal.PartId,
                    Asked = asked,
                    Amount = there,
                }
            );
        }
    }
}
