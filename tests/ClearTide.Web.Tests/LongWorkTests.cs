using System.Net;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;
using ClearTide.Storage;
using Microsoft.Extensions.DependencyInjection;

namespace ClearTide.Web.Tests;

public sealed class LongWorkTests : IDisposable
{
    private readonly Application _application = new();

    public void Dispose() => _application.Dispose();

    private JobStore Jobs => _application.Services.GetRequiredService<JobStore>();

    private static string Study(Visit visit) => visit.Address.Split('/')[2];

    /// <summary>Asks for the state of the newest job until it is over, as the page does.</summary>
    private async Task<Job> Over(Visit visit, string kind)
    {
        using var limit = new CancellationTokenSource(TimeSpan.FromSeconds(60));
        while (true)
        {
            var job = Jobs.Newest(Study(visit), kind)!;
            if (job.IsOver)
                return job;
            await Task.Delay(20, limit.Token);
        }
    }

    private static (string, string)[] Fit(string tick, string lower, string upper) =>
        [("address", tick), ("tick", tick), ("lower", lower), ("upper", upper), ("law", "Poisson")];

    [Fact]
    public async Task A_fit_runs_in_the_background_and_its_estimates_can_be_taken_over()
    {
        var visit = await _application.OpenDemo("fit");
        Assert.Equal(HttpStatusCode.Redirect, (await visit.Post("Start", Fit("beta", "0.05", "2"))).Status);
        Assert.Equal(JobState.Done, (await Over(visit, "fit")).State);
        var fitted = await _application.OpenDemo("fit");
        Assert.Contains("The data tell beta to within", fitted.Html);
        Assert.Equal(HttpStatusCode.Redirect, (await fitted.Post("Adopt")).Status);
        var adopted = await _application.OpenDemo("fit");
        Assert.DoesNotContain("Out of date", adopted.Html);
        await (await _application.OpenDemo("build")).Post("Add", ("text", "illness = 6 days"));
        Assert.Contains("Out of date", (await _application.OpenDemo("fit")).Html);
    }

    [Theory]
    [InlineData("beta", "2", "0.1", "bounds of beta cross")]
    [InlineData("beta", "low", "1", "as numbers")]
    public async Task Bounds_that_cannot_be_are_refused_and_stay_as_typed(string tick, string lower, string upper, string words)
    {
        var visit = await _application.OpenDemo("fit");
        var (status, html) = await visit.Post("Start", Fit(tick, lower, upper));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
        Assert.Contains(words, html);
        Assert.Contains($"value=\"{lower}\"", html);
        Assert.Null(Jobs.Newest(Study(visit), "fit"));
    }

    [Fact]
    public async Task More_values_than_rows_end_with_a_sentence()
    {
        var data = await _application.OpenDemo("data");
        await data.Post(
            "Use",
            ("text", "day,cases\n7,4"),
            ("role", "Time"),
            ("role", "Value"),
            ("marks", "end"),
            ("interval", "7"),
            ("series[0].heading", "cases"),
            ("series[0].label", "Reported cases"),
            ("series[0].flowId", "f5"),
            ("series[0].reporting", "rho")
        );
        var visit = await _application.OpenDemo("fit");
        await visit.Post(
            "Start",
            ("address", "beta"),
            ("address", "rho"),
            ("tick", "beta"),
            ("tick", "rho"),
            ("lower", "0.1"),
            ("lower", "0.1"),
            ("upper", "1"),
            ("upper", "1"),
            ("law", "Poisson")
        );
        var job = await Over(visit, "fit");
        Assert.Equal(JobState.Failed, job.State);
        Assert.Contains("1 row of data cannot tell 2 values apart", job.Message);
        Assert.Contains("cannot tell 2 values apart", (await _application.OpenDemo("fit")).Html);
    }

    [Fact]
    public async Task A_projection_can_be_stopped_and_says_so()
    {
        var visit = await _application.OpenDemo("projections");
        Assert.Equal(HttpStatusCode.Redirect, (await visit.Post("Start", ("replicates", "5000"), ("seed", "1"))).Status);
        Assert.Equal(HttpStatusCode.Redirect, (await visit.Post("Stop")).Status);
        Assert.Equal(JobState.Stopped, (await Over(visit, "projection")).State);
    }

    [Fact]
    public async Task A_projection_gives_its_numbers_as_CSV_and_the_same_seed_the_same_numbers()
    {
        var visit = await _application.OpenDemo("projections");
        var tables = new List<string>();
        for (var k = 0; k < 2; k++)
        {
            await visit.Post("Start", ("replicates", "20"), ("seed", "7"));
            Assert.Equal(JobState.Done, (await Over(visit, "projection")).State);
            tables.Add(await visit.Client.GetStringAsync(visit.Address + "?handler=Csv"));
        }
        Assert.Equal(tables[0], tables[1]);
        Assert.StartsWith("scenario,interval_start,interval_end,p5", tables[0]);
        Assert.Equal(1 + 2 * 21, tables[0].Trim().Split('\n').Length);
    }

    [Theory]
    [InlineData("0", "1", "Ask for 1 to 1,000,000 replicates")]
    [InlineData("many", "1", "whole numbers")]
    public async Task A_projection_that_cannot_be_is_refused_in_words(string replicates, string seed, string words)
    {
        var visit = await _application.OpenDemo("projections");
        var (status, html) = await visit.Post("Start", ("replicates", replicates), ("seed", seed));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
        Assert.Contains(words, html);
    }
}
