using ClearTide.Core.Formulas;

namespace ClearTide.Core.Simulation;

/// <summary>
/// Many runs of one model that differ by their values. Four of them go in step with each other where the model's law is one smooth formula that is
/// not stiff; every other run goes alone. Blocks of four are filled by the index of the run, so that results do not depend on how blocks are
/// shared among threads; a block that is not full repeats its last run. Immutable: threads may run different blocks at once.
/// </summary>
public sealed class Sweep
{
    private readonly CompiledModel _model;
    private readonly SolverSettings _settings;
    private readonly double[] _times;
    private readonly VectorFunction? _lanes;

    /// <param name="times">Ascending output times; runs span from the first to the last.</param>
    public Sweep(CompiledModel model, double[] times, SolverSettings settings)
    {
        (_model, _times, _settings) = (model, times, settings);
        var together = model.Hybrid is null && model.Form.DiscreteStep == 0 && settings.Method is Method.Automatic or Method.Adaptive && settings.AbsoluteTolerances is null
            && model.Form.States.All(state => !state.NeverBelowZero);
        _lanes = together ? GraphCompiler.CompileLanes(model.Form.Graph, model.Form.Derivatives()) : null;
    }

    /// <summary>How many blocks so many runs make.</summary>
    public static int Blocks(int runs) => (runs + LaneSolver.Lanes - 1) / LaneSolver.Lanes;

    /// <summary>One block of runs.</summary>
    /// <param name="sets">The parameters of all runs: values, then slots.</param>
    /// <param name="results">Receives for each run of the block its states, time by time; null for a run that could not go on.</param>
    public void RunBlock(int block, IReadOnlyList<double[]> sets, double[]?[] results, CancellationToken cancel = default)
    {
        var (first, count) = (block * LaneSolver.Lanes, Math.Min(LaneSolver.Lanes, sets.Count - block * LaneSolver.Lanes));
        if (_lanes is null || count < 2 || !RunTogether(first, count, sets, results, cancel))
        {
            for (var k = 0; k < count; k++) results[first + k] = RunAlone(sets[first + k], cancel);
        }
    }

    private bool RunTogether(int first, int count, IReadOnlyList<double[]> sets, double[]?[] results, CancellationToken cancel)
    {
        var n = _model.StateCount;
        var solver = new LaneSolver(_lanes!, n, _model.Form.ParameterCount, _settings);
        var (states, parameters, rows) = (new double[LaneSolver.Lanes][], new double[LaneSolver.Lanes][], new double[LaneSolver.Lanes][]);
        for (var lane = 0; lane < LaneSolver.Lanes; lane++)
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
            rows[lane] = new double[_times.Length * n];
        }
        if (!solver.Run(states, parameters, _times, _settings.MaximumSteps, rows, cancel)) return false;
        for (var k = 0; k < count; k++) results[first + k] = rows[k];
        return true;
    }

    private double[]? RunAlone(double[] values, CancellationToken cancel)
    {
        try
        {
            var run = Simulator.Run(_model, _model.InitialState(values, _times[0]), ParameterSchedule.Constant(values), _times, _settings, cancel);
            var n = _model.StateCount;
            var rows = new double[_times.Length * n];
            for (var k = 0; k < _times.Length; k++)
            {
                for (var i = 0; i < n; i++) rows[k * n + i] = run.State(k, i);
            }
            return rows;
        }
        catch (SimulationException)
        {
            return null;
        }
    }
}
