using ClearTide.Formats.Sbml;
using YamlDotNet.Core;
using YamlDotNet.Serialization;
using YamlDotNet.Serialization.NamingConventions;

namespace ClearTide.Formats.Petab;

/// <summary>A fitting problem in the open format PEtab, version 1: a model in SBML with tables of conditions, observables, measurements and
/// parameters (Schmiester and others, PLoS Computational Biology 17, 2021, e1008646).</summary>
public sealed record PetabProblem(
    SbmlModel Model,
    PetabTable Parameters,
    PetabTable Conditions,
    PetabTable Observables,
    PetabTable Measurements
)
{
    /// <summary>Characters of the file that names the others at most.</summary>
    private const int LongestList = 100_000;

    /// <summary>The list of files, as the YAML has it.</summary>
    private sealed class FileList
    {
        public object? FormatVersion { get; set; }

        public object? ParameterFile { get; set; }

        public List<Part>? Problems { get; set; }
    }

    private sealed class Part
    {
        public List<string>? SbmlFiles { get; set; }

        public List<string>? MeasurementFiles { get; set; }

        public List<string>? ConditionFiles { get; set; }

        public List<string>? ObservableFiles { get; set; }
    }

    /// <param name="yaml">The text that names the files.</param>
    /// <param name="open">The text of a file by its name, beside the YAML.</param>
    /// <exception cref="PetabException">It is no problem of this version, or one that is in several pieces.</exception>
    /// <exception cref="SbmlException">Its model cannot be read.</exception>
    public static PetabProblem Read(string yaml, Func<string, string> open)
    {
        if (yaml.Length > LongestList)
            throw new PetabException("This YAML is too long to be a list of files. Choose the problem's own YAML.");
        var list = Parse(yaml);
        if (list?.Problems is not { Count: > 0 } problems || list.ParameterFile is null)
            throw new PetabException("This YAML names no parameter_file and no problems: it is no problem of PEtab, version 1.");
        if ($"{list.FormatVersion}".Trim() is not ("1" or "1.0.0"))
            throw new PetabException($"This problem is of format_version {list.FormatVersion}; version 1 can be read.");
        if (problems.Count > 1)
            throw new PetabException($"This YAML holds {problems.Count} problems; one can be read. Take the others out.");
        var part = problems[0];
        string One(List<string>? files, string what) =>
            files switch
            {
                [var file] => file,
                null or [] => throw new PetabException($"This YAML names no {what}."),
                _ => throw new PetabException($"This YAML names {files.Count} {what}; one can be read. Put them together in one."),
            };
        PetabTable Table(string file, params string[] needed) => new(file, Open(file, open), needed);
        return new(
            SbmlReader.Read(Open(One(part.SbmlFiles, "sbml_files"), open)),
            Table(
                list.ParameterFile as string ?? throw new PetabException("parameter_file is to name one file."),
                "parameterId",
                "estimate"
            ),
            Table(One(part.ConditionFiles, "condition_files"), "conditionId"),
            Table(One(part.ObservableFiles, "observable_files"), "observableId", "observableFormula", "noiseFormula"),
            Table(One(part.MeasurementFiles, "measurement_files"), "observableId", "simulationConditionId", "measurement", "time")
        );
    }

    private static FileList? Parse(string yaml)
    {
        try
        {
            return new DeserializerBuilder()
                .WithNamingConvention(UnderscoredNamingConvention.Instance)
                .IgnoreUnmatchedProperties()
                .Build()
                .Deserialize<FileList>(yaml);
        }
        catch (YamlException wrong)
        {
            throw new PetabException(
                $"Line {wrong.Start.Line} of the YAML cannot be read: {wrong.InnerException?.Message ?? wrong.Message}"
            );
        }
    }

    /// <summary>A file beside the YAML, and nowhere else.</summary>
    private static string Open(string file, Func<string, string> open) =>
        file.Length == 0 || Path.IsPathRooted(file) || file.Split('/', '\\').Contains("..")
            ? throw new PetabException($"“{file}” lies outside the folder of the problem. Put its files beside the YAML.")
            : open(file);
}
