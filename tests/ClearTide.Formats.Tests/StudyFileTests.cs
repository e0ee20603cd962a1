using System.Globalization;
using System.Text.Json;
using ClearTide.Core.Editing;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Studies;

namespace ClearTide.Formats.Tests;

public class StudyFileTests
{
    public static TheoryData<string> Shipped() =>
        [
            .. Directory
                .EnumerateFiles(Root("demo"), "*.study.json", SearchOption.AllDirectories)
                .Select(path => Path.GetRelativePath(Root(""), path)),
        ];

    internal static string Root(string path)
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (!File.Exists(Path.Combine(folder.FullName, "ClearTide.slnx")))
            folder = folder.Parent!;
        return Path.Combine(folder.FullName, path);
    }

    [Theory]
    [MemberData(nameof(Shipped))]
    public void Every_shipped_study_runs_without_a_finding_and_is_written_as_it_was_read(string file)
    {
        var text = File.ReadAllText(Root(file));
        var bundle = StudyFile.Read(text);
        Assert.Equal(text, StudyFile.Write(bundle));
        Assert.Equal(text, StudyFile.Write(StudyFile.ReadShipped(text)));
        var run = StudyRun.Of(bundle.Document, Series.Of(bundle.Document, bundle.DataSets));
        Assert.Empty(run.Lowered.Findings);
        Assert.NotNull(run.Run);
        Assert.Equal(bundle.Document.Observations.Length, run.Observed.Count);
        Assert.All(run.Observed, curve => Assert.Null(curve.Problem));
    }

    [Theory]
    [InlineData("{", "broken")]
    [InlineData(
        "{\"format\":\"clear-tide-study\",\"format\":\"clear-tide-study\",\"version\":1,\"study\":{\"title\":\"x\"}}",
        "stands there twice"
    )]
    [InlineData("[]", "not a Clear Tide study")]
    [InlineData("{\"format\":\"other\"}", "not a Clear Tide study")]
    [InlineData("{\"format\":\"clear-tide-study\",\"version\":99}", "newer Clear Tide")]
    [InlineData("{\"format\":\"clear-tide-study\",\"version\":1}", "holds no study")]
    [InlineData("{\"format\":\"clear-tide-study\",\"version\":1,\"study\":{\"title\":7}}", "/study/title: something of another kind")]
    [InlineData(
        "{\"format\":\"clear-tide-study\",\"version\":1,\"study\":{\"title\":\"x\",\"timeUnit\":\"fortnight\"}}",
        "no unit of time"
    )]
    [InlineData("{\"format\":\"clear-tide-study\",\"version\":1,\"study\":{\"title\":\"x\",\"start\":5,\"end\":1}}", "end after it starts")]
    [InlineData(
        "{\"format\":\"clear-tide-study\",\"version\":1,\"study\":{\"title\":\"x\",\"flows\":[{\"id\":\"f1\",\"label\":\"\",\"from\":\"c9\",\"to\":null,\"kind\":\"whole\",\"rate\":\"1\"}]}}",
        "an end that is not in the study"
    )]
    public void A_broken_file_is_refused_in_words(string text, string words) =>
        Assert.Contains(words, Assert.Throws<StudyFileException>(() => StudyFile.Read(text)).Message);

    [Theory]
    [InlineData("\"regions\":[{\"id\":\"g1\",\"label\":\"x\",\"members\":[\"c9\"]}]")]
    [InlineData("\"regions\":[{\"id\":\"g1\",\"label\":\"x\",\"members\":[\"c1\"]},{\"id\":\"g2\",\"label\":\"y\",\"members\":[\"c1\"]}]")]
    [InlineData("\"references\":[{\"id\":\"r1\",\"of\":\"c9\",\"x\":1,\"y\":1}]")]
    [InlineData("\"texts\":[{\"id\":\"n1\",\"text\":\"\",\"x\":1,\"y\":1,\"of\":\"c9\"}]")]
    [InlineData("\"regions\":[{\"id\":\"g1\",\"label\":\"x\"}]")]
    public void Marks_on_the_paper_that_mark_nothing_are_refused(string field) =>
        Assert.Throws<StudyFileException>(() =>
            StudyFile.Read(
                $"{{\"format\":\"clear-tide-study\",\"version\":1,\"study\":{{\"title\":\"x\",\"compartments\":[{{\"id\":\"c1\",\"symbol\":\"A\",\"label\":\"A\",\"start\":\"1\",\"x\":0,\"y\":0}}],{field}}}}}"
            )
        );

    [Fact]
    public void Fields_beside_the_study_are_kept_also_over_edits_and_in_storage()
    {
        var plain = StudyFile.Write(new(new AddLines("A -> B at k; k = 0.1").Apply(new StudyDocument { Title = "Estuary" }).Document!, []));
        var text =
            plain.TrimEnd()[..^1].TrimEnd()
            + ",\n  \"$schema\": \"study.schema.json\",\n  \"winds\": {\n    \"from\": [\n      3,\n      4\n    ]\n  }\n}\n";
        var read = StudyFile.Read(text);
        Assert.Equal(text, StudyFile.Write(read));
        var stored = StudyFile.ReadDocument(
            StudyFile.WriteDocument(new SetQuestion("Reeds", "", "", "", "").Apply(read.Document).Document!)
        );
        Assert.Equal(text.Replace("Estuary", "Reeds"), StudyFile.Write(read with { Document = stored }));
    }

    [Fact]
    public void Fields_that_this_version_does_not_know_are_kept_also_over_edits()
    {
        var text = StudyFile.Write(
            new(new AddLines("A -> B at k; k = 0.1; assume: all is well").Apply(new StudyDocument { Title = "Estuary" }).Document!, [])
        );
        foreach (
            var (place, field) in new[]
            {
                ("\"title\": \"Estuary\",", "\"mood\": {\n      \"wind\": [\n        1,\n        2\n      ]\n    }"),
                ("\"symbol\": \"A\",", "\"shade\": \"reed\""),
                ("\"text\": \"all is well\",", "\"since\": 2031"),
            }
        )
            text = text.Replace(place, $"{place} {field},");
        var read = StudyFile.Read(text).Document;
        var edited = new SetField(read.Definitions[0].Id, PartField.Text, "0.2").Apply(read).Document!;
        edited = new SetField(read.Compartments[0].Id, PartField.Label, "Reeds").Apply(edited).Document!;
        var stored = StudyFile.ReadDocument(StudyFile.WriteDocument(edited));
        var written = StudyFile.Write(new(stored, []));
        foreach (var word in (string[])["\"wind\"", "\"shade\": \"reed\"", "\"since\": 2031", "\"label\": \"Reeds\""])
            Assert.Contains(word, written);
        Assert.Equal(written, StudyFile.Write(StudyFile.Read(written)));
    }

    [Fact]
    public void What_is_drawn_in_a_way_of_its_own_comes_back()
    {
        var document = new AddLines("A -> B at 0.1; -> A : 2; B -> C 40%, D the rest after 3 days")
            .Apply(new StudyDocument { Title = "Estuary" })
            .Document!;
        Edit[] edits =
        [
            new ShapeRibbon(document.Flows[0].Id, 0, RibbonShape.Bend, new(3, -40)),
            new ShapeRibbon(document.Flows[0].Id, 0, RibbonShape.Caption, new(10, 20)),
            new ShapeRibbon(document.Flows[0].Id, 0, RibbonShape.Size, null, 18),
            new ShapeRibbon(document.Flows[1].Id, 0, RibbonShape.Open, new(-99, 12)),
            new ShapeRibbon(document.Flows[2].Id, 1, RibbonShape.Bend, new(1, 2)),
            new AddRegion("North", [document.Compartments[0].Id]),
            new AddReference(document.Compartments[1].Id, 400, 500),
            new WriteText(null, "two\nlines", 7, 8),
            new PinPlates([document.Compartments[2].Id], true),
        ];
        document = edits.Aggregate(document, (before, edit) => edit.Apply(before).Document!);
        document = new ChangeRegion(document.Regions[0].Id, Folded: true).Apply(document).Document!;
        var text = StudyFile.Write(new(document, []));
        var again = StudyFile.Read(text).Document;
        Assert.Equal(text, StudyFile.Write(new(again, [])));
        Assert.Empty(DocumentComparison.Of(document, again));
        Assert.Equal(
            (new Offset(3, -40), new Offset(10, 20), 18),
            (again.Flows[0].To[0].Bend, again.Flows[0].To[0].Caption, again.Flows[0].To[0].CaptionSize)
        );
        Assert.True(again.Regions[0].Folded);
        Assert.True(again.Compartments[2].Pinned);
    }

    [Theory]
    [InlineData(7, 10, "/study/outcomeRows")]
    [InlineData(1, 600, "/study/outcomeRows/0")]
    public void Outcomes_of_a_file_are_as_few_and_as_short_as_typed_ones(int count, int length, string place)
    {
        var document = new StudyDocument { Title = "Rows", OutcomeRows = [.. Enumerable.Repeat(new string('1', length), count)] };
        var refused = Assert.Throws<StudyFileException>(() => StudyFile.Read(StudyFile.Write(new(document, []))));
        Assert.Contains(place, refused.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Outcomes_travel_in_the_file()
    {
        var document = new StudyDocument { Title = "Rows", OutcomeRows = ["peak(I)", "ever(H > 40)"] };
        Assert.Equal(document.OutcomeRows, StudyFile.Read(StudyFile.Write(new(document, []))).Document.OutcomeRows);
    }

    [Theory]
    [MemberData(nameof(Shipped))]
    public void The_schema_knows_every_field_of_a_shipped_study(string file)
    {
        using var schema = JsonDocument.Parse(StudySchema.Text);
        using var study = JsonDocument.Parse(File.ReadAllText(Root(file)));
        Check(study.RootElement, schema.RootElement, schema.RootElement, "");
    }

    /// <summary>Walks a value beside the schema that is to describe it: each field has its own, and each value one of the types
    /// said.</summary>
    private static void Check(JsonElement value, JsonElement schema, JsonElement root, string path)
    {
        if (schema.ValueKind != JsonValueKind.Object)
            return;
        if (schema.TryGetProperty("$ref", out var reference))
        {
            var target = root;
            foreach (var step in reference.GetString()!.Split('/').Skip(1))
                target =
                    target.ValueKind == JsonValueKind.Array
                        ? target[int.Parse(step, CultureInfo.InvariantCulture)]
                        : target.GetProperty(step);
            schema = target;
        }
        var kind = value.ValueKind switch
        {
            JsonValueKind.Object => "object",
            JsonValueKind.Array => "array",
            JsonValueKind.String => "string",
            JsonValueKind.Null => "null",
            JsonValueKind.True or JsonValueKind.False => "boolean",
            _ => "number",
        };
        if (schema.TryGetProperty("type", out var types))
        {
            var said =
                types.ValueKind == JsonValueKind.Array
                    ? types.EnumerateArray().Select(type => type.GetString()).ToList()
                    : [types.GetString()];
            Assert.True(
                said.Contains(kind) || (kind == "number" && said.Contains("integer")),
                $"{path} is {kind}, and the schema says {string.Join(" or ", said)}"
            );
        }
        if (value.ValueKind == JsonValueKind.Object && schema.TryGetProperty("properties", out var properties))
        {
            foreach (var field in value.EnumerateObject())
            {
                Assert.True(properties.TryGetProperty(field.Name, out var inner), $"{path}.{field.Name} is not in the schema");
                Check(field.Value, inner, root, $"{path}.{field.Name}");
            }
        }
        if (value.ValueKind == JsonValueKind.Array && schema.TryGetProperty("items", out var items))
        {
            foreach (var one in value.EnumerateArray())
                Check(one, items, root, path + "[]");
        }
    }

    [Fact]
    public void The_solver_and_next_values_travel_and_the_usual_solver_is_left_out()
    {
        var document = new AddLines("next N = 1.2 * N; N(0) = 5; A -> : 1; A(0) = at equilibrium near 3")
            .Apply(new StudyDocument { Title = "Steps" })
            .Document!;
        Assert.DoesNotContain("solver", StudyFile.Write(new(document, [])), StringComparison.Ordinal);
        document = document with { Solver = new(Method.Discrete, 0.5, 1e-6) };
        var text = StudyFile.Write(new(document, []));
        var read = StudyFile.Read(text).Document;
        Assert.Equal(document.Solver, read.Solver);
        Assert.Equal(("1.2 * N", "at equilibrium near 3"), (read.CompartmentBySymbol("N")!.Next, read.CompartmentBySymbol("A")!.Start));
        foreach (
            var broken in new[]
            {
                text.Replace("\"step\": 0.5", "\"step\": -1"),
                text.Replace("\"tolerance\": 1E-06", "\"tolerance\": 5"),
                text.Replace("\"method\": \"discrete\"", "\"method\": \"magic\""),
            }
        )
        {
            Assert.NotEqual(text, broken);
            Assert.Throws<StudyFileException>(() => StudyFile.Read(broken));
        }
    }
}
