using ClearTide.Core.Models;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Exploration;

/// <summary>What one run with changed values came to.</summary>
/// <param name="Outcome">Not a number where the run failed, or where there is no such outcome.</param>
/// <param name="Curve">The curve at the asked times; null where none was asked for, or the run failed.</param>
/// <param name="Failure">Why the run could not be made, or null.</param>
public sealed record ValueRun(double Outcome, double[]? Curve, string? Failure);

/// <summary>
/// Runs of one model that differ by some of its values. The model is compiled once; an instance is immutable, and threads may share it. Outcomes come
/// from the continuous output of each run, so that they do not depend on where curves are sampled.
/// </summary>
public sealed class ValueRuns
{
    /// <summary>Times at which curves are sampled.</summary>
    public const int Samples = 120;

    /// <summary>Of many runs none is looked at to the last digit: they keep to this tolerance where the study's own is finer.</summary>
    public const double ManyTolerance = 1e-6;

    private readonly LoweredModel _lowered;
    private readonly CompiledModel _model;
    private readonly double[] _values;
    private readonly int[] _places;
    private readonly int _output;
    private readonly OutcomeChoice _choice;
    private readonly double[] _ends;

    private readonly SolverSettings _settings;

    /// <param name="addresses">The values that runs differ by.</param>
    /// <param name="many">Whether there are so many runs that each may be less exact.</param>
    /// <exception cref="ArgumentException">An address or the curve is not in the model; the message says what to do.</exception>
    public ValueRuns(LoweredModel lowered, IReadOnlyList<string> addresses, OutcomeChoice choice, bool many = false)
    {
        (_lowered, _choice) = (lowered, choice);
        var form = lowered.Form;
        _values = form.ValueVector();
        _places = [.. addresses.Select(address => form.IndexOf(address) is var index and >= 0 ? index : throw new ArgumentException($"There is no value “{address}” in the model any more. Choose another one."))];
        _output = form.Amounts.Concat(form.Flows).Concat(form.Quantities).ToList().FindIndex(one => one.PartId == choice.PartId);
        if (_output < 0) throw new ArgumentException("The curve that this is about is no longer in the model. Choose another one.");
        _model = new CompiledModel(form);
        var document = lowered.Document;
        var own = StudyRun.Settings(document);
        _settings = many && own.RelativeTolerance < ManyTolerance ? own with { RelativeTolerance = ManyTolerance, AbsoluteTolerance = own.AbsoluteTolerance * ManyTolerance / own.RelativeTolerance } : own;
        _ends = [document.Start, document.End];
        Times = [.. Enumerable.Range(0, Samples + 1).Select(k => document.Start + k * (document.End - document.Start) / Samples)];
    }

    public IReadOnlyList<double> Times { get; }

    /// <summary>The present value of each of them.</summary>
    public double[] Present => [.. _places.Select(place => _values[place])];

    /// <summary>One run.</summary>
    /// <param name="set">A value for each address.</param>
    /// <param name="withCurve">Whether its curve is wanted too.</param>
    public ValueRun Run(ReadOnlySpan<double> set, bool withCurve, CancellationToken cancel = default)
    {
        var values = (double[])_values.Clone();
        for (var k = 0; k < _places.Length; k++) values[_places[k]] = set[k];
        var tally = new OutcomeTally([_output], _choice.NeedsLevel ? [(_output, _choice.Level)] : []);
        try
        {
            var initial = _model.InitialState(values, _ends[0]);
            var run = Simulator.Run(_model, initial, ParameterSchedule.Constant(values), withCurve ? [.. Times] : _ends, _settings.ScaledTo(initial), cancel, observer: tally);
            return new(_choice.Of(tally, _output), withCurve ? run.OutputColumn(_output) : null, null);
        }
        catch (SimulationException failure)
        {
            return new(double.NaN, null, RunFailure.Say(failure, _lowered));
        }
    }
}
