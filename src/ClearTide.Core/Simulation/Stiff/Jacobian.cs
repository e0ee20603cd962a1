using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>The matrix ∂f/∂y of a right-hand side and its vector ∂f/∂t, with a structure that is known before any value.</summary>
public abstract unsafe class Jacobian
{
    /// <summary>Rows and columns of the entries that may differ from zero.</summary>
    public abstract IReadOnlyList<(int Row, int Column)> Entries { get; }

    /// <summary>Fills the entries, in their order, and the derivatives by time.</summary>
    /// <param name="time">In the model's unit of time.</param>
    /// <param name="state">The states, in the order of the network.</param>
    /// <param name="parameters">All parameters, in the order of the network.</param>
    /// <param name="slope">f at this time and state.</param>
    /// <param name="values">Receives one number for each entry.</param>
    /// <param name="byTime">Receives one number for each state.</param>
    public abstract void Evaluate(double time, double* state, double* parameters, double* slope, double* values, double* byTime);
}

/// <summary>The exact Jacobian: derivatives of the formulas, compiled with parts in common computed once.</summary>
internal sealed unsafe class ExactJacobian : Jacobian
{
    private readonly VectorFunction _function;
    private readonly double[] _results;
    private readonly int _states;

    private ExactJacobian(VectorFunction function, IReadOnlyList<(int, int)> entries, int states)
    {
        (_function, Entries, _states) = (function, entries, states);
        _results = GC.AllocateArray<double>(entries.Count + states, pinned: true);
    }

    public override IReadOnlyList<(int Row, int Column)> Entries { get; }

    /// <summary>Formulas of the matrix as compiled functions, to make a Jacobian for each thread from.</summary>
    public sealed class Source
    {
        private readonly VectorFunction _function;
        private readonly IReadOnlyList<(int, int)> _entries;
        private readonly int _states;

        /// <param name="graph">Not frozen; derivatives are added to it.</param>
        /// <param name="rightHandSide">The nodes of f, one for each state.</param>
        public Source(ExpressionGraph graph, IReadOnlyList<int> rightHandSide)
        {
            var (entries, byTime) = PartialDerivatives.Of(graph, rightHandSide, rightHandSide.Count);
            _states = rightHandSide.Count;
            _entries = [.. entries.Select(entry => (entry.Row, entry.Column))];
            _function = GraphCompiler.Compile(graph, [.. entries.Select(entry => entry.Node), .. byTime]);
        }

        public ExactJacobian Make() => new(_function, _entries, _states);
    }

    public override void Evaluate(double time, double* state, double* parameters, double* slope, double* values, double* byTime)
    {
        fixed (double* results = _results)
        {
            _function(time, state, parameters, results);
            new Span<double>(results, Entries.Count).CopyTo(new Span<double>(values, Entries.Count));
            new Span<double>(results + Entries.Count, _states).CopyTo(new Span<double>(byTime, _states));
        }
    }
}

/// <summary>
/// The Jacobian by forward differences, for laws that are more than formulas: delayed values and limits are filled in before each call.
/// Each increment is the square root of the rounding unit times the size of what is moved.
/// </summary>
internal sealed unsafe class DifferenceJacobian : Jacobian
{
    private const double Root = 1.5e-8;

    private readonly VectorFunction _f;
    private readonly int _n;
    private readonly double _scale;
    private readonly double[] _moved;
    private readonly double[] _slope;

    /// <param name="f">The right-hand side.</param>
    /// <param name="dimension">How many states there are.</param>
    /// <param name="scale">The least size that a state counts as having, in its units.</param>
    public DifferenceJacobian(VectorFunction f, int dimension, double scale)
    {
        (_f, _n, _scale) = (f, dimension, scale);
        _moved = GC.AllocateArray<double>(dimension, pinned: true);
        _slope = GC.AllocateArray<double>(dimension, pinned: true);
        Entries = [.. Enumerable.Range(0, dimension * dimension).Select(k => (k % dimension, k / dimension))];
    }

    public override IReadOnlyList<(int Row, int Column)> Entries { get; }

    public override void Evaluate(double time, double* state, double* parameters, double* slope, double* values, double* byTime)
    {
        fixed (double* moved = _moved)
        fixed (double* changed = _slope)
        {
            new Span<double>(state, _n).CopyTo(new Span<double>(moved, _n));
            for (var j = 0; j < _n; j++)
            {
                var step = Root * Math.Max(Math.Abs(state[j]), _scale);
                moved[j] = state[j] + step;
                step = moved[j] - state[j];
                _f(time, moved, parameters, changed);
                for (var i = 0; i < _n; i++)
                    values[j * _n + i] = (changed[i] - slope[i]) / step;
                moved[j] = state[j];
            }
            var later = time + Root * Math.Max(Math.Abs(time), 1e-3);
            _f(later, moved, parameters, changed);
            for (var i = 0; i < _n; i++)
                byTime[i] = (changed[i] - slope[i]) / (later - time);
            // Laws that keep what they were last asked for are left at the state itself.
            _f(time, state, parameters, changed);
        }
    }
}
