using System.Collections.Immutable;
using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Editing;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Inference;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Docs;

/// <summary>
/// What the docs of the main types show, between “docs” and “end”, compiled and run: <see cref="ExampleTests"/> holds both
/// alike. In each, <c>study</c> is the one of the first example, and <c>request</c> that of the second.
/// </summary>
public class Examples
{
    private static readonly StudyDocument Decay = Studies.Of("A(0) = 100; B(0) = 0; A -> B at k; k = 0.1 per day", 10);

    private static RunRequest Request(StudyDocument document)
    {
        var lowered = Lowering.Lower(document);
        return new(lowered.Compiled, lowered.Network.ValueVector(), OutputTimes.Every(0, 10, 1));
    }

    /// <summary>Runs at the usual tolerance of 1e-8 are good to about six digits.</summary>
    private const double Close = 1e-4;

    [Fact]
    public void A_study_is_typed()
    {
        // docs: AddLines
        var empty = new StudyDocument { Title = "Reeds" };
        var result = new AddLines("A(0) = 100; A -> B at k; k = 0.1 per day").Apply(empty);
        var study = result.Document ?? throw new InvalidOperationException(result.Refusal);
        // end
        Assert.Equal(2, study.Compartments.Length);
    }

    [Fact]
    public void A_run_is_asked_for()
    {
        var study = Decay;
        // docs: RunRequest
        var lowered = Lowering.Lower(study);
        var request = new RunRequest(lowered.Compiled, lowered.Network.ValueVector(), OutputTimes.Every(0, 10, 1))
        {
            Settings = SolverSettings.Default with { RelativeTolerance = 1e-10, AbsoluteTolerance = 1e-11 },
        };
        Trajectory run = Engines.Run(request);
        double left = run.Amount(10, 0); // at the time of row 10, of compartment 0
        // end
        Assert.Equal(100 / Math.E, left, 1e-6);
    }

    [Fact]
    public void A_document_is_lowered()
    {
        var study = Decay;
        // docs: Lowering
        var lowered = Lowering.Lower(study);
        foreach (var finding in lowered.Findings)
            Console.WriteLine($"{finding.PartId}: {finding.Message}");
        int k = lowered.Network.IndexOf("k");
        double[] values = lowered.Network.ValueVector();
        values[k] = 0.2;
        // end
        Assert.Equal(100 * Math.Exp(-2), Engines.Run(Request(study) with { Values = values }).Amount(10, 0), Close);
    }

    [Fact]
    public void Another_engine_or_method_is_asked()
    {
        var request = Request(Decay);
        // docs: Engines
        IEngine engine = Engines.For(request.Model);
        Trajectory run = engine.Run(request);
        Trajectory stiff = engine.Run(request with { Settings = request.Settings with { Method = Method.Stiff } });
        // end
        Assert.Equal(run.Amount(10, 0), stiff.Amount(10, 0), Close);
    }

    [Fact]
    public void A_value_changes_over_time()
    {
        var (lowered, request) = (Lowering.Lower(Decay), Request(Decay));
        // docs: Plan
        // k is halved from day 2 on and has its own value again from day 5 on.
        int k = lowered.Network.IndexOf("k");
        var plan = new Plan([new(2, [new(k, Factor: 0.5)]), new(5, [])]);
        Trajectory run = Engines.Run(request with { Plan = plan });
        // end
        Assert.Equal(100 * Math.Exp(-0.2 - 0.15 - 0.5), run.Amount(10, 0), Close);
    }

    [Fact]
    public void A_study_is_run_as_the_screen_runs_it()
    {
        var study = Decay;
        // docs: StudyRun
        StudyRun made = StudyRun.Of(study);
        if (made.Failure is { } why)
            Console.WriteLine(why);
        Trajectory? run = made.Run;
        // end
        Assert.Equal(100 / Math.E, run!.Amount(run.Times.Count - 1, 0), Close);
    }

    [Fact]
    public void Many_runs_are_made_together()
    {
        var lowered = Lowering.Lower(Decay);
        // docs: Sweep
        int k = lowered.Network.IndexOf("k");
        double[][] sets = [lowered.Network.ValueVector(), lowered.Network.ValueVector()];
        sets[1][k] = 0.2;
        // The first output is the first compartment.
        var sweep = new Sweep(lowered.Compiled, OutputTimes.Every(0, 10, 1), SolverSettings.Default, outputs: [0]);
        var results = new SweepRun[sets.Length];
        for (var block = 0; block < Sweep.Blocks(sets.Length); block++)
            sweep.RunBlock(block, sets, results);
        double left = results[1].Rows![^1];
        // end
        Assert.Equal(100 * Math.Exp(-2), left, Close);
    }

    [Fact]
    public void A_value_is_estimated()
    {
        var study = Decay;
        // docs: Fitter
        var data = new DataSet("d1", "counts", [new(0, 2, 81.9), new(2, 4, 67.0), new(4, 8, 44.9)]);
        var seen = new Observation("o1", data.Id, "Reeds", "", "1")
        {
            Seen = ObservedAs.Standing,
            Formula = "A",
            Law = ErrorLaw.Poisson,
        };
        study = study with { Fit = new(ErrorLaw.Poisson, [new("k", Lower: 0.01, Upper: 1)]), Observations = [seen] };
        FitResult fit = Fitter.Run(study, [new Series(seen, data)]);
        Estimate k = fit.Estimates[0];
        Console.WriteLine($"{k.Address} = {k.Value} ({k.Low} to {k.High}). {k.Sentence}");
        // end
        // The data are those of 0.1 to a digit behind the point.
        Assert.Equal(0.1, k.Value, 1e-3);
    }

    [Fact]
    public void Scenarios_are_compared()
    {
        var study = Decay;
        // docs: ScenarioRuns
        study = new AddMeasureLine("", "k x 0.5, days 2 to 5").Apply(study).Document!;
        study = new AddMeasureLine("", "at 5: A -> B : 10").Apply(study).Document!;
        ScenarioRuns runs = ScenarioRuns.Of(
            Lowering.Lower(study),
            partId: study.Compartments[0].Id,
            now: double.NegativeInfinity,
            estimates: ImmutableDictionary<ValueAddress, double>.Empty
        );
        foreach (var curve in runs.Curves)
            Console.WriteLine($"{curve.Name}: {curve.Outcomes?.Final}");
        // end
        Assert.Equal(3, runs.Curves.Count);
        Assert.Equal(100 * Math.Exp(-1) - 10 * Math.Exp(-0.5), runs.Curves[2].Outcomes!.Final, Close);
    }

    [Fact]
    public void Futures_are_drawn_by_chance()
    {
        var study = Decay;
        // docs: Projection
        var request = new ProjectionRequest(Replicates: 200, Seed: 1, Estimates: ImmutableDictionary<ValueAddress, double>.Empty)
        {
            Of = study.Compartments[0].Id,
        };
        var projection = new Projection(study, series: null, request);
        Projection.Worker worker = projection.CreateWorker();
        var runs = Enumerable.Range(0, 200).Select(replicate => worker.Run(scenario: 0, replicate, CancellationToken.None));
        Band last = Band.Of(runs.Select(run => run.Observed[^1]));
        // end
        // 36.8 of a hundred are left on average, each by itself: a standard deviation of 4.8, and of the median of 200 about 0.43.
        Assert.Equal(36.8, last.Median, 4 * 0.43 + 0.5);
    }
}
