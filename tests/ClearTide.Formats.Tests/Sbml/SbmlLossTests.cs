using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Formats.Sbml;
using static ClearTide.Formats.Tests.Sbml.SbmlFiles;

namespace ClearTide.Formats.Tests.Sbml;

/// <summary>What is lost on the way into a study or out of it is listed.</summary>
public class SbmlLossTests
{
    private static IReadOnlyList<string> Notes(string file) => SbmlImport.Read(SbmlReader.Read(file), "m").FileNotes;

    private static string Model(
        string reaction = "",
        string events = "",
        string parameters = "",
        string species = "hasOnlySubstanceUnits=\"true\" boundaryCondition=\"false\" constant=\"false\"",
        string units = ""
    ) =>
        File(
            units
                + Compartment(2)
                + $"<listOfSpecies>{Species("A", "initialAmount=\"6\"", species)}{Species("B", "initialAmount=\"4\"", "hasOnlySubstanceUnits=\"true\" boundaryCondition=\"false\" constant=\"false\"")}</listOfSpecies>"
                + $"<listOfParameters><parameter id=\"k\" value=\"1\" constant=\"true\"/>{parameters}</listOfParameters>"
                + $"<listOfReactions>{(reaction.Length > 0 ? reaction : Reaction("r", Of("A"), "", Ci("A")))}</listOfReactions>{events}"
        );

    private static string Event(
        string id,
        string trigger,
        string assigned,
        string math,
        string more = "useValuesFromTriggerTime=\"true\""
    ) =>
        $"<event {(id.Length > 0 ? $"id=\"{id}\"" : "")} {more}><trigger initialValue=\"true\" "
        + $"persistent=\"true\">{Math(trigger)}</trigger><listOfEventAssignments><eventAssignment "
        + $"variable=\"{assigned}\">{Math(math)}</eventAssignment></listOfEventAssignments></event>";

    [Fact]
    public void A_file_of_which_all_is_taken_over_leaves_no_such_notes()
    {
        Assert.DoesNotContain(Notes(Model()), note =>
            note.Contains("not kept", StringComparison.Ordinal) || note.Contains("oncentration", StringComparison.Ordinal)
        );
    }

    [Fact]
    public void Whatever_is_not_kept_is_named()
    {
        var modifier = Reaction("r", Of("A"), "", Apply("times", Ci("A"), Ci("B")))
            .Replace(
                "<kineticLaw>",
                "<listOfModifiers><modifierSpeciesReference species=\"B\"/></listOfModifiers><kineticLaw>",
                StringComparison.Ordinal
            );
        Assert.Contains(Notes(Model(modifier)), note =>
            note.Contains("act on a reaction without being moved", StringComparison.Ordinal)
            && note.EndsWith(": r.", StringComparison.Ordinal)
        );
        Assert.Contains(Notes(Model(modifier.Replace("reversible=\"false\"", "reversible=\"true\"", StringComparison.Ordinal))), note =>
            note.Contains("called reversible is not kept", StringComparison.Ordinal)
        );
        Assert.Contains(
            Notes(Model(events: $"<listOfEvents>{Event("dose", Apply("geq", SbmlFiles.Time, Cn(1)), "A", Cn(3))}</listOfEvents>")),
            note => note == "The ids of events are not kept: dose."
        );
        Assert.Contains(
            Notes(
                Model(
                    parameters: "<parameter id=\"q\" value=\"1\" constant=\"true\" metaid=\"m1\" "
                        + "sboTerm=\"SBO:0000009\"><annotation><x xmlns=\"urn:other\"/></annotation></parameter>"
                )
            ),
            note => note == "Annotations are not kept: q."
        );
        Assert.Contains(
            Notes(Model(parameters: "<parameter id=\"q\" value=\"1\" constant=\"true\" metaid=\"m1\" sboTerm=\"SBO:0000009\"/>")),
            note => note == "“sboTerm” is not kept: q."
        );
        const string units =
            "<listOfUnitDefinitions><unitDefinition id=\"odd\"><listOfUnits><unit kind=\"candela\" exponent=\"1\" scale=\"0\" "
            + "multiplier=\"1\"/></listOfUnits></unitDefinition></listOfUnitDefinitions>";
        Assert.Contains(Notes(Model(units: units, parameters: "<parameter id=\"q\" value=\"1\" units=\"odd\" constant=\"true\"/>")), note =>
            note == "The unit “odd” has no counterpart here and is not kept: q."
        );
        Assert.Contains(
            Notes(Model().Replace("<listOfReactions>", "<listOfReactions sboTerm=\"SBO:0000231\">", StringComparison.Ordinal)),
            note => note.Contains("sboTerm", StringComparison.Ordinal)
        );
    }

    [Fact]
    public void Concentrations_that_become_amounts_are_told_and_so_are_those_that_stay()
    {
        var notes = Notes(Model(species: "hasOnlySubstanceUnits=\"false\" boundaryCondition=\"false\" constant=\"false\""));
        Assert.Contains(notes, note => note.StartsWith("Concentrations of the file are amounts here: A.", StringComparison.Ordinal));
        Assert.DoesNotContain(notes, note => note.Contains("stay concentrations", StringComparison.Ordinal));
        // One that a rule of its rate moves keeps its own units.
        var both = Model(
                species: "hasOnlySubstanceUnits=\"false\" boundaryCondition=\"true\" constant=\"false\"",
                reaction: Reaction("r", Of("B"), "", Ci("B"))
            )
            .Replace(
                "<listOfReactions>",
                $"<listOfRules><rateRule variable=\"A\">{Math(Cn(1))}</rateRule></listOfRules><listOfReactions>",
                StringComparison.Ordinal
            );
        Assert.Contains(Notes(both), note => note == "These stay concentrations, beside amounts: A.");
    }

    [Fact]
    public void Events_at_one_instant_use_what_was_when_they_were_triggered()
    {
        // By the standard's default each takes the values of the trigger: A and B change places, in whatever order the two act.
        var at = Apply("geq", SbmlFiles.Time, Cn(1));
        string Swap(string more) =>
            Model(
                reaction: Reaction("r", Of("A"), "", Apply("times", Cn(0), Ci("A"))),
                events: $"<listOfEvents>{Event("", at, "A", Ci("B"), more)}{Event("", at, "B", Ci("A"), more)}</listOfEvents>"
            );
        Assert.Equal(4, End(Swap("useValuesFromTriggerTime=\"true\""), "A"));
        Assert.Equal(6, End(Swap("useValuesFromTriggerTime=\"true\""), "B"));
        Assert.Equal(6, End(Swap(""), "B"));
        // Where a file says otherwise, the second sees what the first has done.
        var later = End(Swap("useValuesFromTriggerTime=\"false\""), "A");
        Assert.Equal(later, End(Swap("useValuesFromTriggerTime=\"false\""), "B"));
    }

    [Theory]
    [InlineData("t")]
    [InlineData("pi")]
    [InlineData("time")]
    public void An_id_that_formulas_read_otherwise_stays_what_it_is(string id)
    {
        // A' = -k A with the rate under that id, 0.5; time itself is named beside it.
        var file = Model(
            reaction: Reaction("r", Of("A"), "", Apply("times", Apply("plus", Ci(id), Apply("times", Cn(0), SbmlFiles.Time)), Ci("A"))),
            parameters: $"<parameter id=\"{id}\" value=\"0.5\" constant=\"true\"/>"
        );
        Assert.Equal(6 * System.Math.Exp(-1), End(file, "A"), 1e-6);
        var exported = SbmlWriter.Write(SbmlExport.Of(SbmlImport.Read(SbmlReader.Read(file), "m")).Model);
        Assert.Matches($"<parameter id=\"{id}\" [^>]*value=\"0.5\"", exported);
        Assert.Equal(6 * System.Math.Exp(-1), End(exported, "A"), 1e-6);
    }

    [Fact]
    public void What_a_study_says_and_SBML_does_not_is_told_when_it_is_written()
    {
        var document = new AddLines("A -> B at k; k = 0.2; A(0) = 5; at 3: A -> B : 9")
            .Apply(new StudyDocument { Title = "m", End = 10 })
            .Document!;
        document = document.With(document.Events[0] with { StopsWhenShort = true });
        document = document.With(document.Definitions[0] with { Lower = "0.1", Origin = Origin.Measured });
        var left = SbmlExport.Of(document).Left;
        foreach (var word in new[] { "stops where an event", "Bounds of values", "Where numbers come from", "Span, method and tolerance" })
            Assert.Contains(left, sentence => sentence.Contains(word, StringComparison.Ordinal));
    }
}
