using System.Collections.Concurrent;
using ClearTide.Core.Compilation;
using ClearTide.Core.Conversion;
using ClearTide.Core.Data;
using ClearTide.Core.Editing;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;

namespace ClearTide.Core.Tests.Inference;

/// <summary>Values that follow from others while a fit is made, searches that are looked on at, and starts of another sequence.</summary>
public class TieTests
{
    private const string Lines = "A -> B at a; B -> at b; A(0) = 100; B(0) = 0; a = 0.3 per day; b = 0.9 per day; c = 7";

    /// <summary>Levels of A and B as they are with a = 0.25 and b twice that: in closed form, with a small error.</summary>
    private static IReadOnlyList<Series> Levels()
    {
        const double a = 0.25;
        double B(double t) => 100 * (Math.Exp(-a * t) - Math.Exp(-2 * a * t));
        Series Of(string symbol, Func<double, double> at) =>
            new(
                new($"o{symbol}", $"d{symbol}", symbol, "", "1") { Seen = ObservedAs.Standing, Formula = symbol },
                new(
                    $"d{symbol}",
                    symbol,
                    [.. Enumerable.Range(1, 12).Select(t => new DataRow(t, t, at(t) + 0.3 * Math.Sin(7 * t)) { Error = 0.3 })]
                )
            );
        return [Of("A", t => 100 * Math.Exp(-a * t)), Of("B", B)];
    }

    private static StudyDocument Study(params FitTie[] ties) =>
        Studies.Of(Lines, 20) with
        {
            Fit = new(ErrorLaw.Poisson, [new("a", 0.01, 5)]) { Ties = [.. ties], Starts = 3 },
        };

    [Fact]
    public void A_value_that_follows_from_another_is_fitted_as_if_the_model_said_so()
    {
        var tied = Fitter.Run(Study(new FitTie("b", "2 * a")), Levels());
        var said = Fitter.Run(
            Studies.Of(Lines.Replace("b = 0.9 per day", "b = 2 * a"), 20) with
            {
                Fit = new(ErrorLaw.Poisson, [new("a", 0.01, 5)]) { Starts = 3 },
            },
            Levels()
        );
        Assert.Equal(said.Estimates[0].Value, tied.Estimates[0].Value);
        Assert.Equal(said.Estimates[0].StandardError, tied.Estimates[0].StandardError);
        Assert.Equal(said.LogLikelihood, tied.LogLikelihood);
        // One number was estimated.
        Assert.Equal(2 - 2 * tied.LogLikelihood, tied.Aic, 1e-9);
        Assert.Equal(0.25, tied.Estimates[0].Value, 0.01);
        // What follows is told with an interval of its own.
        var derived = tied.Detail!.Derived.Single(one => one.Symbol == "b");
        Assert.Equal(2 * tied.Estimates[0].Value, derived.Value, 1e-12);
        // And it goes into the model with the estimates.
        var document = Study(new FitTie("b", "2 * a"));
        var found = tied.Estimates.ToDictionary(one => one.Address, one => one.Value);
        Assert.Equal(2 * tied.Estimates[0].Value, TiedModel.Values(document, found)["b"], 1e-12);
    }

    [Theory]
    [InlineData("b", "0.5")]
    [InlineData("b", "0.5 per day")]
    [InlineData("b", "12 hours * 1 per day per day")]
    public void A_value_is_held_at_a_number_of_the_fit(string address, string formula)
    {
        var held = Fitter.Run(Study(new FitTie(address, formula)), Levels());
        var set = new AdoptValues(new Dictionary<ValueAddress, double> { ["b"] = 0.5 }).Apply(Study()).Document!;
        Assert.Equal(Fitter.Run(set, Levels()).Estimates[0].Value, held.Estimates[0].Value, 1e-12);
    }

    [Fact]
    public void Starts_and_stays_follow_too()
    {
        var document = Studies.Of("A -> B after 4 days; A(0) = 80; B(0) = 0; scale = 100", 20) with
        {
            Fit = new(ErrorLaw.Poisson, [new("scale", 1, 1000)])
            {
                Ties = [new("A.start", "scale"), new("A.stay", "scale / 25")],
                Starts = 2,
            },
        };
        double[] times = [1, 2, 4, 8];
        Series series = new(
            new("o", "d", "A", "", "1") { Seen = ObservedAs.Standing, Formula = "A" },
            new("d", "levels", [.. times.Select(t => new DataRow(t, t, 90 * Math.Exp(-t / 3.6)) { Error = 0.1 })])
        );
        // Ninety to begin with, and a stay of a twenty-fifth of it: both are told by one number.
        Assert.Equal(90, Fitter.Run(document, [series]).Estimates[0].Value, 1e-4);
        var values = TiedModel.Values(document, new Dictionary<ValueAddress, double> { ["scale"] = 50 });
        Assert.Equal((50, 2), (values["A.start"], values["A.stay"]));
    }

    public static TheoryData<string, string, string> Wrong() =>
        new()
        {
            { "b", "2 *", "cannot be read" },
            { "b", "2 * q", "follows from q, which is no value of the model" },
            { "b", "2 * A", "follows from A, which is no value of the model" },
            { "b", "b / 2", "cannot follow from itself" },
            { "b", "1 / 0", "no finite number" },
            { "a", "b", "is to be estimated and to follow from others" },
            { "zz", "2", "There is no value “zz” in the model any more" },
        };

    [Theory]
    [MemberData(nameof(Wrong))]
    public void What_makes_no_sense_is_refused_in_words(string address, string formula, string words)
    {
        var study = Study();
        var setup = study.Fit with { Ties = [new(address, formula)] };
        Assert.Contains(words, new SetFit(setup).Apply(study).Refusal);
    }

    [Fact]
    public void Values_that_follow_from_one_another_are_refused_in_words()
    {
        var document = Study(new FitTie("b", "c"), new FitTie("c", "b"));
        Assert.Contains("follows from itself", Assert.Throws<FitRefusedException>(() => Fitter.Run(document, Levels())).Message);
    }

    [Fact]
    public void Ties_go_with_names_and_units_and_are_part_of_what_a_fit_was_made_from()
    {
        var document = Study(new FitTie("b", "2 * a"), new FitTie("c", "3"));
        var renamed = new SetField(document.DefinitionBySymbol("a")!.Id, PartField.Symbol, "aa").Apply(document).Document!;
        Assert.Equal("2 * aa", renamed.Fit.Ties[0].Formula);
        Assert.Equal(
            "bb",
            new SetField(document.DefinitionBySymbol("b")!.Id, PartField.Symbol, "bb").Apply(document).Document!.Fit.Ties[0].Address
        );
        var held = Study(new FitTie("b", "0.48"));
        Assert.Equal("0.02", new SetTimeUnit(TimeUnit.Hour, Convert: true).Apply(held).Document!.Fit.Ties[0].Formula);
        Assert.NotEqual(Fingerprints.Of(Study(), Levels()), Fingerprints.Of(held, Levels()));
    }

    [Fact]
    public void A_projection_draws_what_follows_with_what_it_follows_from()
    {
        var document = Study(new FitTie("b", "2 * a"));
        var fit = Fitter.Run(document, Levels());
        var spread = EstimateSpread.Of(fit, document.Fit)!;
        var found = fit.Estimates.ToDictionary(one => one.Address, one => one.Value);
        var request = new ProjectionRequest(Replicates: 5, Seed: 5, found)
        {
            Of = document.CompartmentBySymbol("B")!.Id,
            FromStart = true,
            Spread = spread,
        };
        // The same replicates as where the model itself says so.
        var said = Studies.Of(Lines.Replace("b = 0.9 per day", "b = 2 * a"), 20) with { Fit = document.Fit with { Ties = [] } };
        double[] Ends(StudyDocument of)
        {
            var worker = new Projection(of, null, request).CreateWorker();
            return [.. Enumerable.Range(0, 5).Select(r => worker.Run(0, r, default).Observed[^1])];
        }
        Assert.Equal(Ends(said), Ends(document));
    }

    [Fact]
    public void Whoever_looks_on_is_told_of_ever_better_values_and_a_search_goes_on_from_them()
    {
        var told = new ConcurrentQueue<FitSoFar>();
        var shares = new ConcurrentQueue<double>();
        var study = Study(new FitTie("b", "2 * a"));
        var fit = Fitter.Run(study, Levels(), new() { Better = told.Enqueue, Progress = shares.Enqueue });
        var all = told.ToList();
        Assert.NotEmpty(all);
        Assert.Equal(all.Select(one => one.LogLikelihood).Order(), all.Select(one => one.LogLikelihood));
        // The last ones are climbed to with six digits.
        Assert.Equal(fit.LogLikelihood, all[^1].LogLikelihood, 1e-3);
        Assert.Equal(fit.Means.Length, all[^1].Means.Length);
        Assert.All(shares, share => Assert.InRange(share, 0, 1));
        // From there one start alone finds the same, where it would have to go far by itself.
        var far = study with { Fit = study.Fit with { Starts = 1 } };
        var again = Fitter.Run(far, Levels(), new() { From = all[^1].Values });
        Assert.Equal(fit.Estimates[0].Value, again.Estimates[0].Value, 1e-7);
        Assert.Equal((2, 2), (again.Starts, again.Detail!.Optima.Sum(one => one.Count)));
        // Values of another number of unknowns are none.
        Assert.Equal(1, Fitter.Run(far, Levels(), new() { From = [1, 2] }).Detail!.Optima.Sum(one => one.Count));
    }

    [Fact]
    public void Another_sequence_of_starts_spreads_as_evenly()
    {
        for (var j = 0; j < 2; j++)
        {
            var points = Enumerable.Range(0, 63).Select(k => StartPoints.At(k, 2, shuffle: 8)[j]).Order().ToList();
            // Moved round the circle: gaps are never wider than two of the sixty-four.
            Assert.All(points.Zip(points.Skip(1)), pair => Assert.True(pair.Second - pair.First <= 2 / 64.0 + 1e-12));
        }
        Assert.NotEqual(StartPoints.At(3, 2), StartPoints.At(3, 2, shuffle: 8));
        Assert.Equal(StartPoints.At(3, 2, shuffle: 8), StartPoints.At(3, 2, shuffle: 8));
    }
}
