using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Reports;

/// <summary>An expectation along one run.</summary>
/// <param name="Where">At the present values: empty; else the end of bounds at which it was made, as in “k is 0.4”.</param>
/// <param name="Broken">Where it does not hold, in a sentence; null where it does.</param>
public sealed record ExpectationCase(string Where, string? Broken);

/// <summary>
/// Checks expectations: along the run, and along runs with each bounded parameter at either end of its bounds. One that does not hold is a
/// finding that says when and where.
/// </summary>
public static class ExpectationCheck
{
    /// <summary>Runs at the extremes are made for at most this many bounded values, so that an edit stays quick.</summary>
    private const int MostExtremes = 12;

    /// <summary>What an expectation finds at the present values and at each end of bounds, in the order of the ledger; a sentence instead
    /// where it cannot be checked.</summary>
    /// <param name="lowered">The compiled model.</param>
    /// <param name="part">The part.</param>
    /// <param name="cancel">Stops the computation with an <see cref="OperationCanceledException"/>.</param>
    public static (IReadOnlyList<ExpectationCase> Cases, string? Problem) Each(
        LoweredModel lowered,
        Expectation part,
        CancellationToken cancel = default
    )
    {
        var (line, problem) = ExpectationLine.Read(part.Text);
        if (line is null)
            return ([], problem!.Message);
        if (Unknown(lowered.Document, line) is { } unknown)
            return ([], $"{unknown} is not defined, so that this cannot be checked.");
        var document = lowered.Document;
        return (
            [.. Cases(document, line, [.. Extremes(lowered).Take(2 * MostExtremes)], new(document, Texts(document, line)), cancel)],
            null
        );
    }

    private static IEnumerable<ExpectationCase> Cases(
        StudyDocument document,
        ExpectationLine line,
        IReadOnlyList<(string Name, Syntax Value, string Text)> extremes,
        ExpectationRuns runs,
        CancellationToken cancel
    )
    {
        yield return new("", Broken(document, line, line.With, runs, cancel));
        foreach (var (name, value, text) in extremes)
        {
            if (line.With.Any(pair => pair.Name.Name == name))
                continue;
            yield return new($"{name} is {text}", Broken(document, line, [.. line.With, (new(default, name), value)], runs, cancel));
        }
    }

    internal static IEnumerable<Finding> Of(LoweredModel lowered, CancellationToken cancel)
    {
        var document = lowered.Document;
        if (document.Expectations.IsEmpty)
            return [];
        var findings = new List<Finding>();
        var extremes = Extremes(lowered).Take(2 * MostExtremes).ToList();
        var readable = document
            .Expectations.Select(part => ExpectationLine.Read(part.Text).Line)
            .OfType<ExpectationLine>()
            .Where(line => Unknown(document, line) is null);
        var runs = new ExpectationRuns(document, readable.SelectMany(line => Texts(document, line)));
        foreach (var part in document.Expectations)
        {
            var (line, problem) = ExpectationLine.Read(part.Text);
            void Say(string message, Severity severity) => findings.Add(new(part.Id, PartField.Text, severity, problem?.Span, message, []));
            if (line is null)
            {
                Say(problem!.Message, Severity.Doubt);
                continue;
            }
            if (Unknown(document, line) is { } unknown)
            {
                Say($"{unknown} is not defined, so that this cannot be checked.", Severity.Doubt);
                continue;
            }
            if (Cases(document, line, extremes, runs, cancel).FirstOrDefault(one => one.Broken is not null) is { } found)
            {
                Say(
                    found.Where.Length == 0
                        ? $"This does not hold: {found.Broken}"
                        : $"This does not hold when {found.Where}, at the end of its bounds: {found.Broken}",
                    Severity.Doubt
                );
            }
        }
        return findings;
    }

    private static string? Unknown(StudyDocument document, ExpectationLine line) =>
        line
            .Trees.SelectMany(tree => tree.Names())
            .Select(name => name.Name)
            .FirstOrDefault(name => name != "t" && document.PartBySymbol(name) is null);

    private static IEnumerable<(string Name, Syntax Value, string Text)> Extremes(LoweredModel lowered)
    {
        foreach (var part in lowered.Document.Definitions)
        {
            foreach (var bound in new[] { part.Lower, part.Upper })
            {
                if (bound.Length > 0 && Formula.Read(bound) is { HasNames: false, Tree: { } tree })
                    yield return (part.Symbol, tree, bound);
            }
        }
    }

    private static ExpectedCondition? Condition(ExpectationLine line) =>
        line.Claim == Claim.Holds ? ExpectedCondition.Of(line.Tree!) : null;

    /// <summary>The expressions that an expectation looks at; none where there is nothing to look at.</summary>
    private static IReadOnlyList<string> Texts(StudyDocument document, ExpectationLine line)
    {
        var total = string.Join(" + ", document.Compartments.Select(part => part.Symbol));
        string[] texts = Condition(line) is { } condition
            ? [.. condition.Texts.Distinct()]
            : [line.Tree is null ? total : FormulaText.Of(line.Tree)];
        return texts.Any(text => text.Length == 0) ? [] : texts;
    }

    /// <summary>A sentence on where an expectation fails with these values, or null where it holds.</summary>
    private static string? Broken(
        StudyDocument document,
        ExpectationLine line,
        IReadOnlyList<(NameSyntax Name, Syntax Line)> with,
        ExpectationRuns runs,
        CancellationToken cancel
    )
    {
        var texts = Texts(document, line);
        if (texts.Count == 0)
            return null;
        var set = new List<(Definition, Syntax)>();
        foreach (var (symbol, value) in with)
        {
            if (document.DefinitionBySymbol(symbol.Name) is not { } definition)
                return $"{symbol.Name} is not a value that could be set.";
            set.Add((definition, value));
        }
        var run = runs.With(set, cancel);
        if (run.Failure is not null)
            return run.Failure;
        if (texts.Any(text => !run.Columns.ContainsKey(text)))
            return null;
        var slack = Slack(document);
        return Condition(line) is { } condition
            ? Failing(document, condition, run.Times, run.Columns, slack)
            : Failing(document, line.Claim, run.Times, run.Columns[texts[0]], slack);
    }

    /// <summary>
    /// What a run may miss, as a share of the largest amounts: a hundred times the tolerance of a step is what its steps add up to.
    /// </summary>
    private static double Slack(StudyDocument document) => document.Solver.HasStep ? 1e-6 : Math.Max(1e-9, 100 * document.Solver.Tolerance);

    private static string Number(double value) => NumberWords.Of(value);

    private static string At(StudyDocument document, double time) => $"{document.TimeUnit.Singular} {NumberWords.Of(time, 4)}";

    /// <summary>Where a condition fails first, and where it fails most.</summary>
    private static string? Failing(
        StudyDocument document,
        ExpectedCondition condition,
        IReadOnlyList<double> times,
        IReadOnlyDictionary<string, double[]> columns,
        double slack
    )
    {
        var slacks = new Dictionary<ExpectedCondition.Comparison, double>();
        double Allowed(ExpectedCondition.Comparison comparison)
        {
            if (slacks.TryGetValue(comparison, out var known))
                return known;
            var (difference, side) = (columns[comparison.Difference], columns[comparison.Side]);
            return slacks[comparison] = slack * difference.Zip(side, (apart, own) => Math.Max(Math.Abs(own), Math.Abs(apart))).Max();
        }
        var (first, most, worst) = (-1, -1, default(ExpectedCondition.Departure));
        for (var k = 0; k < times.Count; k++)
        {
            var row = k;
            if (condition.At(text => columns[text][row], Allowed) is not { } departure)
                continue;
            if (first < 0)
                first = k;
            // What is the same but for rounding stands at its first place.
            if (most < 0 || departure.Amount > worst.Amount * (1 + 1e-6))
                (most, worst) = (k, departure);
        }
        if (first < 0)
            return null;
        if (double.IsNaN(worst.Amount))
            return $"it is not true at {At(document, times[first])}.";
        var from =
            most == first
                ? $"it is not true at {At(document, times[first])}, where"
                : $"it is not true at {At(document, times[first])}, and most of all at {At(document, times[most])}, where";
        return worst.Amount == 0
            ? $"{from} {worst.Side} is just {Number(worst.Value)}."
            : $"{from} {worst.Side} is {Number(worst.Value)}, {Number(worst.Amount)} away from what is expected.";
    }

    /// <summary>Where an expression does most what it should not.</summary>
    private static string? Failing(StudyDocument document, Claim claim, IReadOnlyList<double> times, double[] values, double slack)
    {
        var allowed = slack * values.Max(Math.Abs) + 1e-12;
        var (extreme, from, most, where) = (values[0], values[0], 0.0, -1);
        for (var k = 0; k < values.Length; k++)
        {
            var departure = claim switch
            {
                Claim.Stays => Math.Abs(values[k] - values[0]),
                Claim.NeverFalls => extreme - values[k],
                _ => values[k] - extreme,
            };
            if (departure > allowed && departure > most * (1 + 1e-6))
                (most, where, from) = (departure, k, extreme);
            extreme = claim == Claim.NeverRises ? Math.Min(extreme, values[k]) : Math.Max(extreme, values[k]);
        }
        if (where < 0)
            return null;
        var (value, at) = (Number(values[where]), At(document, times[where]));
        return claim switch
        {
            Claim.Stays => $"it starts at {Number(values[0])} and is {value} at {at}, {Number(most)} away at most.",
            Claim.NeverFalls => $"it has fallen to {value} at {at}, from {Number(from)} before, which is the most it falls.",
            _ => $"it has risen to {value} at {at}, from {Number(from)} before, which is the most it rises.",
        };
    }
}
