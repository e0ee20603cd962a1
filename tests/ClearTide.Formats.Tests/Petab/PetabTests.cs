using ClearTide.Core.Data;
using ClearTide.Core.Inference;
using ClearTide.Core.Model;
using ClearTide.Formats.Petab;
using ClearTide.Formats.Sbml;
using ClearTide.Formats.Studies;

namespace ClearTide.Formats.Tests.Petab;

/// <summary>Fitting problems in the open format: what they say is fitted to closed forms, and what a study holds of them is written
/// again.</summary>
public class PetabTests
{
    /// <summary>A turns into B and back, in a volume of one.</summary>
    private const string Model = """
        <?xml version="1.0" encoding="UTF-8"?>
        <sbml xmlns="http://www.sbml.org/sbml/level3/version1/core" level="3" version="1">
          <model id="m" timeUnits="second">
            <listOfCompartments><compartment id="vessel" size="1" spatialDimensions="3" constant="true"/></listOfCompartments>
            <listOfSpecies>
              <species id="A" compartment="vessel" initialConcentration="1"
                hasOnlySubstanceUnits="false" boundaryCondition="false" constant="false"/>
              <species id="B" compartment="vessel" initialConcentration="0"
                hasOnlySubstanceUnits="false" boundaryCondition="false" constant="false"/>
            </listOfSpecies>
            <listOfParameters>
              <parameter id="k1" value="1" constant="true"/><parameter id="k2" value="1" constant="true"/>
            </listOfParameters>
            <listOfReactions>
              <reaction id="there" reversible="false" fast="false">
                <listOfReactants><speciesReference species="A" stoichiometry="1" constant="true"/></listOfReactants>
                <listOfProducts><speciesReference species="B" stoichiometry="1" constant="true"/></listOfProducts>
                <kineticLaw>
                  <math xmlns="http://www.w3.org/1998/Math/MathML"><apply><times/><ci>k1</ci><ci>A</ci></apply></math>
                </kineticLaw>
              </reaction>
              <reaction id="back" reversible="false" fast="false">
                <listOfReactants><speciesReference species="B" stoichiometry="1" constant="true"/></listOfReactants>
                <listOfProducts><speciesReference species="A" stoichiometry="1" constant="true"/></listOfProducts>
                <kineticLaw>
                  <math xmlns="http://www.w3.org/1998/Math/MathML"><apply><times/><ci>k2</ci><ci>B</ci></apply></math>
                </kineticLaw>
              </reaction>
            </listOfReactions>
          </model>
        </sbml>
        """;

    private static readonly double[] Times = [0.5, 1, 2, 3, 5, 8];

    /// <summary>How much of A is left of so much, with k1 = 0.3 and k2 = 0.2.</summary>
    private static double A(double t, double start) => start * (0.2 + 0.3 * Math.Exp(-0.5 * t)) / 0.5;

    private const string Parameters =
        "parameterId\tparameterScale\tlowerBound\tupperBound\tnominalValue\testimate\n"
        + "k1\tlog10\t0.01\t10\t0.8\t1\nk2\tlog10\t0.01\t10\t0.8\t1\nscale\tlin\t0.1\t10\t2\t0\nsigma\tlog10\t0.001\t10\t0.02\t0\n";

    private static Dictionary<string, string> Files(
        string parameters = Parameters,
        string conditions = "conditionId\nc0\n",
        string observables = "observableId\tobservableFormula\tnoiseFormula\nobs_a\tscale * A\tsigma\n",
        string? measurements = null
    ) =>
        new()
        {
            ["problem.yaml"] =
                "format_version: 1\nparameter_file: p.tsv\nproblems:\n- sbml_files: [m.xml]\n  condition_files: [c.tsv]\n"
                + "  observable_files:\n  - o.tsv\n  measurement_files: [d.tsv]\n",
            ["m.xml"] = Model,
            ["p.tsv"] = parameters,
            ["c.tsv"] = conditions,
            ["o.tsv"] = observables,
            ["d.tsv"] = measurements
                ?? "observableId\tsimulationConditionId\tmeasurement\ttime\n"
                    + string.Concat(Times.Select(t => FormattableString.Invariant($"obs_a\tc0\t{2 * A(t, 1):R}\t{t}\n"))),
        };

    private static PetabStudy Read(Dictionary<string, string> files) =>
        PetabImport.Read(PetabProblem.Read(files["problem.yaml"], name => files[name]), "problem");

    private static FitResult Fit(StudyBundle bundle) =>
        Fitter.Run(bundle.Document with { Fit = bundle.Document.Fit with { Starts = 4 } }, Series.Of(bundle.Document, bundle.DataSets));

    [Fact]
    public void A_problem_with_known_noise_is_fitted_to_what_its_data_were_made_of()
    {
        var (bundle, left) = Read(Files());
        Assert.Empty(left);
        Assert.All(bundle.DataSets[0].Rows, row => Assert.Equal(0.02, row.Error));
        var fit = Fit(bundle);
        Assert.Equal(["k1", "k2"], fit.Estimates.Select(one => one.Address.ToString()));
        // The measurements have all digits: the search ends where a step gains nothing.
        Assert.Equal(0.3, fit.Estimates[0].Value, 1e-6);
        Assert.Equal(0.2, fit.Estimates[1].Value, 1e-6);
        // The highest log-likelihood of normal noise without residuals.
        Assert.Equal(-Times.Length * (0.5 * Math.Log(2 * Math.PI) + Math.Log(0.02)), fit.LogLikelihood, 1e-6);
    }

    [Fact]
    public void Conditions_that_differ_are_known_of_each_run()
    {
        var rows = new[] { ("low", 0.5), ("high", 4.0) }.SelectMany(one =>
            Times.Select(t => FormattableString.Invariant($"obs_a\t{one.Item1}\t{3 * A(t, one.Item2):R}\t{t}\t3\n"))
        );
        var (bundle, _) = Read(
            Files(
                conditions: "conditionId\tconditionName\tA\tk1\nlow\tlittle\t0.5\t0.3\nhigh\tmuch\t4\t0.3\n",
                observables: "observableId\tobservableFormula\tnoiseFormula\nobs_a\tobservableParameter1_obs_a * A\tsigma\n",
                measurements: "observableId\tsimulationConditionId\tmeasurement\ttime\tobservableParameters\n" + string.Concat(rows)
            )
        );
        Assert.Equal(["low", "high"], bundle.DataSets[0].Subjects.Select(one => one.Name));
        // k1 is the same in both: it is no unknown any more, and the one that is left is found.
        var fit = Fitter.Run(
            bundle.Document with
            {
                Fit = new(ErrorLaw.Poisson, [new("k2", 0.01, 10)]) { Starts = 3 },
            },
            Series.Of(bundle.Document, bundle.DataSets)
        );
        Assert.Equal(0.2, fit.Estimates[0].Value, 1e-6);
    }

    [Theory]
    [InlineData("sigma", "log", ErrorLaw.LogNormal, 0.02)]
    [InlineData("0.05", "log10", ErrorLaw.LogNormal, 0.05 * 2.302585092994046)]
    [InlineData("0.1 * obs_a", "lin", ErrorLaw.Proportional, 0.1)]
    [InlineData("obs_a * sigma", "lin", ErrorLaw.Proportional, 0.02)]
    public void Noise_that_is_known_by_a_factor_is_the_known_spread_of_a_law(string noise, string scale, ErrorLaw law, double spread)
    {
        var (bundle, left) = Read(
            Files(
                observables: "observableId\tobservableFormula\tobservableTransformation\tnoiseFormula\n"
                    + $"obs_a\tscale * A\t{scale}\t{noise}\n"
            )
        );
        Assert.Empty(left);
        var seen = bundle.Document.Observations[0];
        Assert.Equal(law, seen.Law);
        Assert.Equal(spread, seen.Spread!.Value, 1e-15);
        var fit = Fit(bundle);
        // Without residuals the density of each row is that at its centre, where both laws have a deviation of the spread times the value.
        // One that goes with the expectation pulls it down a little: by about the square of the spread.
        var pulled = law == ErrorLaw.LogNormal ? 0 : spread * spread;
        Assert.Equal(0.3, fit.Estimates[0].Value, 1e-6 + pulled);
        var highest = -Times.Sum(t => 0.5 * Math.Log(2 * Math.PI) + Math.Log(spread * 2 * A(t, 1)));
        Assert.Equal(highest, fit.LogLikelihood, 1e-6 + Times.Length * pulled);
        var (files, _) = PetabExport.Write(bundle, "again");
        var (twice, _) = PetabImport.Read(PetabProblem.Read(files["again.yaml"], name => files[name]), "again");
        Assert.Equal(fit.LogLikelihood, Fit(twice).LogLikelihood, 1e-6);
    }

    [Fact]
    public void Noise_that_is_estimated_is_the_spread_of_a_law()
    {
        string Observables(string formula, string transformation) =>
            $"observableId\tobservableFormula\tobservableTransformation\tnoiseFormula\nobs_a\tA\t{transformation}\t{formula}\n";
        var free = Parameters.Replace("sigma\tlog10\t0.001\t10\t0.02\t0", "sigma\tlog10\t0.001\t10\t0.02\t1", StringComparison.Ordinal);
        foreach (
            var (formula, transformation, law) in new[]
            {
                ("sigma", "lin", ErrorLaw.Normal),
                ("sigma", "log10", ErrorLaw.LogNormal),
                ("sigma * obs_a", "lin", ErrorLaw.Proportional),
            }
        )
        {
            var (bundle, left) = Read(Files(free, observables: Observables(formula, transformation)));
            Assert.Equal(law, bundle.Document.Observations[0].Law);
            Assert.Equal(["k1", "k2"], bundle.Document.Fit.Parameters.Select(one => one.Address.ToString()));
            Assert.Contains("is estimated", Assert.Single(left));
        }
    }

    [Fact]
    public void Priors_are_those_of_the_value()
    {
        var priors =
            "parameterId\tparameterScale\tlowerBound\tupperBound\tnominalValue\testimate\tobjectivePriorType\tobjectivePriorParameters\n"
            + "k1\tlin\t0.01\t10\t0.8\t1\tnormal\t0.4;0.1\nk2\tlog10\t0.01\t10\t0.8\t1\tparameterScaleNormal\t-1;0.2\n"
            + "scale\tlin\t0.1\t10\t2\t1\tlaplace\t2;1\nsigma\tlin\t0\t1\t0.02\t0\t\t\n";
        var (bundle, left) = Read(Files(priors));
        var fit = bundle.Document.Fit.Parameters.ToDictionary(one => one.Address.ToString());
        Assert.Equal(new Prior(PriorLaw.Normal, 0.4, 0.1), fit["k1"].Prior);
        // The mean and the deviation of 10^x for x normal with mean -1 and deviation 0.2.
        var s = 0.2 * Math.Log(10);
        Assert.Equal(0.1 * Math.Exp(s * s / 2), fit["k2"].Prior!.Mean, 1e-12);
        Assert.Equal(fit["k2"].Prior!.Mean * Math.Sqrt(Math.Exp(s * s) - 1), fit["k2"].Prior!.Spread, 1e-12);
        Assert.Null(fit["scale"].Prior);
        Assert.Contains("The prior of scale, laplace, is left out", Assert.Single(left));
    }

    public static TheoryData<string, string, string> Wrong() =>
        new()
        {
            { "problem.yaml", "format_version: 2\nparameter_file: p.tsv\nproblems: [{}]", "version 1 can be read" },
            { "problem.yaml", "a: [", "cannot be read" },
            { "problem.yaml", "just words", "cannot be read" },
            {
                "problem.yaml",
                "format_version: 1\nparameter_file: ../p.tsv\nproblems: [{sbml_files: [m.xml], condition_files: [c.tsv], "
                    + "observable_files: [o.tsv], measurement_files: [d.tsv]}]",
                "lies outside the folder"
            },
            { "p.tsv", "name\nk1\n", "p.tsv has no column parameterId" },
            {
                "p.tsv",
                "parameterId\testimate\tlowerBound\tupperBound\tnominalValue\nk1\t1\tx\t3\t1\nscale\t0\t\t\t2\nsigma\t0\t\t\t1\n",
                "row 2: lowerBound is “x”"
            },
            { "c.tsv", "conditionId\nother\n", "There is no condition “c0”" },
            { "c.tsv", "conditionId\tQ\nc0\t3\n", "sets “Q”, which the model does not have" },
            {
                "o.tsv",
                "observableId\tobservableFormula\tnoiseFormula\nobs_a\tA +\t1\n",
                "observableFormula of obs_a, “A +”, cannot be read"
            },
            {
                "o.tsv",
                "observableId\tobservableFormula\tnoiseFormula\nobs_a\tgain * A\t1\n",
                "“gain” is neither in the model nor in p.tsv"
            },
            { "o.tsv", "observableId\tobservableFormula\tnoiseFormula\nother\tA\t1\n", "there is no observable “obs_a”" },
            { "o.tsv", "observableId\tobservableFormula\tnoiseFormula\tnoiseDistribution\nobs_a\tA\t1\tlaplace\n", "its noise is laplace" },
            { "d.tsv", "observableId\tsimulationConditionId\tmeasurement\ttime\nobs_a\tc0\t3\tinf\n", "steady state are left out" },
            { "d.tsv", "observableId\tsimulationConditionId\tmeasurement\ttime\nobs_a\tc0\tmuch\t1\n", "row 2: measurement is “much”" },
        };

    [Theory]
    [MemberData(nameof(Wrong))]
    public void What_cannot_be_read_is_refused_in_words(string file, string text, string words)
    {
        var files = Files();
        files[file] = text;
        Assert.Contains(words, Assert.Throws<PetabException>(() => Read(files)).Message);
    }

    [Fact]
    public void What_is_written_is_read_again_to_the_same_fit()
    {
        var (bundle, _) = Read(Files());
        var (files, left) = PetabExport.Write(bundle, "again");
        Assert.Equal(
            ["again-conditions.tsv", "again-measurements.tsv", "again-observables.tsv", "again-parameters.tsv", "again.xml", "again.yaml"],
            files.Keys.Order()
        );
        var (twice, _) = PetabImport.Read(PetabProblem.Read(files["again.yaml"], name => files[name]), "again");
        var (first, second) = (Fit(bundle), Fit(twice));
        Assert.Equal(first.LogLikelihood, second.LogLikelihood, 1e-6);
        Assert.Equal(first.Estimates.Select(one => one.Value), second.Estimates.Select(one => one.Value), (one, other) =>
            Math.Abs(one - other) < 1e-6
        );
        Assert.DoesNotContain(left, sentence => sentence.Contains("obs_a is left out", StringComparison.Ordinal));
    }

    [Fact]
    public void Starts_priors_and_subjects_are_written_and_what_the_format_has_not_is_told()
    {
        var brennalo = StudyFile.ReadShipped(File.ReadAllText(StudyFileTests.Root("demo/brennalo.study.json")));
        var refused = Assert.Throws<PetabException>(() => PetabExport.Write(brennalo, "b"));
        Assert.Contains("below a limit", refused.Message);
        var levels = brennalo with
        {
            Document = brennalo.Document with
            {
                Fit = new(ErrorLaw.Poisson, [new("ka", 0.1, 5) { Prior = new(PriorLaw.LogNormal, 1, 0.3) }, new("G.start", 1, 500)]),
            },
            DataSets = [.. brennalo.DataSets.Select(set => set with { Rows = [.. set.Rows.Where(row => !row.Below)] })],
        };
        var (files, left) = PetabExport.Write(levels, "b");
        var conditions = new PetabTable("c", files["b-conditions.tsv"], "conditionId", "weight", "G");
        Assert.Equal(12, conditions.Count);
        var volunteer = levels.DataSets[0].Subjects[3];
        var condition = Enumerable.Range(0, conditions.Count).Single(row => conditions[row, "conditionId"] == $"c_{volunteer.Name}");
        Assert.Equal("G_start", conditions[condition, "G"]);
        Assert.Equal(volunteer.Covariates["weight"], conditions.Number(condition, "weight"));
        var parameters = new PetabTable("p", files["b-parameters.tsv"], "parameterId");
        var ka = Enumerable.Range(0, parameters.Count).Single(row => parameters[row, "parameterId"] == "ka");
        Assert.Equal("logNormal", parameters[ka, "objectivePriorType"]);
        // ln(1 + 0.09) is the variance of the logarithm.
        Assert.Equal(-0.5 * Math.Log(1.09), PetabTable.Number(parameters[ka, "objectivePriorParameters"].Split(';')[0])!.Value, 1e-12);
        Assert.Contains(left, sentence => sentence.Contains("Doses of subjects are not said", StringComparison.Ordinal));
        Assert.Equal("log", new PetabTable("o", files["b-observables.tsv"], "observableId")[0, "observableTransformation"]);
        // Counts over intervals are none of it.
        var marram = StudyFile.ReadShipped(File.ReadAllText(StudyFileTests.Root("demo/marram-fever.study.json")));
        Assert.Contains("over intervals", Assert.Throws<PetabException>(() => PetabExport.Write(marram, "m")).Message);
    }
}
