using System.Net;
using System.Text.RegularExpressions;
using ClearTide.Core.Editing;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Web.Diagram;

namespace ClearTide.Web.Tests;

/// <summary>What gestures on the paper post, good and bad.</summary>
public sealed partial class PaperPageTests(Application application)
{
    private readonly DemoStudy _demo = new(application);

    private async Task<(HttpStatusCode Status, string Html)> Do(string handler, params (string, string)[] fields) =>
        await (await _demo.Open("build")).Post(handler, fields);

    private async Task<string> Box(string id) => BoxOf(id).Match((await _demo.Open("build")).Html).Groups[1].Value;

    private static Regex BoxOf(string id) => new($"data-node=\"{id}\"[^>]*data-box=\"([^\"]+)\"");

    [Fact]
    public async Task Plates_are_placed_together()
    {
        Assert.Equal(HttpStatusCode.OK, (await Do("Place", ("places", "c1:11:22;c2:33:44"), ("how", "aligned"))).Status);
        Assert.StartsWith("11 22 ", await Box("c1"));
        Assert.StartsWith("33 44 ", await Box("c2"));
    }

    [Theory]
    [InlineData("")]
    [InlineData("c1:a:b")]
    [InlineData("c1:1")]
    [InlineData("nobody:1:2")]
    [InlineData("c1:NaN:2")]
    public async Task A_place_that_is_none_is_refused_and_nothing_moves(string places)
    {
        var before = await Box("c1");
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await Do("Place", ("places", places))).Status);
        Assert.Equal(before, await Box("c1"));
    }

    [Fact]
    public async Task A_plate_dragged_far_off_stays_within_reach()
    {
        await Do("Place", ("places", "c1:1e9:-1e9"));
        Assert.StartsWith("6000 -6000 ", await Box("c1"));
    }

    [Fact]
    public async Task What_is_drawn_is_told_to_the_page_and_waits_for_its_rate()
    {
        var (status, html) = await Do("DrawFlow", ("from", "c1"), ("to", ""), ("x", "-90"), ("y", "40"));
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.Contains("no rate yet", html);
        Assert.Contains("S → outside", html);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await Do("DrawFlow", ("from", "c1"), ("to", "c1"))).Status);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await Do("DrawFlow", ("from", ""), ("to", ""))).Status);
        Assert.Contains("needs a name", (await Do("Plate", ("name", " "), ("x", "1"), ("y", "1"))).Html);
        Assert.Contains("Harbour", (await Do("Plate", ("name", "Harbour"), ("x", "1"), ("y", "1"))).Html);
    }

    [Fact]
    public async Task A_region_is_made_folded_renamed_and_taken_away()
    {
        var (_, html) = await Do("Region", ("label", "Ill & well"), ("partIds", "c1,c2"));
        var region = RegionId().Match(html).Groups[1].Value;
        Assert.NotEmpty(region);
        (_, html) = await Do("Fold", ("regionId", region), ("folded", "true"));
        Assert.Matches("class=\"plate [^\"]*folded\"", html);
        Assert.DoesNotMatch("data-node=\"c1\"", html);
        Assert.Contains("c1:", html); // the places of what is folded away travel with the page
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await Do("RenameRegion", ("regionId", region), ("label", ""))).Status);
        Assert.Contains("The town", (await Do("RenameRegion", ("regionId", region), ("label", "The town"))).Html);
        (_, html) = await Do("Dissolve", ("regionId", region));
        Assert.DoesNotContain("data-region=", html);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await Do("Fold", ("regionId", region), ("folded", "true"))).Status);
    }

    [Fact]
    public async Task References_texts_and_notes_come_and_go()
    {
        Assert.Contains("shown a second time", (await Do("Reference", ("partId", "c1"), ("x", "5"), ("y", "6"))).Html);
        var (_, html) = await Do("Text", ("text", "<b>bold</b> words"), ("x", "5"), ("y", "6"));
        var text = TextId().Match(html).Groups[1].Value;
        Assert.DoesNotContain($"data-text=\"{text}\"", (await Do("RemoveMark", ("markId", text))).Html);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await Do("RemoveMark", ("markId", text))).Status);
        Assert.Contains("no note yet", (await Do("Note", ("partId", "c1"), ("x", "1"), ("y", "1"))).Html);
    }

    [Fact]
    public async Task Influences_are_told_with_their_signs()
    {
        var demo = await _demo.Open("build");
        var json = await demo.Client.GetStringAsync($"{demo.Address}?handler=Influences&partId=c4");
        Assert.Matches("\"from\":\"c4\",\"to\":\"f\\d+\",\"sign\":\"more\"", json);
        Assert.StartsWith("[{", await demo.Client.GetStringAsync($"{demo.Address}?handler=Influences"));
        Assert.Equal("[]", await demo.Client.GetStringAsync($"{demo.Address}?handler=Influences&partId=nobody"));
    }

    [GeneratedRegex("data-region=\"(g\\d+)\"")]
    private static partial Regex RegionId();

    [GeneratedRegex("data-text=\"(n\\d+)\"")]
    private static partial Regex TextId();
}
