using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Sampling;
using ClearTide.Core.Simulation;

namespace ClearTide.Bench;

/// <summary>How often a nominal 95% profile interval holds the truth, over data simulated by the law that is fitted (wanted: 93.5% to
/// 96.5% for each value).</summary>
internal static class Coverage
{
    public static void Run(int sets)
    {
        var study = Seir.Study();
        var lowered = Lowering.Lower(study);
        Observation seen = new("o", "data", "cases", study.Flows[0].Id, "0.4");
        DataSet empty = new("data", "cases", [.. Enumerable.Range(0, 26).Select(week => new DataRow(7 * week, 7 * week + 7, 0))]);
        var means = new ObservedModel(lowered, [new(seen, empty)], []).Predict([]).Mean;
        var setup = new FitSetup(ErrorLaw.Poisson, [new("beta", 0.05, 2), new("gamma", 0.02, 1), new("I.start", 1, 200)]);
        ValueAddress[] addresses = [.. setup.Parameters.Select(one => one.Address)];
        double[] truth = [.. addresses.Select(address => lowered.Network.Values[lowered.Network.IndexOf(address)].Value)];
        var held = new int[truth.Length];
        Workers.For(sets, 2, default, set =>
        {
            var stream = new RandomStream(11, set, "coverage", "counts");
            DataSet data = empty with
            {
                Rows =
                [
                    .. empty.Rows.Select(
                        (row, k) => row with { Value = Distribution.Find("poisson")!.Quantile([means[k]], stream.NextUniform()) }
                    ),
                ],
            };
            var search = new LikelihoodSearch(new(lowered, [new(seen, data)], addresses), setup);
            var best = search.Climb([.. truth.Select((value, j) => search.FromValue(j, value))]);
            var profile = new ProfileInterval(search, best, default);
            for (var j = 0; j < truth.Length; j++)
            {
                // The truth is held where its own profile has not fallen further than the line: the ends need not be found.
                if (profile.At(j, search.FromValue(j, truth[j]), best.U).Fall <= ProfileInterval.Fall)
                    Interlocked.Increment(ref held[j]);
            }
        });
        for (var j = 0; j < truth.Length; j++)
            Console.WriteLine($"{addresses[j]}: {100.0 * held[j] / sets:0.00} % of {sets}");
    }
}
