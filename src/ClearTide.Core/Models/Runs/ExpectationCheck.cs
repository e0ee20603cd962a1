using ClearTide.Core.Formulas;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Models;

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

    /// <summary>What an expectation finds at the present values and at each end of bounds, in the order of the ledger; a sentence instead where it cannot be checked.</summary>
    public static (IReadOnlyList<ExpectationCase> Cases, string? Problem) Each(LoweredModel lowered, Expectation part, CancellationToken cancel = default)
    {
        var (line, problem) = ExpectationLine.Read(part.Text);
        if (line is null) return ([], problem!.Message);
        if (Unknown(lowered.Document, line) is { } unknown) return ([], $"{unknown} is not defined, so that this cannot be checked.");
        return ([.. Cases(lowered.Document, line, [.. Extremes(lowered).Take(2 * MostExtremes)], cancel)], null);
    }

    private static IEnumerable<ExpectationCase> Cases(StudyDocument document, ExpectationLine line, IReadOnlyList<(string Name, Syntax Value, string Text)> extremes, CancellationToken cancel)
    {
        yield return new("", Broken(document, line, line.With, cancel));
        foreach (var (name, value, text) in extremes)
        {
            if (line.With.All(pair => pair.Name.Name != name)) yield return new($"{name} is {text}", Broken(document, line, [.. line.With, (new(default, name), value)], cancel));
        }
    }

    internal static IEnumerable<Finding> Of(LoweredModel lowered, CancellationToken cancel)
    {
        var document = lowered.Document;
        if (document.Expectations.IsEmpty) return [];
        var findings = new List<Finding>();
        var extremes = Extremes(lowered).Take(2 * MostExtremes).ToList();
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
            if (Cases(document, line, extremes, cancel).FirstOrDefault(one => one.Broken is not null) is { } found)
            {
                Say(found.Where.Length == 0 ? $"This does not hold: {found.Broken}" : $"This does not hold when {found.Where}, at the end of its bounds: {found.Broken}", Severity.Doubt);
            }
        }
        return findings;
    }

    private static string? Unknown(StudyDocument document, ExpectationLine line) =>
        line.Trees.SelectMany(tree => tree.Names()).Select(name => name.Name).FirstOrDefault(name => name != "t" && document.PartBySymbol(name) is null);

    private static IEnumerable<(string Name, Syntax Value, string Text)> Extremes(LoweredModel lowered)
    {
        foreach (var part in lowered.Document.Definitions)
        {
            foreach (var bound in new[] { part.Lower, part.Upper })
            {
                if (bound.Length > 0 && Formula.Read(bound) is { HasNames: false, Tree: { } tree }) yield return (part.Symbol, tree, bound);
            }
        }
    }

    /// <summary>A sentence on where an expectation fails with these values, or null where it holds.</summary>
    private static string? Broken(StudyDocument document, ExpectationLine line, IReadOnlyList<(NameSyntax Name, Syntax Line)> with, CancellationToken cancel)
    {
        // What is looked at becomes quantities of the model, so that it is computed like any other.
        var condition = line.Claim == Claim.Holds ? ExpectedCondition.Of(line.Tree!) : null;
        var total = string.Join(" + ", document.Compartments.Select(part => part.Symbol));
        string[] texts = condition is null ? [line.Tree is null ? total : FormulaText.Of(line.Tree)] : [.. condition.Texts.Distinct()];
        if (texts.Any(text => text.Length == 0)) return null;
        var changed = document;
        foreach (var (symbol, value) in with)
        {
            if (document.DefinitionBySymbol(symbol.Name) is not { } definition) return $"{symbol.Name} is not a value that could be set.";
            changed = changed.With(changed.DefinitionBySymbol(symbol.Name)! with { Text = FormulaText.Of(value) });
        }
        changed = changed with { Definitions = changed.Definitions.AddRange(texts.Select((text, k) => new Definition($"expected{k}", Free(document, k), "", text))), Expectations = [] };
        var lowered = Lowering.Lower(changed);
        try
        {
            var model = new CompiledModel(lowered.Form);
            var values = lowered.Form.ValueVector();
            var grid = Simulator.Grid(document.Start, document.End, StudyRun.Spacing(document));
            var path = Simulator.Run(model, model.InitialState(values, document.Start), ParameterSchedule.Constant(values), grid, StudyRun.Settings(changed), cancel, rows: Rows.WithJumps);
            var columns = new Dictionary<string, double[]>();
            for (var k = 0; k < texts.Length; k++)
            {
                var quantity = lowered.Form.Quantities.ToList().FindIndex(candidate => candidate.PartId == $"expected{k}");
                // A formula without names is a number, and no quantity.
                if (quantity >= 0) columns[texts[k]] = path.QuantityColumn(quantity);
                else if (lowered.Form.Values.FirstOrDefault(value => value.PartId == $"expected{k}") is { } number) columns[texts[k]] = [.. Enumerable.Repeat(number.Value, path.Times.Count)];
                else return null;
            }
            var slack = Slack(document);
            return condition is null ? Failing(document, line.Claim, path.Times, columns[texts[0]], slack) : Failing(document, condition, path.Times, columns, slack);
        }
        catch (SimulationException failure)
        {
            return RunFailure.Say(failure, lowered);
        }
    }

    private static string Free(StudyDocument document, int k)
    {
        var name = $"expected{k}";
        while (document.PartBySymbol(name) is not null) name += "_";
        return name;
    }

    /// <summary>
    /// What a run may miss, as a share of the largest amounts: a hundred times the tolerance of a step is what its steps add up to.
    /// </summary>
    private static double Slack(StudyDocument document) => document.Solver.HasStep ? 1e-6 : Math.Max(1e-9, 100 * document.Solver.Tolerance);

    private static string Number(double value) => NumberWords.Of(value);

    private static string At(StudyDocument document, double time) => $"{document.TimeUnit.Singular} {NumberWords.Of(time, 4)}";

    /// <summary>Where a condition fails first, and where it fails most.</summary>
    private static string? Failing(StudyDocument document, ExpectedCondition condition, IReadOnlyList<double> times, IReadOnlyDictionary<string, double[]> columns, double slack)
    {
        var slacks = new Dictionary<ExpectedCondition.Comparison, double>();
        double Allowed(ExpectedCondition.Comparison comparison)
        {
            if (slacks.TryGetValue(comparison, out var known)) return known;
            var (difference, side) = (columns[comparison.Difference], columns[comparison.Side]);
            return slacks[comparison] = slack * difference.Zip(side, (apart, own) => Math.Max(Math.Abs(own), Math.Abs(apart))).Max();
        }
        var (first, most, worst) = (-1, -1, default(ExpectedCondition.Departure));
        for (var k = 0; k < times.Count; k++)
        {
            var row = k;
            if (condition.At(text => columns[text][row], Allowed) is not { } departure) continue;
            if (first < 0) first = k;
            // What is the same but for rounding stands at its first place.
            if (most < 0 || departure.Amount > worst.Amount * (1 + 1e-6)) (most, worst) = (k, departure);
        }
        if (first < 0) return null;
        if (double.IsNaN(worst.Amount)) return $"it is not true at {At(document, times[first])}.";
        var from = most == first ? $"it is not true at {At(document, times[first])}, where" : $"it is not true at {At(document, times[first])}, and most of all at {At(document, times[most])}, where";
        return worst.Amount == 0 ? $"{from} {worst.Side} is just {Number(worst.Value)}." : $"{from} {worst.Side} is {Number(worst.Value)}, {Number(worst.Amount)} away from what is expected.";
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
            if (departure > allowed && departure > most * (1 + 1e-6)) (most, where, from) = (departure, k, extreme);
            extreme = claim == Claim.NeverRises ? Math.Min(extreme, values[k]) : Math.Max(extreme, values[k]);
        }
        if (where < 0) return null;
        var (value, at) = (Number(values[where]), At(document, times[where]));
        return claim switch
        {
            Claim.Stays => $"it starts at {Number(values[0])} and is {value} at {at}, {Number(most)} away at most.",
            Claim.NeverFalls => $"it has fallen to {value} at {at}, from {Number(from)} before, which is the most it falls.",
            _ => $"it has risen to {value} at {at}, from {Number(from)} before, which is the most it rises.",
        };
    }
}
