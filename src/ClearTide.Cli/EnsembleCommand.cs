using System.CommandLine;
using ClearTide.Core.Compilation;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Sbml;
using ClearTide.Formats.Tables;

namespace ClearTide.Cli;

/// <summary><c>ensemble FILE --replicates 1000 --seed 1 --end 100 --every 10</c>: many runs by chance, as means and quantiles.</summary>
internal static class EnsembleCommand
{
    private sealed record Request(
        int Replicates,
        long Seed,
        string Method,
        double Step,
        double? Start,
        double? End,
        double Every,
        string[] Set,
        string? Columns,
        bool Amounts,
        int Runs,
        int? Subjects,
        string[] Outcomes,
        FileInfo? Output
    );

    /// <summary>What is run: the model, its values, where it starts, its columns, and how a failure is said.</summary>
    private sealed record Subject(
        CompiledModel Model,
        double[] Values,
        double[] Times,
        IReadOnlyList<string> Heads,
        Func<Trajectory, IReadOnlyList<double[]>> Read,
        Func<SimulationException, string> Say
    )
    {
        /// <summary>The study that is run; null for other models.</summary>
        public LoweredModel? Lowered { get; init; }

        /// <summary>Parameters of each replicate, where subjects differ; else null.</summary>
        public Func<int, double[]>? ValuesOf { get; init; }
    }

    public static Command Create()
    {
        var file = new Argument<FileInfo>("FILE") { Description = ModelFile.Help };
        var replicates = new Option<int>("--replicates")
        {
            Description = $"How many runs, up to {EnsembleRequest.MostReplicates:N0}.",
            DefaultValueFactory = _ => 1000,
        };
        var seed = new Option<long>("--seed") { Description = "Names the random numbers.", DefaultValueFactory = _ => 1 };
        var (method, step) = (RunOptions.ChanceMethod(), RunOptions.ChanceStep());
        var start = RunOptions.Start();
        var end = RunOptions.End();
        var every = RunOptions.Every();
        var set = RunOptions.Set();
        var columns = RunOptions.Columns();
        var amounts = RunOptions.Amounts();
        var runs = new Option<int>("--runs")
        {
            Description = "Write the first K runs themselves, with a column for the replicate, and not what all of them come to.",
        };
        var subjects = new Option<int?>("--subjects")
        {
            Description =
                "Let each run be of another one of so many subjects, as the study says they differ; beyond the last it begins anew "
                + "with the first.",
        };
        var outcomes = new Option<string[]>("--outcome")
        {
            Description =
                "Write what a formula over each run comes to, in place of curves: true or false, as in \"ever(I > 40) and "
                + "peak_time(I) > 20\", or a number. Every transition of a run counts. May be repeated.",
            DefaultValueFactory = _ => [],
        };
        var output = RunOptions.Output();
        var command = new Command("ensemble", "Runs a model by chance many times and writes mean, spread and quantiles at each time.")
        {
            file,
            replicates,
            seed,
            method,
            step,
            start,
            end,
            every,
            set,
            columns,
            amounts,
            runs,
            subjects,
            outcomes,
            output,
        };
        command.SetAction(parsed =>
            BadInput.Told(() =>
                Run(
                    parsed.GetValue(file)!,
                    new(
                        parsed.GetValue(replicates),
                        parsed.GetValue(seed),
                        parsed.GetValue(method)!,
                        parsed.GetValue(step),
                        parsed.GetValue(start),
                        parsed.GetValue(end),
                        parsed.GetValue(every),
                        parsed.GetValue(set)!,
                        parsed.GetValue(columns),
                        parsed.GetValue(amounts),
                        parsed.GetValue(runs),
                        parsed.GetValue(subjects),
                        parsed.GetValue(outcomes)!,
                        parsed.GetValue(output)
                    )
                )
            )
        );
        return command;
    }

    private static int Run(FileInfo file, Request request)
    {
        if (request.Runs < 0 || request.Runs > request.Replicates)
            throw new BadInputException($"--runs lies between 1 and the number of replicates, {request.Replicates:N0}.");
        if (request.Subjects is < 1 or > SubjectGroup.Most)
            throw new BadInputException($"--subjects is a number from 1 to {SubjectGroup.Most:N0}.");
        var subject = ModelFile.IsSbml(file) ? OfSbml(file, request) : OfStudy(file, request);
        if (ChanceRefusal.Of(subject.Model.Network) is { } refusal)
            throw new BadInputException(refusal);
        var ensemble = new EnsembleRequest(subject.Model, subject.Values, subject.Times, request.Replicates, request.Seed)
        {
            Threads = Environment.ProcessorCount,
            Step = request.Step,
            ValuesOf = subject.ValuesOf,
        };
        ensemble = ensemble with { Method = Method(ensemble, request.Method) };
        try
        {
            if (request.Runs > 0)
            {
                var single = Enumerable.Range(0, request.Runs).Select(k => subject.Read(Ensemble.RunOne(ensemble, k))).ToList();
                Write(request, writer => ResultTable.Write(writer, subject.Times, subject.Heads, single));
                return 0;
            }
            if (request.Outcomes.Length > 0)
            {
                var lowered = subject.Lowered
                    ?? throw new BadInputException("--outcome is for studies. Make a study file of it with convert.");
                var found = ChanceOutcomes.Of(lowered, ensemble, request.Outcomes);
                Write(request, writer => OutcomeTable.Write(writer, request.Outcomes, found));
                return 0;
            }
            var tallies = Ensemble.Run(ensemble, subject.Heads.Count, subject.Read);
            Write(request, writer => ResultTable.Write(writer, subject.Times, subject.Heads, tallies));
            return 0;
        }
        catch (ArgumentException refused) when (request.Outcomes.Length > 0)
        {
            throw new BadInputException(refused.Message);
        }
        catch (EnsembleRefusedException refused)
        {
            throw new BadInputException(refused.Message);
        }
        catch (SimulationException failure)
        {
            throw new BadInputException(subject.Say(failure));
        }
    }

    private static ChanceMethod Method(EnsembleRequest ensemble, string asked)
    {
        if (asked != "auto")
            return asked switch
            {
                "leap" => ChanceMethod.Leap,
                "chain" => ChanceMethod.ChainBinomial,
                _ => ChanceMethod.Exact,
            };
        var (method, why) = Ensemble.Choose(ensemble);
        Console.Error.WriteLine(why);
        return method;
    }

    private static void Write(Request request, Action<TextWriter> write)
    {
        using var writer = request.Output is null ? Console.Out : new StreamWriter(request.Output.FullName);
        write(writer);
    }

    private static Subject OfStudy(FileInfo file, Request request)
    {
        var document = ModelFile.Read(file).Document;
        document = document with { Start = request.Start ?? document.Start, End = request.End ?? document.End };
        if (request.Subjects is not null)
            document = document with { Seed = request.Seed };
        var times = OutputTimes.Every(document.Start, document.End, request.Every);
        var lowered = Lowering.Lower(document);
        foreach (var finding in lowered.Findings)
            Console.Error.WriteLine(FindingLine.Of(document, finding));
        if (lowered.IsProvisional)
            throw new BadInputException("The model has unfinished parts, listed above. Finish them before running it.");
        var values = lowered.Network.ValueVector();
        ValueOverrides.Apply(lowered.Network, document.UnitTable(), values, request.Set);
        var columns = RunColumns.Read(lowered, request.Columns);
        return new(lowered.Compiled, values, times, columns.Heads, columns.ByChance, failure => RunFailure.Say(failure, lowered))
        {
            Lowered = lowered,
            ValuesOf = request.Subjects is { } count ? OfSubjects(lowered, values, count) : null,
        };
    }

    /// <summary>The parameters of each replicate: those of its subject.</summary>
    private static Func<int, double[]> OfSubjects(LoweredModel lowered, double[] typical, int count)
    {
        if (lowered.Study.Subjects is not { Varying.IsEmpty: false } group)
            throw new BadInputException("The study does not say how subjects differ. Say so under Subjects.");
        try
        {
            var draws = new SubjectDraws(lowered, group, typical);
            return replicate => draws.Values(1 + replicate % count);
        }
        catch (ArgumentException refusal)
        {
            throw new BadInputException(refusal.Message);
        }
    }

    private static Subject OfSbml(FileInfo file, Request request)
    {
        if (request.Subjects is not null)
            throw new BadInputException("SBML holds no subjects. Make a study file of it with convert.");
        var model = SbmlRun.Read(file);
        foreach (var note in model.Notes)
            Console.Error.WriteLine($"line {note.Line}: {note.Message}");
        var times = OutputTimes.Every(
            request.Start ?? 0,
            request.End ?? throw new BadInputException("An SBML model has no span of its own: say where runs end, as in --end 100."),
            request.Every
        );
        if (times[0] != 0)
            throw new BadInputException("Initial amounts of SBML hold at time 0: leave --start out.");
        var (form, all) = SbmlLowering.Lower(model);
        var compiled = new CompiledModel(form);
        var values = form.ValueVector();
        ValueOverrides.Apply(form, new StudyDocument { Title = "" }.UnitTable(), values, request.Set);
        SbmlRun.Initial(compiled, values, form);
        var chosen = request.Columns is null ? [.. all.Where(column => column.IsShown)] : SbmlRun.Chosen(all, request.Columns);
        return new(
            compiled,
            values,
            times,
            [.. chosen.Select(column => column.Id)],
            run => [.. chosen.Select(column => run.QuantityColumn(request.Amounts ? column.Amount : column.Concentration))],
            failure => SbmlRun.Say(failure, form)
        );
    }
}
