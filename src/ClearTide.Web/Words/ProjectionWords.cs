using ClearTide.Core.Ensembles;
using ClearTide.Core.Language;

namespace ClearTide.Web.Words;

/// <summary>Projections in words.</summary>
public static class ProjectionWords
{
    /// <summary>How units move, as it is chosen.</summary>
    public static string Of(ProjectionChance chance) =>
        chance switch
        {
            ProjectionChance.Exact => "one by one, exactly",
            ProjectionChance.Leap => "many at a time, leaping",
            ProjectionChance.ChainBinomial => "in steps, chain binomial",
            ProjectionChance.None => "without chance",
            _ => "by the size of the model",
        };

    /// <summary>What an interval is called: a week, a day.</summary>
    public static string Interval(ProjectionSummary made, TimeUnit unit) =>
        made.Interval == 7 && unit.Singular == "day" ? "week"
        : made.Interval == 1 ? unit.Singular
        : "interval";

    /// <summary>A difference of shares in percentage points.</summary>
    public static string Points(double difference) => $"{Numbers.Difference(100 * difference)} points";

    /// <summary>The heading of an outcome: a formula as it was typed.</summary>
    public static string Of(OutcomeSummary outcome, ProjectionSummary made, TimeUnit unit, double? level) =>
        outcome.Formula.Length > 0 ? outcome.Formula : Of(outcome.Kind, made, unit, level);

    private static string Of(ProjectedOutcome outcome, ProjectionSummary made, TimeUnit unit, double? level)
    {
        var (interval, line) = (Interval(made, unit), level is { } known ? Numbers.Say(known) : "");
        return outcome switch
        {
            ProjectedOutcome.Peak => made.IsAmount ? "peak" : $"peak in a {interval}",
            ProjectedOutcome.PeakInterval => $"{(made.IsAmount ? unit.Singular : interval)} of peak",
            ProjectedOutcome.Total => made.IsAmount ? "at the end" : "total",
            ProjectedOutcome.Cost => "cost",
            ProjectedOutcome.TimeAbove => made.IsAmount ? $"{unit.Plural} above {line}" : $"{interval}s above {line}",
            _ => made.IsAmount ? $"first above {line}, on {unit.Singular}" : $"{interval} first above {line}",
        };
    }

    /// <summary>What the numbers of the outcomes are, and from when they count.</summary>
    public static string HowCounted(ProjectionSummary made, TimeUnit unit)
    {
        var words = "Medians with 90 % intervals, each computed from replicates; differences are paired.";
        if (made.Scenarios[0].Outcomes.Any(one => one.Share is not null))
            words += " Of what is true or false of a run, the share of replicates in which it is true, with its 95 % interval.";
        if (made.IsAmount)
            return words;
        words +=
            $" The {Interval(made, unit)} of peak counts from {unit.Singular} {Numbers.Say(made.Now)}; totals run from there to "
            + $"{unit.Singular} {Numbers.Say(made.Times[^1])}.";
        return made.Narrowing.Skip(1).FirstOrDefault() is { } narrowing and < 0.99
            ? $"{words} Pairing made the first difference in totals {Numbers.Say(100 * narrowing)} % as wide as unpaired runs would."
            : words;
    }

    /// <summary>What is in the bands, and what is not.</summary>
    /// <param name="fitted">Whether there is a fit.</param>
    /// <param name="subjects">Whether the study says how subjects differ.</param>
    public static string Within(ProjectionSummary made, bool fitted, bool subjects)
    {
        List<string> sources = [],
            others = [];
        void Source(string name, bool has, bool could)
        {
            if (has)
                sources.Add(name);
            else if (could)
                others.Add(name);
        }
        Source("chance", made.Method != ProjectionChance.None, true);
        Source("what the fit left uncertain", made.HasSpread, fitted);
        Source("differences between subjects", made.HasSubjects, subjects);
        Source("chance before the data end", false, fitted && made.Method != ProjectionChance.None);
        Source("the error of observation", made.HasError, fitted && made.Of.Length == 0);
        string List(List<string> names) => names.Count < 2 ? string.Concat(names) : $"{string.Join(", ", names[..^1])} and {names[^1]}";
        var within =
            sources.Count == 0 ? "Nothing is left open in this run"
            : sources.Count == 1 ? $"In the bands is {sources[0]} alone"
            : $"In the bands are {List(sources)}";
        if (!fitted)
            within += ": nothing has been fitted, so that nothing is known of how uncertain the values are";
        return (
                others.Count == 0
                    ? $"{within}."
                    : $"{within}. {char.ToUpperInvariant(others[0][0])}{List(others)[1..]} {(others.Count == 1 ? "is" : "are")} not."
            ) + (made.Why.Length > 0 ? $" {made.Why}" : "");
    }

    /// <summary>Where chance may end it, what tells the replicates that it ends in from the others; null where it ends in none or in
    /// all.</summary>
    public static string? Gone(ProjectionSummary made, TimeUnit unit)
    {
        var ended = made.IsAmount ? "nothing is left at the end" : $"nothing is counted in the last {Interval(made, unit)}";
        var told = made
            .Scenarios.Where(one => one is { Gone: > 0 and < 1, PeakOfGone: not null, PeakOfOthers: not null })
            .Select(one =>
                $"{one.Name}: {ended} in {Percent(one.Gone)} of the replicates, whose peak is {Numbers.Count(one.PeakOfGone!.Median)} in "
                + $"the middle; that of the others is {Numbers.Count(one.PeakOfOthers!.Median)}."
            )
            .ToList();
        return told.Count == 0 ? null : string.Join(" ", told);
    }

    /// <summary>A source of spread, in a word.</summary>
    public static string Of(SpreadSource source) =>
        source switch
        {
            SpreadSource.Chance => "chance",
            SpreadSource.Fit => "the fit",
            SpreadSource.Subjects => "subjects",
            _ => "observation",
        };

    /// <summary>The shares of sources where the baseline varies most.</summary>
    public static string Of(SpreadShares shares, ProjectionSummary made, TimeUnit unit)
    {
        var bands = made.Scenarios[0].Intervals;
        var at = Enumerable.Range(0, bands.Count).MaxBy(k => bands[k].P95 - bands[k].P5);
        string Share(SourceShare one)
        {
            double Within(double value) => Math.Clamp(value, 0, 1);
            return $"{Of(one.Source)} makes {100 * Within(one.Share[at]):0} % ({100 * Within(one.Share[at] - 1.96 * one.Error[at]):0} to "
                + $"{100 * Within(one.Share[at] + 1.96 * one.Error[at]):0})";
        }
        var joint = 1 - shares.Sources.Sum(one => Math.Clamp(one.Share[at], 0, 1));
        return $"Of the variance where the baseline varies most, {unit.On(made.Times[at + 1])}, "
            + $"{string.Join(", ", shares.Sources.Select(Share))}; {100 * Math.Max(0, joint):0} % is made by several together. By "
            + $"{shares.Pairs:N0} pairs of runs for each, with 95 % intervals.";
    }

    /// <summary>By what an outcome is ranked: the share of a statement, else the median; not a number where no run has it.</summary>
    public static double Rank(OutcomeSummary outcome) =>
        outcome.Share is { } share ? share.Share
        : outcome.Having == 0 ? double.NaN
        : outcome.Value.Median;

    /// <summary>How a projection did against what came since; null where nothing has.</summary>
    public static string? Of(HeldAgainst? held) =>
        held is null
            ? null
            : $"{held.Rows} {(held.Rows == 1 ? "row has" : "rows have")} come in since: {held.Within50} in the middle half, {held.Within90} "
                + $"in the middle 90 %, a mean ranked probability score of {Numbers.Say(held.Crps)}.";

    /// <summary>A projection in a line.</summary>
    public static string Of(ProjectionSummary made, TimeUnit unit) =>
        $"{made.Label} from {unit.Singular} {Numbers.Say(made.Now)}, {made.Replicates:N0} {(made.Replicates == 1 ? "run" : "replicates")}, "
        + Of(made.Method);

    /// <summary>A projection in a line with what else was asked of it, so that two of the same curve read apart.</summary>
    public static string Of(ProjectionSummary made, TimeUnit unit, double? level)
    {
        var asked = made.Scenarios[0].Outcomes.Where(one => one.Formula.Length > 0).Select(one => one.Formula).ToList();
        if (level is { } line)
            asked.Insert(0, $"a line at {Numbers.Say(line)}");
        return Of(made, unit) + string.Concat(asked.Select(one => $", {one}"));
    }

    public static string Percent(double share) => $"{100 * share:0.#} %";
}
