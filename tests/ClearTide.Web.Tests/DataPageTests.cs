using System.Net;
using System.Text.RegularExpressions;
using MiniExcelLibs;

namespace ClearTide.Web.Tests;

public sealed class DataPageTests(Application application)
{
    private readonly DemoStudy _demo = new(application);

    private const string Good = "day,cases\n7,4\n14,9\n21,16";

    [Theory]
    [InlineData("", "The file is empty")]
    [InlineData("no table at all", "does not look like a table")]
    [InlineData("day,cases\n7,many", "the count “many” is not a number")]
    [InlineData("day,cases\n7,-4", "is negative")]
    public async Task What_is_no_table_of_counts_is_refused_and_the_data_stay(string text, string words)
    {
        var visit = await _demo.Open("data");
        var (status, html) = await visit.Post("Preview", ("text", text));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
        Assert.Contains(words, html);
        Assert.Contains("from marram-fever-cases.csv", html);
        Assert.Contains(text, html);
    }

    [Fact]
    public async Task A_table_past_the_limit_is_refused_in_words()
    {
        var visit = await _demo.Open("data");
        using var file = new MultipartFormDataContent { { new ByteArrayContent(new byte[50_000_000]), "file", "huge.csv" } };
        using var request = new HttpRequestMessage(HttpMethod.Post, visit.Address + "?handler=Preview") { Content = file };
        request.Headers.Add("X-CSRF", visit.Csrf);
        using var answer = await visit.Client.SendAsync(request);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        Assert.Contains("huge.csv has 50 MB; at most 5 MB are read", await answer.Content.ReadAsStringAsync());
    }

    [Fact]
    public async Task Another_sheet_of_a_workbook_is_chosen_without_the_file()
    {
        using var book = new MemoryStream();
        book.SaveAs(
            new Dictionary<string, object>
            {
                ["cases"] = new[] { new { day = 7.0, cases = 5.0 }, new { day = 14.0, cases = 6.0 } },
                ["deaths"] = new[] { new { day = 7.0, deaths = 1.0 }, new { day = 14.0, deaths = 2.0 } },
            }
        );
        var visit = await _demo.Open("data");
        using var file = new MultipartFormDataContent { { new ByteArrayContent(book.ToArray()), "file", "two.xlsx" } };
        using var request = new HttpRequestMessage(HttpMethod.Post, visit.Address + "?handler=Preview") { Content = file };
        request.Headers.Add("X-CSRF", visit.Csrf);
        using var answer = await visit.Client.SendAsync(request);
        var first = await answer.Content.ReadAsStringAsync();
        Assert.Contains("<th scope=\"col\">cases</th>", first);
        var key = Regex.Match(first, "name=\"fileKey\" value=\"([^\"]+)\"").Groups[1].Value;
        (string, string)[] Asked(string workbook, string sheet) =>
            [("fileKey", workbook), ("sheets", "cases"), ("sheets", "deaths"), ("sheetShown", "cases"), ("sheet", sheet)];
        var (_, other) = await visit.Post("Preview", Asked(key, "deaths"));
        Assert.Contains("<th scope=\"col\">deaths</th>", other);
        Assert.Contains("<option value=\"deaths\" selected", other);
        // With the sheet that is shown, the text counts as it was sent: it may have been mended.
        var (_, mended) = await visit.Post("Preview", [.. Asked(key, "cases"), ("text", Good)]);
        Assert.Contains("3 rows, from day 0 to 21", mended);
        var (_, gone) = await visit.Post("Preview", Asked("0123", "deaths"));
        Assert.Contains("Choose it again", gone);
    }

    [Fact]
    public async Task A_long_table_is_kept_beside_an_empty_field_and_pasted_cells_take_its_place()
    {
        var visit = await _demo.Open("data");
        var rows = string.Join('\n', Enumerable.Range(1, 30_000).Select(k => $"{k},{k % 7}"));
        var (_, html) = await visit.Post("Preview", ("text", "day,cases\n" + rows));
        Assert.Contains("has 30,000 rows: too many to show here", html);
        Assert.Contains("30000 rows, from day 0 to 30000", html);
        // The field that a browser lays out is empty; the table waits on the server under a name.
        Assert.Matches("<textarea id=\"text\" name=\"pasted\"[^>]*></textarea>", html);
        Assert.DoesNotContain("29999,4", html);
        var kept = Regex.Match(html, "name=\"kept\" value=\"([0-9a-f]{64})\"").Groups[1].Value;
        var (_, other) = await visit.Post("Preview", ("kept", kept), ("role", "Time"), ("role", "Value"), ("interval", "0.5"));
        Assert.Contains("30000 rows, from day 0.5 to 30000, 0.5 days each", other);
        var (_, again) = await visit.Post("Preview", ("kept", kept), ("pasted", Good));
        Assert.Contains("3 rows, from day 0 to 21", again);
        var (status, gone) = await visit.Post("Preview", ("kept", new string('0', 64)));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
        Assert.Contains("not at hand any more", gone);
    }

    [Fact]
    public async Task Rows_are_mended_where_they_are_listed_and_all_that_cannot_be_used_are_taken_away()
    {
        var visit = await _demo.Open("data");
        const string table = "day,cases\n7,5\n14,x\n21,9\nsoon,4";
        var (_, html) = await visit.Post("Preview", ("text", table));
        Assert.Contains("value=\"14,x\" aria-label=\"Row 3 of the file\"", html);
        var (_, csv) = await visit.Post("Bad&series=0", ("text", table));
        Assert.Contains("3,the count “x” is not a number,\"14,x\"\n", csv);
        Assert.Contains("5,the time “soon” is not a number,\"soon,4\"\n", csv);
        var (_, mended) = await visit.Post(
            "Preview",
            ("text", table),
            ("mendRow", "3"),
            ("mendLine", "14,8"),
            ("mendRow", "5"),
            ("mendLine", "28,4")
        );
        Assert.Contains("4 rows, from day 0 to 28", mended);
        Assert.DoesNotContain("Row 3 of the file", mended);
        Assert.Contains("28,4", mended);
    }

    [Fact]
    public async Task A_table_in_another_unit_is_converted_and_so_is_the_next_one()
    {
        var visit = await _demo.Open("data");
        (string, string)[] form =
        [
            ("text", "day,kin\n1,5\n2,4"),
            ("role", "Time"),
            ("role", "Value"),
            ("series[0].heading", "kin"),
            ("series[0].label", "Kin"),
            ("series[0].seen", "Standing"),
            ("series[0].formula", "stay"),
            ("series[0].unit", "weeks"),
        ];
        var (_, html) = await visit.Post("Preview", form);
        Assert.Contains("Converted from weeks to days, times 7", html);
        await visit.Post("Use", form);
        visit = await _demo.Open("data");
        var id = Regex.Match(visit.Html, "data-observation=\"(o\\d+)\" aria-label=\"Kin\"").Groups[1].Value;
        var csv = await visit.Client.GetStringAsync($"{visit.Address}?handler=Rows&observation={id}&form=csv");
        Assert.Contains("1,35,", csv);
        // The next table of the same heading is in weeks again.
        (_, html) = await visit.Post("Preview", ("text", "day,kin\n1,5\n2,4\n3,2"));
        Assert.Contains("Converted from weeks to days, times 7", html);
        Assert.Contains("This is the next version of Kin: 1 row added", html);
    }

    [Fact]
    public async Task A_workbook_is_given_back_as_it_came_though_a_line_of_it_was_mended()
    {
        using var book = new MemoryStream();
        book.SaveAs(new[] { new { day = 7.0, kept = 5.0 }, new { day = 14.0, kept = 6.0 } });
        var visit = await _demo.Open("data");
        using var file = new MultipartFormDataContent { { new ByteArrayContent(book.ToArray()), "file", "one.xlsx" } };
        using var request = new HttpRequestMessage(HttpMethod.Post, visit.Address + "?handler=Preview") { Content = file };
        request.Headers.Add("X-CSRF", visit.Csrf);
        using var answer = await visit.Client.SendAsync(request);
        var key = Regex.Match(await answer.Content.ReadAsStringAsync(), "name=\"fileKey\" value=\"([^\"]+)\"").Groups[1].Value;
        await visit.Post(
            "Use",
            ("fileKey", key),
            ("name", "one.xlsx"),
            ("text", "day\tkept\n7\t5\n14\t9"),
            ("role", "Time"),
            ("role", "Value"),
            ("series[0].heading", "kept"),
            ("series[0].label", "Kept"),
            ("series[0].seen", "Standing"),
            ("series[0].formula", "N")
        );
        visit = await _demo.Open("data");
        var id = Regex.Match(visit.Html, "data-observation=\"(o\\d+)\" aria-label=\"Kept\"").Groups[1].Value;
        Assert.Contains("value=\"9\"", visit.Html);
        using var came = await visit.Client.GetAsync($"{visit.Address}?handler=Source&observation={id}");
        Assert.Equal(book.ToArray(), await came.Content.ReadAsByteArrayAsync());
        Assert.Equal("one.xlsx", came.Content.Headers.ContentDisposition!.FileNameStar ?? came.Content.Headers.ContentDisposition.FileName);
    }

    [Fact]
    public async Task A_series_on_the_model_says_how_it_was_seen_and_its_rows_are_changed()
    {
        var visit = await _demo.Open("data");
        await visit.Post(
            "Use",
            ("text", "day,level (mg)\n1,5\n2,4\n3,<2"),
            ("role", "Time"),
            ("role", "Value"),
            ("series[0].heading", "level (mg)"),
            ("series[0].label", "Level"),
            ("series[0].seen", "Standing"),
            ("series[0].formula", "N"),
            ("name", "levels.csv")
        );
        visit = await _demo.Open("data");
        var id = Regex.Match(visit.Html, "data-observation=\"(o\\d+)\" aria-label=\"Level\"").Groups[1].Value;
        Assert.Equal(
            "day,level (mg)\n1,5\n2,4\n3,<2",
            await visit.Client.GetStringAsync($"{visit.Address}?handler=Source&observation={id}")
        );
        var bands = await visit.Client.GetStringAsync($"{visit.Address}?handler=Bands&observation={id}&law=Poisson");
        // Of a Poisson law with mean 5 the middle nine tenths are 2 to 9, and with 4, 1 to 8.
        Assert.Contains("between 1 and 8 where 4 is expected, and between 2 and 9 where 5 is", bands);
        var binomial = await visit.Client.GetStringAsync($"{visit.Address}?handler=Bands&observation={id}&law=Binomial");
        Assert.Contains("of how many", binomial);

        (string, string)[] rows = [("observation", id), ("used", "0"), ("used", "1"), ("value", "5"), ("value", "1,5x"), ("value", "< 3")];
        var (status, html) = await visit.Post("Points", rows);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
        Assert.Contains("“1,5x” at day 2 of Level is not a number", html);
        Assert.Contains("value=\"1,5x\"", html);
        rows[4] = ("value", "1.5");
        (status, _) = await visit.Post("Points", rows);
        Assert.Equal(HttpStatusCode.Redirect, status);
        var csv = await visit.Client.GetStringAsync($"{visit.Address}?handler=Rows&observation={id}&form=csv");
        Assert.Equal(["time (days),value,below the value,in fits", "1,5,0,1", "2,1.5,0,1", "3,3,1,0"], csv.Trim().Split('\n'));

        visit = await _demo.Open("data");
        (status, html) = await visit.Post(
            "Seen",
            ("observation", id),
            ("label", "Level"),
            ("seen", "Standing"),
            ("formula", "Q + 1"),
            ("reporting", "1"),
            ("unit", "parsecs")
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
        Assert.Contains("Level has seen Q", html);
        Assert.Contains("value=\"Q + 1\"", html);
        (status, _) = await visit.Post(
            "Seen",
            ("observation", id),
            ("label", "Level"),
            ("seen", "Flowed"),
            ("flowId", "f5"),
            ("reporting", "rho"),
            ("delay", "2 days"),
            ("delayStages", "3"),
            ("law", "NegativeBinomial")
        );
        Assert.Equal(HttpStatusCode.Redirect, status);
        visit = await _demo.Open("data");
        Assert.Contains("late by 2 days in 3 stages", visit.Html);
        // A row that there is not takes nothing away.
        (status, _) = await (await _demo.Open("build")).Post("Point", ("observation", id), ("row", "99"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
    }

    [Fact]
    public async Task Bad_rows_are_listed_and_good_ones_can_be_used()
    {
        var visit = await _demo.Open("data");
        var (_, html) = await visit.Post("Preview", ("text", Good + "\n28,lots"));
        Assert.Contains("row 5: the count “lots” is not a number", html);
        Assert.Contains("3 rows, from day 0 to 21", html);
    }

    [Fact]
    public async Task Using_a_table_ties_it_to_the_model_in_one_edit()
    {
        var visit = await _demo.Open("data");
        var (status, _) = await visit.Post(
            "Use",
            ("text", Good),
            ("role", "Time"),
            ("role", "Value"),
            ("marks", "end"),
            ("series[0].heading", "cases"),
            ("series[0].label", "Cases"),
            ("series[0].flowId", "f5"),
            ("series[0].reporting", "rho"),
            ("name", "typed")
        );
        Assert.Equal(HttpStatusCode.Redirect, status);
        var after = await _demo.Open("data");
        Assert.Contains("from typed", after.Html);
        Assert.Equal(int.Parse(visit.Version) + 1, int.Parse(after.Version));
    }

    [Theory]
    [InlineData("series[0].reporting", "nothing", "uses nothing, which the model does not have")]
    [InlineData("series[0].reporting", "0.5 +", "cannot be read")]
    [InlineData("series[0].flowId", "f99", "Choose the flow")]
    [InlineData("interval", "long", "is not a number")]
    [InlineData("series[0].seen", "Standing", "Say what of the model Cases has seen")]
    [InlineData("role", "Value", "Say of one column that it is the time")]
    public async Task A_mapping_that_cannot_be_is_refused_and_kept_on_the_screen(string field, string value, string words)
    {
        var visit = await _demo.Open("data");
        var fields = new Dictionary<string, string>
        {
            ["text"] = Good,
            ["role"] = "Time",
            ["series[0].heading"] = "cases",
            ["series[0].label"] = "Cases",
            ["series[0].flowId"] = "f5",
            ["series[0].reporting"] = "rho",
            [field] = value,
        };
        var (status, html) = await visit.Post("Use", [.. fields.Select(pair => (pair.Key, pair.Value)), ("role", "Value")]);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
        Assert.Contains(words, html);
        Assert.Equal(visit.Version, (await _demo.Open("data")).Version);
    }

    [Fact]
    public async Task Rows_of_a_long_series_are_changed_wherever_they_are()
    {
        var visit = await _demo.Open("data");
        await visit.Post(
            "Use",
            ("text", "day,level\n" + string.Join('\n', Enumerable.Range(1, 1100).Select(k => $"{k * 0.1:0.0},{k}"))),
            ("role", "Time"),
            ("role", "Value"),
            ("series[0].heading", "level"),
            ("series[0].label", "Level"),
            ("series[0].seen", "Standing"),
            ("series[0].formula", "N"),
            ("name", "levels.csv")
        );
        visit = await _demo.Open("data");
        Assert.Contains("rows 1 to 500 of 1100", visit.Html);
        var id = Regex.Match(visit.Html, "data-observation=\"(o\\d+)\" aria-label=\"Level\"").Groups[1].Value;
        // What was typed is kept on the way to the rows after, and the row that is not ticked is left out.
        var rows = Enumerable.Range(0, 500).Select(k => ("value", k == 9 ? "10.5" : $"{k + 1}")).ToList();
        rows.AddRange(Enumerable.Range(0, 499).Select(k => ("used", $"{k}")));
        var (status, html) = await visit.Post("Points", [("observation", id), ("first", "0"), ("go", "500"), .. rows]);
        Assert.Equal(HttpStatusCode.Redirect, status);
        visit = await _demo.Open("data");
        html = await visit.Client.GetStringAsync($"{visit.Address}?observation={id}&first=1000");
        Assert.Contains("rows 1001 to 1100 of 1100", html);
        Assert.Contains("those before", html);
        Assert.DoesNotContain("those after", html);
        rows = [.. Enumerable.Range(1000, 100).SelectMany(k => new[] { ("value", k == 1049 ? "x" : $"{k + 1}"), ("used", $"{k}") })];
        (status, html) = await visit.Post("Points", [("observation", id), ("first", "1000"), .. rows]);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
        Assert.Contains("“x” at day 105 of Level is not a number", html);
        Assert.Contains("rows 1001 to 1100 of 1100", html);
        Assert.Contains("value=\"x\"", html);
        rows[2 * 49] = ("value", "7");
        (status, html) = await visit.Post("Points", [("observation", id), ("first", "1000"), ("row", "5000"), .. rows]);
        Assert.Contains("“5000” is no row of Level. Type a number from 1 to 1100.", html);
        Assert.Contains("value=\"7\"", html);
        (status, _) = await visit.Post("Points", [("observation", id), ("first", "1000"), ("row", "1001"), .. rows]);
        Assert.Equal(HttpStatusCode.Redirect, status);
        var csv = (await visit.Client.GetStringAsync($"{visit.Address}?handler=Rows&observation={id}&form=csv")).Trim().Split('\n');
        Assert.Equal(["1,10.5,1", "50,500,0", "105,7,1", "110,1100,1"], new[] { 10, 500, 1050, 1100 }.Select(k => csv[k]));
    }

    [Fact]
    public async Task A_series_is_taken_away_as_it_is_used()
    {
        var visit = await _demo.Open("data");
        var id = System.Text.RegularExpressions.Regex.Match(visit.Html, "data-observation=\"(o\\d+)\"").Groups[1].Value;
        var csv = await visit.Client.GetStringAsync($"{visit.Address}?handler=Rows&observation={id}&form=csv");
        Assert.StartsWith("to (days),from (days),value,in fits\n7,0,5,1\n", csv.ReplaceLineEndings("\n"));
        using var gone = await visit.Client.GetAsync($"{visit.Address}?handler=Rows&observation=o999&form=csv");
        Assert.Equal(HttpStatusCode.NotFound, gone.StatusCode);
    }

    [Fact]
    public async Task A_point_left_out_is_a_version_of_its_own_and_undone_as_any_edit()
    {
        var visit = await _demo.Open("data");
        var id = System.Text.RegularExpressions.Regex.Match(visit.Html, "data-observation=\"(o\\d+)\"").Groups[1].Value;
        Assert.DoesNotContain("left out</summary>", visit.Html);
        await visit.Post("Points", [("observation", id), .. Enumerable.Range(1, 6).Select(k => ("used", $"{k}"))]);
        var after = await _demo.Open("data");
        Assert.Contains("7 rows, 1 left out</summary>", after.Html);
        await after.Post("Undo");
        Assert.DoesNotContain("left out</summary>", (await _demo.Open("data")).Html);
    }
}
