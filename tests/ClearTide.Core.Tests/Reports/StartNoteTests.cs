using ClearTide.Core.Diagnostics;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;

namespace ClearTide.Core.Tests.Reports;

public class StartNoteTests
{
    private static Finding? Asked(string lines) => StudyRun.Of(Studies.Of(lines)).Findings.SingleOrDefault(finding => finding.Asks);

    [Theory]
    [InlineData("S -> I : 0.4 * S * I / 1000; I -> R after 5 days", "give S a start")]
    // Shares of nothing are asked for: the run cannot begin.
    [InlineData("S -> I : 0.4 * S * I / N; I -> R after 5 days; N = S + I + R", "give S a start")]
    // Where flows begin, not where the ledger does.
    [InlineData("B(0) = 0; A -> B at 0.1; B -> C at 0.1", "give A a start")]
    public void Nothing_that_starts_with_anything_is_asked_for_where_flows_begin(string lines, string words)
    {
        var finding = Asked(lines)!;
        Assert.Contains(words, finding.Message);
        Assert.Equal(PartField.Start, finding.Field);
    }

    [Theory]
    [InlineData("A(0) = 1; A -> B at 0.1")]
    [InlineData("-> A : 5; A -> B at 0.1")]
    [InlineData("A(0) = 0")]
    [InlineData("A -> B at 0.1; at 5: A = 3")]
    public void A_model_that_fills_is_not_asked(string lines) => Assert.Null(Asked(lines));

    [Fact]
    public void Hours_are_an_hour_and_one_year_is_a_year()
    {
        Assert.Equal("an hour", TimeUnit.Hour.Each());
        Assert.Equal("a year", TimeUnit.Year.Each());
        Assert.Equal("1 year", TimeUnit.Year.Length(1));
        Assert.Equal("2.5 years", TimeUnit.Year.Length(2.5));
        Assert.Equal("on day 60", TimeUnit.Day.On(60));
        Assert.Equal("at hour 61.3", TimeUnit.Hour.On(61.3));
    }
}
