using System.CommandLine;
using System.Globalization;
using ClearTide.Storage;

namespace ClearTide.Cli;

/// <summary>Copies all studies to one file, while the application runs.</summary>
internal static class BackupCommand
{
    public static Command Create()
    {
        var file = new Argument<string>("file")
        {
            Description = "The file that the copy goes to; a folder gets one with the date in " + "its name.",
        };
        var data = new Option<string>("--data") { Description = "The data folder.", DefaultValueFactory = _ => "data" };
        var command = new Command(
            "backup",
            "Copies all studies, their data and their history to one file, also while the application runs."
        )
        {
            file,
            data,
        };
        command.SetAction(parsed => BadInput.Told(() => Run(parsed.GetValue(data)!, parsed.GetValue(file)!)));
        return command;
    }

    private static int Run(string folder, string file)
    {
        if (Directory.Exists(file))
        {
            file = Path.Combine(file, string.Create(CultureInfo.InvariantCulture, $"cleartide-{DateTime.Now:yyyy-MM-dd-HHmmss}.db"));
        }
        try
        {
            var studies = Backup.Make(folder, file);
            Console.WriteLine($"{file}: {studies} {(studies == 1 ? "study" : "studies")}");
            return 0;
        }
        catch (DataFolderException wrong)
        {
            Console.Error.WriteLine(wrong.Message);
            return 1;
        }
    }
}
