using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Editing;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Inference;
using ClearTide.Core.Model;
using ClearTide.Core.Sampling;
using ClearTide.Core.Simulation;

namespace ClearTide.Bench;

/// <summary>
/// How often futures lie in the bands of a projection with all sources of spread: an epidemic is run by chance, ten weeks of its counts are
/// fitted, eight more are projected and held against what came (wanted: 45 to 55% within the middle half, 86 to 94% within the middle 90).
/// </summary>
internal static class Calibration
{
    private const int Weeks = 10,
        Ahead = 8;

    public static void Run(int sets)
    {
        var study = Seir.Study() with { End = 7.0 * (Weeks + Ahead) };
        study = study with
        {
            Compartments = [.. study.Compartments.Select(part => part.Symbol == "I" ? part with { Start = "60" } : part)],
        };
        study = study with { Fit = new(ErrorLaw.Poisson, [new("beta", 0.1, 2), new("I.start", 1, 1000)]) { Starts = 5 } };
        Observation seen = new("o", "data", "Cases", study.Flows[1].Id, "0.4");
        study = study with { Observations = [seen] };
        var lowered = Lowering.Lower(study);
        var flow = lowered.Network.Processes.ToList().FindIndex(process => process.Id == study.Flows[1].Id);
        double[] times = [.. Enumerable.Range(0, Weeks + Ahead + 1).Select(week => 7.0 * week)];
        var truth = new EnsembleRequest(lowered.Compiled, lowered.Network.ValueVector(), times, sets, Seed: 17);
        var (half, most, all) = (0, 0, 0);
        Workers.For(sets, 2, default, set =>
        {
            var run = Ensemble.RunOne(truth, set);
            var stream = new RandomStream(19, set, "calibration", "counts");
            double[] counts =
            [
                .. Enumerable
                    .Range(0, Weeks + Ahead)
                    .Select(week => CountSampler.Binomial(ref stream, run.Fired(flow, week, week + 1), 0.4)),
            ];
            DataSet data = new(
                "data",
                "counts",
                [.. Enumerable.Range(0, Weeks).Select(week => new DataRow(times[week], times[week + 1], counts[week]))]
            );
            Series series = new(seen, data);
            var fit = Fitter.Run(study, [series], threads: 1);
            var request = new ProjectionRequest(200, set, fit.Estimates.ToDictionary(one => one.Address, one => one.Value))
            {
                Spread = EstimateSpread.Of(fit, study.Fit),
                Error = ObservationError.Of(study, series, fit, 0),
            };
            var projection = new Projection(study, series, request);
            var made = ProjectionSummary.Made(projection, "", set, projection.Run(1)).Scenarios[0].Intervals;
            for (var k = 0; k < Ahead; k++)
            {
                var count = counts[Weeks + k];
                Interlocked.Add(ref half, count >= made[k].P25 && count <= made[k].P75 ? 1 : 0);
                Interlocked.Add(ref most, count >= made[k].P5 && count <= made[k].P95 ? 1 : 0);
                Interlocked.Increment(ref all);
            }
        });
        Console.WriteLine(
            $"within the middle half {100.0 * half / all:0.0} %, within the middle 90 % {100.0 * most / all:0.0} %, of {all:N0} futures"
        );
    }
}
