using System.Net;
using System.Text;
using System.Text.RegularExpressions;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Studies;

namespace ClearTide.Web.Tests;

public sealed partial class ShelfPageTests : IDisposable
{
    private const string Title = "Marram fever in Quay Ordan";
    private readonly Application _application = new();
    private readonly HttpClient _client;

    public ShelfPageTests() => _client = _application.CreateClient(new() { AllowAutoRedirect = false });

    public void Dispose() => _application.Dispose();

    private Task<string> Shelf(string query = "") => _client.GetStringAsync("/" + query);

    private static string StudyOf(string html, string title)
    {
        var at = html.IndexOf($"<strong>{title}</strong>", StringComparison.Ordinal);
        Assert.True(at > 0, $"{title} is not on the shelf");
        return StudyLink().Matches(html[..at])[^1].Groups[1].Value;
    }

    private async Task<(HttpStatusCode Status, string Html)> Do(string handler, string id) =>
        await (await Visit.Open(_client, "/")).Post(handler, ("id", id));

    private async Task<(HttpStatusCode Status, string Html, string Where)> Import(string name, string text)
    {
        using var request = new HttpRequestMessage(HttpMethod.Post, "/?handler=Import")
        {
            Content = new MultipartFormDataContent { { new StringContent(text, Encoding.UTF8, "application/json"), "file", name } },
        };
        request.Headers.Add("X-CSRF", (await Visit.Open(_client, "/")).Csrf);
        using var answer = await _client.SendAsync(request);
        return (
            answer.StatusCode,
            WebUtility.HtmlDecode(await answer.Content.ReadAsStringAsync()),
            answer.Headers.Location?.ToString() ?? ""
        );
    }

    [Fact]
    public async Task A_study_that_was_edited_since_the_shelf_was_shown_gives_its_picture_all_the_same()
    {
        var study = StudyOf(await Shelf(), Title);
        var build = await Visit.Open(_client, $"/studies/{study}/build");
        var (status, _) = await build.Post("Field", ("partId", "v13"), ("field", "Text"), ("value", "0.31 per day"));
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.Contains("<svg", await _client.GetStringAsync($"/?handler=Picture&id={study}"));
        using var gone = await _client.GetAsync("/?handler=Picture&id=0123456789abcdef0123456789abcdef");
        Assert.Equal(HttpStatusCode.NotFound, gone.StatusCode);
    }

    [Fact]
    public async Task A_study_exported_imported_and_exported_again_is_the_same_file()
    {
        var id = StudyOf(await Shelf(), Title);
        using var answer = await _client.GetAsync($"/studies/{id}/export");
        Assert.Contains("marram-fever-in-quay-ordan.study.json", answer.Content.Headers.ContentDisposition!.ToString());
        var text = await answer.Content.ReadAsStringAsync();
        var (status, _, where) = await Import("again.study.json", text);
        Assert.Equal(HttpStatusCode.Found, status);
        Assert.Equal(text, await _client.GetStringAsync(where.Replace("/build", "/export")));
        Assert.NotEmpty(StudyFile.Read(text).DataSets);
    }

    [Theory]
    [InlineData("{ broken", "cannot be read as JSON")]
    [InlineData("{\"format\":\"clear-tide-study\",\"version\":7}", "newer Clear Tide")]
    [InlineData("{\"a\":1}", "not a Clear Tide study")]
    [InlineData("", "Choose a file first")]
    public async Task A_file_that_is_no_study_is_refused_in_words(string text, string words)
    {
        var (status, html, _) = await Import("odd.study.json", text);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
        Assert.Contains(words, html);
        Assert.Contains(Title, html);
    }

    [Fact]
    public async Task A_file_that_is_too_large_is_refused_with_its_size()
    {
        var (status, html, _) = await Import("huge.study.json", new string(' ', 21_000_000));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
        Assert.Contains("has 21 MB", html);
    }

    [Fact]
    public async Task A_copy_stands_by_itself_with_its_data()
    {
        var id = StudyOf(await Shelf(), Title);
        Assert.Equal(HttpStatusCode.Found, (await Do("Duplicate", id)).Status);
        var copy = StudyOf(await Shelf(), Title + ", copy");
        Assert.NotEqual(id, copy);
        var bundle = StudyFile.Read(await _client.GetStringAsync($"/studies/{copy}/export"));
        Assert.Equal(7, bundle.DataSets.Single().Rows.Count);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await Do("Duplicate", "none")).Status);
    }

    [Fact]
    public async Task A_study_is_put_away_brought_back_and_only_from_there_deleted_for_good()
    {
        var id = StudyOf(await Shelf(), Title);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await Do("Delete", id)).Status);
        await Do("Archive", id);
        Assert.DoesNotContain(Title, await Shelf());
        Assert.Contains("1 archived", await Shelf());
        var away = await Shelf("?archived=true");
        Assert.Contains($"/studies/{id}/export", away[away.IndexOf("Delete for good", StringComparison.Ordinal)..]);
        await Do("Restore", id);
        Assert.Contains(Title, await Shelf());
        await Do("Archive", id);
        await Do("Delete", id);
        Assert.DoesNotContain(Title, await Shelf("?archived=true"));
        using var gone = await _client.GetAsync($"/studies/{id}/build");
        Assert.Equal(HttpStatusCode.NotFound, gone.StatusCode);
    }

    [Theory]
    [InlineData("quay ordan", true)]
    [InlineData("FERRY outbreak", true)]
    [InlineData("Infectious", true)]
    [InlineData("owls", false)]
    public async Task The_search_looks_in_titles_questions_and_parts(string words, bool found)
    {
        var html = await Shelf("?search=" + Uri.EscapeDataString(words));
        Assert.Equal(found, html.Contains($"<strong>{Title}</strong>", StringComparison.Ordinal));
        if (!found)
            Assert.Contains("No study here holds", html);
    }

    [Fact]
    public async Task Every_pattern_shows_what_it_is_before_it_is_opened()
    {
        var patterns = PatternLink().Matches(await Shelf()).Select(match => match.Groups[1].Value).ToList();
        Assert.True(patterns.Count >= 14, $"{patterns.Count} patterns");
        foreach (var pattern in patterns)
        {
            var html = await _client.GetStringAsync("/patterns/" + pattern);
            Assert.Contains("<rect", html); // its diagram
            Assert.Contains("<polyline", html); // its curves
            Assert.Contains("<math", html); // its equations
            Assert.Contains("It assumes", html);
            Assert.Contains("It checks that", html);
            Assert.Contains("Not ", html); // when not to use it
        }
    }

    [Fact]
    public async Task A_pattern_is_begun_from_and_added_to_a_study_in_its_unit_of_time()
    {
        var pattern = await Visit.Open(_client, "/patterns/one-compartment-medicine");
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await pattern.Post("", ("title", ""))).Status);
        Assert.Equal(HttpStatusCode.Found, (await pattern.Post("", ("title", "Brennalo by vein"))).Status);
        var study = StudyOf(await Shelf(), Title);
        var page = await Visit.Open(_client, $"/patterns/one-compartment-medicine?to={study}");
        Assert.Contains($"Add to {Title}", page.Html);
        var version = VersionField().Match(page.Html).Groups[1].Value;
        using var request = new HttpRequestMessage(HttpMethod.Post, "/patterns/one-compartment-medicine?handler=Add")
        {
            Content = new FormUrlEncodedContent([KeyValuePair.Create("to", study), KeyValuePair.Create("version", version)]),
        };
        request.Headers.Add("X-CSRF", page.Csrf);
        using var answer = await _client.SendAsync(request);
        Assert.Equal(HttpStatusCode.Found, answer.StatusCode);
        var document = StudyFile.Read(await _client.GetStringAsync($"/studies/{study}/export")).Document;
        Assert.NotNull(document.CompartmentBySymbol("A"));
        // 4 L an hour are 96 L a day, which the study counts in.
        Assert.Contains("hour", document.DefinitionBySymbol("CL")!.Text);
        Assert.Contains(document.Assumptions, assumption => assumption.Text.Contains("mixes with all of the body"));
    }

    [Fact]
    public async Task The_history_lists_goes_back_names_and_compares()
    {
        var demo = await _application.OpenDemo("build");
        await demo.Post("Add", ("text", "kappa = 3"));
        var page = await Visit.Open(_client, demo.Address.Replace("/build", "/history"));
        Assert.Contains("adds the parameter kappa", page.Html);
        await page.Post("Name", ("number", "2"), ("name", "with kappa"));
        Assert.Contains("<strong>with kappa</strong>", await _client.GetStringAsync(page.Address));
        var compared = await _client.GetStringAsync(page.Address + "?before=1&after=2");
        Assert.Matches("added</span> kappa", compared);
        using var wrong = await _client.GetAsync(page.Address + "?before=1&after=99");
        Assert.Equal(HttpStatusCode.NotFound, wrong.StatusCode);
        await page.Post("Jump", ("number", "1"));
        Assert.DoesNotContain("kappa,", await _client.GetStringAsync(demo.Address));
        Assert.Contains("undone", await _client.GetStringAsync(page.Address));
    }

    [Fact]
    public async Task The_schema_is_served() => Assert.Contains("\"clear-tide-study\"", await _client.GetStringAsync("/study.schema.json"));

    [GeneratedRegex("href=\"/studies/([0-9a-f]+)/build\"")]
    private static partial Regex StudyLink();

    [GeneratedRegex("href=\"/patterns/([a-z-]+)\"")]
    private static partial Regex PatternLink();

    [GeneratedRegex("name=\"version\" value=\"(\\d+)\"")]
    private static partial Regex VersionField();

    /// <summary>Two species in three litres; a reaction that makes two of one, which two flows stand for.</summary>
    private const string Sbml = """
        <?xml version="1.0" encoding="UTF-8"?>
        <sbml xmlns="http://www.sbml.org/sbml/level3/version2/core" level="3" version="2"><model id="binding" name="Brennalo binding">
          <listOfCompartments><compartment id="plasma" size="3" spatialDimensions="3" constant="true"/></listOfCompartments>
          <listOfSpecies><species id="D" compartment="plasma" initialConcentration="2" hasOnlySubstanceUnits="false" boundaryCondition="false" constant="false"/><species id="_C" name="Pairs" compartment="plasma" initialConcentration="0" hasOnlySubstanceUnits="false" boundaryCondition="false" constant="false"/></listOfSpecies>
          <listOfParameters><parameter id="k" constant="false"/></listOfParameters>
          <listOfReactions><reaction id="pairing" reversible="false"><listOfReactants><speciesReference species="D" stoichiometry="2" constant="true"/></listOfReactants><listOfProducts><speciesReference species="_C" stoichiometry="1" constant="true"/></listOfProducts>
            <kineticLaw><math xmlns="http://www.w3.org/1998/Math/MathML"><apply><plus/><ci>k</ci><apply><times/><cn>0.1</cn><ci>D</ci></apply></apply></math></kineticLaw></reaction></listOfReactions>
        </model></sbml>
        """;

    [Fact]
    public async Task A_model_as_SBML_becomes_a_study_that_says_what_it_holds_in_another_way()
    {
        var (status, _, where) = await Import("pairs.xml", Sbml);
        Assert.Equal(HttpStatusCode.Redirect, status);
        Assert.Contains("arrange=true", where);
        var html = WebUtility.HtmlDecode(await _client.GetStringAsync(where));
        Assert.Contains("Brennalo binding", html);
        Assert.Contains("The file gives k no value", html);
        // What takes two for one stays one thing.
        Assert.Contains("Reaction pairing, 2 D -> C", html);
        var id = BuildAddress().Match(where).Groups[1].Value;
        var page = await Visit.Open(_client, $"/studies/{id}/build");
        var (_, noted) = await page.Post("Noted", ("note", Note().Match(html).Groups[1].Value));
        Assert.DoesNotContain("The file gives k no value", noted);
        var files = WebUtility.HtmlDecode(await _client.GetStringAsync($"/studies/{id}/files"));
        Assert.Contains("2 species, 1 reaction", files);
        var again = await _client.GetStringAsync($"/studies/{id}/files?handler=Sbml");
        // The id that no formula can hold is the file's own again.
        Assert.Contains("<species id=\"_C\" name=\"Pairs\"", again);
        Assert.DoesNotContain("arrange", (await Import("again.xml", again)).Where);
    }

    [Theory]
    [InlineData("<sbml", "broken at line 1")]
    [InlineData("<!DOCTYPE sbml [<!ENTITY a \"b\">]><sbml/>", "document type of its own")]
    [InlineData("<other/>", "not SBML")]
    [InlineData("<sbml xmlns=\"http://www.sbml.org/sbml/level1\" level=\"1\" version=\"2\"/>", "Level 1")]
    public async Task SBML_that_cannot_be_read_is_told(string text, string sentence)
    {
        var (status, html, _) = await Import("wrong.xml", text);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
        Assert.Contains(sentence, html);
    }

    [GeneratedRegex("\"note\":\"(The file gives k[^\"]*)\"")]
    private static partial Regex Note();

    [GeneratedRegex("/studies/([^/]+)/build")]
    private static partial Regex BuildAddress();
}
