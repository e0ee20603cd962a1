using System.Net;
using System.Text.RegularExpressions;
using ClearTide.Core.Conversion;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Web.Tests;

/// <summary>What the ledger and its forms answer, without a browser.</summary>
public sealed partial class LedgerPageTests(Application application)
{
    private readonly DemoStudy _demo = new(application);

    private const string Model =
        "A -> B 60%, C the rest after 3 days in 2 stages; B -> : 3 limited; A(0) = 20 people; k = 0.3 per day; q = k * A; f = points "
        + "0 1, 9 2; g(x) = hill(0, 1, 2, 3); luck = normal(1, 0.2) every day; at 3: A = 5; assume: nobody comes; expect: C "
        + "never falls";

    private async Task<Visit> Begin()
    {
        var visit = await _demo.Open("build");
        Assert.Equal(HttpStatusCode.OK, (await visit.Post("Add", ("text", Model))).Status);
        return await Visit.Open(visit.Client, visit.Address);
    }

    [GeneratedRegex("id=\"line-([a-z]\\d+)\"")]
    private static partial Regex LineId();

    private static IReadOnlyList<string> Parts(Visit visit) => [.. LineId().Matches(visit.Html).Select(match => match.Groups[1].Value)];

    private static async Task<string> Form(Visit visit, string part) =>
        WebUtility.HtmlDecode(await visit.Client.GetStringAsync($"{visit.Address}?handler=Line&partId={part}"));

    private static string Last(Visit visit, char kind) => Parts(visit).Last(part => part[0] == kind);

    [Fact]
    public async Task Every_part_opens_in_a_form_of_its_kind()
    {
        var visit = await Begin();
        foreach (var part in Parts(visit))
            Assert.Contains("main-field", await Form(visit, part));
        Assert.Contains("limited", await Form(visit, Last(visit, 'f')));
        Assert.Contains("points-chart", await Form(visit, Last(visit, 'i')));
        Assert.Contains("given by", await Form(visit, Last(visit, 'r')));
        Assert.Contains("is drawn", await Form(visit, Last(visit, 'n')));
        Assert.Contains("symbols of the parts it concerns", await Form(visit, Last(visit, 'a')));
        Assert.Equal(HttpStatusCode.NotFound, (await visit.Client.GetAsync($"{visit.Address}?handler=Line&partId=zz")).StatusCode);
    }

    [Fact]
    public async Task An_edit_of_a_value_answers_with_the_lines_it_changes_alone()
    {
        var visit = await _demo.Open("build");
        var beta = Regex.Match(WebUtility.HtmlDecode(visit.Html), "id=\"line-(v\\d+)\"[^>]*data-name=\"beta\"").Groups[1].Value;
        var (status, html) = await visit.Post("Field", ("partId", beta), ("field", "Text"), ("value", "0.5 per day"), ("open", beta));
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.DoesNotContain("id=\"ledger\"", html);
        Assert.Contains($"id=\"line-{beta}\"", html);
        Assert.Contains("id=\"run-data\"", html);
        Assert.DoesNotContain("id=\"diagram\"", html);
        Assert.Single(LineId().Matches(html));
    }

    [Fact]
    public async Task The_model_is_given_as_lines_text_latex_and_mathml()
    {
        var visit = await Begin();
        async Task<string> Copy(string form) => await visit.Client.GetStringAsync($"{visit.Address}?handler=Copy&form={form}");
        Assert.Contains("A -> B 60%, C after 3 days in 2 stages", await Copy("lines"));
        Assert.Contains("dA/dt = ", await Copy("text"));
        Assert.Contains("\\frac{d A}{dt}", await Copy("latex"));
        Assert.Contains("<math display=\"block\">", await Copy("mathml"));
    }

    [Fact]
    public async Task Equations_and_units_are_views_of_the_ledger()
    {
        var visit = await Begin();
        var equations = WebUtility.HtmlDecode(await visit.Client.GetStringAsync($"{visit.Address}?handler=Workspace&view=Equations"));
        Assert.Contains("Balances", equations);
        var units = WebUtility.HtmlDecode(await visit.Client.GetStringAsync($"{visit.Address}?handler=Workspace&view=Units"));
        Assert.Matches("people</td>\\s*<td[^>]*>inferred", units);
    }

    [Fact]
    public async Task What_is_being_typed_is_checked_and_not_kept()
    {
        var visit = await Begin();
        var part = Last(visit, 'v');
        var (_, said) = await visit.Post("Check", ("partId", part), ("field", "Text"), ("value", "k*AA"), ("at", "0"));
        Assert.Contains("AA is not defined. Did you mean A?", said);
        Assert.Equal(visit.Version, (await Visit.Open(visit.Client, visit.Address)).Version);
    }

    [Theory]
    [InlineData("Field", "Stages", "0", "between 1 and 100 stages")]
    [InlineData("Field", "Target", "Q", "no compartment “Q”")]
    [InlineData("Field", "Colour", "3", "no such field")]
    public async Task What_a_form_cannot_keep_is_refused_in_words(string handler, string field, string value, string words)
    {
        var visit = await Begin();
        var (status, html) = await visit.Post(handler, ("partId", Last(visit, 'f')), ("field", field), ("value", value));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
        Assert.Contains(words, html);
    }

    [Fact]
    public async Task Parts_are_copied_pasted_reordered_turned_and_removed()
    {
        var visit = await Begin();
        var (_, parts) = await visit.Post("Parts", ("partIds", Last(visit, 'v')));
        Assert.Contains("clear-tide-parts", parts);
        var (status, html) = await visit.Post("Paste", ("parts", parts));
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.Contains("data-name=\"q2\"", html);
        visit = await Visit.Open(visit.Client, visit.Address);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await visit.Post("Paste", ("parts", "{\"format\":1}"))).Status);
        Assert.Equal(
            HttpStatusCode.OK,
            (await visit.Post("Reorder", ("partId", Last(visit, 'v')), ("beforeId", Parts(visit).First(part => part[0] == 'v')))).Status
        );
        visit = await Visit.Open(visit.Client, visit.Address);
        Assert.Equal(HttpStatusCode.OK, (await visit.Post("Reverse", ("partId", Parts(visit).First(part => part[0] == 'f')))).Status);
        visit = await Visit.Open(visit.Client, visit.Address);
        var count = Parts(visit).Count;
        await visit.Post("Remove", ("partIds", $"{Last(visit, 'e')},{Last(visit, 'a')}"));
        Assert.Equal(count - 2, Parts(await Visit.Open(visit.Client, visit.Address)).Count);
    }

    [Fact]
    public async Task A_handle_is_dragged_a_seed_drawn_a_unit_added_and_taken_away()
    {
        var visit = await Begin();
        var (status, html) = await visit.Post("Handle", ("partId", Last(visit, 'r')), ("field", "Half"), ("x", "2.75"), ("y", "0.5"));
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.Contains("hill(0, 1, 2.75, 3)", html);
        visit = await Visit.Open(visit.Client, visit.Address);
        Assert.Contains("seed 2", (await visit.Post("Draw")).Html);
        visit = await Visit.Open(visit.Client, visit.Address);
        Assert.Contains("1 strip = 200 mg", (await visit.Post("Unit", ("word", "strip"), ("meaning", "200 mg"), ("view", "Units"))).Html);
        visit = await Visit.Open(visit.Client, visit.Address);
        Assert.DoesNotContain("1 strip", (await visit.Post("RemoveUnit", ("word", "strip"), ("view", "Units"))).Html);
    }

    [Fact]
    public async Task Converting_the_time_takes_the_data_along_and_undo_brings_them_back()
    {
        var visit = await _demo.Open("build");
        using var form = new FormUrlEncodedContent([
            new("unit", "week"),
            new("convert", "true"),
            new("version", visit.Version),
            new("__RequestVerificationToken", visit.Csrf),
        ]);
        await visit.Client.PostAsync($"{visit.Address}?handler=TimeUnit", form);
        visit = await Visit.Open(visit.Client, visit.Address);
        var html = WebUtility.HtmlDecode(visit.Html);
        Assert.Contains("\"unit\":\"week\"", html);
        Assert.Contains("\"axis\":\"Reported cases in 1 week\"", html);
        var undone = (await visit.Post("Undo")).Html;
        Assert.Contains("\"axis\":\"Reported cases in 7 days\"", undone);
    }

    [Fact]
    public async Task Nothing_typed_becomes_markup()
    {
        var visit = await _demo.Open("build");
        await visit.Post("Add", ("text", "assume: <script>alert(1)</script>"));
        var raw = await visit.Client.GetStringAsync(visit.Address);
        Assert.DoesNotContain("<script>alert", raw);
    }

    [Fact]
    public async Task Contact_is_said_by_number_or_split_from_the_open_flow()
    {
        var visit = await _demo.Open("build");
        var infection = Parts(visit).First(part => part[0] == 'f');
        Assert.Contains("contact by share of N, beta in 1/day", await Form(visit, infection));
        var (status, html) = await visit.Post("Contact", ("partId", infection), ("change", "ByNumber"), ("open", infection));
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.Contains("value=\"beta * S * I\"", html);
        visit = await Visit.Open(visit.Client, visit.Address);
        Assert.Contains("data-name=\"contacts\"", (await visit.Post("Contact", ("partId", infection), ("change", "Split"))).Html);
    }
}
