using System.CommandLine;
using ClearTide.Core.Formulas;
using ClearTide.Core.Models;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Studies;
using ClearTide.Formats.Tables;

namespace ClearTide.Cli;

/// <summary><c>simulate FILE --end 200 --every 1 --out out.csv</c>: one run of a study as a table.</summary>
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
    };

    public static Command Create()
    {
        var file = new Argument<FileInfo>("FILE") { Description = "A study file (*.study.json)." };
        var start = new Option<double?>("--start") { Description = "Start of the run; the study's own where it is left out." };
        var end = new Option<double?>("--end") { Description = "End of the run; the study's own where it is left out." };
        var every = new Option<double>("--every") { Description = "Spacing of output, in the study's time unit.", DefaultValueFactory = _ => 1 };
        var method = new Option<string>("--method") { Description = "auto, adaptive, stiff, rk4, midpoint or euler.", DefaultValueFactory = _ => "auto" };
        method.AcceptOnlyFromAmong([.. Methods.Keys]);
        var step = new Option<double>("--step") { Description = "Step of calculation for rk4, midpoint and euler.", DefaultValueFactory = _ => 0.25 };
        var relative = new Option<double>("--rtol") { Description = "Relative tolerance.", DefaultValueFactory = _ => SolverSettings.Default.RelativeTolerance };
        var absolute = new Option<double>("--atol") { Description = "Absolute tolerance.", DefaultValueFactory = _ => SolverSettings.Default.AbsoluteTolerance };
        var set = new Option<string[]>("--set") { Description = "Another value for this run: name=value. May be repeated.", DefaultValueFactory = _ => [] };
        var output = new Option<FileInfo?>("--out") { Description = "Where to write the CSV; standard output where it is left out." };
        var command = new Command("simulate", "Runs a study and writes time and the amount of each compartment.") { file, start, end, every, method, step, relative, absolute, set, output };
        command.SetAction(parsed =>
        {
            var settings = SolverSettings.Default with
            {
                Method = Methods[parsed.GetValue(method)!],
                Step = parsed.GetValue(step),
                RelativeTolerance = parsed.GetValue(relative),
                AbsoluteTolerance = parsed.GetValue(absolute),
            };
            try
            {
                Run(parsed.GetValue(file)!, parsed.GetValue(start), parsed.GetValue(end), parsed.GetValue(every), settings, parsed.GetValue(set)!, parsed.GetValue(output));
                return 0;
            }
            catch (Exception wrong) when (wrong is StudyFileException or BadInputException or IOException or UnauthorizedAccessException or ArgumentOutOfRangeException)
            {
                Console.Error.WriteLine(wrong is ArgumentOutOfRangeException range ? range.Message.Split(" (Parameter", 2)[0] : wrong.Message);
                return 1;
            }
        });
        return command;
    }

    private static void Run(FileInfo file, double? start, double? end, double every, SolverSettings settings, string[] overrides, FileInfo? output)
    {
        if (!file.Exists) throw new BadInputException($"There is no file {file.Name}. Check the path.");
        var document = StudyFile.Read(File.ReadAllText(file.FullName)).Document;
        var lowered = Lowering.Lower(document);
        foreach (var finding in lowered.Findings) Console.Error.WriteLine(finding.Message);
        if (lowered.IsProvisional) throw new BadInputException("The model has unfinished parts, listed above. Finish them before running it.");
        var model = new CompiledModel(lowered.Form);
        var values = lowered.Form.ValueVector();
        foreach (var change in overrides) Set(document, lowered.Form, values, change);
        var times = Simulator.Grid(start ?? document.Start, end ?? document.End, every);
        try
        {
            var run = Simulator.Run(model, model.InitialState(values), ParameterSchedule.Constant(values), times, settings);
            using var writer = output is null ? Console.Out : new StreamWriter(output.FullName);
            ResultTable.Write(writer, run);
        }
        catch (SimulationException failure)
        {
            throw new BadInputException(RunFailure.Say(failure, lowered));
        }
    }

    private static void Set(StudyDocument document, GeneralForm form, double[] values, string change)
    {
        var cut = change.IndexOf('=');
        if (cut <= 0) throw new BadInputException($"--set is written name=value, as in --set beta=0.4; “{change}” is not.");
        var (address, text) = (change[..cut].Trim(), change[(cut + 1)..]);
        if (form.IndexOf(address) is var index && index < 0)
        {
            var near = Symbols.Nearest(address, form.Values.Select(value => value.Address));
            throw new BadInputException($"There is no value “{address}” in the model." + (near is null ? $" It has {string.Join(", ", form.Values.Select(value => value.Address))}." : $" Did you mean {near}?"));
        }
        var formula = Formula.Read(text);
        if (formula.Tree is null || formula.HasNames) throw new BadInputException($"--set {address}: {formula.Problem?.Message ?? "type a plain number."}");
        values[index] = FormulaBinder.ValueOf(formula.Tree, document.UnitTable());
    }

    private sealed class BadInputException(string message) : Exception(message);
}
