using ClearTide.Core.Data;
using ClearTide.Core.Formulas;
using ClearTide.Core.Models;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;

namespace ClearTide.Core.Fitting;

/// <summary>What a model expects of each row of a data set, and how that changes with each chosen value.</summary>
/// <param name="Mean">Expected counts, one for each row.</param>
/// <param name="Gradient">Row by row, the derivative by each chosen value in its own units.</param>
public sealed record Prediction(double[] Mean, double[,] Gradient);

/// <summary>
/// A lowered model with one observation on it. Predictions come from one solve of states, the observed flow's running total, and the tangents
/// of all of them (forward sensitivity equations; Hairer, Nørsett, Wanner, Solving Ordinary Differential Equations I, 2nd ed., I.14), all from
/// the same graph, with error control on everything.
/// </summary>
public sealed unsafe class ObservedModel
{
    private readonly DataSet _data;
    private readonly int[] _chosen;
    private readonly VectorFunction _rhs;
    private readonly VectorFunction _initial;
    private readonly VectorFunction _reporting;
    private readonly int _block;
    private readonly double _start;
    private readonly double[] _values;
    private readonly SolverSettings _settings = SolverSettings.Default with { RelativeTolerance = 1e-9, AbsoluteTolerance = 1e-10, MaximumSteps = 200_000 };

    /// <param name="lowered">A finished model, lowered for this use alone: its graph receives the tangents.</param>
    /// <param name="chosen">Addresses of the values that predictions are differentiated by.</param>
    /// <exception cref="ArgumentException">The observation or an address does not fit the model; the message says what to do.</exception>
    public ObservedModel(LoweredModel lowered, Observation observation, DataSet data, IReadOnlyList<string> chosen)
    {
        var form = lowered.Form;
        _data = data;
        _values = form.ValueVector();
        _chosen = [.. chosen.Select(address => form.IndexOf(address) is var index && index >= 0
            ? index
            : throw new ArgumentException($"There is no value “{address}” in the model any more. Take it out of the fit."))];
        _start = Math.Min(lowered.Document.Start, data.Rows[0].Start);
        if (data.Rows[0].Start < lowered.Document.Start)
        {
            throw new ArgumentException($"The first row begins at {data.Rows[0].Start:0.###}, before the model does at {lowered.Document.Start:0.###}. Begin the span earlier, or mark the times as the end of each interval.");
        }
        var observed = form.Processes.FirstOrDefault(process => process.Id == observation.FlowId)
            ?? throw new ArgumentException("The observed flow is no longer in the model. Choose another one under Data.");
        var graph = form.Graph;
        var n = form.States.Count;
        _block = n + 1;
        var reporting = ReportingNode(lowered, observation);
        int[] rhs = [.. form.Derivatives(), observed.Rate];
        int[] initial = [.. form.Initial, graph.Constant(0)];
        var allRhs = rhs.ToList();
        var allInitial = initial.ToList();
        var reportingNodes = new List<int> { reporting };
        for (var j = 0; j < _chosen.Length; j++)
        {
            var (index, offset) = (_chosen[j], (j + 1) * _block);
            var tangent = new Differentiation(graph, node => node.Operation switch
            {
                Operation.State => graph.State(offset + node.A),
                Operation.Parameter when node.A == index => graph.Constant(1),
                _ => -1,
            });
            allRhs.AddRange(rhs.Select(tangent.Of));
            allInitial.AddRange(initial.Select(tangent.Of));
            reportingNodes.Add(tangent.Of(reporting));
        }
        _rhs = GraphCompiler.Compile(graph, allRhs);
        _initial = GraphCompiler.Compile(graph, allInitial);
        _reporting = GraphCompiler.Compile(graph, reportingNodes);
    }

    /// <summary>All values of the model as the document gives them.</summary>
    public IReadOnlyList<double> Values => _values;

    public DataSet Data => _data;

    /// <summary>Position of each chosen value among all values.</summary>
    public IReadOnlyList<int> Chosen => _chosen;

    /// <summary>The reporting fraction as a node over the model's values.</summary>
    /// <exception cref="ArgumentException">It cannot be read, or uses something that is not a plain value.</exception>
    public static int ReportingNode(LoweredModel lowered, Observation observation)
    {
        var formula = Formula.Read(observation.Reporting);
        if (formula.Tree is null) throw new ArgumentException($"The reporting fraction cannot be read: {formula.Problem!.Message}");
        var form = lowered.Form;
        return new FormulaBinder(form.Graph, lowered.Document.TimeUnit, name => form.IndexOf(name) is var index && index >= 0
            ? form.Graph.Parameter(index)
            : throw new ArgumentException($"The reporting fraction uses {name}, which is not a plain value. Use a number, or add “{name} = 0.5” in Build.")).Bind(formula.Tree);
    }

    /// <summary>Expected counts and their derivatives for values of the chosen parameters.</summary>
    /// <param name="chosen">In the order of the addresses, in the model's units.</param>
    /// <exception cref="SimulationException">The model cannot be run at these values.</exception>
    public Prediction Predict(ReadOnlySpan<double> chosen, CancellationToken cancel = default)
    {
        var values = (double[])_values.Clone();
        for (var j = 0; j < chosen.Length; j++) values[_chosen[j]] = chosen[j];
        var k = _chosen.Length;
        var dimension = _block * (k + 1);
        var state = new double[dimension];
        var reporting = new double[k + 1];
        fixed (double* p = values)
        fixed (double* y = state)
        fixed (double* r = reporting)
        {
            _initial(_start, null, p, y);
            _reporting(_start, null, p, r);
        }
        var totals = Totals(state, values, dimension, cancel);
        var rows = _data.Rows;
        var mean = new double[rows.Count];
        var gradient = new double[rows.Count, k];
        for (var row = 0; row < rows.Count; row++)
        {
            var (from, to) = (totals[rows[row].Start], totals[rows[row].End]);
            mean[row] = reporting[0] * (to[0] - from[0]);
            for (var j = 0; j < k; j++) gradient[row, j] = reporting[j + 1] * (to[0] - from[0]) + reporting[0] * (to[j + 1] - from[j + 1]);
        }
        return new(mean, gradient);
    }

    /// <summary>At each row's ends: the running total of the observed flow, then its tangents.</summary>
    private Dictionary<double, double[]> Totals(double[] state, double[] values, int dimension, CancellationToken cancel)
    {
        var times = _data.Rows.SelectMany(row => new[] { row.Start, row.End }).Distinct().Order().ToArray();
        var totals = new Dictionary<double, double[]>();
        var stepper = Simulator.Create(_rhs, dimension, values.Length, _settings);
        stepper.Start(_start, state, values);
        var next = 0;
        void Keep(double time, ReadOnlySpan<double> y)
        {
            var kept = new double[_chosen.Length + 1];
            for (var j = 0; j < kept.Length; j++) kept[j] = y[j * _block + _block - 1];
            totals[time] = kept;
        }
        while (next < times.Length && times[next] <= _start) Keep(times[next++], state);
        Span<double> between = new double[dimension];
        while (next < times.Length)
        {
            stepper.Step(times[^1]);
            while (next < times.Length && times[next] <= stepper.Time)
            {
                stepper.At(times[next], between);
                Keep(times[next++], between);
            }
            if (stepper.Steps > _settings.MaximumSteps) throw new SimulationException(FailureReason.TooManySteps, stepper.Time, stepper.State.ToArray(), values);
            cancel.ThrowIfCancellationRequested();
        }
        return totals;
    }
}
