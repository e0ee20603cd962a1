using System.Net;
using System.Text.RegularExpressions;
using ClearTide.Core.Simulation;
using ClearTide.Web.Studies;

namespace ClearTide.Web.Tests;

/// <summary>Method, step and tolerance on the curves, and the ledger's view of the run, without a browser.</summary>
public sealed class RunViewTests(Application application)
{
    private readonly DemoStudy _demo = new(application);

    private static async Task<string> Report(Visit visit, string query = "") =>
        WebUtility.HtmlDecode(await visit.Client.GetStringAsync($"{visit.Address}?handler=Workspace&view=Run{query}"));

    private static string Sent(string html, string field) =>
        Regex.Match(WebUtility.HtmlDecode(html), $"\"{field}\":\"?([^\",]+)").Groups[1].Value;

    [Fact]
    public async Task The_method_is_kept_and_sent_with_the_run()
    {
        var visit = await _demo.Open("build");
        Assert.Equal("Automatic", Sent(visit.Html, "method"));
        var (status, html) = await visit.Post("Solver", ("method", "Euler"), ("step", "0.5"), ("tolerance", "1e-8"));
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.Equal(("Euler", "0.5"), (Sent(html, "method"), Sent(html, "step")));
        Assert.Contains("<option value=\"Euler\" selected", (await Visit.Open(visit.Client, visit.Address)).Html);
    }

    [Theory]
    [InlineData("0", "1e-8", "above zero")]
    [InlineData("soon", "1e-8", "above zero")]
    [InlineData("1000", "1e-8", "longer than the span")]
    [InlineData("0.5", "7", "tolerance")]
    [InlineData("0.5", "fine", "tolerance")]
    public async Task What_cannot_be_is_refused_with_a_sentence(string step, string tolerance, string why)
    {
        var visit = await _demo.Open("build");
        var (_, html) = await visit.Post("Solver", ("method", "Euler"), ("step", step), ("tolerance", tolerance));
        Assert.Contains(why, WebUtility.HtmlDecode(html));
        Assert.Equal("Automatic", Sent((await Visit.Open(visit.Client, visit.Address)).Html, "method"));
    }

    [Fact]
    public async Task The_run_view_shows_totals_outcomes_and_a_level()
    {
        var visit = await _demo.Open("build");
        var html = await Report(visit);
        Assert.Contains("Conserved totals", html);
        Assert.Contains("Fingerprint", html);
        Assert.DoesNotContain("Step check", html);
        var part = Regex.Match(html, "<option value=\"(c\\d+)\"").Groups[1].Value;
        html = await Report(visit, $"&of={part}&level=1000");
        Assert.Contains("time above 1\u2009000", html);
        Assert.Contains("A level is a number", await Report(visit, $"&of={part}&level=high"));
    }

    [Fact]
    public async Task A_fixed_step_is_checked_for_the_digits_asked_for()
    {
        var visit = await _demo.Open("build");
        await visit.Post("Solver", ("method", "RungeKutta4"), ("step", "0.5"), ("tolerance", "1e-8"));
        var html = await Report(visit, "&digits=6");
        Assert.Contains("Step check", html);
        Assert.Contains("value=\"6\"", html);
        Assert.Matches("The largest step found that gives 6 digits everywhere: [0-9.]+ days?", html);
    }
}
