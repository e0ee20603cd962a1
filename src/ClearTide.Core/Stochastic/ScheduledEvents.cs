using ClearTide.Core.Simulation;

namespace ClearTide.Core.Stochastic;

/// <summary>Events at known times in a chance run. What they set is rounded to whole units so that the total of what one action changes holds.</summary>
internal sealed class ScheduledEvents(GeneralForm form, double start, double[] parameters)
{
    private readonly EventQueue _queue = new(form, start, parameters);

    /// <summary>When the next event is due, or positive infinity.</summary>
    public double Next => _queue.Next;

    /// <exception cref="SimulationException">An event that is to stop then takes more than is there.</exception>
    public void Act(double time, Span<double> state, Span<double> values)
    {
        _queue.TakeDue(time, state, values);
        while (_queue.TakeNext(time, state, values) is { } firing)
        {
            for (var step = 0; step < firing.Rule.Actions.Count; step++)
            {
                var action = firing.Rule.Actions[step];
                EventActions.CheckWithdrawals(form, firing.Rule, step, time, state, values, notes: null);
                var results = new double[action.Count];
                for (var k = 0; k < action.Count; k++) results[k] = form.Graph.Evaluate(action[k].Node, time, state, values);
                var amounts = Enumerable.Range(0, action.Count).Where(k => action[k].IsState).ToList();
                var rounded = amounts.Select(k => results[k]).ToArray();
                WholeUnits.Round(rounded, 0.5);
                for (var k = 0; k < amounts.Count; k++) results[amounts[k]] = rounded[k];
                for (var k = 0; k < action.Count; k++)
                {
                    if (action[k].IsState) state[action[k].Index] = results[k];
                    else values[action[k].Index] = results[k];
                }
            }
        }
    }
}
