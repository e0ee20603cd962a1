using System.Collections.Immutable;
using System.Text.RegularExpressions;
using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;

namespace ClearTide.Core.Interventions;

/// <summary>
/// A rule of a scenario that puts something else in the place of a part of the model: an input or a response curve from a time on
/// (<c>from 60: gulls(t) = trend</c>), or other initial amounts (<c>S(0) = 900; I(0) = 30</c>). Before the future begins a scenario is the
/// baseline, so that initial amounts differ only where all of the span lies ahead.
/// </summary>
public static partial class Replacement
{
    [GeneratedRegex(@"^\s*(?<of>[^\s()=;:]+)\s*\(\s*0\s*\)\s*=[^=;]+$")]
    private static partial Regex InitialAmount();

    /// <summary>Whether a rule is one.</summary>
    /// <param name="text">The rule as typed.</param>
    public static bool Begins(string text) => InsteadLine.Begins(text) || IsStart(text);

    /// <summary>Whether it says what the model begins with.</summary>
    internal static bool IsStart(string text) => InitialAmount().IsMatch(text.Split(';')[0]);

    /// <summary>The study with it.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="text">The rule as typed.</param>
    /// <param name="now">Where the future begins, or negative infinity.</param>
    /// <returns>The study that is run, or why there is none, in a sentence.</returns>
    public static (StudyDocument? Document, string? Problem) In(StudyDocument document, string text, double now)
    {
        var (made, problem) = IsStart(text) ? Starting(document, text, now) : Later(document, text, now);
        if (made is null || ReferenceEquals(made, document))
            return (made, problem);
        // What was unfinished before is not its fault.
        if (!Lowering.Lower(document).IsProvisional && Unfinished(made) is { } wrong)
            return (null, wrong);
        return (made, null);
    }

    private static string? Unfinished(StudyDocument made) =>
        Lowering.Lower(made).Findings.FirstOrDefault(finding => finding.Severity == Severity.Unfinished)?.Message;

    /// <summary>What a run is told that it does: from when on it holds; null where it does nothing in it.</summary>
    internal static EventAct? Act(StudyDocument document, EventRule rule, double now)
    {
        var from = Begin(document, rule.Text);
        if (IsStart(rule.Text) ? now > from : !(from < document.End))
            return null;
        return new(rule.Id, Math.Max(Math.Max(from, now), document.Start));
    }

    /// <summary>When it begins, in the study's unit of time; not a number where it cannot be read.</summary>
    internal static double Begin(StudyDocument document, string text) =>
        IsStart(text) ? document.Start : InsteadLine.Read(text).Line?.Begin(document) ?? double.NaN;

    /// <summary>Whether it lasts until the end of the run.</summary>
    internal static bool Lasts(string text) => InsteadLine.Begins(text);

    private static (StudyDocument?, string?) Starting(StudyDocument document, string text, double now)
    {
        foreach (var piece in text.Split(';', StringSplitOptions.TrimEntries))
        {
            if (InitialAmount().Match(piece) is not { Success: true } match)
                return (null, $"“{piece}” is no initial amount. Write each as “S(0) = 900”, with “;” between them.");
            var name = Symbols.Normalize(match.Groups["of"].Value);
            if (document.CompartmentBySymbol(MemberName.BaseOf(name)) is null)
                return (null, $"“{name}” is no compartment of the model. A scenario begins with other amounts of those there are.");
        }
        var result = new AddLines(text).Apply(document);
        if (result.Document is not { } made)
            return (null, result.Refusal);
        return (now > document.Start ? document : made, null);
    }

    private static (StudyDocument?, string?) Later(StudyDocument document, string text, double now)
    {
        var (line, wrong) = InsteadLine.Read(text);
        if (line is null)
            return (null, wrong!.Message);
        var units = document.UnitTable();
        if (line.Begin(document) is not { } begin)
            return (
                null,
                "This begins at a date, and the study does not say which date its time zero is. Set it under the study's title, or give a "
                    + "time."
            );
        var from = Math.Max(begin, now);
        switch (document.PartBySymbol(line.Symbol))
        {
            case Input input:
                return Input(document, input, line, from);
            case ResponseCurve curve:
                if (line.Points is null)
                    return (
                        null,
                        $"The response curve {curve.Symbol} does not change with time. Give it other points: “= points 0 1, 1 0.5”."
                    );
                var (points, problem) = PointsLine.Values(line.Points.Pairs, units);
                if ((problem ?? ResponseCurves.TooFew(points)) is { } why)
                    return (null, why);
                return (
                    document.With(curve with { Later = With(curve.Later, new(from, null, 0, new(points, line.Points.Between))) }),
                    null
                );
            default:
                return (null, $"There is no input or response curve “{line.Symbol}” in the model. Name one of those in Build.");
        }
    }

    private static (StudyDocument?, string?) Input(StudyDocument document, Input input, InsteadLine line, double from)
    {
        var units = document.UnitTable();
        Instead later;
        if (line.Points is { } typed)
        {
            var (points, problem) = PointsLine.Values(typed.Pairs, units);
            if (problem is not null)
                return (null, problem);
            var own = input with
            {
                Points = points,
                Between = typed.Between,
                Before = typed.Before,
                After = typed.After ?? Beyond.Hold,
                Period = typed.Period,
            };
            later = new(from, null, 0, InputTables.Of(own, units));
        }
        else
        {
            var period = line.Period is { } tree ? FormulaBinder.ValueOf(tree, units) : 0;
            if (line.How == Beyond.Repeat && !(period > 0))
                return (null, "What repeats has a length above zero, as in “repeat 30”.");
            if (line.How == Beyond.Trend && NameScope.LastTwo(input, from) is null)
                return (null, $"A trend needs two points of {input.Symbol} at or before {NumberWords.Of(from)}. Hold it, or begin later.");
            later = new(from, line.How, period, null);
        }
        return (document.With(input with { Later = With(input.Later, later) }), null);
    }

    private static ImmutableArray<Instead> With(ImmutableArray<Instead> others, Instead one) =>
        [.. others.Append(one).OrderBy(each => each.From)];
}
