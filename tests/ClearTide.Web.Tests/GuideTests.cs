using System.Net;
using System.Text.RegularExpressions;
using ClearTide.Core.Editing;
using ClearTide.Core.Interventions;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Web.Guide;
using ClearTide.Web.Studies;

namespace ClearTide.Web.Tests;

/// <summary>The user guide: all of it is served, and what it says can be typed, can be typed.</summary>
public partial class GuideTests(Application application) : IClassFixture<Application>
{
    private readonly HttpClient _client = application.CreateClient();
    private static readonly UserGuide Guide = new();

    [Fact]
    public async Task Every_page_and_its_pictures_are_served()
    {
        Assert.True(Guide.Pages.Count >= 14);
        foreach (var page in Guide.Pages)
        {
            var html = await _client.GetStringAsync("/guide/" + page.Key);
            Assert.Contains($"<h1>{WebUtility.HtmlEncode(page.Title)}</h1>", html);
            foreach (Match picture in Picture().Matches(page.Html))
            {
                using var answer = await _client.GetAsync(picture.Groups[1].Value);
                Assert.Equal("image/png", answer.Content.Headers.ContentType?.MediaType);
            }
        }
        using var none = await _client.GetAsync("/guide/nothing");
        Assert.Equal(HttpStatusCode.NotFound, none.StatusCode);
    }

    [Fact]
    public void Each_step_has_its_page()
    {
        foreach (var step in Steps.All)
            Assert.NotNull(Guide.Find(Steps.GuidePage(step)));
    }

    [Fact]
    public async Task A_search_finds_pages_that_hold_all_words()
    {
        Assert.Contains(Guide.Search("profile LIKELIHOOD"), hit => hit.Page.Key == "fit");
        Assert.Empty(Guide.Search("profile ferryman"));
        Assert.Empty(Guide.Search("  "));
        Assert.Contains("Nothing for", await _client.GetStringAsync("/guide?search=ferryman"));
        Assert.Contains("&lt;b&gt;", await _client.GetStringAsync("/guide?search=%3Cb%3E"));
    }

    [Fact]
    public void Every_line_of_a_model_in_it_can_be_typed()
    {
        var lines = Guide
            .Pages.SelectMany(page => Block().Matches(page.Text).Concat(Code().Matches(page.Text)))
            .Select(match => match.Groups[1].Value.Trim())
            .Where(line => IsTyped().IsMatch(line) && !IsMeasure().IsMatch(line) && !line.StartsWith("from ", StringComparison.Ordinal))
            .ToList();
        Assert.True(lines.Count > 40, $"{lines.Count} lines");
        Assert.Equal(
            [],
            lines.Where(line => QuickLine.Read(line).Problem is not null).Select(line => $"{line}: {QuickLine.Read(line).Problem!.Message}")
        );
    }

    [Fact]
    public void Every_measure_in_it_can_be_typed()
    {
        var study = new AddLines("S -> I : beta * S; beta = 0.4 per day; -> S : births; births = 3; S(0) = 100; I(0) = 1")
            .Apply(new StudyDocument { Title = "Harbour", End = 100 })
            .Document!;
        var lines = Guide.Pages.SelectMany(page => Code().Matches(page.Text)).Select(match => match.Groups[1].Value).ToList();
        var measures = lines.Where(line => IsMeasure().IsMatch(line)).ToList();
        Assert.True(measures.Count >= 3, $"{measures.Count} measures");
        Assert.Equal([], measures.Select(line => MeasureLine.Read(line, study).Problem).OfType<string>());
    }

    [Fact]
    public void What_a_scenario_puts_in_the_place_of_a_part_can_be_typed()
    {
        var study = new AddLines(
            "gulls = points 0 1, 40 3; crowding(x) = points 0 1, 1 0.5; -> S : gulls(t) * crowding(S / 900); S(0) = 100; I(0) = 1"
        )
            .Apply(new StudyDocument { Title = "Harbour", End = 100 })
            .Document!;
        var lines = Guide.Pages.SelectMany(page => Code().Matches(page.Text)).Select(match => match.Groups[1].Value);
        var typed = lines.Where(line => line.StartsWith("from ", StringComparison.Ordinal) && line.Contains('=')).ToList();
        Assert.True(typed.Count >= 5, $"{typed.Count} lines");
        Assert.Equal([], typed.Select(line => new AddMeasureLine("", line).Apply(study).Refusal).OfType<string>());
    }

    [GeneratedRegex("<img src=\"([^\"]+)\"")]
    private static partial Regex Picture();

    [GeneratedRegex(@"^ {4}(\S.*)$", RegexOptions.Multiline)]
    private static partial Regex Block();

    [GeneratedRegex("`([^`]+)`")]
    private static partial Regex Code();

    /// <summary>What ends with a window of time behind a comma.</summary>
    [GeneratedRegex(@", days? \d+ (to \d+|on)$")]
    private static partial Regex IsMeasure();

    /// <summary>What is a whole line and no piece of one: it defines something, moves something, or says when.</summary>
    [GeneratedRegex(@"^(.+ = |.*-> |unit |expect: |assume: |at \d|every |when |while |next )")]
    private static partial Regex IsTyped();
}
