using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;
using CsCheck;

namespace ClearTide.Core.Tests.Simulation;

/// <summary>Runs in lockstep against the same runs alone and against closed forms.</summary>
public class SweepTests
{
    private static double[]?[] All(CompiledModel model, IReadOnlyList<double[]> sets, double[] times, SolverSettings? settings = null)
    {
        var sweep = new Sweep(model, times, settings ?? SolverSettings.Default, [.. Enumerable.Range(0, model.Network.Amounts.Count)]);
        var results = new SweepRun[sets.Count];
        for (var block = 0; block < Sweep.Blocks(sets.Count); block++)
            sweep.RunBlock(block, sets, results);
        return [.. results.Select(run => run.Rows)];
    }

    private static List<double[]> Sets(CompiledModel model, string address, params double[] values) =>
        [
            .. values.Select(value =>
            {
                var set = model.Network.ValueVector();
                set[model.Network.IndexOf(address)] = value;
                return set;
            }),
        ];

    [Theory]
    [InlineData(1)]
    [InlineData(3)]
    [InlineData(4)]
    [InlineData(9)]
    public void Each_lane_follows_its_own_closed_form(int runs)
    {
        var model = Runs.Compile("A -> : k * A; k = 0.1 per day; A(0) = 50");
        var rates = Enumerable.Range(0, runs).Select(run => 0.05 + 0.07 * run).ToArray();
        var times = OutputTimes.Every(0, 20, 0.37);
        var results = All(model, Sets(model, "k", rates), times);
        for (var run = 0; run < runs; run++)
        {
            // Continuous output at tolerance 1e-8, as for single runs.
            for (var k = 0; k < times.Length; k++)
                Assert.Equal(50 * Math.Exp(-rates[run] * times[k]), results[run]![k], 50e-6);
        }
    }

    [Fact]
    public void Lanes_may_start_from_different_amounts()
    {
        var model = Runs.Compile("A -> B at 0.2; A(0) = 10; B(0) = 1");
        var results = All(model, Sets(model, "A.start", 1, 10, 100, 1000, 10000), [0, 5]);
        Assert.Equal([1, 10, 100, 1000, 10000], results.Select(rows => Math.Round(rows![0], 12)));
        foreach (var rows in results)
            Assert.Equal(rows![0] * Math.Exp(-1), rows[2], rows[0] * 1e-6);
    }

    [Fact]
    public void A_lane_that_grows_without_bound_does_not_spoil_the_others()
    {
        var model = Runs.Compile("-> A : k * A ^ 2; k = 0.1; A(0) = 1");
        var results = All(model, Sets(model, "k", 0.01, 0.02, 1, 0.03), [0, 10]);
        Assert.Null(results[2]);
        // A' = k A^2 from 1: 1 / (1 - 10 k).
        foreach (var (run, k) in new[] { (0, 0.01), (1, 0.02), (3, 0.03) })
            Assert.Equal(1 / (1 - 10 * k), results[run]![1], 1e-6);
    }

    [Fact]
    public void Stiff_models_and_models_with_events_go_alone_and_come_out_right()
    {
        var stiff = Runs.Compile("A -> B at 0.04; B -> C : k * B ^ 2; B -> A : 1e4 * B * C; k = 3e7; A(0) = 1");
        var results = All(stiff, Sets(stiff, "k", 3e7, 3e7), [0, 40]);
        // Robertson's reactions at t = 40 (Hairer and Wanner, II, IV.10).
        Assert.All(results, rows => Assert.Equal(0.7158271, rows![3], 1e-6));
        var jumps = Runs.Compile("A -> : 0 * A; at 3: A = A + k; k = 1");
        Assert.Equal([1, 2, 3, 4, 5], All(jumps, Sets(jumps, "k", 1, 2, 3, 4, 5), [0, 9]).Select(rows => rows![1]));
    }

    [Fact]
    public void Results_do_not_depend_on_which_blocks_are_run_first()
    {
        var model = Runs.Compile(Studies.Latent);
        var sets = Sets(model, "beta", [.. Enumerable.Range(0, 11).Select(run => 0.2 + 0.03 * run)]);
        var (forward, backward) = (All(model, sets, [0, 50, 100]), new SweepRun[11]);
        var sweep = new Sweep(model, [0, 50, 100], SolverSettings.Default, [0, 1, 2, 3]);
        for (var block = Sweep.Blocks(11) - 1; block >= 0; block--)
            sweep.RunBlock(block, sets, backward);
        for (var run = 0; run < 11; run++)
            Assert.Equal(forward[run]!, backward[run].Rows!);
    }

    [Fact]
    public void Outcomes_of_lanes_are_those_of_runs_alone_and_of_the_closed_form()
    {
        // A decays at k into B, which decays at 0.05: B peaks at ln(k / 0.05) / (k - 0.05).
        var model = Runs.Compile("A(0) = 100; k = 0.1 per day; A -> B at k; B -> at 0.05 per day");
        var rates = new[] { 0.07, 0.2, 1.0, 0.3, 0.5, 0.11 };
        var sets = Sets(model, "k", rates);
        var results = new SweepRun[sets.Count];
        var tallies = new OutcomeTally[sets.Count];
        var sweep = new Sweep(model, [0, 80], SolverSettings.Default, [1]);
        for (var block = 0; block < Sweep.Blocks(sets.Count); block++)
            sweep.RunBlock(block, sets, results, run => run % 2 == 0, run => tallies[run] = new([0], (0, 30)));
        for (var run = 0; run < rates.Length; run++)
        {
            var k = rates[run];
            Assert.Equal(run % 2 == 0, results[run].Rows is not null);
            var alone = new OutcomeTally([1], (1, 30));
            Engines.Run(new(model, sets[run], [0, 80]), alone);
            var (lane, own) = (tallies[run].Of(0), alone.Of(1));
            // Tolerance 1e-8 a step; the top of a curve is flat, so that its time has half the digits.
            Assert.Equal(Math.Log(k / 0.05) / (k - 0.05), lane.MaximumTime, 1e-3);
            double At(double t) => 100 * k / (k - 0.05) * (Math.Exp(-0.05 * t) - Math.Exp(-k * t));
            Assert.Equal(At(Math.Log(k / 0.05) / (k - 0.05)), lane.Maximum, 1e-5);
            Assert.Equal(At(80), lane.Final, 1e-5);
            Assert.Equal(100 * k / (k - 0.05) * ((1 - Math.Exp(-4)) / 0.05 - (1 - Math.Exp(-80 * k)) / k), lane.Integral, 1e-3);
            Assert.Equal(own.HalfLife, lane.HalfLife, 1e-4 * own.HalfLife);
            Assert.Equal(alone.OfLevel(0).TimeAbove, tallies[run].OfLevel(0).TimeAbove, 1e-5);
            Assert.Equal(alone.OfLevel(0).FirstCrossing, tallies[run].OfLevel(0).FirstCrossing, 1e-6);
        }
    }

    [Fact]
    public unsafe void Every_operation_gives_each_lane_the_bits_of_a_single_number()
    {
        var graph = new ExpressionGraph();
        var (x, y, t) = (graph.State(0), graph.Parameter(0), graph.Time());
        var table = new TableFunction([new(0, 1), new(1, 3), new(2, -1)], Between.Line);
        List<int> nodes =
        [
            .. Enum.GetValues<Operation>()
                .Where(operation => operation is > Operation.Time and < Operation.Choose)
                .Select(operation =>
                    operation switch
                    {
                        Operation.Add => graph.Add(x, y),
                        Operation.Subtract => graph.Subtract(x, y),
                        Operation.Multiply => graph.Multiply(x, y),
                        Operation.Divide => graph.Divide(x, y),
                        Operation.Power => graph.Power(x, y),
                        Operation.Negate => graph.Negate(x),
                        Operation.Min
                        or Operation.Max
                        or Operation.Less
                        or Operation.LessOrEqual
                        or Operation.Equal
                        or Operation.And
                        or Operation.Or => graph.Binary(operation, x, y),
                        _ => graph.Unary(operation, x),
                    }
                ),
            graph.Choose(x, y, t),
            graph.Table(Operation.Lookup, table, x),
            graph.Table(Operation.LookupSlope, table, x),
            graph.Table(Operation.LookupPiece, table, x),
            graph.Table(Operation.LookupIn, table, x, graph.Constant(1)),
            graph.Table(Operation.LookupSlopeIn, table, x, graph.Constant(0)),
        ];
        var single = GraphCompiler.Compile(graph, nodes);
        var lanes = GraphCompiler.CompileLanes(graph, nodes)!;
        var number = Gen.OneOf(
            Gen.Double[-3, 3],
            Gen.Const(0.0),
            Gen.Const(1.0),
            Gen.Const(double.NaN),
            Gen.Const(double.PositiveInfinity),
            Gen.Double
        );
        Gen.Select(number.Array[4], number.Array[4])
            .Sample(
                (states, parameters) =>
                {
                    var (all, one) = (new double[4 * nodes.Count], new double[nodes.Count]);
                    fixed (double* s = states)
                    fixed (double* p = parameters)
                    fixed (double* a = all)
                    fixed (double* o = one)
                    {
                        lanes(0.7, s, p, a);
                        for (var lane = 0; lane < 4; lane++)
                        {
                            single(0.7, s + lane, p + lane, o);
                            for (var k = 0; k < nodes.Count; k++)
                            {
                                // Any not-a-number is as good as another.
                                Assert.True(
                                    all[4 * k + lane].Equals(one[k]),
                                    $"{graph[nodes[k]].Operation} of {states[lane]:R} and {parameters[lane]:R}: "
                                        + $"{all[4 * k + lane]:R}, alone {one[k]:R}"
                                );
                            }
                        }
                    }
                },
                iter: 2000
            );
    }
}
