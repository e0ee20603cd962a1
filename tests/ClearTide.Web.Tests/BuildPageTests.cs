using System.Net;

namespace ClearTide.Web.Tests;

public sealed class BuildPageTests(Application application)
{
    private readonly DemoStudy _demo = new(application);

    [Fact]
    public async Task Every_page_forbids_inline_script_and_style_and_has_none()
    {
        foreach (var step in new[] { "build", "data", "fit", "scenarios", "projections" })
        {
            var visit = await _demo.Open(step);
            using var answer = await visit.Client.GetAsync(visit.Address);
            var policy = answer.Headers.GetValues("Content-Security-Policy").Single();
            Assert.DoesNotContain("unsafe", policy);
            Assert.DoesNotContain("style=\"", visit.Html);
            Assert.DoesNotContain("<script>", visit.Html);
            Assert.DoesNotMatch("\\son[a-z]+=\"", visit.Html);
        }
    }

    [Fact]
    public async Task An_edit_without_the_token_is_refused()
    {
        var visit = await _demo.Open("build");
        using var answer = await visit.Client.PostAsync(
            visit.Address + "?handler=Add",
            new FormUrlEncodedContent([KeyValuePair.Create("text", "a = 1"), KeyValuePair.Create("version", "1")])
        );
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
    }

    [Fact]
    public async Task An_edit_answers_with_ledger_diagram_and_run()
    {
        var visit = await _demo.Open("build");
        var (status, html) = await visit.Post("Add", ("text", "R -> S after 90 days"));
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.Contains("id=\"ledger\"", html);
        Assert.Contains("id=\"diagram\"", html);
        Assert.Contains("\"symbol\":\"R → S\"", html.Replace("\\u2192", "→"));
        var flow = System
            .Text.RegularExpressions.Regex.Match(
                html,
                "aria-label=\"R → S, \".*?id=\"slot-(f\\d+)\"",
                System.Text.RegularExpressions.RegexOptions.Singleline
            )
            .Groups[1]
            .Value;
        var form = WebUtility.HtmlDecode(await visit.Client.GetStringAsync($"{visit.Address}?handler=Line&partId={flow}"));
        Assert.Contains("0.01111 a day = 90 days on average", form);
        Assert.Contains("R: joint mean stay 90 days", form);
    }

    [Fact]
    public async Task A_second_tab_is_told_what_changed_and_loses_nothing()
    {
        var first = await _demo.Open("build");
        var second = await _demo.Open("build");
        await first.Post("Add", ("text", "a = 1"));
        var (status, html) = await second.Post("Add", ("text", "b = 2"));
        Assert.Equal(HttpStatusCode.Conflict, status);
        Assert.Contains("changed elsewhere meanwhile (adds the parameter a)", html);
        Assert.DoesNotContain("value=\"b\"", (await _demo.Open("build")).Html);
    }

    [Theory]
    [InlineData("S -> ", "How fast?")]
    [InlineData("S -> I after 1/2 day", "0.5 day or as 1/2 per day")]
    [InlineData("E -> I at 3 days", "“at” takes a rate")]
    [InlineData("exp = 3", "is a function")]
    [InlineData("per = 3", "meaning of its own")]
    [InlineData("a = <script>alert(1)</script>", "")]
    public async Task A_slip_in_the_quick_line_is_refused_and_the_study_stays(string line, string words)
    {
        var visit = await _demo.Open("build");
        var (status, html) = await visit.Post("Add", ("text", line));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
        Assert.Contains(words, html);
        Assert.Equal(visit.Version, (await _demo.Open("build")).Version);
    }

    [Fact]
    public async Task Huge_and_deep_formulas_are_refused_in_words()
    {
        var visit = await _demo.Open("build");
        var terms = await visit.Post("Add", ("text", "a = 1" + string.Concat(Enumerable.Repeat("+1", 100_000))));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, terms.Status);
        Assert.Contains("at most 200,000 are read at once", terms.Html);
        var deep = await visit.Post("Add", ("text", "a = " + new string('(', 900) + "1" + new string(')', 900)));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, deep.Status);
        Assert.Contains("nested more than", deep.Html);
    }

    [Fact]
    public async Task A_run_that_fails_says_which_flow_when_and_with_which_values()
    {
        var visit = await _demo.Open("build");
        var (_, html) = await visit.Post("Add", ("text", "S -> R : S / (R - R)"));
        Assert.Contains("the flow S → R has no finite rate there", html.Replace("\\u2192", "→"));
        Assert.Contains("R = 0", html);
    }

    [Fact]
    public async Task An_explosion_is_stopped_and_said()
    {
        var visit = await _demo.Open("build");
        var (status, html) = await visit.Post("Add", ("text", "-> X : X^2; X(0) = 1"));
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.Contains("The run stopped at day", html);
    }

    [Fact]
    public async Task A_name_in_a_formula_is_printed_never_run()
    {
        var visit = await _demo.Open("build");
        var (_, html) = await visit.Post("Field", ("partId", "v13"), ("field", "Note"), ("value", "\"><script>alert(1)</script>"));
        Assert.DoesNotContain("<script>alert", (await _demo.Open("build")).Html);
        Assert.NotEmpty(html);
    }

    [Fact]
    public async Task An_unknown_study_is_a_page_that_says_so()
    {
        using var answer = await application.CreateClient().GetAsync("/studies/none/build");
        Assert.Equal(HttpStatusCode.NotFound, answer.StatusCode);
        Assert.Contains("nothing at this address", await answer.Content.ReadAsStringAsync());
    }
}
