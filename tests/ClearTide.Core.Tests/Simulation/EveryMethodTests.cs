using System.Globalization;
using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using CsCheck;

namespace ClearTide.Core.Tests.Simulation;

/// <summary>Generated models run by every method, each against the adaptive one at a tolerance far below what is compared.</summary>
public class EveryMethodTests
{
    private static string Say(double value) => value.ToString("0.####", CultureInfo.InvariantCulture);

    private static readonly Gen<double> Rate = Gen.Double[0.05, 2],
        Amount = Gen.Double[0, 100];

    /// <summary>A flow between two of the compartments, or in or out, in one of the ways rates are given.</summary>
    private static Gen<string> FlowOf(int compartments) =>
        Gen.Select(Gen.Int[0, compartments - 1], Gen.Int[1, compartments], Gen.Int[0, 7], Rate, Gen.Int[1, 3])
            .Select(
                (from, step, kind, rate, stages) =>
                {
                    var to = (from + step) % (compartments + 1);
                    var (a, b) = ($"x{from}", to == compartments || to == from ? "" : $"x{to}");
                    return kind switch
                    {
                        0 => $"{a} -> {b} at {Say(rate)} per day",
                        1 => $"{a} -> {b} after {Say(1 / rate)} days",
                        2 => $"{a} -> {b} : {Say(rate)} * {a} * x{(from + 1) % compartments} / (10 + {a} + x{(from + 1) % compartments})",
                        3 => $"-> {a} : {Say(rate)}",
                        4 => $"-> {a} : {Say(rate)} * (1 + sin(t / (2 days)))",
                        5 => $"{a} -> {b} : {Say(rate)} * {a}^2 / (20 + {a})",
                        6 => $"-> {a} : {Say(rate)} * (if(t < 3 days, 2, 0.5))",
                        _ => $"{a} -> {b} : {Say(rate)} * {a} * exp(-{a} / 50)",
                    };
                }
            );

    private static readonly Gen<string> Model = Gen.Int[2, 5]
        .SelectMany(compartments =>
            Gen.Select(FlowOf(compartments).Array[compartments, 2 * compartments + 2], Amount.Array[compartments], Gen.Bool, Rate)
                .Select(
                    (flows, starts, withEvent, size) =>
                        string.Join(
                            "; ",
                            flows
                                .Distinct()
                                .Concat(starts.Select((start, k) => $"x{k}(0) = {Say(start)}"))
                                .Append(withEvent ? $"at 4.3: x0 = x0 + {Say(10 * size)}" : "at 9: x0 = x0")
                        )
                )
        );

    [Fact]
    public void All_methods_come_to_the_same_amounts()
    {
        Model.Sample(
            lines =>
            {
                var model = Runs.Compile(lines);
                double[] times = [0, 2, 5, 8];
                Trajectory Run(Method method, double step = 1, double tolerance = 1e-11) =>
                    Runs.Run(
                        model,
                        times,
                        SolverSettings.Default with
                        {
                            Method = method,
                            Step = step,
                            RelativeTolerance = tolerance,
                            AbsoluteTolerance = tolerance,
                        }
                    );
                var reference = Run(Method.Adaptive);
                // Tolerances of 1e-9 a step leave 1e-6; errors of fixed steps follow from their orders at rates up to ten a day: h^4, h^2
                // and h times
                // some hundred.
                foreach (
                    var (method, step, close) in new[]
                    {
                        (Method.Stiff, 1, 1e-6),
                        (Method.Automatic, 1, 1e-6),
                        (Method.RungeKutta4, 0.01, 1e-5),
                        (Method.Midpoint, 0.005, 2e-3),
                        (Method.Euler, 0.002, 0.1),
                    }
                )
                {
                    var run = Run(method, step, 1e-9);
                    for (var k = 1; k < times.Length; k++)
                    {
                        for (var part = 0; part < reference.Network.Amounts.Count; part++)
                        {
                            var (expected, got) = (reference.Amount(k, part), run.Amount(k, part));
                            Assert.True(
                                Math.Abs(expected - got) <= close * (1 + Math.Abs(expected)),
                                $"{method}, day {times[k]}, {reference.Network.Amounts[part].Symbol}: {got:R} instead of "
                                    + $"{expected:R} in {lines}"
                            );
                        }
                    }
                    foreach (var total in ConservedTotal.Of(model.Network))
                    {
                        // An event may add to a total; what flows do not is kept to rounding.
                        if (!lines.Contains("at 9:", StringComparison.Ordinal))
                            continue;
                        Assert.InRange(total.Drift(run).Drift, 0, 1e-10);
                    }
                }
            },
            iter: 60,
            threads: 1
        );
    }

    [Fact]
    public void Lanes_of_generated_models_come_to_what_single_runs_do()
    {
        Model.Sample(
            lines =>
            {
                var model = Runs.Compile(lines.Replace("; at 9: x0 = x0", "", StringComparison.Ordinal));
                var sets = Enumerable
                    .Range(0, 4)
                    .Select(lane => model.Network.ValueVector().Select(value => value * (1 + 0.1 * lane)).ToArray())
                    .ToList();
                var results = new SweepRun[4];
                new Sweep(model, [0, 3, 8], SolverSettings.Default, [.. Enumerable.Range(0, model.Network.Amounts.Count)]).RunBlock(
                    0,
                    sets,
                    results
                );
                for (var lane = 0; lane < 4; lane++)
                {
                    var alone = Engines.Run(new(model, sets[lane], [0, 3, 8]));
                    for (var k = 0; k < 3; k++)
                    {
                        // Lanes take the shorter steps of the hardest among them: both are right to the tolerance of 1e-8, added up.
                        for (var i = 0; i < model.StateCount; i++)
                            Assert.Equal(
                                alone.State(k, i),
                                results[lane].Rows![k * model.StateCount + i],
                                1e-5 * (1 + Math.Abs(alone.State(k, i)))
                            );
                    }
                }
            },
            iter: 60,
            threads: 1
        );
    }

    [Fact]
    public void Discrete_steps_of_a_small_length_come_near_to_continuous_time()
    {
        // Flows as amounts per step of a hundredth of a day are Euler's method: A(10) of a decay at 0.3 a day within its first-order error.
        var document = new AddLines("A -> B : 0.3 * 0.01 * A; A(0) = 50")
            .Apply(
                new StudyDocument
                {
                    Title = "Test",
                    End = 10,
                    Solver = new(Method.Discrete, 0.01, 1e-8),
                }
            )
            .Document!;
        var run = Runs.Run(new(Lowering.Lower(document).Network), [0, 10]);
        Assert.Equal(50 * Math.Pow(1 - 0.003, 1000), run.Amount(1, 0), 1e-9);
        Assert.Equal(50 * Math.Exp(-3), run.Amount(1, 0), 50 * Math.Exp(-3) * 0.005);
    }
}
