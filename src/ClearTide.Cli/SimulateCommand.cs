using System.CommandLine;
using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;
using ClearTide.Formats.Tables;

namespace ClearTide.Cli;

/// <summary><c>simulate FILE --end 200 --every 1 --out out.csv</c>: one run of a model as a table.</summary>
internal static class SimulateCommand
{
    private static readonly Dictionary<string, Method> Methods = new()
    {
        ["auto"] = Method.Automatic,
        ["adaptive"] = Method.Adaptive,
        ["stiff"] = Method.Stiff,
        ["rk4"] = Method.RungeKutta4,
        ["midpoint"] = Method.Midpoint,
        ["euler"] = Method.Euler,
        ["discrete"] = Method.Discrete,
    };

    internal sealed record Request(
        double? Start,
        double? End,
        double Every,
        string? Method,
        double? Step,
        double? Relative,
        string[] Absolute,
        string[] Set,
        string? Columns,
        bool Amounts,
        FileInfo? Output,
        int Subjects,
        long? Seed
    );

    public static Command Create()
    {
        var file = new Argument<FileInfo>("FILE") { Description = ModelFile.Help };
        var start = RunOptions.Start();
        var end = RunOptions.End();
        var every = RunOptions.Every();
        var method = new Option<string?>("--method")
        {
            Description = "auto, adaptive, stiff, rk4, midpoint, euler or discrete; the study's own where it is left out.",
        };
        method.AcceptOnlyFromAmong([.. Methods.Keys]);
        var step = new Option<double?>("--step") { Description = "Step of calculation for rk4, midpoint, euler and discrete." };
        var relative = new Option<double?>("--rtol") { Description = "Relative tolerance of a step." };
        var absolute = new Option<string[]>("--atol")
        {
            Description = "Absolute tolerance of a step: a number for all amounts, or name=number for one compartment. May be repeated.",
            DefaultValueFactory = _ => [],
        };
        var set = RunOptions.Set();
        var columns = RunOptions.Columns();
        var amounts = RunOptions.Amounts();
        var output = RunOptions.Output();
        var subjects = new Option<int>("--subjects")
        {
            Description = "Run so many subjects, as the study says they differ, with a column that counts them from 1.",
        };
        var seed = new Option<long?>("--seed")
        {
            Description = "Names the subjects and random inputs; the study's own where it is left out.",
        };
        var command = new Command("simulate", "Runs a model and writes time and the amount of each compartment.")
        {
            file,
            start,
            end,
            every,
            method,
            step,
            relative,
            absolute,
            set,
            columns,
            amounts,
            output,
            subjects,
            seed,
        };
        command.SetAction(parsed =>
            BadInput.Told(() =>
                Run(
                    parsed.GetValue(file)!,
                    new(
                        parsed.GetValue(start),
                        parsed.GetValue(end),
                        parsed.GetValue(every),
                        parsed.GetValue(method),
                        parsed.GetValue(step),
                        parsed.GetValue(relative),
                        parsed.GetValue(absolute)!,
                        parsed.GetValue(set)!,
                        parsed.GetValue(columns),
                        parsed.GetValue(amounts),
                        parsed.GetValue(output),
                        parsed.GetValue(subjects),
                        parsed.GetValue(seed)
                    )
                )
            )
        );
        return command;
    }

    private static int Run(FileInfo file, Request request)
    {
        if (request.Subjects is < 0 or > SubjectGroup.Most)
            throw new BadInputException($"--subjects is a number from 1 to {SubjectGroup.Most:N0}.");
        if (ModelFile.IsSbml(file))
            return request.Subjects == 0
                ? SbmlRun.Simulate(file, request)
                : throw new BadInputException("SBML holds no subjects. Make a study file of it with convert.");
        var document = ModelFile.Read(file).Document;
        document = document with
        {
            Start = request.Start ?? document.Start,
            End = request.End ?? document.End,
            Solver = Solver(document.Solver, request),
            Seed = request.Seed ?? document.Seed,
        };
        // Too many points, no span, no spacing: told before anything is worked out.
        var times = OutputTimes.Every(document.Start, document.End, request.Every);
        if (SetSolver.Refusal(document, document.Solver.Method, document.Solver.Step) is { } refusal && document.Solver.HasStep)
            throw new BadInputException(refusal);
        var lowered = Lowering.Lower(document);
        foreach (var finding in lowered.Findings)
            Console.Error.WriteLine(FindingLine.Of(document, finding));
        if (lowered.IsProvisional)
            throw new BadInputException("The model has unfinished parts, listed above. Finish them before running it.");
        var model = lowered.Compiled;
        var values = lowered.Network.ValueVector();
        ValueOverrides.Apply(lowered.Network, document.UnitTable(), values, request.Set);
        var columns = RunColumns.Read(lowered, request.Columns);
        var totals = columns.Totals(lowered.Network, values, times);
        try
        {
            if (request.Subjects > 0)
                return Subjects(lowered, columns, values, times, request);
            var initial = model.InitialState(values, document.Start);
            var own = request.Absolute.Length > 0 ? document.Solver.Settings : document.Solver.Settings.ScaledTo(initial);
            var settings = Tolerances.Apply(
                lowered.Network,
                document.Compartments.ToDictionary(part => part.Symbol, part => part.Id),
                own,
                request.Absolute
            );
            var run = Engines.Run(new(model, values, times) { Settings = settings, Start = initial }, totals);
            using var writer = request.Output is null ? Console.Out : new StreamWriter(request.Output.FullName);
            ResultTable.Write(writer, run.Times, columns.Of(run, totals));
            return 0;
        }
        catch (SimulationException failure)
        {
            throw new BadInputException(RunFailure.Say(failure, lowered));
        }
    }

    /// <summary>A run for each subject, one below the other.</summary>
    private static int Subjects(LoweredModel lowered, RunColumns columns, double[] typical, double[] times, Request request)
    {
        if (lowered.Document.Subjects is not { Varying.IsEmpty: false } group)
            throw new BadInputException("The study does not say how subjects differ. Say so under Subjects.");
        var runs = new IReadOnlyList<double[]>[request.Subjects];
        try
        {
            var draws = new SubjectDraws(lowered, group, typical);
            for (var k = 0; k < runs.Length; k++)
            {
                var values = draws.Values(k + 1);
                var totals = columns.Totals(lowered.Network, values, times);
                var run = Engines.Run(
                    new(lowered.Compiled, values, times) { Settings = lowered.Document.Solver.Settings, ScaleToStart = true },
                    totals
                );
                runs[k] = [.. columns.Of(run, totals).Select(column => column.Values)];
            }
        }
        catch (ArgumentException refusal)
        {
            throw new BadInputException(refusal.Message);
        }
        using var writer = request.Output is null ? Console.Out : new StreamWriter(request.Output.FullName);
        ResultTable.Write(writer, times, columns.Heads, runs, "subject", 1);
        return 0;
    }

    internal static SolverChoice Solver(SolverChoice own, Request request)
    {
        var choice = own with
        {
            Method = request.Method is null ? own.Method : Methods[request.Method],
            Step = request.Step ?? own.Step,
            Tolerance = request.Relative ?? own.Tolerance,
        };
        if (!(choice.Step > 0))
            throw new BadInputException("--step is a number above zero, as in --step 0.25.");
        if (!choice.IsSound)
            throw new BadInputException("--rtol lies between 1e-13 and 0.01; 1e-8 is the usual one.");
        return choice;
    }
}
