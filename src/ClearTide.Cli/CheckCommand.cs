using System.CommandLine;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Reports;

namespace ClearTide.Cli;

/// <summary><c>check FILE</c>: everything that Build would say of a model and its run.</summary>
internal static class CheckCommand
{
    public static Command Create()
    {
        var file = new Argument<FileInfo>("FILE") { Description = ModelFile.Help };
        var command = new Command(
            "check",
            "Lists what is unfinished or doubtful in a model and in its run. Exit code 1 where it cannot be run as it is."
        )
        {
            file,
        };
        command.SetAction(parsed => BadInput.Told(() => Check(parsed.GetValue(file)!)));
        return command;
    }

    private static int Check(FileInfo file)
    {
        if (ModelFile.IsSbml(file))
            return SbmlRun.Check(file);
        var document = ModelFile.Read(file).Document;
        var run = StudyRun.Of(document);
        foreach (var finding in run.Findings)
            Console.Out.WriteLine(FindingLine.Of(document, finding));
        if (run.Failure is not null)
            Console.Out.WriteLine($"failure: {run.Failure}");
        var unfinished = run.Findings.Count(finding => finding.Severity == Severity.Unfinished);
        Console.Out.WriteLine(unfinished == 0 && run.Failure is null ? "The model runs." : "The model cannot be run as it is.");
        return unfinished == 0 && run.Failure is null ? 0 : 1;
    }
}
