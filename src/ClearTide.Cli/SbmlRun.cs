using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;
using ClearTide.Formats.Sbml;
using ClearTide.Formats.Tables;

namespace ClearTide.Cli;

/// <summary>One run of an SBML model as a table: columns by id, in the order of the file.</summary>
internal static class SbmlRun
{
    public static int Simulate(FileInfo file, SimulateCommand.Request request)
    {
        var model = Read(file);
        foreach (var note in model.Notes)
            Console.Error.WriteLine($"line {note.Line}: {note.Message}");
        var solver = SimulateCommand.Solver(SolverChoice.Usual, request);
        if (solver.IsDiscrete)
            throw new BadInputException("SBML models go in continuous time. Leave --method discrete out.");
        var times = OutputTimes.Every(
            request.Start ?? 0,
            request.End ?? throw new BadInputException("An SBML model has no span of its own: say where the run ends, as in --end 100."),
            request.Every
        );
        if (request.Start is < 0)
            throw new BadInputException(
                "Initial amounts of SBML hold at time 0: a run starts there. Give a --start of 0 or later, from which on results are "
                    + "written."
            );
        var late = times[0] > 0;
        if (late)
            times = [0, .. times];
        var lowered = SbmlLowering.Lower(model);
        var (form, columns) = lowered;
        var compiled = new CompiledModel(form);
        var values = form.ValueVector();
        ValueOverrides.Apply(form, new StudyDocument { Title = "" }.UnitTable(), values, request.Set);
        var own = request.Absolute.Length > 0 ? solver.Settings : solver.Settings.ScaledTo(Initial(compiled, values, form));
        var settings = Tolerances.Apply(
            form,
            form.States.ToDictionary(state => state.Symbol, state => state.PartId),
            own,
            request.Absolute
        );
        var chosen = request.Columns is null ? [.. columns.Where(column => column.IsShown)] : Chosen(columns, request.Columns);
        Trajectory run;
        try
        {
            run = Engines.Run(new(compiled, values, times) { Settings = settings });
        }
        catch (SimulationException failure)
        {
            throw new BadInputException(Say(failure, form));
        }
        foreach (var column in columns.Where(column => lowered.Algebraic.Contains(column.Id)))
        {
            var open = Array.FindIndex(run.QuantityColumn(column.Concentration), value => !double.IsFinite(value));
            if (open >= 0)
                throw new BadInputException(
                    $"The algebraic rules of this model give {column.Id} no value at time {NumberWords.Of(run.Times[open])}: what it "
                        + "is divided by is zero there."
                );
        }
        for (var k = 0; k < model.Constraints.Length; k++)
        {
            var row = Array.IndexOf(run.QuantityColumn(lowered.Constraints[k]), 0);
            if (row >= 0)
                Console.Error.WriteLine(
                    $"line {model.Constraints[k].Line}: A constraint of the model does not hold at time "
                        + $"{run.Times[row]}{(model.Constraints[k].Message.Length > 0 ? $": {model.Constraints[k].Message}" : ".")}"
                );
        }
        foreach (var column in chosen)
        {
            // The standard lets a number be none; whoever reads the table should not have to find out.
            var none = Array.FindIndex(run.QuantityColumn(request.Amounts ? column.Amount : column.Concentration), double.IsNaN);
            if (none >= 0)
                Console.Error.WriteLine(
                    $"{column.Id} is no number at time {NumberWords.Of(run.Times[none])}: something that it is made of has no value "
                        + "in the file."
                );
        }
        using var writer = request.Output is null ? Console.Out : new StreamWriter(request.Output.FullName);
        var first = late ? 1 : 0;
        ResultTable.Write(
            writer,
            times[first..],
            [
                .. chosen.Select(column => new TableColumn(
                    column.Id,
                    run.QuantityColumn(request.Amounts ? column.Amount : column.Concentration)[first..]
                )),
            ]
        );
        return 0;
    }

    /// <summary>Says what is left out of a model, and whether it can be run: its initial amounts and rates are numbers.</summary>
    public static int Check(FileInfo file)
    {
        var model = Read(file);
        foreach (var note in model.Notes)
            Console.Out.WriteLine($"line {note.Line}: {note.Message}");
        var form = SbmlLowering.Lower(model).Network;
        var compiled = new CompiledModel(form);
        var values = form.ValueVector();
        try
        {
            Engines.Run(new(compiled, values, [0, 1e-6]) { Start = Initial(compiled, values, form) });
        }
        catch (SimulationException failure)
        {
            throw new BadInputException(Say(failure, form));
        }
        Console.Out.WriteLine("The model runs.");
        return 0;
    }

    public static SbmlModel Read(FileInfo file)
    {
        if (!file.Exists)
            throw new BadInputException($"There is no file {file.Name}. Check the path.");
        if (file.Length > SbmlReader.LongestFile)
            throw new BadInputException($"{file.Name} has {file.Length:N0} bytes; {SbmlReader.LongestFile:N0} is the limit.");
        using var bytes = file.OpenRead();
        return SbmlReader.Read(bytes);
    }

    internal static double[] Initial(CompiledModel model, double[] values, ReactionNetwork form)
    {
        var state = model.InitialState(values);
        var missing = Array.FindIndex(state, double.IsNaN);
        return missing < 0
            ? state
            : throw new BadInputException($"{form.States[missing].Symbol} has no initial value. Give it one in the file.");
    }

    internal static List<SbmlColumn> Chosen(IReadOnlyList<SbmlColumn> columns, string typed) =>
        [
            .. typed
                .Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
                .Select(id =>
                {
                    if (columns.FirstOrDefault(column => column.Id == id) is { } known)
                        return known;
                    var near = Symbols.Nearest(id, columns.Select(column => column.Id));
                    throw new BadInputException(
                        $"--columns: “{id}” is no id of the model.{(near is null ? "" : $" Did you mean {near}?")}"
                    );
                }),
        ];

    internal static string Say(SimulationException failure, ReactionNetwork form)
    {
        var grown = FailureCause.Grown(failure, form);
        var (fastest, slope) = FailureCause.Fastest(failure, form);
        var state = grown >= 0 ? grown : fastest;
        var why =
            grown >= 0
                ? "it grows without bound there"
                : failure.Reason switch
                {
                    FailureReason.TooManySteps => "it takes too many steps to go on",
                    FailureReason.NotFinite => "a rate is not finite there",
                    FailureReason.StepTooSmall => "no step is short enough to go on",
                    FailureReason.EventsWithoutEnd => "events set off one another there without end",
                    FailureReason.NoSolution => $"the algebraic rules for {failure.PartId} have no solution there",
                    FailureReason.BadDelay => "a delay is not a time above zero",
                    FailureReason.BadAction => "an event sets a number that is not finite",
                    _ => "a value is out of its range",
                };
        var values =
            state < 0
                ? ""
                : $" {form.States[state].Symbol} was {NumberWords.Of(failure.State[state])} and changed by {NumberWords.Of(slope)} "
                    + "per unit of time.";
        return $"The run stopped at time {NumberWords.Of(failure.Time)}: "
            + $"{why}.{(grown >= 0 ? $" {form.States[grown].Symbol} had reached {NumberWords.Of(failure.State[grown])}." : values)}";
    }
}
