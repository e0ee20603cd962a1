using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Analysis;

/// <summary>What one run with changed values came to.</summary>
/// <param name="Outcome">Not a number where the run failed, or where there is no such outcome.</param>
/// <param name="Curve">The curve at the asked times; null where none was asked for, or the run failed.</param>
/// <param name="Failure">Why the run could not be made, or null.</param>
public sealed record ValueRun(double Outcome, double[]? Curve, string? Failure);

/// <summary>
/// Runs of one model that differ by some of its values. The model is compiled once, and threads may share an instance; many runs go in
/// lockstep where
/// they can. Outcomes come from the continuous output of each run, so that they do not depend on where curves are sampled.
/// </summary>
public sealed class ValueRuns
{
    /// <summary>Times at which curves are sampled.</summary>
    public const int Samples = 120;

    /// <summary>Of many runs none is looked at to the last digit: they keep to this tolerance where the study's own is finer.</summary>
    public const double ManyTolerance = 1e-6;

    private readonly LoweredModel _lowered;
    private readonly double[] _values;
    private readonly int[] _places;
    private readonly int _output;
    private readonly OutcomeChoice _choice;
    private readonly Sweep _sweep;

    /// <param name="lowered">The model, lowered.</param>
    /// <param name="addresses">The values that runs differ by.</param>
    /// <param name="choice">What of each run is kept.</param>
    /// <param name="many">Whether there are enough runs that each may be less exact.</param>
    /// <exception cref="ArgumentException">An address or the curve is not in the model; the message says what to do.</exception>
    public ValueRuns(LoweredModel lowered, IReadOnlyList<ValueAddress> addresses, OutcomeChoice choice, bool many = false)
    {
        (_lowered, _choice) = (lowered, choice);
        var network = lowered.Network;
        _values = network.ValueVector();
        _places =
        [
            .. addresses.Select(address =>
                network.IndexOf(address) is var index and >= 0
                    ? index
                    : throw new ArgumentException($"There is no value “{address}” in the model any more. Choose another one.")
            ),
        ];
        _output = network.OutputOf(choice.PartId);
        if (_output < 0)
            throw new ArgumentException("The curve that this is about is no longer in the model. Choose another one.");
        var document = lowered.Document;
        var own = StudyRequest.Settings(document);
        var settings =
            many && own.RelativeTolerance < ManyTolerance
                ? own with
                {
                    RelativeTolerance = ManyTolerance,
                    AbsoluteTolerance = own.AbsoluteTolerance * ManyTolerance / own.RelativeTolerance,
                }
                : own;
        Times = [.. Enumerable.Range(0, Samples + 1).Select(k => document.Start + k * (document.End - document.Start) / Samples)];
        _sweep = new(lowered.Compiled, [.. Times], settings, [_output]);
    }

    /// <summary>Times at which curves are sampled, in the study's unit of time.</summary>
    public IReadOnlyList<double> Times { get; }

    /// <summary>The present value of each of them.</summary>
    public double[] Present => [.. _places.Select(place => _values[place])];

    /// <summary>One run.</summary>
    /// <param name="set">A value for each address.</param>
    /// <param name="withCurve">Whether its curve is wanted too.</param>
    /// <param name="cancel">Stops the run.</param>
    public ValueRun Run(double[] set, bool withCurve, CancellationToken cancel = default) => All([set], _ => withCurve, 1, null, cancel)[0];

    /// <summary>Many runs, on as many threads as are allowed; results do not depend on how many.</summary>
    /// <param name="sets">For each run a value for each address.</param>
    /// <param name="withCurve">Whether the curve of a run is wanted too.</param>
    /// <param name="threads">How many work at once; results do not depend on it.</param>
    /// <param name="progress">Told now and then how many runs are made.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    public ValueRun[] All(
        IReadOnlyList<double[]> sets,
        Func<int, bool> withCurve,
        int threads,
        Action<int>? progress,
        CancellationToken cancel = default
    )
    {
        var values = new double[sets.Count][];
        for (var run = 0; run < values.Length; run++)
        {
            values[run] = (double[])_values.Clone();
            for (var k = 0; k < _places.Length; k++)
                values[run][_places[k]] = sets[run][k];
        }
        var (results, tallies, done) = (new SweepRun[sets.Count], new OutcomeTally[sets.Count], 0);
        // The one output that is looked at is the first of those the sweep hands on.
        OutcomeTally Observe(int run) => tallies[run] = new([0], _choice.NeedsLevel ? [(0, _choice.Level)] : []);
        Parallel.For(
            0,
            Sweep.Blocks(sets.Count),
            new ParallelOptions { CancellationToken = cancel, MaxDegreeOfParallelism = threads },
            block =>
            {
                _sweep.RunBlock(block, values, results, withCurve, Observe, cancel);
                progress?.Invoke(
                    Math.Min(sets.Count, sets.Count / Math.Max(1, Sweep.Blocks(sets.Count)) * Interlocked.Increment(ref done))
                );
            }
        );
        return
        [
            .. results.Select(
                (result, run) =>
                    result.Failure is { } failure
                        ? new ValueRun(double.NaN, null, RunFailure.Say(failure, _lowered))
                        : new(_choice.Of(tallies[run], 0), result.Rows, null)
            ),
        ];
    }
}
