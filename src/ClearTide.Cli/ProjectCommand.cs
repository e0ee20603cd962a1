using System.CommandLine;
using ClearTide.Core.Data;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Tables;

namespace ClearTide.Cli;

/// <summary><c>project STUDY.study.json --replicates 1000 --seed 1</c>: baseline and scenarios by chance from where the data end.</summary>
internal static class ProjectCommand
{
    private const string Chance = "chance",
        Fit = "fit",
        Subjects = "subjects",
        Observation = "observation";

    private sealed record Request(
        string[] Scenarios,
        int Replicates,
        long Seed,
        string? Sources,
        string? Of,
        bool FromStart,
        string Method,
        double Step,
        double? Level,
        double? AsOf,
        string[] Formulas,
        FileInfo? Output,
        FileInfo? Outcomes,
        FileInfo? Shares
    );

    public static Command Create()
    {
        var file = new Argument<FileInfo>("FILE") { Description = "A study file (*.study.json), with its data where it has some." };
        var scenario = new Option<string[]>("--scenario")
        {
            Description = "A scenario to project beside the baseline, by name; all that are kept on where it is left out. May be repeated.",
            DefaultValueFactory = _ => [],
        };
        var replicates = new Option<int>("--replicates")
        {
            Description = $"How many, up to {ProjectionRequest.MostReplicates:N0}.",
            DefaultValueFactory = _ => 1000,
        };
        var seed = new Option<long>("--seed") { Description = "Names the random numbers.", DefaultValueFactory = _ => 1 };
        var sources = new Option<string?>("--sources")
        {
            Description =
                "What is in the bands, separated by commas: chance, fit (what a fit of the values that the study "
                + "ticks leaves uncertain), subjects (how they differ) and observation (how counts spread around what there is). "
                + "All that there are where it is left out.",
        };
        var of = new Option<string?>("--of")
        {
            Description = "What is followed: a compartment, flow or quantity by its name; what the data count where it is left out.",
        };
        var fromStart = new Option<bool>("--from-start") { Description = "Start with the span, and not where the data end." };
        var (method, step) = (RunOptions.ChanceMethod(), RunOptions.ChanceStep());
        var level = new Option<double?>("--level")
        {
            Description = "A level of what is followed, of which it is told how often it is exceeded.",
        };
        var asOf = new Option<double?>("--as-of")
        {
            Description =
                "An earlier now: the fit and the projection know what had come in by then, and are held against what has come in since.",
        };
        var formulas = new Option<string[]>("--outcome")
        {
            Description =
                "A formula over each run from now on among the outcomes: true or false, as in \"ever(I > 40) and peak_time(I) > 60\", or a "
                + "number. May be repeated.",
            DefaultValueFactory = _ => [],
        };
        var output = new Option<FileInfo?>("--out")
        {
            Description = "Where to write the bands as CSV; standard output where it is left out.",
        };
        var outcomes = new Option<FileInfo?>("--outcomes") { Description = "Where to write peak, its time, total and formulas as CSV." };
        var shares = new Option<FileInfo?>("--shares")
        {
            Description = "Where to write the share of each source in the variance of the baseline, interval by interval, as CSV.",
        };
        var command = new Command("project", "Projects baseline and scenarios by chance and writes bands and outcomes.")
        {
            file,
            scenario,
            replicates,
            seed,
            sources,
            of,
            fromStart,
            method,
            step,
            level,
            asOf,
            formulas,
            output,
            outcomes,
            shares,
        };
        command.SetAction(parsed =>
            BadInput.Told(() =>
                Run(
                    parsed.GetValue(file)!,
                    new(
                        parsed.GetValue(scenario)!,
                        parsed.GetValue(replicates),
                        parsed.GetValue(seed),
                        parsed.GetValue(sources),
                        parsed.GetValue(of),
                        parsed.GetValue(fromStart),
                        parsed.GetValue(method)!,
                        parsed.GetValue(step),
                        parsed.GetValue(level),
                        parsed.GetValue(asOf),
                        parsed.GetValue(formulas)!,
                        parsed.GetValue(output),
                        parsed.GetValue(outcomes),
                        parsed.GetValue(shares)
                    )
                )
            )
        );
        return command;
    }

    private static int Run(FileInfo file, Request asked)
    {
        if (ModelFile.IsSbml(file))
            throw new BadInputException("SBML holds no scenarios and no data. Make a study file of it with convert.");
        var bundle = ModelFile.Read(file);
        var document = Only(bundle.Document, asked.Scenarios);
        var sources = Sources(asked.Sources);
        var all = Series.Of(document, bundle.DataSets);
        var seen = ProjectionSources.Counted(all) is >= 0 and var first ? all[first] : null;
        if (asked.AsOf is { } now)
            all = ProjectionSources.AsOf(all, now);
        var counted = ProjectionSources.Counted(all) is >= 0 and var place ? all[place] : null;
        if (asked.AsOf is { } early && counted is null)
            throw new BadInputException($"--as-of: no counts had come in by {NumberWords.Of(early)}. Take a later time.");
        var request = ProjectionSources.With(
            new(asked.Replicates, asked.Seed, new Dictionary<ValueAddress, double>())
            {
                Of = asked.Of is { } name ? PartOf(document, name) : "",
                FromStart = asked.FromStart,
                Subjects = sources.Contains(Subjects) && document.Subjects is { Varying.IsEmpty: false } group ? group : null,
                Chance = sources.Contains(Chance) ? Method(asked.Method) : ProjectionChance.None,
                Step = asked.Step,
                Level = asked.Level,
                AsOf = asked.AsOf,
                Formulas = asked.Formulas,
            },
            document,
            all,
            Fitted(document, all),
            sources.Contains(Fit),
            sources.Contains(Observation)
        );
        try
        {
            var projection = new Projection(document, counted, request);
            var counts = projection.Run(Environment.ProcessorCount);
            var made = ProjectionSummary.Made(projection, Projection.Fingerprint(document, counted, request), asked.Seed, counts);
            using (var writer = asked.Output is null ? Console.Out : new StreamWriter(asked.Output.FullName))
                ResultTable.Write(writer, made);
            if (asked.Outcomes is { } outcomes)
            {
                using var writer = new StreamWriter(outcomes.FullName);
                ResultTable.WriteOutcomes(writer, made);
            }
            if (asked.Shares is { } parts)
            {
                using var writer = new StreamWriter(parts.FullName);
                ResultTable.Write(writer, made.Times, SpreadShares.Of(projection, SpreadShares.UsualPairs, Environment.ProcessorCount));
            }
            string[] inBands =
            [
                .. made.Method != ProjectionChance.None ? [Chance] : (string[])[],
                .. made.HasSpread ? [Fit] : (string[])[],
                .. made.HasSubjects ? [Subjects] : (string[])[],
                .. made.HasError ? [Observation] : (string[])[],
            ];
            Console.Error.WriteLine(
                $"{made.Label}, {made.Replicates:N0} replicates from {document.TimeUnit.Singular} {NumberWords.Of(made.Now)} on. In the "
                    + $"bands: {(inBands.Length > 0 ? string.Join(", ", inBands) : "nothing")}."
                    + (made.Why.Length > 0 ? $" {made.Why}" : "")
            );
            if (HeldAgainst.Of(made, seen?.Data.Rows ?? []) is { } held)
                Console.Error.WriteLine(
                    $"Of {held.Rows} {(held.Rows == 1 ? "row" : "rows")} that came in since, {held.Within50} lie in the middle half and "
                        + $"{held.Within90} in the middle 90 %; the mean ranked probability score is {NumberWords.Of(held.Crps, 4)}."
                );
            return 0;
        }
        catch (ProjectionRefusedException refusal)
        {
            throw new BadInputException(refusal.Message);
        }
        catch (SimulationException failure)
        {
            throw new BadInputException(RunFailure.Say(failure, Core.Compilation.Lowering.Lower(document)));
        }
    }

    private static ProjectionChance Method(string asked) =>
        asked switch
        {
            "exact" => ProjectionChance.Exact,
            "leap" => ProjectionChance.Leap,
            "chain" => ProjectionChance.ChainBinomial,
            _ => ProjectionChance.Automatic,
        };

    /// <summary>A fit of the values that the study ticks; null where it has none or no data.</summary>
    private static FitResult? Fitted(StudyDocument document, IReadOnlyList<Series> series)
    {
        if (document.Fit.Parameters.IsEmpty || series.Count == 0)
            return null;
        try
        {
            return Fitter.Run(document, series, threads: Environment.ProcessorCount);
        }
        catch (FitRefusedException refusal)
        {
            throw new BadInputException($"The fit that the projection starts from: {refusal.Message}");
        }
    }

    private static StudyDocument Only(StudyDocument document, string[] names)
    {
        if (names.Length == 0)
            return document;
        foreach (var name in names)
        {
            if (document.Scenarios.All(one => one.Name != name))
                throw new BadInputException(
                    $"There is no scenario “{name}” in the study."
                        + (
                            document.Scenarios.IsEmpty
                                ? " It has none."
                                : $" It has {string.Join(", ", document.Scenarios.Select(one => $"“{one.Name}”"))}."
                        )
                );
        }
        return document with { Scenarios = [.. document.Scenarios.Select(one => one with { IsOff = !names.Contains(one.Name) })] };
    }

    private static string[] Sources(string? typed)
    {
        if (typed is null)
            return [Chance, Fit, Subjects, Observation];
        string[] named = [.. typed.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)];
        if (named.FirstOrDefault(one => one is not (Chance or Fit or Subjects or Observation)) is { } unknown)
            throw new BadInputException(
                $"--sources are chance, fit, subjects and observation, separated by commas; “{unknown}” is none of them."
            );
        return named;
    }

    private static string PartOf(StudyDocument document, string name)
    {
        var symbol = Symbols.Normalize(name.Trim());
        var part = document.SymbolParts.FirstOrDefault(one => Symbols.Normalize(one.Symbol) == symbol)?.Id
            ?? document
                .Moving.FirstOrDefault(one =>
                    one.Name == name.Trim()
                    || document.Describe(one).Replace("→", "->", StringComparison.Ordinal) == name.Trim()
                    || document.Describe(one) == name.Trim()
                )
                ?.Id;
        return part ?? throw new BadInputException($"--of: there is no compartment, flow or quantity “{name}” in the model.");
    }
}
