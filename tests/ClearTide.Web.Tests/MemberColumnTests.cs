using ClearTide.Core.Editing;
using ClearTide.Core.Model;
using ClearTide.Web.Studies;

namespace ClearTide.Web.Tests;

/// <summary>Which member a column of a table is of, by its heading.</summary>
public class MemberColumnTests
{
    private static readonly StudyDocument Study = new AddLines(
        "group age = child, adult, old; S[age](0) = 9; I[age](0) = 1; S -> I at 0.1; I -> after 5"
    )
        .Apply(new StudyDocument { Title = "Ages" })
        .Document!;

    [Theory]
    [InlineData("child", "child")]
    [InlineData("cases_adult", "adult")]
    [InlineData("Cases (old)", "old")]
    [InlineData("ADULT cases", "adult")]
    [InlineData("cases", null)]
    // Of two members at once it is not told.
    [InlineData("child and adult", null)]
    // A part of a word is no name.
    [InlineData("household", null)]
    public void A_heading_names_a_member(string heading, string? member) => Assert.Equal(member, MemberColumn.Of(Study, heading));

    [Fact]
    public void A_label_is_a_name_too()
    {
        var study = new RenameMember(Study.Groups[0].Id, "old", "old", "65 and over").Apply(Study).Document!;
        Assert.Equal("old", MemberColumn.Of(study, "cases 65 and over"));
    }

    [Fact]
    public void It_is_tied_to_the_first_flow_of_that_member() =>
        Assert.Equal($"{Study.Flows[0].Id}.adult", MemberColumn.Flow(Study, "adult"));
}
