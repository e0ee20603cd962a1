using System.Diagnostics;
using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Formats.Studies;

namespace ClearTide.Bench;

/// <summary>How long a large fit takes: eight values of the study with 150 flows from weekly counts of two of its towns, by twenty starts
/// (target 5 s), with the first progress (300 ms) and the stop (200 ms).</summary>
internal static class LargeFit
{
    public static void Run(string folder)
    {
        var study = StudyFile.ReadShipped(File.ReadAllText(Path.Combine(folder, "round-the-estuary.study.json"))).Document;
        var lowered = Lowering.Lower(study);
        ValueAddress[] values =
        [
            "beta",
            "vac",
            "ferry",
            .. lowered.Network.Values.Select(one => one.Address).Where(one => one.Field == ValueField.Rate).Take(5),
        ];
        var parameters = values.Select(address =>
        {
            var value = lowered.Network.Values[lowered.Network.IndexOf(address)].Value;
            return new FitParameter(address, value / 10, value * 10);
        });
        study = study with { Fit = new(ErrorLaw.Poisson, [.. parameters]) };
        List<Series> empty =
        [
            .. new[] { "v", "t" }.Select(place => new Series(
                new(
                    $"o{place}",
                    $"d{place}",
                    $"Onset {place}",
                    study
                        .Flows.First(flow =>
                            flow.From == study.CompartmentBySymbol($"E_{place}")!.Id
                            && flow.Target == study.CompartmentBySymbol($"I_{place}")!.Id
                        )
                        .Id,
                    "0.5"
                ),
                new($"d{place}", place, [.. Enumerable.Range(0, 20).Select(week => new DataRow(7 * week, 7 * week + 7, 0))])
            )),
        ];
        var means = new ObservedModel(lowered, empty, []).Predict([]).Mean;
        List<Series> series =
        [
            .. empty.Select(
                (one, k) =>
                    one with
                    {
                        Data = one.Data with
                        {
                            Rows = [.. one.Data.Rows.Select((row, j) => row with { Value = Math.Round(means[20 * k + j]) })],
                        },
                    }
            ),
        ];
        Console.WriteLine($"{lowered.Network.States.Count} states, {study.Flows.Length} flows, {string.Join(" ", values.AsEnumerable())}");
        for (var pass = 0; pass < 4; pass++)
        {
            var begun = Stopwatch.GetTimestamp();
            var first = double.NaN;
            var search = new LikelihoodSearch(new(lowered, series, [.. values]), study.Fit)
            {
                Better = _ => first = double.IsNaN(first) ? Stopwatch.GetElapsedTime(begun).TotalMilliseconds : first,
            };
            var found = MultiStart.Climb(search, study.Fit, failure => failure.Message, 2, null, default);
            var twenty = Stopwatch.GetElapsedTime(begun).TotalMilliseconds;
            using var cancel = new CancellationTokenSource();
            var work = Task.Run(() => MultiStart.Climb(search, study.Fit, failure => failure.Message, 2, null, cancel.Token));
            Thread.Sleep(400);
            begun = Stopwatch.GetTimestamp();
            cancel.Cancel();
            try
            {
                work.Wait();
            }
            catch (AggregateException)
            {
                // It was stopped.
            }
            Console.WriteLine(
                $"twenty starts {twenty:0} ms, {search.Evaluations} evaluations, {found.Optima.Length} optima; first better {first:0} ms; "
                    + $"stopped after {Stopwatch.GetElapsedTime(begun).TotalMilliseconds:0} ms"
            );
        }
    }
}
