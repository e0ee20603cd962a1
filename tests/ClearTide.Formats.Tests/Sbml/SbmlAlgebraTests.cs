using ClearTide.Formats.Sbml;
using static ClearTide.Formats.Tests.Sbml.SbmlFiles;

namespace ClearTide.Formats.Tests.Sbml;

/// <summary>Algebraic rules, solved by hand.</summary>
public class SbmlAlgebraTests
{
    // Tolerance 1e-8 a step, some tens of steps.
    private const double Close = 1e-6;

    [Fact]
    public void Algebraic_rules_determine_what_nothing_else_says()
    {
        // A + B = 10 with A decaying, and 3 p - B = 0: B = 10 - A, p = B / 3.
        var file = File(Compartment() + $"<listOfSpecies>{Species("A", "initialAmount=\"6\"")}{Species("B", "initialAmount=\"4\"", "hasOnlySubstanceUnits=\"false\" boundaryCondition=\"true\" constant=\"false\"")}</listOfSpecies><listOfParameters><parameter id=\"p\" constant=\"false\"/></listOfParameters>"
            + $"<listOfRules><algebraicRule>{Math(Apply("minus", Apply("times", Cn(3), Ci("p")), Ci("B")))}</algebraicRule><algebraicRule>{Math(Apply("minus", Apply("plus", Ci("A"), Ci("B")), Cn(10)))}</algebraicRule></listOfRules>"
            + $"<listOfReactions>{Reaction("r", Of("A"), "", Apply("times", Cn(0.5), Ci("A")))}</listOfReactions>");
        var b = 10 - 6 * System.Math.Exp(-1);
        Assert.Equal(b, End(file, "B"), Close);
        Assert.Equal(b / 3, End(file, "p"), Close);
    }

    [Theory]
    [InlineData("<cn>1</cn>", "does not determine a symbol")]
    [InlineData("<apply><minus/><ci>p</ci><ci>p</ci></apply>", "cannot be solved")]
    [InlineData("<apply><plus/><ci>p</ci><ci>q</ci></apply>", "does not determine one symbol")]
    public void Algebraic_rules_that_cannot_be_solved_are_told(string math, string why)
    {
        var file = File($"<listOfParameters><parameter id=\"p\" constant=\"false\"/><parameter id=\"q\" constant=\"false\"/></listOfParameters><listOfRules><algebraicRule>{Math(math)}</algebraicRule></listOfRules>");
        Assert.Contains(why, Assert.Throws<SbmlException>(() => SbmlLowering.Lower(SbmlReader.Read(file))).Message, StringComparison.Ordinal);
    }

    /// <summary>Symbols x, y, z that rules determine beside a that grows by one a day from 1, and y2 that is twice y.</summary>
    private static string Growing(params string[] rules) => File(
        "<listOfParameters><parameter id=\"a\" value=\"1\" constant=\"false\"/><parameter id=\"x\" value=\"1\" constant=\"false\"/><parameter id=\"y\" value=\"2\" constant=\"false\"/><parameter id=\"y2\" constant=\"false\"/></listOfParameters>"
        + $"<listOfRules><rateRule variable=\"a\">{Math(Cn(1))}</rateRule><assignmentRule variable=\"y2\">{Math(Apply("times", Cn(2), Ci("y")))}</assignmentRule>{string.Concat(rules.Select(rule => $"<algebraicRule>{Math(rule)}</algebraicRule>"))}</listOfRules>");

    [Fact]
    public void Rules_that_hang_together_are_solved_together()
    {
        // x + 2 y = a and x - y = 1: y = (a - 1) / 3, x = y + 1.
        var file = Growing(Apply("minus", Apply("plus", Ci("x"), Ci("y2")), Ci("a")), Apply("minus", Apply("minus", Ci("x"), Ci("y")), Cn(1)));
        Assert.Equal(2.0 / 3, End(file, "y"), Close);
        Assert.Equal(5.0 / 3, End(file, "x"), Close);
        Assert.Equal(4.0 / 3, End(file, "y2"), Close);
        Assert.Empty(SbmlImport.Read(SbmlReader.Read(file), "m").FileNotes.Where(note => note.Contains("lgebraic", StringComparison.Ordinal)));
    }

    [Fact]
    public void A_rule_that_is_not_linear_is_solved_from_the_value_given()
    {
        // x^2 = a, near 1: the positive root.
        Assert.Equal(System.Math.Sqrt(3), End(Growing(Apply("minus", Apply("power", Ci("x"), Cn(2)), Ci("a"))), "x"), Close);
        // x y = a and x + y = a + 1, near (1, 2): x = 1, y = a.
        var two = Growing(Apply("minus", Apply("times", Ci("x"), Ci("y")), Ci("a")), Apply("minus", Apply("plus", Ci("x"), Ci("y")), Apply("plus", Ci("a"), Cn(1))));
        Assert.Equal(1, End(two, "x"), Close);
        Assert.Equal(3, End(two, "y"), Close);
    }
}
