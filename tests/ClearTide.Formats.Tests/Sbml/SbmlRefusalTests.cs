using ClearTide.Formats.Sbml;

namespace ClearTide.Formats.Tests.Sbml;

/// <summary>Files that are no SBML, mean harm, or need what is not read: each is told in a sentence.</summary>
public class SbmlRefusalTests
{
    private static string Refused(string text) => Assert.Throws<SbmlException>(() => SbmlLowering.Lower(SbmlReader.Read(text))).Message;

    [Theory]
    [InlineData("", "broken at line")]
    [InlineData("<sbml", "broken at line 1")]
    [InlineData("<model/>", "does not begin with an element")]
    [InlineData("<sbml xmlns=\"http://www.sbml.org/sbml/level1\" level=\"1\" version=\"2\"/>", "Level 1")]
    [InlineData("<sbml xmlns=\"http://www.sbml.org/sbml/level3/version2/core\" level=\"3\" version=\"2\"/>", "holds no model")]
    [InlineData("<!DOCTYPE x [<!ENTITY a \"b\">]><sbml level=\"3\" version=\"2\"><model>&a;</model></sbml>", "document type")]
    [InlineData(
        "<!DOCTYPE x [<!ENTITY a SYSTEM \"file:///etc/hostname\">]><sbml level=\"3\" version=\"2\"><model>&a;</model></sbml>",
        "document type"
    )]
    public void What_is_no_sbml_is_told(string text, string why) => Assert.Contains(why, Refused(text), StringComparison.Ordinal);

    [Fact]
    public void A_required_package_is_named_and_one_that_is_not_is_left_out_with_a_note()
    {
        string With(string required) =>
            SbmlFiles
                .File("")
                .Replace(
                    "level=\"3\"",
                    $"xmlns:q=\"http://www.sbml.org/sbml/level3/version1/qual/version1\" q:required=\"{required}\" level=\"3\""
                );
        Assert.Contains("“qual”", Refused(With("true")), StringComparison.Ordinal);
        Assert.Contains("“qual”", Assert.Single(SbmlReader.Read(With("false")).Notes).Message, StringComparison.Ordinal);
    }

    private static string Rules(string rules) =>
        SbmlFiles.File(
            "<listOfParameters><parameter id=\"a\" constant=\"false\"/><parameter id=\"b\" "
                + $"constant=\"false\"/></listOfParameters><listOfRules>{rules}</listOfRules>"
        );

    private static string Assign(string variable, string content) =>
        $"<assignmentRule variable=\"{variable}\"><math xmlns=\"http://www.w3.org/1998/Math/MathML\">{content}</math></assignmentRule>";

    [Fact]
    public void A_circle_is_spelled_out() =>
        Assert.Contains("a → b → a", Refused(Rules(Assign("a", "<ci>b</ci>") + Assign("b", "<ci>a</ci>"))), StringComparison.Ordinal);

    [Theory]
    [InlineData("<ci>nothing</ci>", "“nothing”")]
    [InlineData("<apply><ci>f</ci><cn>1</cn></apply>", "no function of the model")]
    [InlineData("<apply><integral/><cn>1</cn></apply>", "no operation that SBML has")]
    [InlineData("<cn>one</cn>", "no number")]
    [InlineData("<apply><sin/><cn>1</cn><cn>2</cn></apply>", "takes one argument")]
    public void Formulas_that_cannot_be_are_told(string content, string why) =>
        Assert.Contains(why, Refused(Rules(Assign("a", content))), StringComparison.Ordinal);

    [Fact]
    public void A_function_that_calls_itself_is_told()
    {
        var lambda =
            "<math "
            + "xmlns=\"http://www.w3.org/1998/Math/MathML\"><lambda><bvar><ci>x</ci></bvar><apply><ci>f</ci><ci>x</ci></apply></lambda></math>";
        var file = Rules(Assign("a", "<apply><ci>f</ci><cn>1</cn></apply>"))
            .Replace(
                "<model id=\"m\">",
                "<model id=\"m\"><listOfFunctionDefinitions><functionDefinition "
                    + $"id=\"f\">{lambda}</functionDefinition></listOfFunctionDefinitions>"
            );
        Assert.Contains("calls itself", Refused(file), StringComparison.Ordinal);
    }

    [Fact]
    public void Functions_that_double_again_and_again_are_told_before_they_fill_the_memory()
    {
        string Lambda(string body) =>
            $"<math xmlns=\"http://www.w3.org/1998/Math/MathML\"><lambda><bvar><ci>x</ci></bvar>{body}</lambda></math>";
        string Call(int k, string argument) => $"<apply><ci>f{k}</ci>{argument}</apply>";
        var functions = string.Concat(
            Enumerable
                .Range(0, 40)
                .Select(k =>
                    "<functionDefinition "
                    + $"id=\"f{k}\">{Lambda(k == 0 ? "<ci>x</ci>" : $"<apply><plus/>{Call(k - 1, "<ci>x</ci>")}{Call(k - 1, "<ci>x</ci>")}</apply>")}</functionDefinition>"
                )
        );
        string With(string content) =>
            Rules(Assign("a", content))
                .Replace(
                    "<model id=\"m\">",
                    "<model id=\"m\"><listOfFunctionDefinitions><functionDefinition "
                        + $"id=\"g\">{Lambda("<apply><times/><ci>x</ci><ci>x</ci></apply>")}</functionDefinition>{functions}</listOfFunctionDefinitions>"
                );
        Assert.Contains("terms when their functions are written out", Refused(With(Call(39, "<cn>1</cn>"))), StringComparison.Ordinal);
        // The same through arguments: g(g(g(...))) doubles what it is given.
        Assert.Contains(
            "terms when their functions are written out",
            Refused(With(Enumerable.Range(0, 40).Aggregate("<cn>1</cn>", (inner, _) => $"<apply><ci>g</ci>{inner}</apply>"))),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void Long_sums_are_read_and_long_chains_are_told()
    {
        var sum = Rules(Assign("a", $"<apply><plus/>{string.Concat(Enumerable.Repeat("<cn>1</cn>", 20_000))}</apply>"));
        var form = SbmlLowering.Lower(SbmlReader.Read(sum)).Network;
        Assert.Equal(20_000, form.Graph.Evaluate(form.Quantities[0].Node, 0, [], form.ValueVector()));
        var chain = SbmlFiles.File(
            $"<listOfParameters>{string.Concat(Enumerable.Range(0, 20_000).Select(k => $"<parameter id=\"a{k}\" constant=\"false\"/>"))}</listOfParameters>"
                + $"<listOfRules>{string.Concat(Enumerable.Range(0, 19_999).Select(k => Assign($"a{k}", $"<ci>a{k + 1}</ci>")))}{Assign("a19999", "<cn>1</cn>")}</listOfRules>"
        );
        Assert.Contains("over more than 1,000", Refused(chain), StringComparison.Ordinal);
    }

    [Fact]
    public void Ids_stand_for_one_thing_and_references_for_something()
    {
        Assert.Contains(
            "stands for two things",
            Refused(
                SbmlFiles.File(
                    "<listOfParameters><parameter id=\"a\" constant=\"true\"/><parameter id=\"a\" constant=\"true\"/></listOfParameters>"
                )
            ),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "Line 1: The species A is in the compartment “D”, which is not in the model",
            Refused(SbmlFiles.File("<listOfSpecies><species id=\"A\" compartment=\"D\"/></listOfSpecies>")),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "Line 1: Two rules",
            Refused(Rules(Assign("a", "<cn>1</cn>") + Assign("a", "<cn>2</cn>"))),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void What_is_left_out_is_noted_with_its_line()
    {
        var model = SbmlReader.Read(
            Rules("").Replace("<listOfRules>", "\n\n<listOfConstraints><constraint/></listOfConstraints><listOfRules>")
        );
        Assert.Equal(3, Assert.Single(model.Notes).Line);
    }
}
