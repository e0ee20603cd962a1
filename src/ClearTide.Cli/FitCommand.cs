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
    };

    public static Command Create()
    {
        var file = new Argument<FileInfo>("FILE") { Description = "A study file (*.study.json) with its data." };
        var estimate = new Option<string[]>("--estimate")
        {
            Description =
                "A value to estimate, as name=lower..upper; those that are ticked in the study where it is left out. May be repeated.",
            DefaultValueFactory = _ => [],
        };
        var law = new Option<string?>("--law")
        {
            Description =
                "The law of all series: poisson, negative-binomial, normal, log-normal or proportional; the study's own where it "
                + "is left out.",
        };
        law.AcceptOnlyFromAmong([.. Laws.Keys]);
        var output = new Option<FileInfo?>("--out") { Description = "Where to write the CSV; standard output where it is left out." };
        var command = new Command("fit", "Estimates values of a model from its data by maximum likelihood, with profile intervals.")
        {
            file,
            estimate,
            law,
            output,
        };
        command.SetAction(parsed =>
            BadInput.Told(() => Run(parsed.GetValue(file)!, parsed.GetValue(estimate)!, parsed.GetValue(law), parsed.GetValue(output)))
        );
        return command;
    }

    private static int Run(FileInfo file, string[] estimates, string? law, FileInfo? output)
    {
        if (ModelFile.IsSbml(file))
            throw new BadInputException("SBML holds no data. Make a study file of it with convert, and bring data in the application.");
        var bundle = ModelFile.Read(file);
        var document = bundle.Document;
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
        FitResult result;
        try
        {
            result = Fitter.Run(document, Series.Of(document, bundle.DataSets));
        }
        catch (FitRefusedException refusal)
        {
            throw new BadInputException(refusal.Message);
        }
        using (var writer = output is null ? Console.Out : new StreamWriter(output.FullName))
            ResultTable.Write(writer, result);
        foreach (var known in result.Combinations)
            Console.Error.WriteLine($"Known together: {known.Expression} = {Say(known.Value)} ({Say(known.Low)} to {Say(known.High)}).");
        Console.Error.WriteLine($"Log-likelihood {Say(result.LogLikelihood)}, AIC {Say(result.Aic)}, from {result.Starts} starts.");
        return 0;
    }

    private static string Say(double number) => NumberWords.Of(number, 6);

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
        return Lowering.Lower(document).Network.IndexOf(address) >= 0
            ? new(address, lower, upper)
            : throw new BadInputException($"There is no value “{address}” in the model.");
    }
}
