using System.Net;
using System.Text.RegularExpressions;
using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Studies;
using ClearTide.Web.Studies;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.Extensions.DependencyInjection;

[assembly: AssemblyFixture(typeof(ClearTide.Web.Tests.Application))]

namespace ClearTide.Web.Tests;

/// <summary>The application in this process, with a data folder of its own and the demo study on its shelf.</summary>
public sealed partial class Application : WebApplicationFactory<Program>
{
    private readonly string _folder = Directory.CreateTempSubdirectory("clear-tide-").FullName;

    /// <summary>Starts at once: the factory would start one server for each of two tests that ask first at the same time.</summary>
    public Application() => StartServer();

    protected override void ConfigureWebHost(IWebHostBuilder builder) =>
        builder
            .UseSetting("DataFolder", _folder)
            .UseSetting("Serilog:MinimumLevel:Default", "Error")
            .UseSetting("Serilog:MinimumLevel:Override:Microsoft", "Error");

    protected override void Dispose(bool disposing)
    {
        base.Dispose(disposing);
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        if (Directory.Exists(_folder))
            Directory.Delete(_folder, recursive: true);
    }

    /// <summary>Opens the demo study's page of a step.</summary>
    public async Task<Visit> OpenDemo(string step)
    {
        var client = CreateClient(new() { AllowAutoRedirect = false });
        var shelf = await client.GetStringAsync("/");
        var id = StudyLink().Match(shelf).Groups[1].Value;
        return await Visit.Open(client, $"/studies/{id}/{step}");
    }

    [GeneratedRegex("/studies/([0-9a-f]+)/build")]
    private static partial Regex StudyLink();
}

/// <summary>A copy of the demo study, with its data, that no other test sees, in an application that all of them share.</summary>
public sealed class DemoStudy(Application application)
{
    private static readonly string File = System.IO.File.ReadAllText(
        Path.Combine(AppContext.BaseDirectory, "demo", "marram-fever.study.json")
    );

    public string Id { get; } = application.Services.GetRequiredService<StudyLibrary>().Add(StudyFile.Read(File));

    public string Address(string step) => $"/studies/{Id}/{step}";

    /// <summary>Opens the study's page of a step.</summary>
    public Task<Visit> Open(string step) => Visit.Open(application.CreateClient(new() { AllowAutoRedirect = false }), Address(step));
}

/// <summary>One open page: what a browser tab knows.</summary>
public sealed partial class Visit(HttpClient client, string address, string html)
{
    public string Html { get; } = html;

    public HttpClient Client { get; } = client;

    public string Address { get; } = address;

    public string Version => VersionField().Match(Html).Groups[1].Value;

    public string Csrf => WebUtility.HtmlDecode(Token().Match(Html).Groups[1].Value);

    public static async Task<Visit> Open(HttpClient client, string address) => new(client, address, await client.GetStringAsync(address));

    /// <summary>Posts to one of the page's handlers as its forms would.</summary>
    public async Task<(HttpStatusCode Status, string Html)> Post(string handler, params (string Name, string Value)[] fields)
    {
        using var request = new HttpRequestMessage(HttpMethod.Post, $"{Address}?handler={handler}")
        {
            Content = new FormUrlEncodedContent([
                .. fields.Select(field => KeyValuePair.Create(field.Name, field.Value)),
                KeyValuePair.Create("version", Version),
            ]),
        };
        request.Headers.Add("X-CSRF", Csrf);
        request.Headers.Add("HX-Request", "true");
        using var answer = await Client.SendAsync(request);
        return (answer.StatusCode, WebUtility.HtmlDecode(await answer.Content.ReadAsStringAsync()));
    }

    [GeneratedRegex("id=\"version\" name=\"version\" value=\"(\\d+)\"")]
    private static partial Regex VersionField();

    [GeneratedRegex("name=\"csrf\" content=\"([^\"]+)\"")]
    private static partial Regex Token();
}
