using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Diagnostics;

/// <summary>What is said about units, and that each fix mends what it is offered for.</summary>
public class UnitFindingTests
{
    private static List<Finding> Of(StudyDocument document) => [.. Lowering.Lower(document).Findings];

    [Theory]
    // A sum, a comparison, an argument, an exponent, a share and a whole line.
    [InlineData("A(0) = 5 people; q = A + 3 mg", "cannot be added")]
    [InlineData("A(0) = 5 people; q = if(A > 3 mg, 1, 0)", "cannot be compared")]
    [InlineData("A(0) = 5 people; q = exp(A)", "The argument of exp is a pure number")]
    [InlineData("A(0) = 5 people; q = 2 ^ A", "An exponent is a pure number")]
    [InlineData("A(0) = 5 people; B(0) = 0 people; C(0) = 0 people; A -> B A, C the rest at 0.1 per day", "A share is a pure number")]
    [InlineData("A(0) = 5 people; B(0) = 4 mg; A -> B at 0.1 per day", "joins A")]
    [InlineData("A(0) = 5 people; q = delay(A, 3 mg)", "The time of delay is a duration")]
    public void Each_place_where_units_must_agree_is_looked_at(string lines, string words) =>
        Assert.Contains(Of(Studies.Of(lines)), finding => finding.Message.Contains(words) && finding.Severity == Severity.Doubt);

    [Theory]
    [InlineData("A(0) = 5 mg; q = A + 3 g")]
    [InlineData("A(0) = 5 people; A -> at 0.2; -> A : 3 people")]
    public void A_fix_leaves_nothing_of_the_finding(string lines)
    {
        var document = Studies.Of(lines);
        var finding = Of(document).First(one => one.Fixes.Count > 0);
        var mended = finding.Fixes[0].Edit.Apply(document).Document!;
        Assert.DoesNotContain(Of(mended), one => one.Message == finding.Message);
    }

    [Theory]
    [InlineData("A(0) = 5; q = A + 3; B(0) = 2; A -> B at 0.1")]
    [InlineData("A(0) = 5 people; q = A / N; N = A + B; B(0) = 3 people; A -> B : 0.2 per day * A * q")]
    [InlineData("A(0) = 5 mg; V = 30 L; c = A / V; half = 2 mg/L; A -> : 3 mg per day * c / (half + c)")]
    [InlineData("A(0) = 5 people; q = sqrt(A * A) + A")]
    public void What_agrees_is_not_remarked_on(string lines) =>
        Assert.DoesNotContain(Of(Studies.Of(lines)), finding => finding.Severity == Severity.Doubt && finding.Message.Contains(" in "));

    [Fact]
    public void A_typed_unit_that_the_formula_contradicts_offers_what_the_formula_says()
    {
        var document = Studies.Of("A(0) = 5 mg; V = 30 L; c = A / V");
        document = document.With(document.DefinitionBySymbol("c")! with { Unit = "people" });
        var finding = Of(document).First(one => one.Message.Contains("c is said to be in people"));
        Assert.Contains("mg/L", finding.Message);
    }
}
