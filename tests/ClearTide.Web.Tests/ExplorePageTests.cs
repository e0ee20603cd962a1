using System.Net;
using System.Text.Json;
using System.Text.RegularExpressions;
using ClearTide.Core.Analysis;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Web.Studies;

namespace ClearTide.Web.Tests;

public sealed partial class ExplorePageTests(Application application)
{
    private readonly HttpClient _client = application.CreateClient(new() { AllowAutoRedirect = false });
    private readonly DemoStudy _demo = new(application);

    private string Address => _demo.Address("explore");

    private async Task<string> Do(string handler, params (string, string)[] fields)
    {
        var (_, html) = await (await Visit.Open(_client, Address)).Post(handler, fields);
        return html;
    }

    /// <summary>The last line of an answer that comes line by line.</summary>
    private async Task<JsonElement> Last(string query)
    {
        var text = await _client.GetStringAsync(Address + query);
        return JsonDocument.Parse(text.TrimEnd().Split('\n')[^1]).RootElement;
    }

    [Fact]
    public async Task The_usual_panels_are_shown_and_the_first_edit_keeps_them()
    {
        var html = await Do("AddPanel", ("kind", "Sweep"));
        foreach (var kind in new[] { "Curves", "Budget", "Outcomes", "Sweep" })
            Assert.Contains($"data-kind=\"{kind}\"", html);
        Assert.Contains("no number", await Do("Panel", ("panel", "x1"), ("field", "maximum"), ("value", "tall")));
    }

    [Fact]
    public async Task A_run_follows_what_sliders_have_moved_and_leaves_the_model_alone()
    {
        async Task<double> Susceptible(string set)
        {
            using var json = JsonDocument.Parse(await _client.GetStringAsync($"{Address}?handler=Run&set={Uri.EscapeDataString(set)}"));
            var run = json.RootElement.GetProperty("run");
            var bytes = run.GetProperty("numbers").GetBytesFromBase64();
            var count = run.GetProperty("count").GetInt32();
            // The first curve behind the times is S.
            return BitConverter.ToDouble(bytes, 8 * (2 * count - 1));
        }
        var own = await Susceptible("");
        Assert.True(await Susceptible("{\"beta\":0.9}") < 0.5 * own);
        Assert.Equal(own, await Susceptible("{\"nothing\":1,\"beta\":null}"));
        Assert.Equal(own, await Susceptible("broken"));
    }

    [Fact]
    public async Task A_sweep_answers_with_outcomes_and_curves_or_says_what_is_wrong()
    {
        await Do("AddPanel", ("kind", "Sweep"));
        var sweep = await Last("?handler=Sweep&panel=x4");
        Assert.Equal(21, sweep.GetProperty("outcomes").GetArrayLength());
        Assert.Equal(21, sweep.GetProperty("curves").GetArrayLength());
        await Do("Panel", ("panel", "x4"), ("field", "secondAddress"), ("value", "I.start"));
        Assert.Equal(21 * 15, (await Last("?handler=Sweep&panel=x4")).GetProperty("outcomes").GetArrayLength());
        await Do("Panel", ("panel", "x4"), ("field", "count"), ("value", "10000000"));
        Assert.Contains("is the limit", (await Last("?handler=Sweep&panel=x4")).GetProperty("problem").GetString());
        Assert.Equal(HttpStatusCode.NotFound, (await _client.GetAsync(Address + "?handler=Sweep&panel=x99")).StatusCode);
    }

    [Fact]
    public async Task A_sweep_may_be_bands_and_goes_out_as_a_table()
    {
        await Do("AddPanel", ("kind", "Sweep"));
        await Do("Panel", ("panel", "x4"), ("field", "bands"), ("value", "true"));
        var sweep = await Last("?handler=Sweep&panel=x4");
        Assert.Equal(JsonValueKind.Null, sweep.GetProperty("curves").ValueKind);
        Assert.Equal(7, sweep.GetProperty("bands").GetProperty("lines").GetArrayLength());
        var rows = (await _client.GetStringAsync(Address + "?handler=Table&panel=x4&form=csv")).TrimEnd().Split('\n');
        Assert.Equal(1 + 21, rows.Length);
        Assert.Equal(
            sweep.GetProperty("outcomes")[3].GetDouble(),
            double.Parse(rows[4].Split(',')[1], System.Globalization.CultureInfo.InvariantCulture)
        );
        await Do("Panel", ("panel", "x4"), ("field", "secondAddress"), ("value", "I.start"));
        rows = (await _client.GetStringAsync(Address + "?handler=Table&panel=x4&form=csv")).TrimEnd().Split('\n');
        Assert.Equal((1 + 21 * 15, 3), (rows.Length, rows[0].Split(',').Length));
        await Do("Panel", ("panel", "x4"), ("field", "count"), ("value", "none"));
        Assert.Contains("How many values", await _client.GetStringAsync(Address + "?handler=Table&panel=x4&form=csv"));
    }

    [Fact]
    public async Task A_budget_and_what_was_observed_go_out_as_tables()
    {
        var budget = (await _client.GetStringAsync(Address + "?handler=Table&panel=x2&form=csv")).TrimEnd().Split('\n');
        Assert.True(budget.Length > 100 && budget[0].StartsWith("time (days),", StringComparison.Ordinal));
        await Do("AddPanel", ("kind", "Observed"));
        var observed = (await _client.GetStringAsync(Address + "?handler=Table&panel=x4&form=csv")).TrimEnd().Split('\n');
        Assert.Equal("time (days),observed,expected", observed[0].TrimEnd());
    }

    [Fact]
    public async Task A_step_of_calculation_can_be_taken_here()
    {
        await Do("Step", ("step", "0.125"));
        using var json = JsonDocument.Parse(await _client.GetStringAsync(Address + "?handler=Run"));
        Assert.Equal(0.125, json.RootElement.GetProperty("run").GetProperty("step").GetDouble());
        Assert.Contains("a number above zero, as in 0.25", await Do("Step", ("step", "-1")));
    }

    [Theory]
    [InlineData("Tornado", "bars")]
    [InlineData("Sobol", "sobol")]
    [InlineData("Ranks", "ranks")]
    public async Task What_an_outcome_hangs_on_is_found_each_way(string method, string answer)
    {
        await Do("AddPanel", ("kind", "Sensitivity"));
        await Do("Panel", ("panel", "x4"), ("field", "method"), ("value", method));
        await Do("Panel", ("panel", "x4"), ("field", "runs"), ("value", "600"));
        var found = await Last("?handler=Sensitivity&panel=x4");
        Assert.True(found.GetProperty(answer).GetArrayLength() > 4);
    }

    [Fact]
    public async Task Paths_from_several_starts_come_with_lines_of_standstill()
    {
        await Do("AddPanel", ("kind", "Phase"));
        await Do("Panel", ("panel", "x4"), ("field", "starts"), ("value", "9000 10, 5000 100, 12000 1"));
        var phase = JsonDocument.Parse(await _client.GetStringAsync(Address + "?handler=Phase&panel=x4")).RootElement;
        Assert.Equal(4, phase.GetProperty("paths").GetArrayLength());
        await Do("Panel", ("panel", "x4"), ("field", "address"), ("value", "beta"));
        phase = JsonDocument.Parse(await _client.GetStringAsync(Address + "?handler=Phase&panel=x4")).RootElement;
        Assert.Equal((16, 4), (phase.GetProperty("paths").GetArrayLength(), phase.GetProperty("still").GetArrayLength()));
        await Do("Panel", ("panel", "x4"), ("field", "starts"), ("value", "9000"));
        Assert.Contains(
            "is no start",
            JsonDocument
                .Parse(await _client.GetStringAsync(Address + "?handler=Phase&panel=x4"))
                .RootElement.GetProperty("problem")
                .GetString()
        );
    }

    [Fact]
    public async Task Numbers_go_out_at_their_own_spacing()
    {
        await Do("Panel", ("panel", "x1"), ("field", "every"), ("value", "50"));
        await Do("Panel", ("panel", "x1"), ("field", "formulas"), ("value", "all = S + E + I + R + H + D"));
        var rows = (await _client.GetStringAsync(Address + "?handler=Table&panel=x1&form=csv")).TrimEnd().Split('\n');
        Assert.Equal(1 + 5, rows.Length);
        Assert.EndsWith("all", rows[0].TrimEnd());
        Assert.Equal(18400, double.Parse(rows[3].TrimEnd().Split(',')[^1], System.Globalization.CultureInfo.InvariantCulture), 1e-6);
        var sheet = await _client.GetByteArrayAsync(Address + "?handler=Table&panel=x1&form=xlsx");
        Assert.Equal("PK"u8.ToArray(), sheet[..2]);
    }

    [Fact]
    public async Task A_kept_run_is_made_again_and_tells_what_differs()
    {
        var html = await Do("Keep", ("set", "{\"beta\":0.9}"));
        Assert.Contains("Run 1", html);
        Assert.Contains("beta 0.9", html);
        var id = Kept().Match(html).Groups[1].Value;
        Assert.Contains("\"numbers\"", await _client.GetStringAsync($"{Address}?handler=Kept&run={id}"));
        Assert.DoesNotContain(id, await Do("RemoveKept", ("run", id)));
        Assert.Equal(HttpStatusCode.NotFound, (await _client.GetAsync($"{Address}?handler=Kept&run={id}")).StatusCode);
    }

    [Fact]
    public async Task What_sliders_have_moved_becomes_an_edit_on_asking()
    {
        Assert.Contains("No slider has been moved", await Do("KeepValues", ("set", "")));
        await Do("KeepValues", ("set", "{\"beta\":0.5}"));
        Assert.Contains("values: beta = 0.5", await _client.GetStringAsync((Address).Replace("explore", "history")));
    }

    [GeneratedRegex("class=\"kept-run [^\"]*\" data-run=\"([^\"]+)\"")]
    private static partial Regex Kept();
}
