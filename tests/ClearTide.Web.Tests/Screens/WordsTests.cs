using System.Runtime.InteropServices;
using System.Text.Json;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Web.Curves;
using ClearTide.Web.Ledger;
using ClearTide.Web.Studies;
using ClearTide.Web.Words;

namespace ClearTide.Web.Tests.Screens;

public class WordsTests
{
    [Theory]
    [InlineData(999.9997, "1\u2009000")]
    [InlineData(999.94, "999.9")]
    [InlineData(0, "0")]
    [InlineData(18400, "18\u2009400")]
    [InlineData(-1234.6, "−1\u2009235")]
    [InlineData(0.0714285, "0.07143")]
    [InlineData(2.5, "2.5")]
    [InlineData(123.456, "123.5")]
    [InlineData(47_300_000, "47\u2009300\u2009000")]
    [InlineData(470_000_000, "470 million")]
    [InlineData(double.NaN, "—")]
    public void Numbers_are_printed_for_reading(double value, string text) => Assert.Equal(text, Numbers.Say(value));

    [Fact]
    public void A_difference_has_its_sign()
    {
        Assert.Equal("+1\u2009200", Numbers.Difference(1200));
        Assert.Equal("−30", Numbers.Difference(-30));
    }

    [Theory]
    [InlineData("I -> R after 14 days", "0.07143 a day = 14 days on average = 6.894 % leave within a day")]
    [InlineData("I -> R at 1/14 per day", "0.07143 a day = 14 days on average = 6.894 % leave within a day")]
    [InlineData("I -> R after 2 weeks", "0.07143 a day = 14 days on average = 6.894 % leave within a day")]
    [InlineData("I -> R : 5", null)]
    public void A_rate_stands_beside_its_equivalents(string line, string? words)
    {
        var document = new AddLines(line).Apply(new StudyDocument { Title = "Estuary" }).Document!;
        Assert.Equal(words, Equivalents.Of(document, document.Flows[0]));
    }

    [Fact]
    public void The_faulty_stretch_is_marked_and_nothing_of_the_text_becomes_markup()
    {
        var document = new AddLines("S -> I : 0.1 * S").Apply(new StudyDocument { Title = "Estuary" }).Document!;
        document = new SetField(document.Flows[0].Id, PartField.Rate, ": S < <b> * bata").Apply(document).Document!;
        var line = LedgerModel.Of(StudyRun.Of(document)).Sections[1].Lines[0];
        var marked = FindingText.Mark(line.Part, line.Findings[0])!;
        Assert.Contains("<mark>", marked);
        Assert.DoesNotContain("<b>", marked.Replace("&lt;b&gt;", ""));
        Assert.Contains("&lt;", marked);
    }

    [Fact]
    public void A_run_as_JSON_can_stand_in_a_page_and_leaves_gaps_where_it_is_not_finite()
    {
        var document = new AddLines("A -> B at 0.1; A(0) = 5; q = 1 / (t - 10)")
            .Apply(new StudyDocument { Title = "Estuary", End = 20 })
            .Document!;
        document = new SetField(document.Compartments[0].Id, PartField.Label, "</script><script>alert(1)").Apply(document).Document!;
        var json = JsonText.Read(writer => RunData.Write(writer, StudyRun.Of(document)));
        Assert.DoesNotContain("<", json);
        using var parsed = JsonDocument.Parse(json);
        var curves = parsed.RootElement.GetProperty("curves").EnumerateArray().ToList();
        var (count, bytes) = (
            parsed.RootElement.GetProperty("count").GetInt32(),
            parsed.RootElement.GetProperty("numbers").GetBytesFromBase64()
        );
        // The times stand first, then one block a curve, in half the size where no last digit matters, each beginning at a multiple of
        // eight bytes.
        var times = MemoryMarshal.Cast<byte, double>(bytes)[..count];
        Assert.Equal((0, 20), (times[0], times[^1]));
        var (at, numbers) = (8 * count, new Dictionary<string, double[]>());
        foreach (var curve in curves)
        {
            var single = curve.GetProperty("single").GetBoolean();
            Assert.Equal(curve.GetProperty("kind").GetString() != "compartment", single);
            numbers[curve.GetProperty("symbol").GetString()!] = single
                ? [.. MemoryMarshal.Cast<byte, float>(bytes.AsSpan(at))[..count].ToArray().Select(value => (double)value)]
                : MemoryMarshal.Cast<byte, double>(bytes.AsSpan(at))[..count].ToArray();
            at += single ? 8 * ((count + 1) / 2) : 8 * count;
        }
        Assert.Equal(bytes.Length, at);
        var q = numbers["q"];
        Assert.Contains(q, double.IsNaN);
        Assert.DoesNotContain(q, double.IsInfinity);
        var a = numbers["A"];
        Assert.Equal(5 * Math.Exp(-2), a[^1], 5 * 1e-6); // the solver's own tolerance is 1e-7 of the amount
    }

    [Fact]
    public void Steps_say_what_is_there()
    {
        var empty = new StudyDocument { Title = "Estuary" };
        Assert.All(Steps.All, step => Assert.Equal(StepState.Empty, Steps.State(step, empty, () => false)));
        var built = new AddLines("A -> B at 0.1").Apply(empty).Document!;
        Assert.Equal(StepState.Ready, Steps.State(Step.Build, built, () => false));
        Assert.Equal(StepState.Unfinished, Steps.State(Step.Build, built, () => true));
    }

    [Fact]
    public void What_is_given_again_and_again_is_said_in_the_unit_of_the_study_and_can_be_typed()
    {
        foreach (var unit in TimeUnit.All)
        {
            var (line, says) = FieldExamples.Repeated(unit);
            Assert.Contains(unit.Seconds > TimeUnit.Day.Seconds ? unit.Plural : "hours", line);
            var study = new StudyDocument { Title = "Estuary", TimeUnit = unit };
            foreach (var more in new[] { "", says[(says.IndexOf(';', StringComparison.Ordinal) + 2)..].Split(" spreads")[0] })
                Assert.Null(new AddLines($"G(0) = 0 mg; G -> at 0.1; {line} {more}").Apply(study).Refusal);
        }
    }
}
