using System.Collections.Concurrent;
using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>What one run of many came to.</summary>
/// <param name="Rows">The outputs asked for, time by time; null where none were wanted, or the run failed.</param>
/// <param name="Failure">Why the run could not be made, or null.</param>
public readonly record struct SweepRun(double[]? Rows, SimulationException? Failure);

/// <summary>
/// Many runs of one model that differ by their values. Four of them go in step with each other where the model's law is one smooth
/// formula that is
/// not stiff; every other run goes alone. Blocks of four are filled by the index of the run, so that results do not depend on how blocks
/// are
/// shared among threads; a block that is not full repeats its last run. Threads may run different blocks at once.
/// </summary>
/// <example>
/// <code>
/// int k = lowered.Network.IndexOf("k");
/// double[][] sets = [lowered.Network.ValueVector(), lowered.Network.ValueVector()];
/// sets[1][k] = 0.2;
/// // The first output is the first compartment.
/// var sweep = new Sweep(lowered.Compiled, OutputTimes.Every(0, 10, 1), SolverSettings.Default, outputs: [0]);
/// var results = new SweepRun[sets.Length];
/// for (var block = 0; block &lt; Sweep.Blocks(sets.Length); block++)
///     sweep.RunBlock(block, sets, results);
/// double left = results[1].Rows![^1];
/// </code>
/// </example>
public sealed class Sweep
{
    private readonly CompiledModel _model;
    private readonly SolverSettings _settings;
    private readonly double[] _times;
    private readonly int[] _outputs;
    private readonly VectorFunction? _lanes,
        _laneOutputs;
    private readonly ConcurrentBag<BatchedSolver> _solvers = [];
    private readonly Plan? _plan;
    private readonly TimedJumps? _jumps;

    /// <param name="model">The model that all runs are of.</param>
    /// <param name="times">Ascending output times; runs span from the first to the last.</param>
    /// <param name="settings">Method, step and accuracy.</param>
    /// <param name="outputs">Which of the model's outputs are wanted: amounts, then flows, then quantities.</param>
    /// <param name="plan">What is laid over each of the runs; null for nothing. With one, each run goes alone.</param>
    public Sweep(CompiledModel model, double[] times, SolverSettings settings, IReadOnlyList<int> outputs, Plan? plan = null)
    {
        _plan = plan is null or { Changes.Count: 0, Given.Count: 0 } ? null : plan;
        (_model, _times, _settings, _outputs) = (model, times, settings, [.. outputs]);
        _jumps = model.Hybrid is null ? null : TimedJumps.Of(model.Network);
        var together =
            (model.Hybrid is null || _jumps is not null)
            && _plan is null
            && model.Network.DiscreteStep == 0
            && settings.Method is Method.Automatic or Method.Adaptive
            && settings.AbsoluteTolerances is null
            && model.Network.Ranges.Count == 0
            && model.Network.States.All(state => !state.NeverBelowZero);
        if (!together)
            return;
        var nodes = CompiledModel.OutputNodes(model.Network);
        _lanes = GraphCompiler.CompileLanes(model.Network.Graph, model.Network.Derivatives());
        _laneOutputs = GraphCompiler.CompileLanes(model.Network.Graph, [.. _outputs.Select(output => nodes[output])]);
    }

    /// <summary>Number of blocks for a number of runs.</summary>
    internal static int Blocks(int runs) => (runs + BatchedSolver.Lanes - 1) / BatchedSolver.Lanes;

    /// <summary>One block of runs.</summary>
    /// <param name="block">Number of the block, from 0: runs <see cref="BatchedSolver.Lanes"/> · block and on.</param>
    /// <param name="sets">The parameters of all runs: values, then slots.</param>
    /// <param name="results">Receives what each run of the block came to.</param>
    /// <param name="wanted">Whether the rows of a run are wanted; null for all.</param>
    /// <param name="observe">For each run what follows its outputs, in their order, from step to step; called anew for a run that
    /// begins again.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    internal void RunBlock(
        int block,
        IReadOnlyList<double[]> sets,
        SweepRun[] results,
        Func<int, bool>? wanted = null,
        Func<int, ISegmentObserver?>? observe = null,
        CancellationToken cancel = default
    )
    {
        var (first, count) = (block * BatchedSolver.Lanes, Math.Min(BatchedSolver.Lanes, sets.Count - block * BatchedSolver.Lanes));
        if (
            _lanes is not null
            && _laneOutputs is not null
            && count >= 2
            && RunTogether(first, count, sets, results, wanted, observe, cancel)
        )
            return;
        for (var k = first; k < first + count; k++)
            results[k] = RunAlone(sets[k], wanted?.Invoke(k) ?? true, observe?.Invoke(k), cancel);
    }

    private bool RunTogether(
        int first,
        int count,
        IReadOnlyList<double[]> sets,
        SweepRun[] results,
        Func<int, bool>? wanted,
        Func<int, ISegmentObserver?>? observe,
        CancellationToken cancel
    )
    {
        const int Lanes = BatchedSolver.Lanes;
        var (states, parameters, absolute, rows, observers) = (
            new double[Lanes][],
            new double[Lanes][],
            new double[Lanes],
            new double[]?[Lanes],
            new ISegmentObserver?[Lanes]
        );
        for (var lane = 0; lane < Lanes; lane++)
        {
            parameters[lane] = sets[first + Math.Min(lane, count - 1)];
            try
            {
                states[lane] = _model.InitialState(parameters[lane], _times[0]);
            }
            catch (SimulationException)
            {
                return false;
            }
            absolute[lane] = _settings.ScaledTo(states[lane]).AbsoluteTolerance;
            if (lane >= count)
                continue;
            if (wanted?.Invoke(first + lane) ?? true)
                rows[lane] = new double[_times.Length * _outputs.Length];
            observers[lane] = observe?.Invoke(first + lane);
        }
        if ((_jumps is null ? [] : _jumps.At(parameters, _times[0], _times[^1])) is not { } jumps)
            return false;
        var solver = _solvers.TryTake(out var idle)
            ? idle
            : new BatchedSolver(
                _lanes!,
                _laneOutputs!,
                _outputs.Length,
                _model.StateCount,
                _model.Network.ParameterCount,
                _settings.RelativeTolerance
            );
        var together = solver.Run(states, parameters, absolute, _times, _settings.MaximumSteps, rows, observers, jumps, cancel);
        _solvers.Add(solver);
        if (!together)
            return false;
        for (var k = 0; k < count; k++)
            results[first + k] = new(rows[k], null);
        return true;
    }

    private SweepRun RunAlone(double[] values, bool wanted, ISegmentObserver? observer, CancellationToken cancel)
    {
        try
        {
            var initial = _model.InitialState(values, _times[0]);
            var run = Engines.Run(
                new(_model, values, wanted ? _times : [_times[0], _times[^1]])
                {
                    Settings = _settings,
                    Start = initial,
                    Plan = _plan,
                    ScaleToStart = true,
                },
                observer is null ? null : new PickedOutputs(observer, _outputs),
                cancel
            );
            if (!wanted)
                return new(null, null);
            var columns = _outputs.Select(run.OutputColumn).ToArray();
            return new(
                [.. Enumerable.Range(0, _times.Length * _outputs.Length).Select(k => columns[k % _outputs.Length][k / _outputs.Length])],
                null
            );
        }
        catch (SimulationException failure)
        {
            return new(null, failure);
        }
    }

    /// <summary>Hands on some of a model's outputs.</summary>
    private sealed class PickedOutputs(ISegmentObserver inner, int[] outputs) : ISegmentObserver
    {
        private readonly double[] _values = new double[InterpolantSegment.NodeCount * outputs.Length];

        public void Take(double from, double until, ReadOnlySpan<double> values)
        {
            for (var k = 0; k < outputs.Length; k++)
                values
                    .Slice(outputs[k] * InterpolantSegment.NodeCount, InterpolantSegment.NodeCount)
                    .CopyTo(_values.AsSpan(k * InterpolantSegment.NodeCount));
            inner.Take(from, until, _values);
        }
    }
}
