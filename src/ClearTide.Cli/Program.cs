using System.CommandLine;
using ClearTide.Cli;

var root = new RootCommand("Clear Tide: compartment models from the command line.")
{
    SimulateCommand.Create(),
    EnsembleCommand.Create(),
    ConvertCommand.Create(),
    CheckCommand.Create(),
    FitCommand.Create(),
    ProjectCommand.Create(),
    ExposureCommand.Create(),
    BackupCommand.Create(),
};
var parsed = root.Parse(args);
if (parsed.Errors.Count > 0)
{
    foreach (var error in parsed.Errors)
        Console.Error.WriteLine(error.Message);
    return 2;
}
return parsed.Invoke();
