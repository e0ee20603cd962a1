using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>A state that starts where it stays: at equilibrium with the others that do.</summary>
/// <param name="State">Index of the state.</param>
/// <param name="Slot">Index of the parameter that its initial amount is read from.</param>
/// <param name="Guess">Node of where the search begins, over parameters alone.</param>
public sealed record EquilibriumStart(int State, int Slot, int Guess);

/// <summary>
/// Finds initial amounts at which the states that start at equilibrium do not change: g(x) = 0, where g are their derivatives at the
/// start, all other
/// amounts at their initial values. The search follows x' = g(x) from the guess until it settles, so that it ends at an equilibrium that
/// a long run
/// would reach, and then takes Newton's steps to the last digit (pseudo-transient continuation: Kelley and Keyes, SIAM J. Numer. Anal.
/// 35, 1998).
/// Immutable; any number of threads may share it.
/// </summary>
internal sealed unsafe class EquilibriumSolver
{
    /// <summary>What has not settled by then, in units of time, never does.</summary>
    private const double Longest = 1e12;

    /// <summary>Nothing is taken as settled earlier.</summary>
    private const double Shortest = 1e3;

    private const int MostSteps = 20_000;

    /// <summary>Settled is what changes by less than this share of itself while time grows tenfold.</summary>
    private const double Settled = 1e-6;

    private readonly ReactionNetwork _network;
    private readonly VectorFunction _g;
    private readonly ExactJacobian.Source _jacobian;
    private readonly int _n;

    public EquilibriumSolver(ReactionNetwork network)
    {
        (_network, _n) = (network, network.Equilibria.Count);
        var (graph, nodes) = Law(network);
        _g = GraphCompiler.Compile(graph, nodes);
        _jacobian = new(graph, nodes);
    }

    /// <summary>The derivatives of these states as formulas of their initial amounts, which become the states of a graph of its
    /// own.</summary>
    private static (ExpressionGraph Graph, int[] Nodes) Law(ReactionNetwork network)
    {
        var (source, graph) = (network.Graph, new ExpressionGraph());
        var derivatives = network.Derivatives();
        var unknown = network.Equilibria.Select((start, k) => (start.Slot, k)).ToDictionary(pair => pair.Slot, pair => pair.k);
        // What does not change is the same at any earlier time.
        var delayed = network.Delays.ToDictionary(delay => delay.Slot, delay => delay.Expression);
        int[] Copy(IReadOnlyList<int> roots, Func<int, int> state)
        {
            var needed = source.Reachable([.. roots, .. delayed.Values]);
            var copied = new int[source.Count];
            for (var k = 0; k < needed.Length; k++)
            {
                if (!needed[k])
                    continue;
                var node = source[k];
                copied[k] = node.Operation switch
                {
                    Operation.State => state(node.A),
                    Operation.Parameter when unknown.TryGetValue(node.A, out var index) => graph.State(index),
                    Operation.Parameter when delayed.TryGetValue(node.A, out var expression) => copied[expression],
                    _ => graph.Make(source, node, operand => copied[operand]),
                };
            }
            return copied;
        }
        var initial = Copy(network.Initial, _ => graph.Constant(0));
        var all = Copy([.. network.Equilibria.Select(start => derivatives[start.State])], state => initial[network.Initial[state]]);
        return (graph, [.. network.Equilibria.Select(start => all[derivatives[start.State]])]);
    }

    /// <summary>Puts the initial amounts that were found into their slots.</summary>
    /// <param name="time">In the model's unit of time.</param>
    /// <param name="parameters">All parameters of the network.</param>
    /// <exception cref="SimulationException">Nothing settles; the index names the state that moves most.</exception>
    public void Solve(double time, double[] parameters)
    {
        var x = new double[_n];
        for (var k = 0; k < _n; k++)
            x[k] = _network.Graph.Evaluate(_network.Equilibria[k].Guess, time, [], parameters);
        var scale = Math.Max(x.Max(Math.Abs), 1e-6);
        VectorFunction still = (_, y, p, results) => _g(time, y, p, results);
        var stepper = new Rosenbrock(
            still,
            new Frozen(_jacobian.Make(), time, _n),
            _n,
            parameters.Length,
            new Tolerances(1e-5, [1e-8 * scale], _n)
        );
        stepper.Start(0, x, parameters);
        var (mark, last) = (Shortest / 10, (double[])x.Clone());
        try
        {
            while (true)
            {
                stepper.Step(mark);
                if (stepper.Steps > MostSteps)
                    throw Lost(time, parameters, stepper.State, last);
                if (stepper.Time < mark)
                    continue;
                var now = stepper.State.ToArray();
                scale = Math.Max(scale, now.Max(Math.Abs));
                var settled =
                    mark > Shortest
                    && Enumerable.Range(0, _n).All(k => Math.Abs(now[k] - last[k]) <= Settled * Math.Abs(now[k]) + 1e-9 * scale);
                if (settled)
                {
                    Polish(time, parameters, now, scale);
                    for (var k = 0; k < _n; k++)
                        parameters[_network.Equilibria[k].Slot] = now[k];
                    return;
                }
                if (mark >= Longest)
                    throw Lost(time, parameters, now, last);
                (mark, last) = (10 * mark, now);
            }
        }
        catch (SimulationException failure) when (failure.Reason is FailureReason.StepTooSmall or FailureReason.NotFinite)
        {
            throw Lost(time, parameters, stepper.State, last);
        }
    }

    /// <summary>Newton's steps from a settled state; where they lead away the settled state stays.</summary>
    private void Polish(double time, double[] parameters, double[] x, double scale)
    {
        var jacobian = _jacobian.Make();
        var system = LinearSystem.For(jacobian, _n);
        var (entries, byTime, slope, moved) = (
            new double[jacobian.Entries.Count + 1],
            new double[_n + 1],
            new double[_n + 1],
            (double[])x.Clone()
        );
        fixed (double* p = parameters)
        fixed (double* y = moved)
        fixed (double* g = slope)
        fixed (double* e = entries)
        fixed (double* t = byTime)
        {
            for (var round = 0; round < 20; round++)
            {
                _g(time, y, p, g);
                jacobian.Evaluate(time, y, p, g, e, t);
                if (!system.Factor(0, e))
                    return;
                system.Solve(g);
                var largest = 0.0;
                for (var k = 0; k < _n; k++)
                {
                    y[k] += g[k];
                    largest = Math.Max(largest, Math.Abs(g[k]) / (Math.Abs(y[k]) + 1e-3 * scale));
                    if (!(Math.Abs(y[k] - x[k]) <= 1e-3 * (Math.Abs(x[k]) + 1e-3 * scale)))
                        return;
                }
                if (largest < 1e-15)
                    break;
            }
        }
        moved.CopyTo(x, 0);
    }

    private SimulationException Lost(double time, double[] parameters, ReadOnlySpan<double> now, double[] before)
    {
        var (most, at) = (-1.0, 0);
        for (var k = 0; k < _n; k++)
        {
            var change = Math.Abs(now[k] - before[k]) / (Math.Abs(now[k]) + Math.Abs(before[k]) + 1e-300);
            if (!(change <= most))
                (most, at) = (change, k);
        }
        var state = new double[_network.States.Count];
        for (var k = 0; k < _n; k++)
            state[_network.Equilibria[k].State] = now[k];
        return new(FailureReason.NoEquilibrium, time, state, [.. parameters]) { Index = _network.Equilibria[at].State };
    }

    /// <summary>A Jacobian at one time, whatever time the search itself counts.</summary>
    private sealed class Frozen(Jacobian inner, double at, int states) : Jacobian
    {
        public override IReadOnlyList<(int Row, int Column)> Entries => inner.Entries;

        public override void Evaluate(double time, double* state, double* parameters, double* slope, double* values, double* byTime)
        {
            inner.Evaluate(at, state, parameters, slope, values, byTime);
            // For the search nothing depends on time.
            for (var k = 0; k < states; k++)
                byTime[k] = 0;
        }
    }
}
