using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Reports;

/// <summary>A study run once over its span.</summary>
/// <param name="Lowered">The model that was run.</param>
/// <param name="Run">Null where no run could be made; where it stopped on the way, what there was before.</param>
/// <param name="Failure">Why it could not be made or stopped, in a sentence; null for a whole run.</param>
/// <param name="Observed">What it expects of each series of data on the model.</param>
/// <param name="Notes">What the run has to say: limits that acted, curves that were left, expectations that do not hold.</param>
/// <example>
/// <code>
/// StudyRun made = StudyRun.Of(study);
/// if (made.Failure is { } why)
///     Console.WriteLine(why);
/// Trajectory? run = made.Run;
/// </code>
/// </example>
public sealed record StudyRun(
    LoweredModel Lowered,
    Trajectory? Run,
    string? Failure,
    IReadOnlyList<ObservedCurve> Observed,
    IReadOnlyList<Finding> Notes
)
{
    /// <summary>The findings of the model and of its run.</summary>
    public IReadOnlyList<Finding> Findings => [.. Lowered.Findings, .. Notes];

    /// <summary>Whether it was given up for the time it took.</summary>
    public bool WasStopped { get; private init; }

    /// <summary>Runs a document at the spacing of its curves.</summary>
    /// <param name="document">The study.</param>
    /// <param name="series">The data on the model; none where it is null.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    public static StudyRun Of(StudyDocument document, IReadOnlyList<Series>? series = null, CancellationToken cancel = default)
    {
        var lowered = Lowering.Lower(document);
        if (document.Compartments.IsEmpty && document.Definitions.IsEmpty && document.Inputs.IsEmpty)
            return new(lowered, null, null, [], []);
        var made = Make(lowered, series ?? [], cancel);
        if (made.Failure is not null || made.Run is not { } run)
            return made;
        return made with
        {
            Notes = GroupedFindings.Of(
                lowered.Written,
                [
                    .. StartNotes.Of(lowered.Document, run),
                    .. RunNotes.Of(lowered.Document, run),
                    .. StepNotes.Of(lowered.Document, run),
                    .. SpanNotes.Of(lowered.Document, run),
                    .. SeriesNotes.Of(document, made.Observed),
                    .. ExpectationCheck.Of(lowered, cancel),
                ]
            ),
        };
    }

    /// <summary>The same model run with other numbers for some of its values: nothing is read or compiled anew, and nothing is remarked
    /// on.</summary>
    /// <param name="values">By address, in the model's units.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    public StudyRun With(IReadOnlyDictionary<ValueAddress, double> values, CancellationToken cancel = default) =>
        Run is null && Failure is null || WasStopped
            ? this with
            {
                Notes = [],
            }
            : Make(Lowered.With(values), [.. Observed.Select(curve => curve.Series)], cancel);

    /// <summary>
    /// The same run at other times: what it is there, not what lies between points of curves. A run that stopped on the way stays as
    /// it is.
    /// </summary>
    /// <param name="times">Rising, from the start of the span on.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    public StudyRun At(double[] times, CancellationToken cancel = default)
    {
        if (Run is null || Failure is not null)
            return this;
        return this with { Run = Engines.Run(StudyRequest.Of(Lowered) with { Times = times }, cancel: cancel) };
    }

    private static StudyRun Failed(LoweredModel lowered, IReadOnlyList<Series> series, SimulationException failure)
    {
        var before = FailureCause.Readable(failure, lowered.Network);
        var document = lowered.Document;
        List<Finding> notes = before is null ? [] : [.. RunNotes.Of(document, before)];
        if (failure.Time == document.Start)
            notes.AddRange(StartNotes.Of(document, failure.State));
        return new(
            lowered,
            before,
            RunFailure.Say(failure, lowered),
            ExpectedValues.None(series),
            GroupedFindings.Of(lowered.Written, notes)
        );
    }

    /// <summary>One run for the curves, and for what is expected of the data along it.</summary>
    private static StudyRun Make(LoweredModel lowered, IReadOnlyList<Series> series, CancellationToken cancel)
    {
        var request = StudyRequest.Of(lowered) with { Rows = Rows.ForCurves };
        var expected = new ExpectedValues(lowered, series, request.Values);
        try
        {
            var run = Engines.Run(request, expected.Observer, cancel);
            return new(lowered, run, null, expected.Curves(run, request.Values), []);
        }
        catch (SimulationException failure)
        {
            return Failed(lowered, series, failure);
        }
    }

    /// <summary>A study whose run was given up.</summary>
    /// <param name="document">The study.</param>
    /// <param name="why">In a sentence.</param>
    public static StudyRun Stopped(StudyDocument document, string why) =>
        new(Lowering.Lower(document), null, why, [], []) { WasStopped = true };
}
