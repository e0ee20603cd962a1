using System.Globalization;
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
            MeasureSetting.Time => "time, as long as it is",
            MeasureSetting.Length => "length",
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
                    pairs = found.Question.Second is null ? null : Pairs(found),
                }
            );

    /// <summary>A number with all its digits, as it is sent back.</summary>
    public static string Whole(double value) => value.ToString("R", CultureInfo.InvariantCulture);

    /// <summary>What was tried of two settings, row by row of the second: a pair that makes no measure has no value.</summary>
    private object Pairs(MeasureSearch found)
    {
        var question = found.Question;
        double[] first = [.. found.Tried.Select(one => one.Setting).Distinct().Order()],
            second = [.. found.Tried.Select(one => one.Second).Distinct().Order()];
        var places = found.Tried.ToDictionary(one => (one.Setting, one.Second));
        var rows = second.SelectMany(y => first.Select(x => places.GetValueOrDefault((x, y)))).ToList();
        double? Value(TriedSetting? one) =>
            one is null ? null
            : found.HasCosts ? one.Cost
            : question.Replicates > 0 ? one.Share
            : double.IsFinite(one.Outcome) ? one.Outcome
            : null;
        return new
        {
            first,
            second,
            values = rows.Select(Value),
            kept = rows.Select(one => one is not null && found.Keeps(one)),
            best = found.Best is { } best ? rows.IndexOf(found.Tried[best]) : (int?)null,
            names = new[]
            {
                Of(question.Setting),
                Of(question.Second!.Setting) + (question.Second.Setting == question.Setting ? " (2)" : ""),
            },
            title = found.HasCosts ? "cost; pale: above the limit"
            : question.Replicates > 0 ? "share of runs that keep the limit"
            : $"{Of(question.Outcome)} of {Page.Label}; pale: above the limit",
        };
    }

    /// <summary>The settings of one that was tried, with their numbers.</summary>
    private string Settings(TriedSetting tried) =>
        $"{Of(Found!.Question.Setting)} {NumberWords.Grouped(tried.Setting, 4)}"
        + (Found.Question.Second is { } second ? $" and {Of(second.Setting)} {NumberWords.Grouped(tried.Second, 4)}" : "");

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
            if (found.Best is not { } best)
            {
                var nearest = question.Replicates > 0 ? tried.MaxBy(one => one.Share)! : tried.MinBy(one => one.Outcome)!;
                return $"None of the {tried.Length} settings keeps {what}{how}. The nearest, {Settings(nearest)}, "
                    + (
                        question.Replicates > 0
                            ? $"does in {100 * nearest.Share:0.#} %."
                            : $"comes to {NumberWords.Grouped(nearest.Outcome, 4)}."
                    );
            }
            var answer = tried[best];
            var words =
                $"The {(found.HasCosts ? "cheapest" : "least")} that keeps {what}{how}: {Settings(answer)}, to a step of "
                + $"{Step(question.From, question.To)}{(question.Second is { } other ? $" and {Step(other.From, other.To)}" : "")}. ";
            if (found.HasCosts)
                words += $"It costs {NumberWords.Grouped(answer.Cost, 5)}. ";
            words += found.Interval is var (low, high)
                ? $"There it stays so in {100 * answer.Share:0.#} % of the runs (95 % interval {100 * low:0.#} to {100 * high:0.#} %)."
                : $"There it comes to {NumberWords.Grouped(answer.Outcome, 4)}, without chance.";
            return found.IsAtEdge ? words + " That is at the first or the last that was tried: less may do. Try a wider range." : words;
            string Step(double from, double to) => NumberWords.Grouped((to - from) / (question.Steps - 1), 3);
        }
    }
}
