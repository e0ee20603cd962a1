using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;

namespace ClearTide.Core.Tests.Reports;

public class ExpectationTests
{
    private const string Epidemic =
        "S -> I : beta * S * I / N; I -> R after 5 days; beta = 0.4; N = S + I + R; S(0) = the rest of 1000; I(0) = 5; ";

    private static IReadOnlyList<Finding> Notes(string lines) => StudyRun.Of(Studies.Of(lines, 150)).Notes;

    [Theory]
    [InlineData("expect: R never falls")]
    [InlineData("expect: S never rises")]
    [InlineData("expect: the total stays")]
    [InlineData("expect: N stays")]
    [InlineData("expect: I <= 1000")]
    [InlineData("expect: with beta = 0: S stays")]
    [InlineData("expect: with beta = 0, I = 3: S never falls")]
    [InlineData("expect: I >= 0 and S >= 0")]
    [InlineData("expect: N = 1000")]
    [InlineData("expect: 1000 = S + I + R")]
    [InlineData("expect: not (N != 1000 or I < 0)")]
    [InlineData("expect: N <= 1000 and N >= 1000")]
    [InlineData("expect: S > 900 or R > 1")]
    [InlineData("expect: 2 > 1")]
    public void What_holds_is_passed_over(string expectation) => Assert.Empty(Notes(Epidemic + expectation.Replace(", I = 3", "")));

    [Theory]
    [InlineData("expect: I never falls", "it has fallen to")]
    [InlineData("expect: R never rises", "it has risen to")]
    [InlineData("expect: S stays", "it starts at 995")]
    [InlineData("expect: I < 100", "it is not true at day")]
    [InlineData("expect: N = 1000.01", "it is not true at day 0, where N is 1000, 0.01 away from what is expected.")]
    [InlineData("expect: R > 0", "it is not true at day 0, where R is just 0.")]
    [InlineData("expect: I <= 5", "it is not true at day 1, and most of all at day")]
    [InlineData("expect: R <= 100 and I < 1000", "where R is")]
    [InlineData("expect: not (I < 400)", "it is not true at day 0, and most of all at day")]
    [InlineData("expect: with beta = 0.9: I < 300", "it is not true at day")]
    [InlineData("expect: Q stays", "Q is not defined")]
    public void What_does_not_hold_is_a_finding_that_says_where(string expectation, string words)
    {
        var finding = Assert.Single(Notes(Epidemic + expectation));
        Assert.Contains(words, finding.Message);
        Assert.Equal(Severity.Doubt, finding.Severity);
    }

    [Fact]
    public void The_extremes_of_bounded_values_are_tried()
    {
        var document = Studies.Of(Epidemic + "expect: I < 300", 150);
        Assert.Empty(StudyRun.Of(document).Notes);
        document = new SetField(document.PartBySymbol("beta")!.Id, PartField.Upper, "0.9").Apply(document).Document!;
        Assert.Contains("when beta is 0.9", Assert.Single(StudyRun.Of(document).Notes).Message);
    }

    [Fact]
    public void Each_end_of_bounds_says_what_it_found()
    {
        var study = Studies.Of("A(0) = 10; k = 0.1 per day; A -> B at k; expect: B <= 9.5; expect: A + nothing > 0", 20);
        study = study.With(study.DefinitionBySymbol("k")! with { Lower = "0.05", Upper = "0.5" });
        var (cases, problem) = ExpectationCheck.Each(Lowering.Lower(study), study.Expectations[0]);
        Assert.Null(problem);
        // B comes to 10 (1 - exp(-20 k)): 8.6 as it is, 6.3 and 9.9995 at the ends.
        Assert.Equal([("", true), ("k is 0.05", true), ("k is 0.5", false)], cases.Select(one => (one.Where, one.Broken is null)));
        Assert.Contains("nothing is not defined", ExpectationCheck.Each(Lowering.Lower(study), study.Expectations[1]).Problem);
    }

    [Fact]
    public void An_input_that_ends_within_the_span_asks_how_it_goes_on()
    {
        var document = Studies.Of("-> A : rain(t); rain = points 0 5, 30 8", 100);
        static IEnumerable<Finding> OfParts(StudyDocument study) => StudyRun.Of(study).Notes.Where(note => note.PartId is not null);
        var finding = Assert.Single(OfParts(document));
        Assert.Equal(4, finding.Fixes.Count);
        foreach (var fix in finding.Fixes)
            Assert.Empty(OfParts(fix.Edit.Apply(document).Document!));
        Assert.Empty(OfParts(Studies.Of("-> A : rain(t); rain = points 0 5, 30 8 then hold", 100)));
    }

    [Fact]
    public void A_limit_that_acts_is_told()
    {
        var note = Assert.Single(StudyRun.Of(Studies.Of("X -> Y : 3 limited; X(0) = 6", 10)).Notes);
        Assert.True(note.IsNote);
        Assert.Contains("X was empty from day 2 to 10", note.Message);
    }
}
