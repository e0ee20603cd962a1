using System.Net;
using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Editing;
using ClearTide.Core.Inference;
using ClearTide.Core.Interventions;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Core.Tests;
using ClearTide.Storage;
using Microsoft.Extensions.DependencyInjection;

namespace ClearTide.Web.Tests;

/// <summary>A study that holds one of every kind of part, on every page and in every form: nothing ends in a fault of the server.</summary>
public sealed class EveryPageTests(Application application)
{
    private (HttpClient Client, string Id, StudyDocument Document) Study()
    {
        var client = application.CreateClient(new() { AllowAutoRedirect = false });
        var document = EveryPart.Study();
        var id = application.Services.GetRequiredService<StudyStore>().Add(document);
        var data = application
            .Services.GetRequiredService<DataSetStore>()
            .AddVersion(
                id,
                new("", "counts", [new DataRow(0, 7, 20), new DataRow(7, 14, 60) { LeftOut = true }, new DataRow(14, 21, 130)])
            );
        var levels = application
            .Services.GetRequiredService<DataSetStore>()
            .AddVersion(
                id,
                new(
                    "",
                    "levels",
                    [new DataRow(5, 5, 80.5) { Error = 2, Subject = "Anse" }, new DataRow(12, 12, -1), new DataRow(20, 20, 3)]
                )
                {
                    Subjects = [new("Anse") { Doses = [new(1, 50), new(4, 50, 2)] }],
                }
            );
        var counted = document.Flows.First(flow => document.Describe(flow) == "S → E").Id;
        Edit[] edits =
        [
            new TieSeries([
                new("", data.Id, "Reported cases", counted, "rho"),
                new("", levels.Id, "Level", "", "1")
                {
                    Seen = ObservedAs.Standing,
                    Formula = "S / 2",
                    DosesInto = document.Compartments[0].Id,
                },
            ]),
            new AddScenario("Pause"),
            new SetFit(new(ErrorLaw.Poisson, [new("beta", 0.1, 0.9), new("release.half", 1, 100)])),
        ];
        foreach (var edit in edits)
            document = Applied(edit, document);
        document = Applied(new SetMeasure(document.Scenarios[0].Id, null, "Less of it", "release.high", 0.5, 25, 60), document);
        document = document with
        {
            Sliders = [new("release.half", 10, 60), new("S.total", 100, 20_000)],
            Panels =
            [
                .. Enum.GetValues<PanelKind>()
                    .Select(
                        (kind, k) =>
                            new Panel($"p{k}", kind)
                            {
                                Curves = [document.Compartments[0].Id, document.Curves[0].Id, document.Inputs[0].Id],
                                Formulas = "I / N; release(C)",
                                Of = document.CompartmentBySymbol("I")!.Id,
                                Against = document.CompartmentBySymbol("S")!.Id,
                                Starts = "100 3",
                                Address = "release.half",
                                From = "10",
                                To = "40",
                                Count = "3",
                                Runs = "64",
                            }
                    ),
            ],
        };
        var state = application.Services.GetRequiredService<StudyStore>();
        id = state.Add(document);
        application.Services.GetRequiredService<DataSetStore>().Add(id, data);
        return (client, id, document);
    }

    private static StudyDocument Applied(Edit edit, StudyDocument document)
    {
        var result = edit.Apply(document);
        Assert.True(result.Refusal is null, result.Refusal);
        return result.Document!;
    }

    private static async Task Answers(HttpClient client, string address)
    {
        using var answer = await client.GetAsync(address);
        Assert.True(answer.StatusCode == HttpStatusCode.OK, $"{address}: {answer.StatusCode}");
    }

    [Fact]
    public async Task Every_page_and_every_view_opens()
    {
        var (client, id, document) = Study();
        foreach (var page in new[] { "build", "explore", "data", "fit", "scenarios", "projections", "history", "files", "export" })
            await Answers(client, $"/studies/{id}/{page}");
        await Answers(client, "/");
        foreach (var view in new[] { "Parts", "Equations", "Units", "Run" })
            await Answers(client, $"/studies/{id}/build?handler=Workspace&view={view}");
        foreach (var form in new[] { "latex", "mathml", "lines", "text" })
            await Answers(client, $"/studies/{id}/build?handler=Copy&form={form}");
        await Answers(client, $"/studies/{id}/build?handler=Influences");
        await Answers(client, $"/studies/{id}/files?handler=Sbml");
        foreach (var part in document.Parts)
        {
            await Answers(client, $"/studies/{id}/build?handler=Line&partId={part.Id}");
            await Answers(client, $"/studies/{id}/build?handler=Influences&partId={part.Id}");
        }
        var copied = await (await Visit.Open(client, $"/studies/{id}/build")).Post(
            "Parts",
            ("partIds", string.Join(',', document.Parts.Select(part => part.Id)))
        );
        Assert.Equal(HttpStatusCode.OK, copied.Status);
        await Answers(client, $"/studies/{id}/explore?handler=Run&set=release.half%3D20");
        foreach (var panel in document.Panels)
        {
            var handler = panel.Kind switch
            {
                PanelKind.Phase or PanelKind.Checks or PanelKind.Outcomes or PanelKind.Sweep or PanelKind.Sensitivity =>
                    panel.Kind.ToString(),
                _ => "Table",
            };
            await Answers(client, $"/studies/{id}/explore?handler={handler}&panel={panel.Id}&form=csv");
        }
    }

    [Fact]
    public async Task Every_field_of_every_part_takes_or_refuses_what_is_typed()
    {
        var (client, id, document) = Study();
        var visit = await Visit.Open(client, $"/studies/{id}/build");
        foreach (var part in document.Parts.DistinctBy(part => part.GetType()))
        {
            foreach (var field in Enum.GetValues<PartField>())
            {
                var check = await visit.Post("Check", ("partId", part.Id), ("field", field.ToString()), ("value", "1e400 days"));
                Assert.Equal(HttpStatusCode.OK, check.Status);
                var (status, _) = await visit.Post("Field", ("partId", part.Id), ("field", field.ToString()), ("value", "0.5"));
                Assert.True((int)status < 500, $"{part.Name} {field}: {status}");
                // The page in hand is stale once something was taken.
                if (status == HttpStatusCode.OK)
                    visit = await Visit.Open(client, $"/studies/{id}/build");
            }
        }
    }

    [Fact]
    public async Task Every_value_stands_in_words_where_it_can_be_estimated_and_scaled()
    {
        var (client, id, document) = Study();
        var form = Lowering.Lower(document).Network;
        var fit = WebUtility.HtmlDecode(await client.GetStringAsync($"/studies/{id}/fit"));
        foreach (var value in form.Values)
            Assert.Contains($"value=\"{value.Address}\"", fit, StringComparison.Ordinal);
        Assert.Contains("Release, its half-point", fit, StringComparison.Ordinal);
        var visit = await Visit.Open(client, $"/studies/{id}/fit");
        var fields = form
            .Values.SelectMany(value =>
                new[] { ("address", value.Address.ToString()), ("tick", value.Address.ToString()), ("lower", "0.01"), ("upper", "1000") }
            )
            .Append(("law", "Poisson"));
        var (status, html) = await visit.Post("Start", [.. fields]);
        Assert.True((int)status < 500, $"{status}: {html}");
        var scenarios = await Visit.Open(client, $"/studies/{id}/scenarios");
        foreach (var value in form.Values)
        {
            scenarios = await Visit.Open(client, $"/studies/{id}/scenarios");
            (status, _) = await scenarios.Post(
                "Measure",
                ("scenario", document.Scenarios[0].Id),
                ("label", value.Address.ToString()),
                ("address", value.Address.ToString()),
                ("factor", "0.5"),
                ("from", "30"),
                ("until", "40")
            );
            Assert.True((int)status < 500, $"{value.Address}: {status}");
        }
    }
}
