using System.Globalization;
using ClearTide.Core.Compilation;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;
using ClearTide.Storage;
using ClearTide.Web.Studies;
using Microsoft.AspNetCore.Mvc;

namespace ClearTide.Web.Pages.Studies;

/// <summary>Named sets of measures laid over the baseline, which stays as it is.</summary>
public sealed class ScenariosModel(StudyStore studies, StudyLibrary library) : StudyPage(studies, library)
{
    public override Step Step => Step.Scenarios;

    /// <summary>Values that a measure can scale.</summary>
    public IReadOnlyList<ModelValue> Values => [.. Lowering.Lower(Document).Network.Values.Where(value => !value.Address.IsInitial)];

    /// <summary>Where a new measure's window begins until it is typed: where the data end.</summary>
    public double Suggested => Series.Count > 0 ? Series.Max(one => one.Data.Now) : Document.Start;

    public void OnGet() { }

    public IActionResult OnPostAdd(long version, string? name) => Answer(Save(version, new AddScenario(name ?? "")));

    public IActionResult OnPostRemove(long version, string scenario) => Answer(Save(version, new RemoveScenario(scenario)));

    public IActionResult OnPostMeasure(
        long version,
        string scenario,
        string? measure,
        string? label,
        ValueAddress? address,
        string? factor,
        string? from,
        string? until
    ) =>
        Answer(
            Save(
                version,
                new SetMeasure(
                    scenario,
                    string.IsNullOrEmpty(measure) ? null : measure,
                    label ?? "",
                    address ?? ValueAddress.None,
                    Number(factor),
                    Number(from),
                    Number(until)
                )
            )
        );

    public IActionResult OnPostRemoveMeasure(long version, string scenario, string measure) =>
        Answer(Save(version, new RemoveMeasure(scenario, measure)));

    private static double Number(string? text) => TypedNumber.Read(text) ?? double.NaN;
}
