using ClearTide.Core.Compilation;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;
using CsCheck;
using static ClearTide.Core.Tests.Choice;

namespace ClearTide.Core.Tests.Simulation;

/// <summary>Something arrives where next to nothing is: runs begin anew from amounts far below their tolerance, with inflows far above
/// it.</summary>
public class RestartTests
{
    private const double K = 0.5;

    /// <summary>The share that a method leaves of the distance to the fixed point in a step of y' = -K y + F (its stability function);
    /// for adaptive methods the exact law.</summary>
    private static double Left(Method method, double step, double time)
    {
        var z = -K * step;
        double Power(double factor) => Math.Pow(factor, Math.Round(time / step));
        return method switch
        {
            Method.Euler => Power(1 + z),
            Method.Midpoint => Power(1 + z + z * z / 2),
            Method.RungeKutta4 => Power(1 + z + z * z / 2 + z * z * z / 6 + z * z * z * z / 24),
            _ => Math.Exp(-K * time),
        };
    }

    public static TheoryData<Method, double, double, double> Restarts()
    {
        var data = new TheoryData<Method, double, double, double>();
        foreach (var method in new[] { Method.Automatic, Method.Adaptive, Method.Stiff, Method.RungeKutta4, Method.Midpoint, Method.Euler })
        {
            foreach (var amount in new[] { 0, 1e-300, 1e-16, 1e-6 })
            {
                foreach (var inflow in new[] { 1e-3, 1e4, 1e12 })
                {
                    foreach (var at in new[] { 0.0, 28, 1e6 })
                        data.Add(method, amount, inflow, at);
                }
            }
        }
        return data;
    }

    [Theory]
    [MemberData(nameof(Restarts))]
    public void What_arrives_in_nearly_nothing_follows_its_closed_form(Method method, double amount, double inflow, double at)
    {
        var settings = SolverSettings.Default with
        {
            Method = method,
            RelativeTolerance = 1e-10,
            AbsoluteTolerance = 1e-9 * Math.Min(1, inflow),
        };
        double[] after = [0.25, 1, 10];
        double[] times = [at - 2, .. after.Select(time => at + time)];
        var level = inflow / K;
        void Follows(Trajectory run)
        {
            for (var k = 0; k < after.Length; k++)
            {
                var before = amount * Left(method, settings.Step, 2);
                var expected = level + (before - level) * Left(method, settings.Step, after[k]);
                // Steps of 1e-10, some hundred of them: eight digits.
                Assert.Equal(1, run.State(k + 1, 0) / expected, 1e-8);
            }
        }
        // As a value that an event sets, and as one that a schedule changes.
        var byEvent = Runs.Compile(FormattableString.Invariant($"C -> at 0.5; -> C : F; F = 0; at {at}: F = {inflow}"));
        Follows(Engines.Run(new(byEvent, byEvent.Network.ValueVector(), times) { Settings = settings, Start = [amount] }));
        var bySchedule = Runs.Compile("C -> at 0.5; -> C : F; F = 0");
        var off = bySchedule.Network.ValueVector();
        var plan = new Plan([new(at, [new(bySchedule.Network.IndexOf("F"), 0, inflow)])]);
        Follows(
            Engines.Run(
                new(bySchedule, off, times)
                {
                    Start = [amount],
                    Plan = plan,
                    Settings = settings,
                }
            )
        );
    }

    [Theory]
    [InlineData(Method.Automatic)]
    [InlineData(Method.Adaptive)]
    [InlineData(Method.Stiff)]
    public void Infusions_go_on_for_as_long_as_they_are_given(Method method)
    {
        // Half lives of four hours and of six minutes: at the next infusion nothing is left that a tolerance could see.
        foreach (var (k, every) in new[] { (4.08, 7.0), (166.0, 1.0) })
        {
            var run = Run(
                FormattableString.Invariant($"C -> at {k}; every {every} days from 0: -> C : 500 over 1 hour"),
                method,
                OutputTimes.Every(0, 98, 0.5)
            );
            var hour = 1 / 24.0;
            for (var row = 0; row < run.Times.Count; row++)
            {
                var expected = 0.0;
                for (var t = run.Times[row]; t > 0; t -= every)
                    expected += 500 / hour / k * (Math.Exp(-k * Math.Max(0, t - hour)) - Math.Exp(-k * t));
                // Eight digits of the peak.
                Assert.Equal(expected, run.Amount(row, 0), 500 * 1e-8);
            }
        }
    }

    [Theory]
    [InlineData(Method.Automatic)]
    [InlineData(Method.Adaptive)]
    [InlineData(Method.Stiff)]
    public void Pests_arrive_after_they_have_died_out(Method method)
    {
        double[] times = [0, 10, 25, 26, 30, 100];
        var run = Run("Pest(0) = 1000; Pest -> at 1.5; -> Pest : arrive; arrive = 0; at 25: arrive = 100000", method, times);
        for (var row = 0; row < times.Length; row++)
        {
            var t = times[row];
            var expected = 1000 * Math.Exp(-1.5 * t) + (t > 25 ? 1e5 / 1.5 * (1 - Math.Exp(-1.5 * (t - 25))) : 0);
            Assert.Equal(expected, run.Amount(row, 0), 1e5 * 1e-8);
        }
    }

    [Theory]
    [InlineData(Method.Automatic)]
    [InlineData(Method.Adaptive)]
    [InlineData(Method.Stiff)]
    public void A_table_in_steps_that_repeats_feeds_what_had_emptied(Method method)
    {
        // On for a day in every ten: 1000 a day into what leaves at 3 a day.
        var document = Studies.Of("C -> at 3; -> C : feed(t); feed = points 0 1000, 1 0, 10 1000", 100);
        var input = document.Inputs[0];
        document = document.With(input with { Between = Between.Step, After = Beyond.Repeat, AfterIsChosen = true });
        var model = new CompiledModel(Lowering.Lower(document).Network);
        var times = OutputTimes.Every(0, 100, 0.5);
        var run = Runs.Run(model, times, Tight(method));
        for (var row = 0; row < times.Length; row++)
        {
            var expected = 0.0;
            for (var t = times[row]; t > 0; t -= 10)
                expected += 1000 / 3.0 * (Math.Exp(-3 * Math.Max(0, t - 1)) - Math.Exp(-3 * t));
            Assert.Equal(expected, run.Amount(row, 0), 1000 * 1e-8);
        }
    }

    [Fact]
    public void Two_changes_side_by_side_are_no_step_too_small()
    {
        var model = Runs.Compile("C -> at 0.5; -> C : F; F = 0");
        var inflow = model.Network.IndexOf("F");
        var plan = new Plan([new(28, [new(inflow, 0, 5)]), new(Math.BitIncrement(28), [new(inflow, 0, 7)])]);
        foreach (var method in new[] { Method.Adaptive, Method.Stiff, Method.RungeKutta4 })
        {
            var run = Engines.Run(
                new(model, model.Network.ValueVector(), [0, 28 + 4])
                {
                    Start = [0],
                    Plan = plan,
                    Settings = SolverSettings.Default with { Method = method },
                }
            );
            // The fourth-order method at a quarter of a day is good to five digits here.
            Assert.Equal(14 * (1 - Math.Exp(-2)), run.State(1, 0), 1e-4);
        }
    }

    private static readonly Gen<string> Fed = Gen.Select(
            Gen.Int[2, 4],
            OneOf("0", "1e-300", "1e-16", "1e-9", "1e-6"),
            OneOf("0.01", "3", "1e4", "1e9"),
            Gen.Double[0.05, 20],
            Gen.Double[5, 60],
            Gen.Int[0, 3]
        )
        .Select(
            (parts, start, inflow, rate, wait, kind) =>
            {
                var passes = string.Join(
                    "; ",
                    Enumerable
                        .Range(0, parts)
                        .Select(k =>
                            FormattableString.Invariant(
                                $"x{k} -> {(k + 1 < parts ? $"x{k + 1} " : "")}at {rate / (k + 1):0.###}; x{k}(0) = {start}"
                            )
                        )
                );
                var feed = kind switch
                {
                    0 => FormattableString.Invariant($"at {wait:0.##}: -> x0 : {inflow}"),
                    1 => FormattableString.Invariant($"at {wait:0.##}: -> x0 : {inflow} over 1 hour"),
                    2 => FormattableString.Invariant($"every {wait:0.##} days: -> x0 : {inflow} over 30 minutes"),
                    _ => FormattableString.Invariant($"-> x0 : F; F = 0; at {wait:0.##}: F = {inflow}; at {wait + 3:0.##}: F = 0"),
                };
                return passes + "; " + feed;
            }
        );

    [Fact]
    public void Generated_models_that_wait_near_zero_and_are_fed_run_to_the_same_end_by_every_adaptive_method()
    {
        Fed.Sample(
            lines =>
            {
                var times = new double[] { 0, 20, 61, 90, 130 };
                var reference = Run(lines, Method.Adaptive, times, 1e-11);
                foreach (var method in new[] { Method.Automatic, Method.Adaptive, Method.Stiff })
                {
                    var run = Run(lines, method, times, 1e-8);
                    for (var row = 0; row < times.Length; row++)
                    {
                        for (var part = 0; part < run.Network.Amounts.Count; part++)
                        {
                            var (got, expected) = (run.Amount(row, part), reference.Amount(row, part));
                            // Steps at 1e-8 of what stands in the model, some hundred of them, and the absolute tolerance near zero.
                            Assert.True(
                                Math.Abs(got - expected) <= 1e-5 * Math.Abs(expected) + 1e-7,
                                $"{method}, day {times[row]}: {got:R} instead of {expected:R} in {lines}"
                            );
                        }
                    }
                }
            },
            iter: 200,
            threads: 1
        );
    }

    private static SolverSettings Tight(Method method, double tolerance = 1e-10) =>
        SolverSettings.Default with
        {
            Method = method,
            RelativeTolerance = tolerance,
            AbsoluteTolerance = 0.1 * tolerance,
        };

    private static Trajectory Run(string lines, Method method, double[] times, double tolerance = 1e-10) =>
        Runs.Run(Runs.Compile(lines), times, Tight(method, tolerance));
}
