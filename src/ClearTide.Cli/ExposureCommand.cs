using System.CommandLine;
using ClearTide.Core.Analysis;
using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Formats.Tables;

namespace ClearTide.Cli;

/// <summary><c>exposure STUDY.json</c>: exposures of a study's subjects under each plan; <c>exposure DATA.csv</c>: those of
/// observed levels, without a model.</summary>
internal static class ExposureCommand
{
    public static Command Create()
    {
        var file = new Argument<FileInfo>("FILE") { Description = "A study file with subjects, or a table of levels (CSV, TSV)." };
        var count = new Option<int?>("--subjects") { Description = "How many subjects of a study; its own number where it is left out." };
        var seed = new Option<long?>("--seed") { Description = "Names the subjects; the study's own where it is left out." };
        var of = new Option<string?>("--of")
        {
            Description = "The compartment or quantity that is looked at; the study's own where it is left out.",
        };
        var points = new Option<int>("--points")
        {
            Description = "How many of the last points of a table the half-life is of.",
            DefaultValueFactory = _ => ObservedExposure.UsualPoints,
        };
        var output = RunOptions.Output();
        var command = new Command("exposure", "Writes maximum, trough, areas and half-life, subject by subject.")
        {
            file,
            count,
            seed,
            of,
            points,
            output,
        };
        command.SetAction(parsed =>
            BadInput.Told(() =>
            {
                var (from, to) = (parsed.GetValue(file)!, parsed.GetValue(output));
                using var writer = to is null ? Console.Out : new StreamWriter(to.FullName);
                return from.Extension is ".csv" or ".tsv" or ".txt"
                    ? OfTable(from, parsed.GetValue(points), writer)
                    : OfStudy(from, parsed.GetValue(count), parsed.GetValue(seed), parsed.GetValue(of), writer);
            })
        );
        return command;
    }

    private static int OfTable(FileInfo file, int points, TextWriter writer)
    {
        if (!file.Exists)
            throw new BadInputException($"There is no file {file.Name} here.");
        if (points < ObservedExposure.UsualPoints)
            throw new BadInputException($"--points is {ObservedExposure.UsualPoints} or more: a slope needs them.");
        MappedCounts mapped;
        try
        {
            var table = CountTable.Read(File.ReadAllText(file.FullName));
            // What doses go into matters to a model alone.
            ColumnRole[] roles = [.. ColumnRoles.Guess(table).Select(role => role == ColumnRole.Target ? ColumnRole.Out : role)];
            var series = ColumnRoles.Series(table, roles);
            mapped = CountMapper.Map(
                table,
                new(Array.IndexOf(roles, ColumnRole.Time), series[0].Value)
                {
                    AtOneTime = true,
                    BelowColumn = series[0].Below,
                    Subjects = ColumnRoles.Subjects(table, roles, []),
                },
                new(null, TimeUnit.Hour)
            );
        }
        catch (TableException wrong)
        {
            throw new BadInputException(wrong.Message);
        }
        foreach (var bad in mapped.Bad)
            Console.Error.WriteLine($"row {bad.Row} is left out: {bad.Reason}");
        writer.WriteLine("subject,maximum,time_of_maximum,last,time_of_last,area_to_last,half_life,area_to_infinity,points,r_squared");
        foreach (var group in mapped.Rows.GroupBy(row => row.Subject))
        {
            if (ObservedExposure.Of(group, points) is not { } one)
                continue;
            double[] numbers =
            [
                one.Maximum,
                one.MaximumTime,
                one.Last,
                one.LastTime,
                one.AreaToLast,
                one.HalfLife,
                one.AreaToInfinity,
                one.Points,
                one.Fit,
            ];
            writer.WriteLine($"{group.Key ?? "1"},{string.Join(',', numbers.Select(Cell))}");
        }
        return 0;
    }

    private static int OfStudy(FileInfo file, int? count, long? seed, string? of, TextWriter writer)
    {
        if (ModelFile.IsSbml(file))
            throw new BadInputException("SBML holds no subjects. Make a study file of it with convert.");
        var document = ModelFile.Read(file).Document;
        document = document with { Seed = seed ?? document.Seed };
        var group = document.Subjects ?? SubjectGroup.None;
        var number = count ?? group.Count;
        if (number is < 1 or > SubjectGroup.Most)
            throw new BadInputException($"--subjects is a number from 1 to {SubjectGroup.Most:N0}.");
        var part = of is null ? document.Part(group.Of) : document.PartBySymbol(Symbols.Normalize(of.Trim()));
        if (part is null)
            throw new BadInputException(
                of is null ? "Say which curve is looked at, as in --of C." : $"There is no compartment or quantity “{of}” in the study."
            );
        SubjectRuns runs;
        try
        {
            runs = SubjectRuns.Of(Lowering.Lower(document), group, part.Id, number, Environment.ProcessorCount);
        }
        catch (ArgumentException refusal)
        {
            throw new BadInputException(refusal.Message);
        }
        writer.WriteLine(
            "plan,subject,"
                + string.Concat(group.Varying.Select(one => $"{one.Address},"))
                + "maximum,time_of_maximum,minimum,trough,average,area,inside_target"
        );
        foreach (var plan in runs.Plans)
        {
            for (var k = 0; k < plan.Exposures.Count; k++)
            {
                if (plan.Exposures[k] is not { } one)
                    continue;
                double[] numbers = [one.Maximum, one.MaximumTime, one.Minimum, one.Trough, one.Average, one.Area, one.Inside / one.Length];
                var name =
                    plan.Name.AsSpan().IndexOfAny(",\"\n") < 0
                        ? plan.Name
                        : $"\"{plan.Name.Replace("\"", "\"\"", StringComparison.Ordinal)}\"";
                writer.WriteLine($"{name},{k + 1},{string.Join(',', runs.Own[k].Concat(numbers).Select(Cell))}");
            }
            if (plan.Failure is { } failure)
                Console.Error.WriteLine($"{plan.Name}: {plan.Failed} subjects could not be run: {failure}");
        }
        Console.Error.WriteLine(
            $"{part.Name}, {number:N0} subjects, {document.TimeUnit.Singular} {NumberWords.Of(runs.Window.From)} to "
                + $"{NumberWords.Of(runs.Window.Until)}."
        );
        return 0;
    }

    private static string Cell(double number) => double.IsFinite(number) ? TypedNumber.Exact(number) : "";
}
