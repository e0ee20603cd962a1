using System.Globalization;
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

    /// <summary>A change by less than this share of the largest value is the solver's error.</summary>
    private const double Slack = 1e-6;

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
        // The statement becomes a quantity of the model, so that it is computed like any other.
        var text = line.Tree is null ? string.Join(" + ", document.Compartments.Select(part => part.Symbol)) : FormulaText.Of(line.Tree);
        if (text.Length == 0) return null;
        const string Symbol = "expected";
        var name = Symbol;
        while (document.PartBySymbol(name) is not null) name += "_";
        var changed = document;
        foreach (var (symbol, value) in with)
        {
            if (document.DefinitionBySymbol(symbol.Name) is not { } definition) return $"{symbol.Name} is not a value that could be set.";
            changed = changed.With(changed.DefinitionBySymbol(symbol.Name)! with { Text = FormulaText.Of(value) });
        }
        changed = changed with { Definitions = changed.Definitions.Add(new("expected", name, name, text)), Expectations = [] };
        try
        {
            var checkedModel = Lowering.Lower(changed);
            var model = new CompiledModel(checkedModel.Form);
            var values = checkedModel.Form.ValueVector();
            var grid = Simulator.Grid(document.Start, document.End, StudyRun.Spacing(document));
            var path = Simulator.Run(model, model.InitialState(values, document.Start), ParameterSchedule.Constant(values), grid, StudyRun.Settings(changed), cancel, rows: Rows.WithJumps);
            var quantity = checkedModel.Form.Quantities.ToList().FindIndex(candidate => candidate.PartId == "expected");
            return quantity < 0 ? null : Failing(document, line.Claim, path.Times, path.QuantityColumn(quantity));
        }
        catch (SimulationException failure)
        {
            return RunFailure.Say(failure, Lowering.Lower(changed));
        }
    }

    private static string? Failing(StudyDocument document, Claim claim, IReadOnlyList<double> times, double[] values)
    {
        string At(int k) => $"{document.TimeUnit.Singular} {times[k].ToString("G4", CultureInfo.InvariantCulture)}";
        string Number(double value) => value.ToString("G5", CultureInfo.InvariantCulture);
        var slack = Slack * values.Max(Math.Abs) + 1e-12;
        var extreme = values[0];
        for (var k = 0; k < values.Length; k++)
        {
            switch (claim)
            {
                case Claim.Holds when values[k] == 0: return $"it is not true at {At(k)}.";
                case Claim.Stays when Math.Abs(values[k] - values[0]) > slack: return $"it starts at {Number(values[0])} and is {Number(values[k])} at {At(k)}.";
                case Claim.NeverFalls when values[k] < extreme - slack: return $"it has fallen to {Number(values[k])} at {At(k)}, from {Number(extreme)} before.";
                case Claim.NeverRises when values[k] > extreme + slack: return $"it has risen to {Number(values[k])} at {At(k)}, from {Number(extreme)} before.";
            }
            extreme = claim == Claim.NeverRises ? Math.Min(extreme, values[k]) : Math.Max(extreme, values[k]);
        }
        return null;
    }
}
