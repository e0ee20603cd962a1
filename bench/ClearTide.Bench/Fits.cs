using System.Diagnostics;
using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Inference;
using ClearTide.Core.Model;
using ClearTide.Core.Sampling;
using ClearTide.Core.Simulation;

namespace ClearTide.Bench;

/// <summary>How long a fit takes: five values of the epidemic from 52 weekly counts, one start, twenty, and their profiles (targets: 15,
/// 200
/// and 400 ms).</summary>
internal static class Fits
{
    private const int Passes = 15;

    public static void Run()
    {
        var study = Seir.Study();
        var lowered = Lowering.Lower(study);
        Observation seen = new("o", "data", "cases", study.Flows[0].Id, "0.4");
        DataSet empty = new("data", "cases", [.. Enumerable.Range(0, 52).Select(week => new DataRow(7 * week, 7 * week + 7, 0))]);
        var means = new ObservedModel(lowered, [new(seen, empty)], []).Predict([]).Mean;
        var stream = new RandomStream(7, 0, "fits", "counts");
        Series series = new(
            seen,
            empty with
            {
                Rows =
                [
                    .. empty.Rows.Select(
                        (row, k) => row with { Value = Distribution.Find("poisson")!.Quantile([means[k]], stream.NextUniform()) }
                    ),
                ],
            }
        );
        var setup = new FitSetup(
            ErrorLaw.Poisson,
            [new("beta", 0.05, 2), new("sigma", 0.05, 2), new("gamma", 0.02, 1), new("I.start", 1, 200), new("S.total", 5000, 80000)]
        );
        var search = new LikelihoodSearch(new(lowered, [series], [.. setup.Parameters.Select(one => one.Address)]), setup);
        var (one, twenty, profiles, whole) = (new double[Passes], new double[Passes], new double[Passes], new double[Passes]);
        for (var pass = 0; pass < Passes; pass++)
        {
            var best = Timed(one, pass, () =>
                MultiStart.Climb(search, setup with { Starts = 1 }, failure => failure.Message, 2, null, default).Best
            );
            Timed(twenty, pass, () => MultiStart.Climb(search, setup, failure => failure.Message, 2, null, default));
            var profile = new ProfileInterval(search, best, default);
            var covariance = Covariances.Of(best.Information);
            Timed(profiles, pass, () =>
            {
                var sides = new ProfileSide[10];
                Workers.For(10, 2, default, k =>
                    sides[k] = profile.Side(
                        k / 2,
                        k % 2 == 0 ? -1 : 1,
                        covariance is null ? double.NaN : Math.Sqrt(covariance[k / 2, k / 2])
                    )
                );
                return sides;
            });
            Timed(whole, pass, () => Fitter.Run(study with { Fit = setup }, [series]));
        }
        Print("one start", one);
        Print("twenty starts", twenty);
        Print("five profiles", profiles);
        Print("all of a fit", whole);
        Console.WriteLine($"{search.Evaluations / Passes} evaluations a pass");
    }

    private static T Timed<T>(double[] into, int pass, Func<T> work)
    {
        var begun = Stopwatch.GetTimestamp();
        var result = work();
        into[pass] = Stopwatch.GetElapsedTime(begun).TotalMilliseconds;
        return result;
    }

    private static void Print(string what, double[] times)
    {
        // The first passes compile.
        var sorted = times.Skip(3).Order().ToArray();
        Console.WriteLine($"{what}: {sorted[sorted.Length / 2]:0.0} ms in the middle, {sorted[0]:0.0} at least, {sorted[^1]:0.0} at most");
    }
}
