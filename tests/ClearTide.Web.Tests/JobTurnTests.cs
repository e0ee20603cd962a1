using System.Text.Json;
using ClearTide.Core.Ensembles;
using ClearTide.Storage;
using ClearTide.Web.Jobs;
using Microsoft.Extensions.DependencyInjection;

namespace ClearTide.Web.Tests;

/// <summary>Long work of several studies.</summary>
public sealed class JobTurnTests(Application application)
{
    private readonly DemoStudy _busy = new(application),
        _other = new(application);

    [Fact]
    public async Task A_long_projection_of_one_study_holds_up_no_fit_of_another()
    {
        var (jobs, signal) = (application.Services.GetRequiredService<JobStore>(), application.Services.GetRequiredService<JobSignal>());
        // Each of these takes many times as long as the fit; they are stopped below.
        var request = JsonSerializer.Serialize(new ProjectionOrder(ProjectionRequest.MostReplicates, 1, "", false, false, false, false));
        string[] many = [.. Enumerable.Range(0, 2).Select(k => jobs.Add(_busy.Id, ProjectionJob.Kind, $"long {k}", request))];
        var fit = jobs.Add(_other.Id, FitJob.Kind, "short", "");
        signal.Raise();
        try
        {
            while (!jobs.Find(fit)!.IsOver)
                await Task.Delay(50, TestContext.Current.CancellationToken);
            Assert.Equal(JobState.Done, jobs.Find(fit)!.State);
            Assert.All(many, id => Assert.False(jobs.Find(id)!.IsOver, jobs.Find(id)!.Message));
        }
        finally
        {
            foreach (var id in many)
                jobs.Stop(id);
        }
        while (many.Any(id => !jobs.Find(id)!.IsOver))
            await Task.Delay(50, TestContext.Current.CancellationToken);
        Assert.All(many, id => Assert.Equal(JobState.Stopped, jobs.Find(id)!.State));
    }

    [Fact]
    public async Task A_fit_is_under_way_or_there_at_every_look()
    {
        var visit = await _other.Open("fit");
        // Looks one behind another: over so many ends of a fit, one that read results before jobs was caught each time.
        for (var starts = 1; starts <= 15; starts++)
        {
            await visit.Post("Start", ("address", "beta"), ("tick", "beta"), ("lower", "0.05"), ("upper", "2"), ("starts", $"{starts}"));
            string look;
            do look = await visit.Client.GetStringAsync($"{visit.Address}?handler=Status", TestContext.Current.CancellationToken);
            while (look.Contains("Fitting, "));
            Assert.Contains("estimates", look);
            Assert.DoesNotContain("Out of date", look);
            visit = await _other.Open("fit");
        }
    }
}
