using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Simulation;

/// <summary>Published stiff problems with their reference solutions, and the change between methods.</summary>
public class StiffTests
{
    /// <summary>Three reactions by Robertson (1966), as in Hairer and Wanner, Solving Ordinary Differential Equations II, 2nd rev. ed.,
    /// IV.1, formula 1.4.</summary>
    private const string Robertson = "A -> B at 0.04; B -> C : 3e7 * B^2; B -> A : 1e4 * B * C; A(0) = 1; B(0) = 0; C(0) = 0";

    private static readonly SolverSettings Published = SolverSettings.Default with
    {
        Method = Method.Stiff,
        RelativeTolerance = 1e-4,
        AbsoluteTolerances = [1e-8, 1e-14, 1e-6],
    };

    private static readonly SolverSettings ToManyDigits = SolverSettings.Default with
    {
        Method = Method.Stiff,
        RelativeTolerance = 1e-10,
        AbsoluteTolerances = [1e-18, 1e-22, 1e-14],
    };

    [Theory]
    [InlineData(Method.Stiff)]
    [InlineData(Method.Automatic)]
    public void Robertson_is_right_to_three_digits_in_few_steps(Method method)
    {
        var model = Runs.Compile(Robertson);
        // To many digits; that run ends where the published reference does (next test), and passes y1(40) = 0.7158270687, which is
        // commonly printed for this problem. A published multistep code takes about 540 steps at these tolerances.
        double[] times = [0, 0.4, 40, 4e4, 4e6, 4e10];
        var exact = Runs.Run(model, times, ToManyDigits);
        Assert.Equal(0.7158270687, exact.State(2, 0), 1e-9);
        var run = Runs.Run(model, times, Published with { Method = method });
        for (var k = 1; k < times.Length; k++)
        {
            // A run at 1e-4 adds up to some ten times its tolerance on the way; at the end three digits are asked for.
            Assert.Equal(1, run.State(k, 0) / exact.State(k, 0), k < times.Length - 1 ? 2e-3 : 5e-4);
            Assert.Equal(1, run.State(k, 0) + run.State(k, 1) + run.State(k, 2), 1e-9);
        }
        Assert.InRange(run.Steps, 20, 600);
    }

    [Fact]
    public void Robertson_to_many_digits_agrees_with_the_reference_of_the_test_set()
    {
        // y(1e11) of problem ROBER, Mazzia and Magherini, Test Set for Initial Value Problem Solvers, release 2.4 (2008).
        var run = Runs.Run(Runs.Compile(Robertson), [0, 1e11], ToManyDigits);
        Assert.Equal(1, run.State(1, 0) / 0.2083340149701255e-7, 1e-5);
        Assert.Equal(1, run.State(1, 1) / 0.8333360770334713e-13, 1e-5);
        Assert.Equal(0.9999999791665050, run.State(1, 2), 1e-12);
    }

    [Theory]
    [InlineData(Method.Stiff)]
    [InlineData(Method.Automatic)]
    public void Van_der_Pol_over_two_periods(Method method)
    {
        // mu = 1000 in the time of the slow motion, problem VDPOL of the same test set: y(2000) from y(0) = (2, 0).
        var model = Runs.Compile("-> X : V; -> V : 1000 * (1 - X^2) * V - X; X(0) = 2; V(0) = 0");
        var run = Runs.Run(
            model,
            [0, 2000],
            SolverSettings.Default with
            {
                Method = method,
                RelativeTolerance = 1e-7,
                AbsoluteTolerance = 1e-9,
            }
        );
        Assert.Equal(0.1706167732170483e1, run.State(1, 0), 1e-4);
        Assert.Equal(-0.8928097010247975e-3, run.State(1, 1), 1e-6);
        Assert.InRange(run.Steps, 50, 20_000);
    }

    [Fact]
    public void A_very_fast_decay_towards_a_slow_curve_takes_few_steps()
    {
        // y' = -L (y - cos t) - sin t, of Prothero and Robinson: the solution is cos t, whatever L.
        const string lines = "-> Y : -1e6 * (Y - cos(t)) - sin(t); Y(0) = 1";
        foreach (var method in new[] { Method.Stiff, Method.Automatic })
        {
            var run = Runs.Run(
                Runs.Compile(lines),
                [0, 5, 10],
                SolverSettings.Default with
                {
                    Method = method,
                    RelativeTolerance = 1e-6,
                    AbsoluteTolerance = 1e-6,
                }
            );
            Assert.Equal(Math.Cos(10), run.State(2, 0), 1e-5);
            Assert.InRange(run.Steps, 5, 1000);
        }
    }

    [Fact]
    public void The_automatic_method_stays_explicit_where_nothing_is_stiff_and_comes_back_when_it_ceases()
    {
        static Automatic Walk(string lines, double end)
        {
            var model = Runs.Compile(lines);
            var values = model.Network.ValueVector();
            var stepper = new Automatic(
                model.RightHandSide,
                model.Jacobian,
                model.StateCount,
                model.Network.ParameterCount,
                new(1e-6, [1e-6], model.StateCount)
            );
            stepper.Start(0, model.InitialState(values), values);
            while (stepper.Time < end)
                stepper.Step(end);
            return stepper;
        }

        Assert.Equal(0, Walk("S -> I : 0.4 * S * I / 1000; I -> R at 0.2; S(0) = 999; I(0) = 1", 200).StiffSteps);
        var switching = Walk("-> Y : -(1 + 1e5 * exp(-t)) * (Y - cos(t)); Y(0) = 0", 40);
        Assert.True(switching.StiffSteps > 0);
        Assert.False(switching.IsStiff);
    }

    [Fact]
    public void Events_and_delays_work_with_the_stiff_method()
    {
        var settings = SolverSettings.Default with { Method = Method.Stiff, RelativeTolerance = 1e-9, AbsoluteTolerance = 1e-10 };
        // Fast exchange between A and B, and an addition at day 2: the sum is known exactly, and the two are equal up to 1e-4 of it.
        Assert.Equal(150, Runs.Final("A -> B at 1e4; B -> A at 1e4; A(0) = 100; at 2: A = A + 50", "A", 10, settings) * 2, 1e-4);
        // A decay that remembers: y' = -y(t - 1) with y = 1 before; on the second unit of time y = 1 - t + (t - 1)^2 / 2.
        Assert.Equal(1 - 2 + 0.5, Runs.Final("-> Y : -delay(Y, 1); Y(0) = 1", "Y", 2, settings), 1e-7);
    }

    [Fact]
    public void A_linear_exchange_of_a_thousand_compartments_agrees_with_its_closed_form()
    {
        // A ring in which each compartment gives to the next at rate k: the amounts follow the discrete Fourier transform; after a long
        // time all are equal.
        const int n = 1000;
        var graph = new ExpressionGraph();
        var nodes = Enumerable
            .Range(0, n)
            .Select(i => graph.Multiply(graph.Constant(5), graph.Subtract(graph.State((i + n - 1) % n), graph.State(i))))
            .ToArray();
        var f = GraphCompiler.Compile(graph, nodes);
        var jacobian = new ExactJacobian.Source(graph, nodes).Make();
        Assert.Equal(2 * n, jacobian.Entries.Count);
        var stepper = new Rosenbrock(f, jacobian, n, 0, new(1e-8, [1e-10], n));
        var start = new double[n];
        start[0] = 1;
        stepper.Start(0, start, []);
        while (stepper.Time < 4)
            stepper.Step(4);
        // Before it has gone round, the amount after k passages is the Poisson probability of k with mean 5 t.
        var expected = Math.Exp(-20);
        for (var k = 0; k < 60; k++)
        {
            Assert.Equal(expected, stepper.State[k], 1e-8);
            expected *= 20.0 / (k + 1);
        }
    }

    [Fact]
    public void Sparse_and_dense_elimination_solve_the_same_systems()
    {
        var random = new Random(4);
        for (var round = 0; round < 20; round++)
        {
            var n = 45 + random.Next(40);
            var entries = Enumerable.Range(0, 3 * n).Select(_ => (Row: random.Next(n), Column: random.Next(n))).Distinct().ToList();
            var graph = new ExpressionGraph();
            var rows = entries.ToLookup(entry => entry.Row);
            var nodes = Enumerable
                .Range(0, n)
                .Select(row =>
                    rows[row]
                        .Aggregate(graph.Constant(0), (sum, entry) =>
                            graph.Add(sum, graph.Multiply(graph.Constant(random.NextDouble() - 0.7), graph.State(entry.Column)))
                        )
                )
                .ToArray();
            var jacobian = new ExactJacobian.Source(graph, nodes).Make();
            SameSolution(jacobian, n, random);
        }
    }

    private static unsafe void SameSolution(Jacobian jacobian, int n, Random random)
    {
        var (sparse, dense) = (new SparseFactors(new(jacobian.Entries, n), jacobian.Entries), new DenseFactors(jacobian.Entries, n));
        var (values, byTime, right) = (
            new double[jacobian.Entries.Count + 1],
            new double[n],
            Enumerable.Range(0, n).Select(_ => random.NextDouble()).ToArray()
        );
        var (one, other) = (right.ToArray(), right.ToArray());
        fixed (double* v = values)
        fixed (double* g = byTime)
        fixed (double* x = one)
        fixed (double* y = other)
        {
            jacobian.Evaluate(0, y, null, g, v, g);
            Assert.True(sparse.Factor(4, v));
            Assert.True(dense.Factor(4, v));
            sparse.Solve(x);
            dense.Solve(y);
        }
        // The shift makes the matrices well conditioned: some units of rounding for each of n operations.
        for (var i = 0; i < n; i++)
            Assert.Equal(other[i], one[i], 1e-11);
        // And both satisfy (4 I - J) x = b.
        var residual = right.Select((b, i) => b - 4 * one[i]).ToArray();
        for (var k = 0; k < jacobian.Entries.Count; k++)
            residual[jacobian.Entries[k].Row] += values[k] * one[jacobian.Entries[k].Column];
        Assert.All(residual, rest => Assert.Equal(0, rest, 1e-11));
    }

    [Fact]
    public void A_singular_system_is_refused()
    {
        var graph = new ExpressionGraph();
        int[] nodes = [graph.State(1), graph.State(0)];
        var jacobian = new ExactJacobian.Source(graph, nodes).Make();
        Assert.False(Factor(new DenseFactors(jacobian.Entries, 2), [1, 1]));
        Assert.True(Factor(new DenseFactors(jacobian.Entries, 2), [1, 2]));
    }

    private static unsafe bool Factor(LinearSystem system, double[] entries)
    {
        fixed (double* v = entries)
            return system.Factor(1, v);
    }
}
