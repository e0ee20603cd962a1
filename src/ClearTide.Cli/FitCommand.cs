using System.CommandLine;
using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Formats.Tables;

namespace ClearTide.Cli;

/// <summary><c>fit FILE --out estimates.csv</c>: the estimates of a study with its data.</summary>
internal static class FitCommand
{
    private static readonly Dictionary<string, ErrorLaw> Laws = new()
    {
        ["poisson"] = ErrorLaw.Poisson,
        ["negative-binomial"] = ErrorLaw.NegativeBinomial,
        ["normal"] = ErrorLaw.Normal,
        ["log-normal"] = ErrorLaw.LogNormal,
        ["proportional"] = ErrorLaw.Proportional,
        ["additive-proportional"] = ErrorLaw.AdditiveProportional,
        ["binomial"] = ErrorLaw.Binomial,
    };

    public static Command Create()
    {
        var file = new Argument<FileInfo>("FILE")
        {
            Description = "A study file (*.study.json) with its data, or a problem of PEtab (*.yaml).",
        };
        var estimate = new Option<string[]>("--estimate")
        {
            Description =
                "A value to estimate, as name=lower..upper; those that are ticked in the study where it is left out. May be repeated.",
            DefaultValueFactory = _ => [],
        };
        var named = new Option<string?>("--fit")
        {
            Description = "Which of the fits of the study is made, by its name; the one that is chosen in it where it is left out.",
        };
        var law = new Option<string?>("--law")
        {
            Description = $"The law of all series: {string.Join(", ", Laws.Keys)}; the study's own where it is left out.",
        };
        law.AcceptOnlyFromAmong([.. Laws.Keys]);
        var prior = new Option<string[]>("--prior")
        {
            Description =
                "What is known of a value from elsewhere, as "
                + $"name={Prior.Usage.Replace(" for a share", "", StringComparison.Ordinal)}. May be "
                + "repeated.",
            DefaultValueFactory = _ => [],
        };
        var starts = new Option<int?>("--starts")
        {
            Description = $"How many starts the search has, up to {FitSetup.MostStarts}; as in the study where it is left out.",
        };
        var tie = new Option<string[]>("--tie")
        {
            Description =
                "A value that follows from others while the fit is made, or is held at a number, as name=formula: gamma=2*sigma, or "
                + "gamma=0.2. May be repeated.",
            DefaultValueFactory = _ => [],
        };
        var seed = new Option<long?>("--seed")
        {
            Description = "Which of many sequences of starts and random numbers is taken; as in the study where it is left out.",
        };
        var profile = new Option<bool>("--profile")
        {
            Description = "Writes the profile of each value in place of its estimate: how far the log-likelihood falls along it.",
        };
        var output = new Option<FileInfo?>("--out")
        {
            Description =
                "Where to write the result: as JSON with profiles, optima and all else where the name ends in .json, else as CSV. "
                + "Standard output, as CSV, where it is left out.",
        };
        var command = new Command("fit", "Estimates values of a model from its data by maximum likelihood, with profile intervals.")
        {
            file,
            named,
            estimate,
            law,
            prior,
            starts,
            tie,
            seed,
            profile,
            output,
        };
        command.SetAction(parsed =>
            BadInput.Told(() =>
                Run(
                    parsed.GetValue(file)!,
                    parsed.GetValue(named),
                    parsed.GetValue(estimate)!,
                    parsed.GetValue(law),
                    parsed.GetValue(prior)!,
                    parsed.GetValue(starts),
                    parsed.GetValue(tie)!,
                    parsed.GetValue(seed),
                    parsed.GetValue(profile),
                    parsed.GetValue(output)
                )
            )
        );
        return command;
    }

    private static int Run(
        FileInfo file,
        string? named,
        string[] estimates,
        string? law,
        string[] priors,
        int? starts,
        string[] ties,
        long? seed,
        bool profile,
        FileInfo? output
    )
    {
        if (ModelFile.IsSbml(file))
            throw new BadInputException("SBML holds no data. Make a study file of it with convert, and bring data in the application.");
        var bundle = ModelFile.Read(file);
        var document = bundle.Document;
        if (named is not null)
            document = document with { Fit = ByName(document, named) };
        if (estimates.Length > 0)
            document = document with { Fit = document.Fit with { Parameters = [.. estimates.Select(one => Read(document, one))] } };
        if (law is not null)
        {
            document = document with
            {
                Fit = document.Fit with { Law = Laws[law] },
                Observations = [.. document.Observations.Select(one => one with { Law = Laws[law] })],
            };
        }
        foreach (var typed in priors)
            document = WithPrior(document, typed);
        if (starts is { } count)
            document = document with { Fit = document.Fit with { Starts = count } };
        if (ties.Length > 0)
            document = document with { Fit = document.Fit with { Ties = [.. ties.Select(ReadTie)] } };
        if (document.Fit.Ties.Select(one => TiedModel.Refusal(document, one)).FirstOrDefault(one => one is not null) is { } wrong)
            throw new BadInputException(wrong);
        if (seed is { } shuffle)
            document = document with { Fit = document.Fit with { Shuffle = shuffle } };
        var series = Series.Of(document, bundle.DataSets);
        FitResult result;
        try
        {
            result = Fitter.Run(document, series, threads: Environment.ProcessorCount);
        }
        catch (FitRefusedException refusal)
        {
            throw new BadInputException(refusal.Message);
        }
        using (var writer = output is null ? Console.Out : new StreamWriter(output.FullName))
        {
            if (output?.Extension.Equals(".json", StringComparison.OrdinalIgnoreCase) == true)
                FitFile.Write(writer, result, series);
            else if (profile)
                ResultTable.WriteProfiles(writer, result);
            else
                ResultTable.Write(writer, result);
        }
        foreach (var known in result.Combinations)
            Console.Error.WriteLine($"Known together: {known.Expression} = {Say(known.Value)} ({Say(known.Low)} to {Say(known.High)}).");
        Console.Error.WriteLine($"Log-likelihood {Say(result.LogLikelihood)}, AIC {Say(result.Aic)}, from {result.Starts} starts.");
        foreach (var pattern in result.Detail?.Patterns ?? [])
            Console.Error.WriteLine(pattern);
        return 0;
    }

    private static FitSetup ByName(StudyDocument document, string name) =>
        document.Fits.FirstOrDefault(one => one.Name == name)?.Setup
        ?? throw new BadInputException(
            document.Fits.IsEmpty
                ? $"No fit of this study has a name, so that there is no “{name}”. Leave --fit out to make the one that is chosen."
                : $"There is no fit “{name}” in this study. Its fits are "
                    + $"{string.Join(", ", document.Fits.Select(one => $"“{one.Name}”"))}."
        );

    private static string Say(double number) => NumberWords.Of(number, 6);

    private static FitTie ReadTie(string typed)
    {
        var cut = typed.IndexOf('=');
        return cut > 0 && typed[(cut + 1)..].Trim() is { Length: > 0 } formula
            ? new(ValueAddress.Read(typed[..cut].Trim()), formula)
            : throw new BadInputException($"--tie is written name=formula, as in --tie gamma=2*sigma; “{typed}” is not.");
    }

    private static StudyDocument WithPrior(StudyDocument document, string typed)
    {
        var cut = typed.IndexOf('=');
        var address = ValueAddress.Read(cut < 0 ? "" : typed[..cut].Trim());
        var place = document.Fit.Parameters.ToList().FindIndex(one => one.Address == address);
        if (place < 0)
            throw new BadInputException(
                $"--prior is written name=law, as in --prior beta=normal(0.3, 0.1), for a value that is estimated; “{typed}” is not."
            );
        var (prior, problem) = Prior.Read(typed[(cut + 1)..]);
        if (problem is not null)
            throw new BadInputException($"--prior of {address}: {problem}");
        var parameters = document.Fit.Parameters;
        return document with
        {
            Fit = document.Fit with { Parameters = parameters.SetItem(place, parameters[place] with { Prior = prior }) },
        };
    }

    private static FitParameter Read(StudyDocument document, string typed)
    {
        var (cut, between) = (typed.IndexOf('='), typed.IndexOf("..", StringComparison.Ordinal));
        if (
            cut <= 0
            || between < cut
            || TypedNumber.Read(typed[(cut + 1)..between]) is not { } lower
            || TypedNumber.Read(typed[(between + 2)..]) is not { } upper
        )
            throw new BadInputException($"--estimate is written name=lower..upper, as in --estimate beta=0.05..1; “{typed}” is not.");
        var address = ValueAddress.Read(typed[..cut].Trim());
        return Lowering.Lower(FreedValues.With(document, [address])).Network.IndexOf(address) >= 0
            ? new(address, lower, upper)
            : throw new BadInputException($"There is no value “{address}” in the model.");
    }
}
