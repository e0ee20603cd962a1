using ClearTide.Core.Data;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;

namespace ClearTide.Core.Tests.Reports;

/// <summary>What is said of data that do not lie on the run.</summary>
public class SeriesNoteTests
{
    private static IReadOnlyList<Finding> Notes(string formula, params double[] times)
    {
        var document = Studies.Of("C(0) = 10; C -> at 0.1", 50);
        Series series = new(
            new("o", "d", "Level", "", "1") { Seen = ObservedAs.Standing, Formula = formula },
            new("d", "level", [.. times.Select(time => new DataRow(time, time, 1))])
        );
        return [.. StudyRun.Of(document, [series]).Notes.Where(note => note.Message.Contains("Level", StringComparison.Ordinal))];
    }

    [Fact]
    public void Points_within_the_span_need_no_word() => Assert.Empty(Notes("C", 0, 20, 50));

    [Theory]
    [InlineData(80.5, "1 point of Level lies outside the span, which goes from day 0 to 50.", "Run to 81", 0, 81)]
    [InlineData(-3, "1 point of Level lies outside the span, which goes from day 0 to 50.", "Run from -3", -3, 50)]
    public void A_point_outside_offers_a_longer_span(double time, string words, string label, double start, double end)
    {
        var note = Assert.Single(Notes("C", 10, 20, time));
        Assert.Equal(words, note.Message);
        var fix = Assert.Single(note.Fixes);
        Assert.Equal(label, fix.Label);
        Assert.Equal(new SetSpan(start, end), fix.Edit);
    }

    [Fact]
    public void Years_in_a_study_of_days_are_a_finding() =>
        Assert.Contains("likely in another unit", Assert.Single(Notes("C", 0.01, 0.1, 0.2)).Message);

    [Fact]
    public void A_series_of_what_is_gone_says_so() => Assert.Contains("Z, which is not in the model", Assert.Single(Notes("Z", 5)).Message);
}
