using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Petab;
using ClearTide.Formats.Sbml;
using ClearTide.Formats.Studies;

namespace ClearTide.Cli;

/// <summary>A file that holds a model: a study file, or a text of lines as the quick line reads them.</summary>
internal static class ModelFile
{
    public const string Help =
        "A study file (*.study.json), a text of lines as they are typed into the quick line (*.txt), SBML (*.xml, *.sbml), or a fitting "
        + "problem of PEtab (*.yaml).";

    /// <summary>Whether a file is SBML, by its ending.</summary>
    public static bool IsSbml(FileInfo file) => file.Extension.ToLowerInvariant() is ".xml" or ".sbml";

    /// <summary>Whether a file lists those of a fitting problem, by its ending.</summary>
    public static bool IsPetab(FileInfo file) => file.Extension.ToLowerInvariant() is ".yaml" or ".yml";

    /// <summary>A fitting problem; what a study does not hold of it is told on the standard error.</summary>
    private static StudyBundle ReadPetab(FileInfo file)
    {
        string Open(string name)
        {
            var beside = new FileInfo(Path.Combine(file.DirectoryName!, name));
            return beside.Exists
                ? File.ReadAllText(beside.FullName)
                : throw new PetabException($"There is no file {name} beside {file.Name}.");
        }
        var problem = PetabProblem.Read(File.ReadAllText(file.FullName), Open);
        var (bundle, left) = PetabImport.Read(problem, Path.GetFileNameWithoutExtension(file.Name));
        foreach (var sentence in left)
            Console.Error.WriteLine(sentence);
        return bundle;
    }

    /// <exception cref="BadInputException">There is no such file, or its lines cannot be read.</exception>
    /// <exception cref="StudyFileException">It is not a study.</exception>
    public static StudyBundle Read(FileInfo file)
    {
        if (!file.Exists)
            throw new BadInputException($"There is no file {file.Name}. Check the path.");
        if (IsSbml(file))
            return new(SbmlImport.Read(SbmlRun.Read(file), Path.GetFileNameWithoutExtension(file.Name)), []);
        if (IsPetab(file))
            return ReadPetab(file);
        var text = File.ReadAllText(file.FullName);
        if (!file.Name.EndsWith(".txt", StringComparison.OrdinalIgnoreCase))
            return StudyFile.Read(text);
        var empty = StudyDefaults.Plain.Begin() with { Title = Path.GetFileNameWithoutExtension(file.Name) };
        var result = new AddLines(text).Apply(empty);
        if (result.Document is { } document)
            return new(document, []);
        var line = result.Span is { } span ? $"Line {text[..Math.Min(span.Start, text.Length)].Count(sign => sign == '\n') + 1}: " : "";
        throw new BadInputException(line + result.Refusal);
    }
}
