using System.Text.Json;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Web.Words;

namespace ClearTide.Web.Pages.Studies;

/// <summary>What was tried of a measure, and the least that keeps the limit.</summary>
/// <param name="Found">Null where it could not be looked for.</param>
/// <param name="Problem">Why not; empty where it could.</param>
public sealed record SearchPicture(ScenariosModel Page, MeasureSearch? Found, string Problem)
{
    /// <summary>A setting in words, before its number.</summary>
    public static string Of(MeasureSetting setting) =>
        setting switch
        {
            MeasureSetting.Strength => "number",
            MeasureSetting.Start => "beginning",
            _ => "end",
        };

    /// <summary>What a limit can be of.</summary>
    public static readonly IReadOnlyList<OutcomeKind> Outcomes = [OutcomeKind.Maximum, OutcomeKind.Final, OutcomeKind.Total];

    public static string Of(OutcomeKind outcome) =>
        outcome switch
        {
            OutcomeKind.Maximum => "peak",
            OutcomeKind.Final => "value at the end",
            _ => "total",
        };

    public string Json =>
        Found is not { } found
            ? "{}"
            : JsonSerializer.Serialize(
                new
                {
                    settings = found.Tried.Select(one => one.Setting),
                    outcomes = found.Tried.Select(one => double.IsFinite(one.Outcome) ? one.Outcome : (double?)null),
                    shares = found.Question.Replicates > 0 ? found.Tried.Select(one => one.Share) : null,
                    limit = found.Question.Limit,
                    wanted = found.Question.Share,
                    best = found.Best is { } best ? found.Tried[best].Setting : (double?)null,
                    name = Of(found.Question.Setting),
                    outcome = $"{Of(found.Question.Outcome)} of {Page.Label}",
                }
            );

    /// <summary>The answer, in a sentence or two.</summary>
    public string Words
    {
        get
        {
            if (Found is not { } found)
                return Problem;
            var (question, tried) = (found.Question, found.Tried);
            var what = $"the {Of(question.Outcome)} of {Page.Label} at or below {NumberWords.Grouped(question.Limit, 5)}";
            var how = question.Replicates > 0 ? $" in {100 * question.Share:0.#} % of {question.Replicates} runs" : "";
            var step = tried.Length > 1 ? NumberWords.Grouped(tried[1].Setting - tried[0].Setting, 3) : "";
            if (found.Best is not { } best)
            {
                var nearest = question.Replicates > 0 ? tried.MaxBy(one => one.Share)! : tried.MinBy(one => one.Outcome)!;
                return $"None of the {tried.Length} settings from {NumberWords.Grouped(tried[0].Setting, 4)} to "
                    + $"{NumberWords.Grouped(tried[^1].Setting, 4)} keeps {what}{how}. The nearest, {NumberWords.Grouped(nearest.Setting, 4)}, "
                    + (
                        question.Replicates > 0
                            ? $"does in {100 * nearest.Share:0.#} %."
                            : $"comes to {NumberWords.Grouped(nearest.Outcome, 4)}."
                    );
            }
            var answer = tried[best];
            var words =
                $"The least that keeps {what}{how}: {Of(question.Setting)} {NumberWords.Grouped(answer.Setting, 4)}, to a step of {step}. ";
            words += found.Interval is var (low, high)
                ? $"There it stays so in {100 * answer.Share:0.#} % of the runs (95 % interval {100 * low:0.#} to {100 * high:0.#} %)."
                : $"There it comes to {NumberWords.Grouped(answer.Outcome, 4)}, without chance.";
            return best == 0 || best == tried.Length - 1
                ? words + " That is the first or the last that was tried: less may do. Try a wider range."
                : words;
        }
    }
}
