using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Sbml;
using static ClearTide.Formats.Tests.Sbml.SbmlFiles;

namespace ClearTide.Formats.Tests.Sbml;

/// <summary>Hand-made SBML, one construct of the standard each, with results worked out by hand.</summary>
public class SbmlRunTests
{
    // Tolerance 1e-8 a step, some tens of steps.
    private const double Close = 1e-6;

    private static string Decay(
        double size,
        string initial,
        string speciesMore = "hasOnlySubstanceUnits=\"false\" boundaryCondition=\"false\" constant=\"false\""
    ) =>
        File(
            Compartment(size)
                + $"<listOfSpecies>{Species("A", initial, speciesMore)}</listOfSpecies><listOfParameters><parameter id=\"k\" "
                + "value=\"0.5\" "
                + $"constant=\"true\"/></listOfParameters><listOfReactions>{Reaction("r", Of("A"), "", Apply("times", Ci("k"), Ci("A")))}</listOfReactions>"
        );

    [Fact]
    public void A_rate_in_concentration_moves_amounts()
    {
        // A' = -k [A] = -k A / 2 as an amount: [A] = 3 exp(-0.25 t).
        Assert.Equal(3 * System.Math.Exp(-0.5), End(Decay(2, "initialConcentration=\"3\""), "A"), Close);
        Assert.Equal(6 * System.Math.Exp(-0.5), End(Decay(2, "initialConcentration=\"3\""), "A", amounts: true), Close);
        Assert.Equal(1.5 * System.Math.Exp(-0.5), End(Decay(2, "initialAmount=\"3\""), "A"), Close);
    }

    [Fact]
    public void Substance_only_speaks_of_amounts() =>
        Assert.Equal(
            3 * System.Math.Exp(-1),
            End(Decay(2, "initialAmount=\"3\"", "hasOnlySubstanceUnits=\"true\" boundaryCondition=\"false\" constant=\"false\""), "A"),
            Close
        );

    [Fact]
    public void A_boundary_species_is_not_moved() =>
        Assert.Equal(
            3,
            End(Decay(1, "initialAmount=\"3\"", "hasOnlySubstanceUnits=\"false\" boundaryCondition=\"true\" constant=\"false\""), "A")
        );

    [Fact]
    public void A_value_may_be_set_for_a_run() =>
        Assert.Equal(3 * System.Math.Exp(-2), End(Decay(1, "initialAmount=\"3\""), "A", set: "k", value: 1), Close);

    [Fact]
    public void Stoichiometry_local_parameters_and_conversion_factors_act()
    {
        var local = "<listOfLocalParameters><localParameter id=\"k\" value=\"0.25\"/></listOfLocalParameters>";
        var file = File(
            Compartment()
                + $"<listOfSpecies>{Species("A", "initialAmount=\"8\"")}{Species("B", "initialAmount=\"0\"", "hasOnlySubstanceUnits=\"false\" boundaryCondition=\"false\" constant=\"false\" conversionFactor=\"f\"")}</listOfSpecies>"
                + "<listOfParameters><parameter id=\"k\" value=\"99\" constant=\"true\"/><parameter id=\"f\" value=\"10\" "
                + $"constant=\"true\"/></listOfParameters><listOfReactions>{Reaction("r", Of("A", "2"), Of("B", "1.5"), Apply("times", Ci("k"), Ci("A")), local)}</listOfReactions>"
        );
        var left = 8 * System.Math.Exp(-1);
        Assert.Equal(left, End(file, "A"), Close);
        Assert.Equal((8 - left) / 2 * 1.5 * 10, End(file, "B"), 1e-4);
        Assert.Equal(8 * System.Math.Exp(-2), End(file, "A", set: "r.k", value: 0.5), Close);
    }

    [Fact]
    public void Rules_and_initial_assignments_say_what_symbols_are()
    {
        var file = File(
            Compartment(4)
                + $"<listOfSpecies>{Species("A", "initialConcentration=\"1\"")}{Species("B", "initialAmount=\"7\"")}</listOfSpecies>"
                + "<listOfParameters><parameter id=\"p\" constant=\"false\"/><parameter id=\"q\" value=\"1\" "
                + "constant=\"false\"/><parameter id=\"k\" constant=\"true\"/></listOfParameters>"
                + "<listOfInitialAssignments><initialAssignment "
                + $"symbol=\"k\">{Math(Apply("plus", Cn(0.25), Cn(0.25)))}</initialAssignment><initialAssignment "
                + $"symbol=\"A\">{Math(Apply("times", Ci("k"), Cn(6)))}</initialAssignment></listOfInitialAssignments>"
                + "<listOfRules><rateRule "
                + $"variable=\"A\">{Math(Apply("times", Apply("minus", Ci("k")), Ci("A")))}</rateRule><assignmentRule "
                + $"variable=\"p\">{Math(Apply("times", Cn(2), Ci("A")))}</assignmentRule><rateRule "
                + $"variable=\"q\">{Math(Time)}</rateRule><assignmentRule "
                + $"variable=\"B\">{Math(Apply("power", Ci("p"), Cn(2)))}</assignmentRule></listOfRules>"
        );
        var a = 3 * System.Math.Exp(-1);
        Assert.Equal(a, End(file, "A"), Close);
        Assert.Equal(4 * a, End(file, "A", amounts: true), Close);
        Assert.Equal(2 * a, End(file, "p"), Close);
        Assert.Equal(4 * a * a, End(file, "B"), Close);
        Assert.Equal(16 * a * a, End(file, "B", amounts: true), 4 * Close);
        Assert.Equal(1 + 2, End(file, "q"), Close);
    }

    [Fact]
    public void A_size_that_grows_thins_what_it_holds()
    {
        // The size doubles by day 2: 6 of amount, 6 / 4 at the end.
        var file = File(
            Compartment(2, "constant=\"false\"")
                + $"<listOfSpecies>{Species("A", "initialConcentration=\"3\"")}</listOfSpecies><listOfRules><rateRule "
                + $"variable=\"C\">{Math(Cn(1))}</rateRule></listOfRules>"
        );
        Assert.Equal(1.5, End(file, "A"), Close);
        Assert.Equal(6, End(file, "A", amounts: true), Close);
        Assert.Equal(4, End(file, "C"), Close);
    }

    [Fact]
    public void Functions_and_pieces_are_written_out()
    {
        var lambda = Math(
            $"<lambda><bvar>{Ci("x")}</bvar><bvar>{Ci("y")}</bvar>{Apply("plus", Apply("times", Ci("x"), Ci("x")), Ci("y"))}</lambda>"
        );
        var file = File(
            "<listOfFunctionDefinitions><functionDefinition "
                + $"id=\"f\">{lambda}</functionDefinition></listOfFunctionDefinitions><listOfParameters><parameter id=\"p\" "
                + "constant=\"false\"/><parameter id=\"q\" value=\"0\" constant=\"false\"/></listOfParameters>"
                + "<listOfRules><assignmentRule "
                + $"variable=\"p\">{Math($"<apply>{Ci("f")}{Cn(3)}{Ci("q")}</apply>")}</assignmentRule><rateRule "
                + $"variable=\"q\">{Math($"<piecewise><piece>{Cn(2)}{Apply("lt", Time, Cn(1.5))}</piece><otherwise>{Cn(0)}</otherwise></piecewise>")}</rateRule></listOfRules>"
        );
        Assert.Equal(3, End(file, "q"), Close);
        Assert.Equal(12, End(file, "p"), Close);
    }

    [Theory]
    [InlineData("<apply><root/><degree><cn>3</cn></degree><cn>8</cn></apply>", 2)]
    [InlineData("<apply><log/><logbase><cn>2</cn></logbase><cn>8</cn></apply>", 3)]
    [InlineData("<apply><log/><cn>1000</cn></apply>", 3)]
    [InlineData("<apply><quotient/><cn>-7</cn><cn>2</cn></apply>", -3)]
    [InlineData("<apply><rem/><cn>-7</cn><cn>2</cn></apply>", -1)]
    [InlineData("<apply><xor/><true/><true/><true/></apply>", 1)]
    [InlineData("<apply><implies/><true/><false/></apply>", 0)]
    [InlineData("<apply><lt/><cn>1</cn><cn>2</cn><cn>2</cn></apply>", 0)]
    [InlineData("<apply><max/><cn>1</cn><cn>5</cn><cn>2</cn></apply>", 5)]
    [InlineData("<cn type=\"rational\">3<sep/>4</cn>", 0.75)]
    [InlineData("<cn type=\"e-notation\">1.5<sep/>-2</cn>", 0.015)]
    [InlineData("<apply><factorial/><cn type=\"integer\">5</cn></apply>", 120)]
    [InlineData("<apply><sec/><cn>0</cn></apply>", 1)]
    [InlineData("<apply><arccot/><cn>1</cn></apply>", System.Math.PI / 4)]
    [InlineData("<apply><times/></apply>", 1)]
    [InlineData("<apply><plus/></apply>", 0)]
    [InlineData("<infinity/>", double.PositiveInfinity)]
    [InlineData("<apply><ceiling/><exponentiale/></apply>", 3)]
    public void Mathematics_of_the_standard_has_its_value(string math, double value)
    {
        var file = File(
            "<listOfParameters><parameter id=\"p\" constant=\"false\"/></listOfParameters><listOfRules><assignmentRule "
                + $"variable=\"p\">{Math(math)}</assignmentRule></listOfRules>"
        );
        Assert.Equal(value, End(file, "p"), 1e-12);
    }

    [Fact]
    public void Level_2_is_read_with_its_own_defaults()
    {
        var file = File(
            "<listOfCompartments><compartment id=\"C\" size=\"1\"/></listOfCompartments><listOfSpecies><species id=\"A\" "
                + "compartment=\"C\" initialAmount=\"4\"/><species id=\"B\" compartment=\"C\" initialAmount=\"0\"/></listOfSpecies>"
                + "<listOfReactions><reaction id=\"r\"><listOfReactants><speciesReference "
                + "species=\"A\"/></listOfReactants><listOfProducts><speciesReference "
                + $"species=\"B\"><stoichiometryMath>{Math(Apply("plus", Cn(1), Cn(1)))}</stoichiometryMath></speciesReference></listOfProducts><kineticLaw>{Math(Apply("times", Ci("k"), Ci("A")))}<listOfParameters><parameter "
                + "id=\"k\" value=\"0.5\"/></listOfParameters></kineticLaw></reaction></listOfReactions>",
            "2",
            "4"
        );
        Assert.Equal(4 * System.Math.Exp(-1), End(file, "A"), Close);
        Assert.Equal(8 * (1 - System.Math.Exp(-1)), End(file, "B"), Close);
    }

    [Fact]
    public void An_id_that_formulas_use_for_time_means_itself()
    {
        var file = File(
            "<listOfParameters><parameter id=\"t\" value=\"5\" constant=\"true\"/><parameter id=\"p\" "
                + "constant=\"false\"/></listOfParameters><listOfRules><assignmentRule "
                + $"variable=\"p\">{Math(Apply("plus", Ci("t"), Time))}</assignmentRule></listOfRules>"
        );
        Assert.Equal(7, End(file, "p"));
    }

    [Fact]
    public void A_delay_reads_the_past()
    {
        // x = t grows from 0; what it was half a day ago at day 2 is 1.5, and before the start it was 0.
        var delay =
            "<apply><csymbol encoding=\"text\" "
            + "definitionURL=\"http://www.sbml.org/sbml/symbols/delay\">delay</csymbol><ci>x</ci><cn>0.5</cn></apply>";
        var file = WithEvents("").Replace("</listOfRules>", $"<assignmentRule variable=\"p\">{Math(delay)}</assignmentRule></listOfRules>");
        Assert.Equal(1.5, End(file, "p"), Close);
        Assert.Equal(0, End(file, "p", 0.25), Close);
    }

    [Fact]
    public void A_delay_may_change_and_may_be_none()
    {
        string Delay(string of, string by) =>
            $"<apply><csymbol encoding=\"text\" definitionURL=\"http://www.sbml.org/sbml/symbols/delay\">delay</csymbol>{of}{by}</apply>";
        string With(string by) =>
            WithEvents("")
                .Replace("</listOfRules>", $"<assignmentRule variable=\"p\">{Math(Delay(Ci("x"), by))}</assignmentRule></listOfRules>");
        // x = t: half the time ago it was t/2, and no time ago t; a delay that grows like x does the same.
        Assert.Equal(1, End(With(Apply("divide", Time, Cn(2))), "p"), Close);
        Assert.Equal(1, End(With(Apply("divide", Ci("x"), Cn(2))), "p"), Close);
        Assert.Equal(2, End(With(Cn(0)), "p"), Close);
    }

    [Fact]
    public void Events_act_on_each_other_where_nothing_else_changes()
    {
        string Step(string trigger, string set, string math) =>
            "<event useValuesFromTriggerTime=\"true\"><trigger persistent=\"true\" "
            + $"initialValue=\"true\">{Math(trigger)}</trigger><listOfEventAssignments><eventAssignment "
            + $"variable=\"{set}\">{Math(math)}</eventAssignment></listOfEventAssignments></event>";
        var file = File(
            $"<listOfParameters>{string.Concat("abc".Select(id => $"<parameter id=\"{id}\" value=\"0\" constant=\"false\"/>"))}</listOfParameters><listOfEvents>{Step(Apply("geq", Time, Cn(1)), "a", Cn(1))}{Step(Apply("gt", Ci("a"), Cn(0.5)), "b", Cn(1))}{Step(Apply("gt", Ci("b"), Cn(0.5)), "c", Apply("plus", Ci("a"), Ci("b")))}</listOfEvents>"
        );
        Assert.Equal((0.0, 2.0), (End(file, "c", 0.5), End(file, "c")));
    }

    [Fact]
    public void A_constraint_is_an_expectation()
    {
        var file = Decay(1, "initialConcentration=\"3\"")
            .Replace(
                "<listOfReactions>",
                $"<listOfConstraints><constraint>{Math(Apply("gt", Ci("A"), Cn(2.5)))}<message><p "
                    + "xmlns=\"http://www.w3.org/1999/xhtml\">A is to stay above "
                    + "2.5.</p></message></constraint></listOfConstraints><listOfReactions>"
            );
        var model = SbmlReader.Read(SbmlWriter.Write(SbmlReader.Read(file)));
        Assert.Equal("A is to stay above 2.5.", model.Constraints.Single().Message);
        var study = SbmlImport.Read(model, "m") with { End = 2 };
        Assert.Equal(("A > 2.5", "A is to stay above 2.5."), (study.Expectations.Single().Text, study.Expectations.Single().Note));
        Assert.Contains(StudyRun.Of(study).Findings, finding => finding.PartId == study.Expectations[0].Id);
        // [A] = 3 exp(-0.5 t) falls below 2.5 at t = 0.36.
        var lowered = SbmlLowering.Lower(model);
        var (compiled, values) = (new CompiledModel(lowered.Network), lowered.Network.ValueVector());
        var run = Engines.Run(new(compiled, values, [0, 0.3, 0.4]));
        Assert.Equal([1.0, 1, 0], run.QuantityColumn(lowered.Constraints[0]));
    }

    [Fact]
    public void A_size_that_nothing_gives_is_one()
    {
        var file = Decay(1, "initialConcentration=\"3\"").Replace("size=\"1\"", "");
        Assert.Equal(End(Decay(1, "initialConcentration=\"3\""), "A"), End(file, "A"));
        Assert.Contains(SbmlReader.Read(file).Notes, note => note.Message.Contains("no size", StringComparison.Ordinal));
    }

    [Fact]
    public void The_mathematics_that_version_2_brought_may_come_as_a_package()
    {
        var file = File(
                "<listOfParameters><parameter id=\"p\" constant=\"false\"/></listOfParameters><listOfRules><assignmentRule "
                    + $"variable=\"p\">{Math(Apply("max", Time, Cn(1)))}</assignmentRule></listOfRules>",
                "3",
                "1"
            )
            .Replace("<sbml ", "<sbml xmlns:e=\"http://www.sbml.org/sbml/level3/version1/l3v2extendedmath/version1\" e:required=\"true\" ");
        Assert.Equal(2, End(file, "p"));
    }

    [Fact]
    public void Formulas_may_ask_how_fast_a_symbol_changes()
    {
        string RateOf(string id) =>
            $"<apply><csymbol encoding=\"text\" definitionURL=\"http://www.sbml.org/sbml/symbols/rateOf\">rateOf</csymbol>{Ci(id)}</apply>";
        // [A] = 3 exp(-0.25 t) in a size of 2, as above: its rate is -0.25 [A]; that of a parameter under a rate rule is the rule.
        var file = Decay(2, "initialConcentration=\"3\"")
            .Replace(
                "<listOfReactions>",
                $"<listOfRules><assignmentRule variable=\"p\">{Math(RateOf("A"))}</assignmentRule><rateRule "
                    + $"variable=\"q\">{Math(Apply("plus", RateOf("k"), Cn(1)))}</rateRule><assignmentRule "
                    + $"variable=\"r2\">{Math(RateOf("q"))}</assignmentRule></listOfRules><listOfReactions>"
            )
            .Replace(
                "</listOfParameters>",
                "<parameter id=\"p\" constant=\"false\"/><parameter id=\"q\" value=\"0\" constant=\"false\"/><parameter id=\"r2\" "
                    + "constant=\"false\"/></listOfParameters>"
            );
        Assert.Equal(-0.75 * System.Math.Exp(-0.5), End(file, "p"), Close);
        Assert.Equal(2, End(file, "q"), Close);
        Assert.Equal(1, End(file, "r2"), Close);
    }

    [Fact]
    public void A_stoichiometry_may_be_a_symbol_that_changes()
    {
        // One A makes s of B, and s grows by one a day from zero: B gains the integral of t * 0.5 * 8 exp(-0.5 t).
        var file = File(
            Compartment()
                + $"<listOfSpecies>{Species("A", "initialAmount=\"8\"")}{Species("B", "initialAmount=\"0\"")}</listOfSpecies><listOfRules><rateRule "
                + $"variable=\"s\">{Math(Cn(1))}</rateRule></listOfRules>"
                + $"<listOfReactions>{Reaction("r", Of("A"), Of("B", "0", "id=\"s\"").Replace("constant=\"true\"", "constant=\"false\""), Apply("times", Cn(0.5), Ci("A")))}</listOfReactions>"
        );
        Assert.Equal(16 * (1 - 2 * System.Math.Exp(-1)), End(file, "B"), 1e-5);
        Assert.Equal(4 * System.Math.Exp(-1), End(file, "r"), Close);
    }

    [Fact]
    public void Columns_stand_in_the_order_of_the_file_and_constants_only_where_they_are_asked_for()
    {
        var columns = SbmlLowering.Lower(SbmlReader.Read(WithEvents(Event("<true/>", Set("p", Cn(9)))))).Columns;
        Assert.Equal(["A", "p", "x"], columns.Where(column => column.IsShown).Select(column => column.Id));
        Assert.Contains(columns, column => column.Id == "C");
    }
}
