using ClearTide.Core.Compilation;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Web.Hosting;
using Microsoft.AspNetCore.Mvc;

namespace ClearTide.Web.Pages.Studies;

/// <summary>The least effort of a measure that keeps a limit.</summary>
public sealed partial class ScenariosModel
{
    /// <summary>Settings that are tried by chance, each of many runs.</summary>
    private const int StepsByChance = 13;

    /// <summary>Those of each of two settings, whose pairs are tried: without chance, and by chance.</summary>
    private const int StepsOfTwo = 15,
        StepsOfTwoByChance = 7;

    /// <summary>Measures over a window, each with its scenario.</summary>
    public IEnumerable<(Scenario Scenario, Measure Measure)> Searchable =>
        Document.Scenarios.SelectMany(scenario => scenario.Measures.Select(measure => (scenario, measure)));

    /// <param name="measure">Ids of the scenario and the measure, parted by a blank.</param>
    /// <param name="second">The same of a second setting; empty for none.</param>
    public IActionResult OnGetSearch(
        string? measure,
        MeasureSetting setting,
        string? from,
        string? to,
        string? second,
        MeasureSetting setting2,
        string? from2,
        string? to2,
        OutcomeKind outcome,
        string? limit,
        string? share,
        string? runs
    )
    {
        var ids = (measure ?? "").Split(' ');
        try
        {
            var (lowered, of) = Drawn(Document);
            var count = string.IsNullOrWhiteSpace(runs) ? 0 : TypedNumber.ReadWhole(runs) ?? -1;
            var question = new MeasureQuestion(
                ids[0],
                ids.Length > 1 ? ids[1] : "",
                setting,
                Typed(from),
                Typed(to),
                of,
                outcome,
                Typed(limit),
                Typed(share) / 100,
                count
            );
            if (count > 0)
                question = question with { Steps = StepsByChance };
            if (!string.IsNullOrEmpty(second))
            {
                if (second.Split(' ')[0] != ids[0])
                    throw new ArgumentException(
                        "Both settings belong to one scenario. Let it build on the other, or choose one of its own."
                    );
                question = question with
                {
                    Steps = count > 0 ? StepsOfTwoByChance : StepsOfTwo,
                    Second = new(second.Split(' ')[^1], setting2, Typed(from2), Typed(to2)),
                };
            }
            var found = ManyInTime(works, time =>
                MeasureSearch.Of(lowered, question, Now ?? double.NegativeInfinity, Estimates, time.Cancel)
            );
            return Partial("_Search", new SearchPicture(this, found, ""));
        }
        catch (ArgumentException refusal)
        {
            return Partial("_Search", new SearchPicture(this, null, refusal.Message));
        }
        static double Typed(string? text) => TypedNumber.Read(text?.Trim().TrimEnd('%').Trim().Replace(',', '.')) ?? double.NaN;
    }

    /// <summary>What was found becomes a scenario.</summary>
    public IActionResult OnPostFound(
        long version,
        string scenario,
        string measure,
        MeasureSetting setting,
        double value,
        string? second,
        MeasureSetting setting2,
        double value2
    ) =>
        Answer(
            Save(
                version,
                new TakeSetting(scenario, measure, setting, value)
                {
                    Second = string.IsNullOrEmpty(second) ? null : (second, setting2, value2),
                }
            )
        );
}
