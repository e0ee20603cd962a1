using ClearTide.Core.Data;
using ClearTide.Core.Fitting;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Models;

/// <summary>What the observed quantity does along a run: at each time, the expected count of the interval that ends there.</summary>
public sealed record ObservedCurve(IReadOnlyList<double> Times, IReadOnlyList<double> Expected);

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

    /// <summary>The compiled model of the run, which further runs of it share; null where it could not be compiled.</summary>
    internal CompiledModel? Model { get; init; }

    /// <summary>Whether it was given up for the time it took.</summary>
    public bool WasStopped { get; private init; }

    /// <summary>Runs a document at the spacing of its curves.</summary>
    /// <param name="data">The data its observation refers to, if any.</param>
    public static StudyRun Of(StudyDocument document, DataSet? data = null, CancellationToken cancel = default)
    {
        var lowered = Lowering.Lower(document);
        if (document.Compartments.IsEmpty && document.Definitions.IsEmpty && document.Inputs.IsEmpty) return new(lowered, null, null, null, null, []);
        var every = Spacing(document);
        Trajectory run;
        CompiledModel? model = null;
        try
        {
            model = new CompiledModel(lowered.Form);
            run = Make(model, lowered, cancel);
        }
        catch (SimulationException failure)
        {
            return Failed(lowered, failure, model);
        }
        var (observed, problem) = Observe(() => Lowering.Lower(document), document, data, every, cancel);
        return new(lowered, run, null, observed, problem, [.. StartNotes.Of(document, run), .. RunNotes.Of(document, run), .. StepNotes.Of(document, run), .. SpanNotes.Of(document, run), .. ExpectationCheck.Of(lowered, cancel)]) { Model = model };
    }

    /// <summary>The same model run with other numbers for some of its values: nothing is read or compiled anew, and nothing is remarked on.</summary>
    /// <param name="values">By address, in the model's units.</param>
    public StudyRun With(IReadOnlyDictionary<string, double> values, DataSet? data = null, CancellationToken cancel = default)
    {
        var (document, changed) = (Lowered.Document, Lowered with { Form = Lowered.Form.With(values) });
        if (Model is null) return this with { Notes = [] };
        try
        {
            var run = Make(Model, changed, cancel);
            var (observed, problem) = Observe(() => Lowering.Lower(document) is var own ? own with { Form = own.Form.With(values) } : own, document, data, Spacing(document), cancel);
            return new(changed, run, null, observed, problem, []) { Model = Model };
        }
        catch (SimulationException failure)
        {
            return Failed(changed, failure, Model);
        }
    }

    /// <summary>
    /// The same run at other times: what it is there, not what lies between points of curves. A run that stopped on the way stays as
    /// it is.
    /// </summary>
    /// <param name="times">Rising, from the start of the span on.</param>
    public StudyRun At(double[] times, CancellationToken cancel = default)
    {
        if (Model is null || Run is null || Failure is not null) return this;
        var values = Lowered.Form.ValueVector();
        var initial = Model.InitialState(values, Lowered.Document.Start);
        return this with { Run = Simulator.Run(Model, initial, ParameterSchedule.Constant(values), times, Settings(Lowered.Document).ScaledTo(initial), cancel) };
    }

    private static StudyRun Failed(LoweredModel lowered, SimulationException failure, CompiledModel? model)
    {
        var before = FailureCause.Readable(failure, lowered.Form);
        var document = lowered.Document;
        List<Finding> notes = before is null ? [] : [.. RunNotes.Of(document, before)];
        if (failure.Time == document.Start) notes.AddRange(StartNotes.Of(document, failure.State));
        return new(lowered, before, RunFailure.Say(failure, lowered), null, null, notes) { Model = model };
    }

    private static Trajectory Make(CompiledModel model, LoweredModel lowered, CancellationToken cancel)
    {
        var (document, values) = (lowered.Document, lowered.Form.ValueVector());
        var initial = model.InitialState(values, document.Start);
        return Simulator.Run(model, initial, ParameterSchedule.Constant(values), Simulator.Grid(document.Start, document.End, Spacing(document)), Settings(document).ScaledTo(initial), cancel, rows: Rows.ForCurves);
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

    private static (ObservedCurve?, string?) Observe(Func<LoweredModel> lower, StudyDocument document, DataSet? data, double every, CancellationToken cancel)
    {
        if (data is null || document.Observations.IsEmpty) return (null, null);
        try
        {
            var last = data.Rows[^1];
            var interval = last.End - last.Start;
            var rows = Simulator.Grid(document.Start, document.End, Math.Max(every, (document.End - document.Start) / 200))
                .Where(time => time - interval >= document.Start).Select(time => new DataRow(time - interval, time, 0)).ToList();
            if (rows.Count == 0) return (null, "The span is shorter than one interval of the data. Lengthen it to see what the model expects.");
            var model = new ObservedModel(lower(), document.Observations[0], new("curve", "curve", rows), []);
            return (new([.. rows.Select(row => row.End)], model.Predict([], cancel).Mean), null);
        }
        catch (ArgumentException problem)
        {
            return (null, problem.Message);
        }
        catch (SimulationException)
        {
            return (null, "The observed quantity cannot be computed along this run.");
        }
    }
}
