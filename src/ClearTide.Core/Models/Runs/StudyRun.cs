using ClearTide.Core.Data;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Models;

/// <summary>A study run once over its span.</summary>
/// <param name="Run">Null where no run could be made; where it stopped on the way, what there was before.</param>
/// <param name="Failure">Why it could not be made or stopped, in a sentence; null for a whole run.</param>
/// <param name="Observed">Null where nothing is observed or the model cannot give it.</param>
/// <param name="Notes">What the run has to say: limits that acted, curves that were left, expectations that do not hold.</param>
public sealed record StudyRun(LoweredModel Lowered, Trajectory? Run, string? Failure, ObservedCurve? Observed, string? ObservedFailure, IReadOnlyList<Finding> Notes)
{
    /// <summary>Points on each curve: enough for a line on any screen, and whole times fall on points.</summary>
    private const int Points = 240;

    /// <summary>The findings of the model and of its run.</summary>
    public IReadOnlyList<Finding> Findings => [.. Lowered.Findings, .. Notes];

    /// <summary>Whether it was given up for the time it took.</summary>
    public bool WasStopped { get; private init; }

    /// <summary>Runs a document at the spacing of its curves.</summary>
    /// <param name="data">The data its observation refers to, if any.</param>
    public static StudyRun Of(StudyDocument document, DataSet? data = null, CancellationToken cancel = default)
    {
        var lowered = Lowering.Lower(document);
        if (document.Compartments.IsEmpty && document.Definitions.IsEmpty && document.Inputs.IsEmpty) return new(lowered, null, null, null, null, []);
        var made = Make(lowered, data, cancel);
        if (made.Failure is not null || made.Run is not { } run) return made;
        return made with
        {
            Notes =
            [
                .. StartNotes.Of(document, run), .. RunNotes.Of(document, run), .. StepNotes.Of(document, run), .. SpanNotes.Of(document, run),
                .. ExpectationCheck.Of(lowered, cancel),
            ],
        };
    }

    /// <summary>The same model run with other numbers for some of its values: nothing is read or compiled anew, and nothing is remarked on.</summary>
    /// <param name="values">By address, in the model's units.</param>
    public StudyRun With(IReadOnlyDictionary<string, double> values, DataSet? data = null, CancellationToken cancel = default) =>
        Run is null && Failure is null || WasStopped ? this with { Notes = [] } : Make(Lowered.With(values), data, cancel);

    /// <summary>
    /// The same run at other times: what it is there, not what lies between points of curves. A run that stopped on the way stays as
    /// it is.
    /// </summary>
    /// <param name="times">Rising, from the start of the span on.</param>
    public StudyRun At(double[] times, CancellationToken cancel = default)
    {
        if (Run is null || Failure is not null) return this;
        var (model, values) = (Lowered.Compiled, Lowered.Form.ValueVector());
        var initial = model.InitialState(values, Lowered.Document.Start);
        return this with { Run = Simulator.Run(model, initial, ParameterSchedule.Constant(values), times, Settings(Lowered.Document).ScaledTo(initial), cancel) };
    }

    private static StudyRun Failed(LoweredModel lowered, SimulationException failure)
    {
        var before = FailureCause.Readable(failure, lowered.Form);
        var document = lowered.Document;
        List<Finding> notes = before is null ? [] : [.. RunNotes.Of(document, before)];
        if (failure.Time == document.Start) notes.AddRange(StartNotes.Of(document, failure.State));
        return new(lowered, before, RunFailure.Say(failure, lowered), null, null, notes);
    }

    /// <summary>One run for the curves, and for what is expected of observations along it.</summary>
    private static StudyRun Make(LoweredModel lowered, DataSet? data, CancellationToken cancel)
    {
        var (document, values) = (lowered.Document, lowered.Form.ValueVector());
        var (expected, problem) = ExpectedCounts.Of(lowered, data);
        try
        {
            var model = lowered.Compiled;
            var initial = model.InitialState(values, document.Start);
            var times = Simulator.Grid(document.Start, document.End, Spacing(document));
            var run = Simulator.Run(model, initial, ParameterSchedule.Constant(values), times, Settings(document).ScaledTo(initial), cancel,
                rows: Rows.ForCurves, observer: expected?.Observer);
            return new(lowered, run, null, expected?.Curve(values), problem, []);
        }
        catch (SimulationException failure)
        {
            return Failed(lowered, failure);
        }
    }

    /// <summary>A study whose run was given up.</summary>
    /// <param name="why">In a sentence.</param>
    public static StudyRun Stopped(StudyDocument document, string why) =>
        new(Lowering.Lower(document), null, why, null, null, []) { WasStopped = true };

    /// <summary>A run that is made at each edit gives up sooner than one that was asked for.</summary>
    internal static SolverSettings Settings(StudyDocument document) => document.Solver.Settings with { MaximumSteps = 300_000 };

    /// <summary>Points of a study's curves: discrete steps are points themselves as long as a screen can tell them apart.</summary>
    internal static double Spacing(StudyDocument document)
    {
        var span = document.End - document.Start;
        return document.Solver.IsDiscrete && span / document.Solver.Step <= 10 * Points ? document.Solver.Step : CurveSpacing(span);
    }

    /// <summary>The spacing of points on curves: 1, 2 or 5 times a power of ten.</summary>
    public static double CurveSpacing(double span)
    {
        var ideal = span / Points;
        var power = Math.Pow(10, Math.Floor(Math.Log10(ideal)));
        var lead = ideal / power;
        return (lead <= 1 ? 1 : lead <= 2 ? 2 : lead <= 5 ? 5 : 10) * power;
    }
}
