using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Interventions;

/// <summary>One curve under one scenario, without chance.</summary>
/// <param name="Name">Of the scenario; “baseline” for the model as it is.</param>
/// <param name="Values">At the times of the comparison; empty where the run failed.</param>
/// <param name="Outcomes">Of the time from now on; null where the run failed.</param>
/// <param name="Failure">Why the run could not be made, in a sentence, or null.</param>
public sealed record ScenarioCurve(string Name, double[] Values, Outcomes? Outcomes, string? Failure)
{
    /// <summary>What was done at which time, by events of the model and rules of the scenario.</summary>
    public IReadOnlyList<EventAct> Acts { get; init; } = [];

    /// <summary>What its measures cost from now on; zero for the baseline, and where none has a cost.</summary>
    public double Cost { get; init; }

    /// <summary>What the study's own outcomes come to, in their order: 1 or 0 for a statement. Not a number where the run has no such
    /// outcome, or the formula cannot be read; empty where the run failed.</summary>
    public IReadOnlyList<double> Rows { get; init; } = [];
}

/// <summary>The same curve under the baseline and under each scenario, a run each, without chance.</summary>
/// <param name="Times">Where they are looked at, in the study's unit of time.</param>
/// <param name="Curves">The baseline first.</param>
/// <example>
/// <code>
/// study = new AddMeasureLine("", "k x 0.5, days 2 to 5").Apply(study).Document!;
/// study = new AddMeasureLine("", "at 5: A -> B : 10").Apply(study).Document!;
/// ScenarioRuns runs = ScenarioRuns.Of(
///     Lowering.Lower(study),
///     partId: study.Compartments[0].Id,
///     now: double.NegativeInfinity,
///     estimates: ImmutableDictionary&lt;ValueAddress, double>.Empty
/// );
/// foreach (var curve in runs.Curves)
///     Console.WriteLine($"{curve.Name}: {curve.Outcomes?.Final}");
/// </code>
/// </example>
public sealed record ScenarioRuns(IReadOnlyList<double> Times, IReadOnlyList<ScenarioCurve> Curves)
{
    /// <summary>Runs the baseline and every scenario of a study. Costs one run for each.</summary>
    /// <param name="lowered">The model, lowered.</param>
    /// <param name="partId">A compartment, flow or quantity.</param>
    /// <param name="now">Before this time every scenario is the baseline; negative infinity where they differ from the start.</param>
    /// <param name="estimates">Values that are laid over the model's own, by address.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    /// <param name="rows">Whether the study's own outcomes are worked out too.</param>
    /// <exception cref="ArgumentException">There is no such curve, or a measured value is gone; the message says so.</exception>
    public static ScenarioRuns Of(
        LoweredModel lowered,
        string partId,
        double now,
        IReadOnlyDictionary<ValueAddress, double> estimates,
        CancellationToken cancel = default,
        bool rows = true
    )
    {
        var document = lowered.Document;
        var output = OutputOf(lowered.Network, partId);
        var values = lowered.Network.With(estimates).ValueVector();
        var times = StudyRequest.Of(lowered).Times;
        var curves = new List<ScenarioCurve>
        {
            Curve(lowered, "Baseline", new(lowered, new([])), output, values, times, now, rows, cancel),
        };
        foreach (var scenario in document.ActiveScenarios)
            curves.Add(
                Costing(
                    Curve(lowered, scenario.Name, ScenarioModel.Of(lowered, scenario, now), output, values, times, now, rows, cancel),
                    new(document, scenario, now)
                )
            );
        return new(times, curves);
    }

    private static ScenarioCurve Costing(ScenarioCurve curve, ScenarioCost cost) => curve with { Cost = cost.Of(curve.Acts) };

    /// <summary>The curve under one scenario, which need not be of the study.</summary>
    /// <param name="lowered">The compiled model.</param>
    /// <param name="scenario">The scenario.</param>
    /// <param name="partId">Id of the compartment, flow or quantity that is followed.</param>
    /// <param name="now">When the future begins, in the unit of the study.</param>
    /// <param name="estimates">Values to run with in place of those of the study.</param>
    /// <param name="cancel">Stops the computation with an <see cref="OperationCanceledException"/>.</param>
    /// <exception cref="ArgumentException">There is no such curve, or a measured value is gone; the message says so.</exception>
    public static ScenarioCurve One(
        LoweredModel lowered,
        Scenario scenario,
        string partId,
        double now,
        IReadOnlyDictionary<ValueAddress, double> estimates,
        CancellationToken cancel = default
    ) =>
        Curve(
            lowered,
            scenario.Name,
            ScenarioModel.Of(lowered, scenario, now),
            OutputOf(lowered.Network, partId),
            lowered.Network.With(estimates).ValueVector(),
            StudyRequest.Of(lowered).Times,
            now,
            rowsToo: false,
            cancel
        );

    private static int OutputOf(ReactionNetwork network, string partId) =>
        network.OutputOf(partId) is var output and >= 0
            ? output
            : throw new ArgumentException("The curve that is compared is no longer in the model. Choose another one.");

    private static ScenarioCurve Curve(
        LoweredModel lowered,
        string name,
        ScenarioModel scenario,
        int output,
        double[] values,
        double[] times,
        double now,
        bool rowsToo,
        CancellationToken cancel
    )
    {
        try
        {
            var tally = new FutureTally(output, now);
            var request = StudyRequest.Of(scenario.Lowered) with
            {
                Values = scenario.Parameters(lowered.Network, values),
                Plan = From(now, scenario.Plan),
            };
            var rows = rowsToo ? OutcomeRows.For(scenario.Lowered, request.Values, now) : null;
            if (rows is not null)
            {
                request = request with { Model = rows.Model };
                tally.Rows = rows;
            }
            var run = Engines.Run(request, tally, cancel);
            return new(name, At(run, output, times), tally.Outcomes, null) { Acts = scenario.Acts(run), Rows = rows?.Found() ?? [] };
        }
        catch (SimulationException failure)
        {
            return new(name, [], null, RunFailure.Say(failure, scenario.Lowered));
        }
    }

    /// <summary>The plan with a time at which nothing changes, so that a step of the solver ends where the future begins.</summary>
    private static Plan From(double now, Plan plan) =>
        double.IsInfinity(now) || plan.Changes.Any(change => change.Time == now)
            ? plan
            : new([.. plan.Changes.Append(new PlannedChange(now, [])).OrderBy(change => change.Time)]);

    /// <summary>What a run is worth at the asked times: where it jumps, after the jump.</summary>
    private static double[] At(Trajectory run, int output, double[] times)
    {
        var (column, values, row) = (run.OutputColumn(output), new double[times.Length], 0);
        for (var k = 0; k < times.Length; k++)
        {
            while (row + 1 < run.Times.Count && run.Times[row + 1] <= times[k])
                row++;
            values[k] = column[row];
        }
        return values;
    }

    /// <summary>Outcomes of the part of a run that lies in the future: what has been is the same under every scenario.</summary>
    private sealed class FutureTally(int output, double now) : ISegmentObserver
    {
        private readonly OutcomeTally _tally = new([output]);

        public Outcomes Outcomes => _tally.Of(output);

        /// <summary>The study's own outcomes, which follow the same run; null for none.</summary>
        public OutcomeRows? Rows { get; set; }

        public void Take(double from, double until, ReadOnlySpan<double> values)
        {
            Rows?.Take(from, until, values);
            if (from >= now)
                _tally.Take(from, until, values);
        }
    }
}
