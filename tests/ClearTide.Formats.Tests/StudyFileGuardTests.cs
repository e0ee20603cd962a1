using System.Text.Json.Nodes;
using ClearTide.Core.Analysis;
using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Editing;
using ClearTide.Core.Inference;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Tests;
using ClearTide.Formats.Sbml;
using ClearTide.Formats.Studies;

namespace ClearTide.Formats.Tests;

/// <summary>No file that is not a study comes in, whatever is wrong with it, and what is told of it has the place.</summary>
public sealed class StudyFileGuardTests
{
    private static string File(string study, string beside = "") =>
        $"{{\"format\":\"clear-tide-study\",\"version\":1,\"study\":{{\"title\":\"Reeds\"{study}}}{beside}}}";

    [Theory]
    [InlineData(",\"definitions\":[{\"id\":\"v1\",\"symbol\":\"a\"}]", "/study/definitions/0: what is required is missing", "text")]
    [InlineData(",\"compartments\":[{\"id\":\"c1\",\"symbol\":\"A\"}]", "/study/compartments/0", "start")]
    [InlineData(",\"reactions\":[{\"id\":\"r1\",\"symbol\":\"a\",\"label\":\"\"}]", "/study/reactions/0", "text")]
    [InlineData(",\"events\":[{\"id\":\"e1\",\"label\":\"\"}]", "/study/events/0", "text")]
    [InlineData(",\"curves\":[{\"id\":\"k1\",\"symbol\":\"a\",\"label\":\"\",\"law\":\"hill\"}]", "/study/curves/0", "points")]
    [InlineData(",\"panels\":[{\"id\":\"x1\"}]", "/study/panels/0", "kind")]
    [InlineData(",\"panels\":[{\"id\":\"x1\",\"kind\":99}]", "/study/panels/0/kind", "")]
    [InlineData(",\"units\":[{\"word\":\"clutch\"}]", "/study/units/0", "meaning")]
    [InlineData(",\"texts\":[{\"id\":\"n1\",\"x\":1,\"y\":1}]", "/study/texts/0", "text")]
    [InlineData(",\"compartments\":[null]", "/study/compartments/0", "object")]
    [InlineData(",\"compartments\":null", "/study/compartments", "array")]
    [InlineData(",\"tags\":[null]", "/study/tags/0", "string")]
    [InlineData(",\"question\":null", "/study/question", "string")]
    [InlineData(",\"end\":1e999", "/study/end", "too large")]
    [InlineData(
        ",\"compartments\":[{\"id\":\"c1\",\"symbol\":\"2 b\",\"label\":\"\",\"start\":\"1\",\"x\":0,\"y\":0}]",
        "The part c1",
        "cannot be a symbol"
    )]
    [InlineData(
        ",\"compartments\":[{\"id\":\"c1\",\"symbol\":\"A\",\"label\":\"\",\"start\":\"1\",\"x\":0,\"y\":0},{\"id\":\"c2\",\"symbol\":\"A\",\"label\":\"\",\"start\":\"1\",\"x\":0,\"y\":0}]",
        "have the symbol A",
        ""
    )]
    [InlineData(",\"panels\":[{\"id\":\"x1\",\"kind\":\"curves\"},{\"id\":\"x1\",\"kind\":\"curves\"}]", "share the id x1", "")]
    [InlineData(",\"sliders\":[{\"address\":\"a\",\"low\":2,\"high\":1}]", "slider a", "")]
    public void What_lacks_something_or_holds_another_kind_is_refused_with_its_place(string study, string place, string words)
    {
        var message = Assert.Throws<StudyFileException>(() => StudyFile.Read(File(study))).Message;
        Assert.Contains(place, message);
        Assert.Contains(words, message);
    }

    [Theory]
    [InlineData("[{\"id\":\"d\",\"name\":\"n\",\"rows\":[]}]", "/dataSets/0/rows")]
    [InlineData("[{\"id\":\"d\",\"name\":\"n\"}]", "/dataSets/0")]
    [InlineData(
        "[{\"id\":\"d\",\"name\":\"n\",\"rows\":[{\"start\":0,\"end\":1,\"value\":1}]},{\"id\":\"d\",\"name\":\"m\",\"rows\":[{\"start\":0,\"end\":1,\"value\":1}]}]",
        "the id d"
    )]
    public void Data_that_are_none_are_refused(string sets, string words) =>
        Assert.Contains(words, Assert.Throws<StudyFileException>(() => StudyFile.Read(File("", $",\"dataSets\":{sets}"))).Message);

    [Theory]
    [InlineData("title", 120)]
    [InlineData("question", 2000)]
    [InlineData("description", 20_000)]
    public void Texts_have_the_bounds_of_the_editor(string field, int most)
    {
        string With(int length)
        {
            var root = JsonNode.Parse(File(""))!;
            root["study"]![field] = new string('r', length);
            return root.ToJsonString();
        }
        Assert.Equal(most, ((string)JsonNode.Parse(StudyFile.Write(StudyFile.Read(With(most))))!["study"]![field]!).Length);
        Assert.Contains($"/study/{field}", Assert.Throws<StudyFileException>(() => StudyFile.Read(With(most + 1))).Message);
    }

    [Fact]
    public void What_is_stored_and_is_no_study_is_told_when_it_is_read()
    {
        foreach (
            var text in (string[])
                [
                    "{\"title\":\"Reeds\",\"definitions\":[{\"id\":\"v1\",\"symbol\":\"a\"}]}",
                    "{\"title\":\"Reeds\",\"compartments\":[null]}",
                    "{\"title\":\"Reeds\",\"question\":null}",
                    "{}",
                    "null",
                    "no",
                    "{\"title\":\"Reeds\",\"fit\":{}}",
                ]
        )
        {
            Assert.Throws<StudyFileException>(() => StudyFile.ReadDocument(text));
        }
    }

    private const string Sbml = "<sbml xmlns=\"http://www.sbml.org/sbml/level3/version2/core\" level=\"3\" version=\"2\"><model id=\"m\">";

    [Fact]
    public void A_model_with_long_names_becomes_a_study_whose_file_is_one()
    {
        var (id, name) = (new string('s', 70), new string('n', 300));
        var text =
            $"{Sbml}<listOfCompartments><compartment id=\"c\" size=\"1\" "
            + $"constant=\"true\"/></listOfCompartments><listOfSpecies><species id=\"{id}\" name=\"{name}\" compartment=\"c\" "
            + $"initialAmount=\"1\" hasOnlySubstanceUnits=\"true\" boundaryCondition=\"false\" constant=\"false\"><notes><p "
            + $"xmlns=\"http://www.w3.org/1999/xhtml\">{new string('w', 20_000)}</p></notes></species></listOfSpecies></model></sbml>";
        var study = SbmlImport.Read(SbmlReader.Read(text), "reeds");
        Assert.NotEmpty(StudyFile.Read(StudyFile.Write(new(study, []))).Document.SymbolParts);
    }

    [Fact]
    public void Elements_within_elements_and_functions_of_functions_are_refused_at_once()
    {
        var deep =
            $"{Sbml}<notes>{string.Concat(Enumerable.Repeat("<p>", 20_000))}{string.Concat(Enumerable.Repeat("</p>", 20_000))}</notes></model></sbml>";
        Assert.Contains("deep", Assert.Throws<SbmlException>(() => SbmlReader.Read(deep)).Message);
        const string math = "<math xmlns=\"http://www.w3.org/1998/Math/MathML\">";
        var functions = string.Concat(
            Enumerable
                .Range(0, 31)
                .Select(k =>
                    "<functionDefinition "
                    + $"id=\"f{k}\">{math}<lambda><bvar><ci>x</ci></bvar>{(k == 0 ? "<ci>x</ci>" : $"<apply><ci>f{k - 1}</ci><apply><ci>f{k - 1}</ci><ci>x</ci></apply></apply>")}</lambda></math></functionDefinition>"
                )
        );
        var twice =
            $"{Sbml}<listOfFunctionDefinitions>{functions}</listOfFunctionDefinitions><listOfParameters><parameter id=\"a\" "
            + $"constant=\"false\"/></listOfParameters><listOfRules><assignmentRule "
            + $"variable=\"a\">{math}<apply><ci>f30</ci><cn>1</cn></apply></math></assignmentRule></listOfRules></model></sbml>";
        Assert.Contains("terms", Assert.Throws<SbmlException>(() => SbmlReader.Read(twice)).Message);
    }

    private static string Whole()
    {
        var document = EveryPart.Study();
        Edit[] edits =
        [
            new AddRegion("North", [document.Compartments[0].Id]),
            new AddReference(document.Compartments[1].Id, 4, 5),
            new WriteText(null, "two\nlines", 7, 8),
            new AddPanel(PanelKind.Sweep),
            new AddScenario("Pause"),
            new SetFit(new(ErrorLaw.Poisson, [new("beta", 0.1, 0.9)])),
        ];
        document = edits.Aggregate(document, (before, edit) => edit.Apply(before).Document!);
        document = new SetMeasure(document.Scenarios[0].Id, null, "Pause", "beta", 0.5, 10, 20).Apply(document).Document!;
        return StudyFile.Write(new(document, [new DataSet("d", "counts", [new(0, 7, 20), new(7, 14, 60)])]));
    }

    /// <summary>Every node of the tree under a root, but the root itself.</summary>
    private static IEnumerable<JsonNode> Under(JsonNode? node) =>
        node switch
        {
            JsonObject fields => fields.SelectMany(field => field.Value is { } value ? Under(value).Prepend(value) : []),
            JsonArray entries => entries.OfType<JsonNode>().SelectMany(entry => Under(entry).Prepend(entry)),
            _ => [],
        };

    private static readonly Func<JsonNode?>[] Instead =
    [
        () => null,
        () => 7,
        () => -1e308,
        () => "x",
        () => "",
        () => new string('(', 7000),
        () => new JsonArray(),
        () => new JsonArray((JsonNode?)null),
        () => new JsonObject(),
        () => true,
        () => "\0",
    ];

    /// <summary>One place of a whole study holds something else, is gone, or stands twice: either the file is refused in words, or it is
    /// a study that can be compiled and written.</summary>
    [Fact]
    public void A_file_with_one_place_changed_is_refused_in_words_or_is_a_study()
    {
        var (whole, random, taken) = (Whole(), new Random(18), 0);
        for (var k = 0; k < 300; k++)
        {
            var root = JsonNode.Parse(whole)!;
            var places = Under(root).ToList();
            var place = places[random.Next(places.Count)];
            var how = random.Next(Instead.Length + 2);
            if (how < Instead.Length)
                place.ReplaceWith(Instead[how]());
            else if (place.Parent is JsonObject fields)
                fields.Remove(place.GetPropertyName());
            else if (how == Instead.Length)
                ((JsonArray)place.Parent!).Remove(place);
            else
                ((JsonArray)place.Parent!).Add(place.DeepClone());
            StudyBundle read;
            try
            {
                read = StudyFile.Read(root.ToJsonString());
            }
            catch (StudyFileException)
            {
                continue;
            }
            taken++;
            _ = Lowering.Lower(read.Document).Findings;
            Assert.Equal(StudyFile.Write(read), StudyFile.Write(StudyFile.Read(StudyFile.Write(read))));
        }
        // Labels, notes and formulas may hold anything: a good part is taken.
        Assert.InRange(taken, 40, 260);
    }
}
