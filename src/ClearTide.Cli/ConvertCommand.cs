using System.CommandLine;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Petab;
using ClearTide.Formats.Print;
using ClearTide.Formats.Sbml;
using ClearTide.Formats.Studies;

namespace ClearTide.Cli;

/// <summary><c>convert IN OUT</c>: a model in another form, by the ending of the file that is written.</summary>
internal static class ConvertCommand
{
    private static readonly (string Ending, string What, Func<StudyBundle, string> Write)[] Forms =
    [
        (".study.json", "a study file", StudyFile.Write),
        (".txt", "lines that the quick line reads", bundle => LineText.Of(bundle.Document) + "\n"),
        (".tex", "its equations in LaTeX", bundle => Equations.Latex(bundle.Document)),
        (".mml", "its equations in MathML", bundle => Equations.MathMlPage(bundle.Document)),
    ];

    public static Command Create()
    {
        var input = new Argument<FileInfo>("IN") { Description = ModelFile.Help };
        var output = new Argument<FileInfo>("OUT")
        {
            Description =
                $"What to write: {string.Join(", ", Forms.Select(form => $"*{form.Ending} for {form.What}"))}, *.xml for SBML, "
                + "*.yaml for a fitting problem of PEtab, with its other files beside.",
        };
        var command = new Command("convert", "Writes a model in another form.") { input, output };
        command.SetAction(parsed => BadInput.Told(() => Convert(parsed.GetValue(input)!, parsed.GetValue(output)!)));
        return command;
    }

    private static int Convert(FileInfo input, FileInfo output)
    {
        if (ModelFile.IsSbml(input) && ModelFile.IsSbml(output))
        {
            var model = SbmlRun.Read(input);
            foreach (var note in model.Notes)
                Console.Error.WriteLine($"line {note.Line}: {note.Message}");
            File.WriteAllText(output.FullName, SbmlWriter.Write(model));
            return 0;
        }
        if (ModelFile.IsSbml(output))
        {
            var exported = SbmlExport.Of(ModelFile.Read(input).Document);
            File.WriteAllText(output.FullName, SbmlWriter.Write(exported.Model));
            foreach (var sentence in exported.Left)
                Console.Error.WriteLine(sentence);
            return 0;
        }
        if (ModelFile.IsPetab(output))
        {
            var (files, unsaid) = PetabExport.Write(ModelFile.Read(input), Path.GetFileNameWithoutExtension(output.Name));
            foreach (var (name, text) in files)
                File.WriteAllText(Path.Combine(output.DirectoryName!, name), text);
            foreach (var sentence in unsaid)
                Console.Error.WriteLine(sentence);
            return 0;
        }
        var form = Forms.FirstOrDefault(form => output.Name.EndsWith(form.Ending, StringComparison.OrdinalIgnoreCase));
        if (form.Write is null)
            throw new BadInputException(
                $"“{output.Name}” has an ending that stands for no form. There are "
                    + $"{string.Join(", ", Forms.Select(known => $"{known.Ending} ({known.What})"))}, .xml (SBML), "
                    + ".yaml (a fitting problem of PEtab)."
            );
        var bundle = ModelFile.Read(input);
        foreach (var note in bundle.Document.FileNotes)
            Console.Error.WriteLine(note);
        File.WriteAllText(output.FullName, form.Write(bundle));
        if (form.Ending == ".txt" && Left(bundle.Document) is { Length: > 0 } left)
            Console.Error.WriteLine($"Lines do not hold {left}.");
        return 0;
    }

    /// <summary>What a study has that its lines do not say.</summary>
    private static string Left(StudyDocument document) =>
        string.Join(
            ", ",
            new[]
            {
                (document.Observations.IsEmpty, "observations and data"),
                (document.Scenarios.IsEmpty, "scenarios"),
                (document.Regions.IsEmpty && document.Texts.IsEmpty, "regions and texts of the diagram"),
                (document.Parts.All(part => part.Note.Length == 0), "notes"),
                (document.Parts.All(part => part is not ISymbolPart named || part.Label == named.Symbol), "labels"),
                (
                    document.Events.All(rule => rule == new EventRule(rule.Id, rule.Label, rule.Text, rule.Note)),
                    "what events say beyond their line"
                ),
                (document.Solver == SolverChoice.Usual, "the choice of the method"),
            }
                .Where(pair => !pair.Item1)
                .Select(pair => pair.Item2)
        );
}
