using ClearTide.Core.Compilation;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;

namespace ClearTide.Core.Reports;

/// <summary>
/// A formula over what a whole run comes to, as in <c>ever(H > 40) and peak_time(I) > 60</c>: true or false of the run, or a number. What
/// changes along the run stands within one of the functions of <see cref="RunReduction"/>; outside them stand numbers and values of the
/// model. Read once, it is worked out for any number of runs, on any thread.
/// </summary>
public sealed partial class OutcomeFormula
{
    /// <summary>A formula is at most so long.</summary>
    public const int MostCharacters = 500;

    /// <summary>How a flow is written, by its ends.</summary>
    public const string FlowCall = "flow";

    /// <summary>The functions of a run, as a list to read.</summary>
    public static string Functions => RunReductions.Names;

    private readonly ExpressionGraph _whole = new(),
        _rows = new();
    private readonly List<Reduction> _reductions = [];
    private readonly List<int> _outputs = [],
        _rowRoots = [];
    private readonly LoweredModel _lowered;
    private readonly int _root;

    /// <summary>The curves over the outputs that they name, and over amounts and parameters.</summary>
    private VectorFunction? _overOutputs,
        _overStates;
    private bool _movesWithTime;
    private string? _problem;

    /// <param name="Kind">What is taken of a row of values.</param>
    /// <param name="Row">Which of the formulas along the run it is about; -1 for one that is about firings.</param>
    /// <param name="At">The node of the time of <see cref="RunReduction.Value"/>, else -1.</param>
    /// <param name="Processes">Whose firings are counted.</param>
    private sealed record Reduction(RunReduction Kind, int Row, int At, int[] Processes)
    {
        /// <summary>The same flows by their places among the outputs, for runs that know rates and no firings.</summary>
        public int[] Flows { get; init; } = [];
    }

    private OutcomeFormula(LoweredModel lowered, Syntax tree)
    {
        _lowered = lowered;
        IsStatement = Says(tree);
        _root = new FormulaBinder(_whole, lowered.Document.UnitTable(), Whole, Reduce).Bind(tree);
        var needed = _whole.Reachable([_root, .. _reductions.Select(one => one.At).Where(node => node >= 0)]);
        if (needed.Where((isNeeded, k) => isNeeded && _whole[k].Operation == Operation.Time).Any())
            _problem ??= "“t” goes on along a run. Ask for a time of it: peak_time(I), or first_time(I < 1).";
        Compile();
    }

    /// <summary>What one curve comes to, without a text.</summary>
    /// <param name="lowered">The model, lowered.</param>
    /// <param name="output">Its place among the outputs: an amount or a quantity.</param>
    /// <param name="kind">Which outcome of the curve.</param>
    /// <param name="level">What a time above a level or a crossing is about.</param>
    /// <exception cref="ArgumentException">It is an outcome of smooth curves; the message says what to choose.</exception>
    internal OutcomeFormula(LoweredModel lowered, int output, OutcomeKind kind, double level = 0)
    {
        _lowered = lowered;
        _outputs.Add(output);
        var (curve, limit) = (_rows.State(0), _rows.Constant(level));
        var (reduction, row) = kind switch
        {
            OutcomeKind.Maximum => (RunReduction.Peak, curve),
            OutcomeKind.MaximumTime => (RunReduction.PeakTime, curve),
            OutcomeKind.Final => (RunReduction.End, curve),
            OutcomeKind.Initial => (RunReduction.Start, curve),
            OutcomeKind.Minimum => (RunReduction.Lowest, curve),
            OutcomeKind.Mean => (RunReduction.Mean, curve),
            OutcomeKind.Total => (RunReduction.Total, curve),
            OutcomeKind.TimeAbove => (RunReduction.Duration, _rows.Binary(Operation.Less, limit, curve)),
            OutcomeKind.FirstCrossing => (RunReduction.Turn, _rows.Binary(Operation.Less, curve, limit)),
            _ => throw new ArgumentException(
                "A doubling time or a half-life is that of a smooth curve. By chance choose a peak, a time, a total or a level."
            ),
        };
        _rowRoots.Add(row);
        _root = Kept(new(reduction, 0, -1, []));
        Compile();
    }

    private void Compile()
    {
        if (_problem is not null || _rowRoots.Count == 0)
            return;
        _overOutputs = GraphCompiler.Compile(_rows, _rowRoots);
        // Along a path they are read at each transition: straight from what the run holds.
        var graph = _lowered.Network.Graph.Fork();
        var roots = Rows(graph);
        _overStates = GraphCompiler.Compile(graph, roots);
        _movesWithTime = NamesTime(graph, roots);
    }

    /// <summary>The formulas along the run that it asks about, as nodes over states and parameters.</summary>
    /// <param name="graph">A fork of the graph of the network that it was read for; nodes are added to it.</param>
    internal int[] Rows(ExpressionGraph graph)
    {
        var nodes = _lowered.Network.Outputs.Select(output => output.Node).ToArray();
        var copied = new int[_rows.Count];
        for (var k = 0; k < copied.Length; k++)
            copied[k] =
                _rows[k].Operation == Operation.State
                    ? nodes[_outputs[_rows[k].A]]
                    : graph.Make(_rows, _rows[k], operand => copied[operand]);
        return [.. _rowRoots.Select(row => copied[row])];
    }

    /// <summary>Tallies for a run without chance, one for each thing that is asked for.</summary>
    /// <param name="values">All parameters of the network, as the run has them.</param>
    internal SmoothReduction[] FollowSmooth(double[] values) =>
        [
            .. _reductions.Select(one => new SmoothReduction(one.Kind, one.Row, one.Flows, keepsPath: DependsOnOthers(one.At))
            {
                At = one.At >= 0 && !DependsOnOthers(one.At) ? _whole.Evaluate(one.At, 0, [], values) : double.NaN,
            }),
        ];

    /// <summary>What a run without chance has come to; see <see cref="Of(FollowedOutcome, Trajectory, double[], int)"/>.</summary>
    /// <param name="followed">The tallies, in the order of <see cref="FollowSmooth"/>.</param>
    /// <param name="values">All parameters of the network, as the run had them.</param>
    internal double Of(SmoothReduction[] followed, double[] values)
    {
        var found = new double[_reductions.Count];
        for (var k = 0; k < found.Length; k++)
        {
            var at = _reductions[k].At;
            found[k] = followed[k].Value(at < 0 ? double.NaN : _whole.Evaluate(at, 0, found, values));
        }
        return _whole.Evaluate(_root, 0, found, values);
    }

    private static bool NamesTime(ExpressionGraph graph, IEnumerable<int> roots) =>
        graph.Reachable(roots).Index().Any(one => one.Item && graph[one.Index].Operation == Operation.Time);

    /// <summary>Whether it is true or false of a run, and not a number.</summary>
    public bool IsStatement { get; }

    /// <summary>Reads a formula for runs by chance of a model.</summary>
    /// <param name="lowered">The compiled model.</param>
    /// <param name="text">The text as typed.</param>
    /// <exception cref="ArgumentException">It cannot be read, or names what the model has not; the message says what to do.</exception>
    public static OutcomeFormula Read(LoweredModel lowered, string text)
    {
        if (text.Length > MostCharacters)
            throw new ArgumentException($"This formula has at most {MostCharacters} characters.");
        var read = Formula.Read(text);
        if (read.Tree is not { } tree)
            throw new ArgumentException(read.Problem!.Message);
        var formula = new OutcomeFormula(lowered, tree);
        return formula._problem is { } problem ? throw new ArgumentException(problem) : formula;
    }

    /// <summary>Begins to follow a run by chance of the model that the formula was read for.</summary>
    /// <param name="values">All parameters of the network, as the run has them.</param>
    /// <param name="from">What lies before is not looked at.</param>
    internal FollowedOutcome Follow(double[] values, double from = double.NegativeInfinity) =>
        new(
            _overStates,
            _overOutputs,
            _rowRoots.Count,
            [
                .. _reductions.Select(one => new ReductionTally(one.Kind, keepsPath: DependsOnOthers(one.At))
                {
                    At = one.At >= 0 && !DependsOnOthers(one.At) ? _whole.Evaluate(one.At, 0, [], values) : double.NaN,
                }),
            ],
            [.. _reductions.Select(one => one.Row)],
            _movesWithTime,
            from
        );

    /// <summary>Whether a time is known only when the run has ended, as in <c>value(I, peak_time(H))</c>.</summary>
    private bool DependsOnOthers(int at) =>
        at >= 0 && _whole.Reachable([at]).Index().Any(one => one.Item && _whole[one.Index].Operation == Operation.State);

    /// <summary>What a run that was followed has come to: 1 or 0 for a statement. Not a number where the run has no such outcome; a
    /// comparison with what it has not is false.</summary>
    /// <param name="followed">What followed the run.</param>
    /// <param name="run">The run.</param>
    /// <param name="values">All parameters of the network, as the run had them.</param>
    /// <param name="first">The first of its output times that is looked at, for what flows have moved since.</param>
    internal double Of(FollowedOutcome followed, Trajectory run, double[] values, int first = 0)
    {
        var found = new double[_reductions.Count];
        for (var k = 0; k < found.Length; k++)
        {
            var reduction = _reductions[k];
            found[k] =
                reduction.Row < 0
                    ? reduction.Processes.Sum(process => run.Fired(process, first, run.Times.Count - 1))
                    : followed.Tallies[k].Value(reduction.At < 0 ? double.NaN : _whole.Evaluate(reduction.At, 0, found, values));
        }
        return _whole.Evaluate(_root, 0, found, values);
    }

    /// <summary>The same for a run that was not followed, by its values at output times, between which it goes straight.</summary>
    /// <param name="run">The run at its output times.</param>
    /// <param name="values">The outputs that the formula reads, time by time.</param>
    /// <param name="first">The first of the times that counts.</param>
    public double Of(Trajectory run, double[] values, int first = 0)
    {
        var followed = Follow(values);
        var columns = _outputs.Select(run.OutputColumn).ToArray();
        var outputs = new double[columns.Length];
        for (var row = first; row < run.Times.Count; row++)
        {
            for (var k = 0; k < columns.Length; k++)
                outputs[k] = columns[k][row];
            followed.TakeOutputs(run.Times[row], outputs, values);
        }
        return Of(followed, run, values, first);
    }
}
