using System.Net;
using System.Text;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Storage;
using Dapper;
using Microsoft.Extensions.DependencyInjection;

namespace ClearTide.Web.Tests;

/// <summary>What is damaged, too large or sent by hand.</summary>
public sealed class GuardPageTests(Application application)
{
    private readonly DemoStudy _demo = new(application);

    private readonly HttpClient _client = application.CreateClient(new() { AllowAutoRedirect = false });

    [Fact]
    public async Task A_study_that_cannot_be_read_is_told_of_and_the_others_are_there()
    {
        var visit = await _demo.Open("build");
        var (_, html) = await visit.Post("Add", ("text", "extra = 3"));
        var id = visit.Address.Split('/')[2];
        using (var connection = application.Services.GetRequiredService<Database>().Open())
        {
            connection.Execute(
                "update revision set document = @blob, base = null where study_id = @id and number = 2",
                new { id, blob = new byte[] { 1, 2, 3 } }
            );
        }
        application.Services.GetRequiredService<StudyStore>().Forget();
        Assert.Equal(HttpStatusCode.OK, (await _client.GetAsync("/")).StatusCode);
        Assert.Contains("cannot be read", await _client.GetStringAsync($"/?handler=Picture&id={id}"));
        foreach (var step in new[] { "build", "explore", "data", "fit", "scenarios", "projections", "history", "export", "files" })
        {
            using var answer = await _client.GetAsync($"/studies/{id}/{step}");
            Assert.Equal($"/studies/{id}/unreadable", answer.Headers.Location?.OriginalString);
        }
        var page = await Visit.Open(_client, $"/studies/{id}/unreadable");
        Assert.Contains("This study cannot be read", page.Html);
        Assert.Contains("Go back to revision 1", page.Html);
        Assert.Equal(HttpStatusCode.Redirect, (await page.Post("Earlier")).Status);
        Assert.Equal(HttpStatusCode.OK, (await _client.GetAsync($"/studies/{id}/build")).StatusCode);
    }

    [Fact]
    public async Task A_table_as_large_as_is_promised_is_read_and_used()
    {
        var visit = await _demo.Open("data");
        // As many rows as are read, with a wide column beside them: 4.6 MB.
        var text = new StringBuilder("day,cases,remark\n");
        for (var row = 1; row <= 18_000; row++)
            text.Append(row).Append(",1,").Append('w', 244).Append('\n');
        Assert.InRange(text.Length, 4_500_000, 5_000_000);
        var (status, html) = await visit.Post(
            "Use",
            ("text", text.ToString()),
            ("role", "Time"),
            ("role", "Value"),
            ("role", "Out"),
            ("series[0].heading", "cases"),
            ("series[0].flowId", "f5"),
            ("series[0].reporting", "1"),
            ("series[0].label", "Seen")
        );
        Assert.Equal(HttpStatusCode.Redirect, status);
    }

    [Theory]
    [InlineData("Define")]
    [InlineData("Reference")]
    [InlineData("Remove")]
    public async Task A_post_by_hand_without_what_it_needs_is_turned_away(string handler) =>
        Assert.Equal(HttpStatusCode.BadRequest, (await (await _demo.Open("build")).Post(handler)).Status);

    [Theory]
    [InlineData("Plate", "x", "NaN")]
    [InlineData("Plate", "y", "Infinity")]
    [InlineData("Plate", "x", "far")]
    public async Task A_place_that_is_no_number_is_turned_away(string handler, string field, string value) =>
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await (await _demo.Open("build")).Post(handler, ("name", "Reeds"), (field, value))).Status
        );

    [Fact]
    public async Task An_interval_that_is_no_length_is_refused_in_words()
    {
        foreach (var interval in new[] { "NaN", "-7", "0", "1e999" })
        {
            var (status, html) = await (await _demo.Open("data")).Post("Preview", ("text", "day,cases\n7,1\n14,2"), ("interval", interval));
            Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
            Assert.Contains("is not a number above zero", html);
        }
    }

    [Fact]
    public async Task A_long_line_is_looked_at_while_it_is_typed()
    {
        var line = string.Join("; ", Enumerable.Range(0, 900).Select(k => $"a{k} = {k}"));
        Assert.True(line.Length > 9000);
        var (status, html) = await (await _demo.Open("build")).Post("Preview", ("text", line));
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.Contains("a899", html);
    }
}
