using ClearTide.Core.Compilation;
using ClearTide.Core.Interventions;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Ensembles;

/// <summary>The same subjects under one plan: the model as it is, or a scenario.</summary>
/// <param name="Name">“Model”, or the scenario's.</param>
/// <param name="Curves">For each subject that could be run its curve at the times; a row of a subject is empty where it could not.</param>
/// <param name="Exposures">For each subject; null where it could not be run, or the stretch was not reached.</param>
/// <param name="Failure">Why subjects could not be run, in a sentence, for the first of them; null where all could.</param>
public sealed record PlanRuns(string Name, IReadOnlyList<double[]> Curves, IReadOnlyList<Exposure?> Exposures, string? Failure)
{
    /// <summary>How many subjects could not be run.</summary>
    public int Failed => Curves.Count(curve => curve.Length == 0);
}

/// <summary>Runs of many subjects under the model's own plan and under each scenario, pairwise the same subjects.</summary>
/// <param name="Times">Of the curves.</param>
/// <param name="Window">The stretch of exposures.</param>
/// <param name="Own">The values of each subject that vary, in the order of the group.</param>
/// <param name="Plans">The model as it is first.</param>
public sealed record SubjectRuns(
    double[] Times,
    (double From, double Until) Window,
    IReadOnlyList<double[]> Own,
    IReadOnlyList<PlanRuns> Plans
)
{
    /// <summary>Places of a curve at least; doses and the ends of the stretch come besides.</summary>
    private const int Places = 200;

    /// <param name="lowered">The model, lowered.</param>
    /// <param name="group">Which values vary, and how.</param>
    /// <param name="partId">The compartment, flow or quantity that is looked at.</param>
    /// <param name="count">How many subjects, the first of the group.</param>
    /// <param name="threads">How many go on at once; results do not depend on it.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    /// <exception cref="ArgumentException">The group cannot be drawn, or the curve is gone; the message says what to do.</exception>
    public static SubjectRuns Of(
        LoweredModel lowered,
        SubjectGroup group,
        string partId,
        int count,
        int threads = 2,
        CancellationToken cancel = default
    ) => Of(lowered, group, partId, count, lowered.Network.ValueVector(), true, threads, cancel);

    /// <param name="lowered">The model, lowered.</param>
    /// <param name="group">Which values vary, and how.</param>
    /// <param name="partId">The compartment, flow or quantity that is looked at.</param>
    /// <param name="count">How many subjects, the first of the group.</param>
    /// <param name="values">All parameters of the model, with what is typical.</param>
    /// <param name="whole">Whether the scenarios are run besides the model as it is, and curves are kept besides exposures.</param>
    /// <param name="threads">How many work at once; results do not depend on it.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    internal static SubjectRuns Of(
        LoweredModel lowered,
        SubjectGroup group,
        string partId,
        int count,
        double[] values,
        bool whole,
        int threads,
        CancellationToken cancel
    )
    {
        var (network, document) = (lowered.Network, lowered.Document);
        var output = network.OutputOf(partId);
        if (output < 0)
            throw new ArgumentException("The curve that is looked at is no longer in the model. Choose another one.");
        if (lowered.IsProvisional)
            throw new ArgumentException("The model has unfinished parts. Finish what Build lists first.");
        var draws = new SubjectDraws(lowered, group, values);
        var window = WindowOf(lowered, values);
        var first = FirstOf(lowered, values);
        double[] times =
        [
            .. Enumerable
                .Range(0, whole ? Places + 1 : 1)
                .Select(k => document.Start + k * (document.End - document.Start) / Places)
                .Append(window.From)
                .Append(window.Until)
                .Distinct()
                .Order(),
        ];
        var own = new double[count][];
        var sets = new double[count][];
        for (var k = 0; k < count; k++)
        {
            own[k] = draws.Own(k + 1);
            sets[k] = (double[])values.Clone();
            for (var j = 0; j < own[k].Length; j++)
                sets[k][network.IndexOf(group.Varying[j].Address)] = own[k][j];
        }
        var plans = new List<PlanRuns> { Plan("Model", new(lowered, new([]))) };
        foreach (var scenario in whole ? document.ActiveScenarios : [])
            plans.Add(Plan(scenario.Name, ScenarioModel.Of(lowered, scenario, double.NegativeInfinity)));
        return new(times, window, own, plans);

        PlanRuns Plan(string name, ScenarioModel scenario)
        {
            double[] levels = [.. new[] { group.TargetLow, group.TargetHigh }.OfType<double>()];
            var (tallies, firsts) = (new WindowTally[count], new WindowTally[count]);
            var results = new SweepRun[count];
            double[][] all = [.. sets.Select(set => scenario.Parameters(network, set))];
            var sweep = new Sweep(scenario.Lowered.Compiled, times, StudyRequest.Settings(document), [output], scenario.Plan);
            Workers.For(Sweep.Blocks(count), threads, cancel, block =>
                sweep.RunBlock(
                    block,
                    all,
                    results,
                    observe: k => new Both(
                        tallies[k] = new(0, window.From, window.Until, levels),
                        firsts[k] = new(0, first.From, first.Until)
                    ),
                    cancel: cancel
                )
            );
            return new(
                name,
                [.. results.Select(result => result.Rows ?? [])],
                [.. results.Select((result, k) => result.Failure is null ? Exposed(tallies[k], firsts[k], group) : null)],
                results.Select(result => result.Failure).FirstOrDefault(failure => failure is not null) is { } failure
                    ? RunFailure.Say(failure, scenario.Lowered)
                    : null
            );
        }

        Exposure? Exposed(WindowTally tally, WindowTally afterFirst, SubjectGroup targets)
        {
            if (!tally.IsReached)
                return null;
            var of = tally.Outcomes;
            var low = targets.TargetLow is null ? 0 : tally.OfLevel(0).TimeBelow;
            var high = targets.TargetHigh is null ? 0 : tally.OfLevel(targets.TargetLow is null ? 0 : 1).TimeAbove;
            return new(of.Maximum, of.MaximumTime - window.From, of.Minimum, of.Final, of.Integral, of.Duration, of.Duration - low - high)
            {
                FirstArea = afterFirst.IsReached ? afterFirst.Outcomes.Integral : double.NaN,
            };
        }
    }

    /// <summary>Hands each stretch of a run to two tallies.</summary>
    private sealed class Both(ISegmentObserver one, ISegmentObserver other) : ISegmentObserver
    {
        public void Take(double from, double until, ReadOnlySpan<double> values)
        {
            one.Take(from, until, values);
            other.Take(from, until, values);
        }
    }

    /// <summary>The interval that follows the first of repeated doses; of no length where none are repeated.</summary>
    private static (double From, double Until) FirstOf(LoweredModel lowered, double[] values)
    {
        var (network, document) = (lowered.Network, lowered.Document);
        foreach (var series in network.Doses.Where(one => one.Every >= 0).Reverse())
        {
            var every = network.Graph.Evaluate(series.Every, document.Start, [], values);
            if (series.Within(network.Graph, values, document.Start, document.End) is [var dose, ..])
                return (dose.Time, Math.Min(dose.Time + every, document.End));
        }
        return (document.Start, document.Start);
    }

    /// <summary>The stretch that is looked at: the last whole interval between doses within the span; all of the span where none are
    /// repeated.</summary>
    /// <param name="lowered">The model, lowered.</param>
    /// <param name="values">All parameters of the model.</param>
    public static (double From, double Until) WindowOf(LoweredModel lowered, double[] values)
    {
        var (network, document) = (lowered.Network, lowered.Document);
        var (from, until) = (document.Start, document.End);
        foreach (var series in network.Doses.Where(one => one.Every >= 0))
        {
            var every = network.Graph.Evaluate(series.Every, document.Start, [], values);
            var last = series
                .Within(network.Graph, values, document.Start, document.End)
                .Where(dose => dose.Time + every <= document.End + 1e-9 * every)
                .Select(dose => dose.Time)
                .DefaultIfEmpty(double.NaN)
                .Max();
            if (!double.IsNaN(last))
                (from, until) = (last, Math.Min(last + every, document.End));
        }
        return (from, until);
    }
}
