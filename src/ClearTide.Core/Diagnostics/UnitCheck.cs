using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;

namespace ClearTide.Core.Diagnostics;

/// <summary>What is known of the unit of one part.</summary>
/// <param name="Unit">Null where nothing says.</param>
/// <param name="Given">Whether somebody has said it, in its unit field or behind its number; else it is inferred.</param>
/// <param name="Agrees">Whether its line agrees with it; null where that was not checked, since something about it is not known.</param>
public sealed record PartUnit(Unit? Unit, bool Given, bool? Agrees);

/// <summary>The units of all parts of a study.</summary>
public sealed record UnitReport(IReadOnlyDictionary<string, PartUnit> Parts)
{
    private static readonly PartUnit Nothing = new(null, false, null);

    public PartUnit Of(string partId) => Parts.GetValueOrDefault(partId, Nothing);
}

/// <summary>
/// Infers the units of a study's parts from those that are typed, and reports where formulas disagree. What is said outright comes first,
/// then what formulas leave no choice about. A study without any typed unit has nothing to disagree with.
/// </summary>
internal sealed class UnitCheck
{
    /// <summary>Order in which unknowns give way: values before formulas, amounts last.</summary>
    private const int ValueRank = 1,
        FormulaRank = 2,
        AmountRank = 3;

    private readonly StudyDocument _document;
    private readonly UnitTable _table;
    private readonly UnitSolver _solver = new();
    private readonly Dictionary<string, UnitTerm> _units = [];
    private readonly Dictionary<string, UnitTerm> _arguments = [];
    private readonly Dictionary<string, ISymbolPart> _parts = [];
    private readonly HashSet<string> _given = [];
    private readonly Dictionary<string, (UnitTerm Got, UnitTerm Wanted)> _rates = [];
    private readonly HashSet<string> _disagree = [];
    private readonly FindingList _findings;
    private bool _silent;

    private UnitCheck(StudyDocument document, FindingList findings)
    {
        _document = document;
        _table = document.UnitTable();
        _findings = findings;
    }

    public static UnitReport Run(StudyDocument document, FindingList findings) => new UnitCheck(document, findings).Run();

    private UnitReport Run()
    {
        foreach (var part in _document.SymbolParts)
        {
            _parts.TryAdd(part.Symbol, part);
            _units[part.Id] = _solver.NewUnknown(
                part is Compartment ? AmountRank
                : part is Reaction || part is Definition definition && Formula.Read(definition.Text).HasNames ? FormulaRank
                : ValueRank
            );
        }
        foreach (var curve in _document.Curves)
            _arguments[curve.Id] = _solver.NewUnknown(ValueRank);
        _silent = !SaysAnyUnit();
        TypedUnits();
        foreach (var flow in _document.Flows)
            Ends(flow);
        foreach (var curve in _document.Curves)
            CurveLines(curve);
        foreach (var part in _document.Definitions)
            Formulas(part);
        foreach (var part in _document.Compartments)
        {
            Start(part);
            Next(part);
        }
        // Rates that say their own unit come before whole formulas, in which numbers may hide one.
        foreach (var flow in _document.Flows.OrderBy(flow => flow.Kind == RateKind.Whole))
            Rate(flow);
        foreach (var reaction in _document.Reactions)
            Rate(reaction);
        var units = _document.SymbolParts.ToDictionary(part => part.Id, Report);
        foreach (var flow in _document.Flows)
            units[flow.Id] = Report(flow);
        return new(units);
    }

    /// <summary>The unit of a flow's line as it is typed, and whether it is what its kind of rate asks for.</summary>
    private PartUnit Report(Flow flow)
    {
        var (got, wanted) = _rates.TryGetValue(flow.Id, out var terms)
            ? (_solver.Resolve(terms.Got), _solver.Resolve(terms.Wanted))
            : (null, null);
        return new(
            got is { IsKnown: true } ? got.Known : null,
            _given.Contains(flow.Id),
            _disagree.Contains(flow.Id) ? false
                : got is { IsKnown: true } && wanted is { IsKnown: true } && !_silent ? true
                : null
        );
    }

    private PartUnit Report(ISymbolPart part)
    {
        var unit = _solver.Resolve(_units[part.Id]);
        return new(
            unit.IsKnown ? unit.Known : null,
            _given.Contains(part.Id),
            _disagree.Contains(part.Id) ? false
                : unit.IsKnown && !_silent ? true
                : null
        );
    }

    private bool SaysAnyUnit()
    {
        static bool In(string text) => StartLine.Read(text).Formula.Tree is { } tree && tree.Units().Any();
        return _document.SymbolParts.Any(part => part.Unit.Length > 0)
            || _document.Definitions.Any(part => In(part.Text))
            || _document.Compartments.Any(part => In(part.Start))
            || _document.Flows.Any(part => In(part.Rate));
    }

    /// <summary>Unit fields, and units behind plain numbers.</summary>
    private void TypedUnits()
    {
        foreach (var part in _document.SymbolParts)
        {
            var typed = part switch
            {
                Definition definition => definition.Text,
                Compartment compartment => compartment.Start,
                _ => "",
            };
            var formula = StartLine.Read(typed).Formula;
            if (formula.Tree is { } tree && !formula.HasNames && !FormulaUnits.IsBare(tree))
                Say(part.Id, Walk(part, part is Compartment ? PartField.Start : PartField.Text, formula.Text, tree).OfLine(tree));
            UnitField(part, part.Unit, PartField.Unit, _units[part.Id], formula);
            if (part is ResponseCurve curve)
                UnitField(part, curve.ArgumentUnit, PartField.ArgumentUnit, _arguments[part.Id], null);
        }
    }

    private void Say(string partId, UnitTerm unit)
    {
        _given.Add(partId);
        _solver.Equate(_units[partId], unit);
    }

    private void UnitField(ISymbolPart part, string typed, PartField field, UnitTerm own, Formula? formula)
    {
        var (read, problem) = _table.ReadAlone(typed);
        if (problem is not null)
        {
            _disagree.Add(part.Id);
            _findings.UnknownUnitField(part.Id, field, problem, typed);
        }
        if (read is not { } unit)
            return;
        if (field == PartField.Unit)
            _given.Add(part.Id);
        var agreement = _solver.Equate(own, UnitTerm.Of(unit.Unit));
        if (agreement == Agreement.Agree)
            return;
        _disagree.Add(part.Id);
        var said = _solver.Resolve(own).Known;
        var fixes = new List<(string, string)> { ($"Say {FormulaUnits.Name(said)}", said.Text()) };
        _findings.Add(
            part.Id,
            field,
            Severity.Doubt,
            null,
            $"{part.Symbol} is said to be in {FormulaUnits.Name(unit.Unit)}, and its line is in {FormulaUnits.Name(said)}.",
            [.. fixes]
        );
        if (agreement == Agreement.OtherSize && formula?.Tree is { } tree)
            _findings.Convert(
                part.Id,
                formula.Text,
                UnitConversion.Line(formula.Text, tree, said, unit.Unit, _table),
                FormulaUnits.Name(unit.Unit)
            );
    }

    private FormulaUnits Walk(IPart part, PartField field, string text, Syntax _) =>
        new(
            _solver,
            _table,
            name => _parts.TryGetValue(name, out var known) ? _units[known.Id] : _solver.NewUnknown(FormulaUnits.BareRank),
            name =>
                !_parts.TryGetValue(name, out var known) ? null
                : known is ResponseCurve ? (_arguments[known.Id], _units[known.Id])
                : (UnitTerm.Of(_table.TimeMeasure), _units[known.Id]),
            text,
            slip => Report(part.Id, field, slip)
        );

    private void Report(string partId, PartField field, UnitSlip slip)
    {
        if (_silent)
            return;
        _disagree.Add(partId);
        _findings.Add(
            partId,
            field,
            Severity.Doubt,
            slip.Where,
            slip.Message,
            slip.Fix is null ? [] : [(slip.Fix.Label, slip.Fix.Replacement)]
        );
    }

    private void Formulas(Definition part)
    {
        var formula = Formula.Read(part.Text);
        if (formula.Tree is not { } tree || !formula.HasNames)
            return;
        var walk = Walk(part, PartField.Text, part.Text, tree);
        Compare(part, PartField.Text, tree, walk, walk.OfLine(tree), _units[part.Id], $"{part.Symbol} is said to be");
    }

    private void Start(Compartment part)
    {
        var formula = StartLine.Read(part.Start).Formula;
        if (formula.Tree is not { } tree || !formula.HasNames)
            return;
        var walk = Walk(part, PartField.Start, part.Start, tree);
        Compare(part, PartField.Start, tree, walk, walk.OfLine(tree), _units[part.Id], $"{part.Symbol} is");
    }

    /// <summary>In discrete steps a flow is an amount, or a share, per step as written: one that is said by time means something else
    /// where a step is not one unit of it.</summary>
    private void PerStep(Flow flow)
    {
        if (_document.Solver.Step == 1 || Formula.Read(flow.Rate).Tree is not { } tree)
            return;
        var unit = _solver.Resolve(Walk(flow, PartField.Rate, flow.Rate, tree).OfLine(tree));
        if (!unit.IsKnown || unit.Known.TimePower != -1)
            return;
        var step = _document.TimeUnit.Length(_document.Solver.Step);
        var line = tree is NumberSyntax or NameSyntax ? flow.Rate : $"({flow.Rate})";
        _findings.Add(
            flow.Id,
            PartField.Rate,
            Severity.Doubt,
            null,
            $"{_document.Describe(flow)} is said by time, and in discrete steps what is written is what a step of {step} moves. "
                + "Multiply it by the step, or say it per step.",
            ($"Times {step}", RateLine.Write(flow.Kind, $"{line} * {step}"))
        );
    }

    private void Next(Compartment part)
    {
        if (part.Next.Length == 0 || Formula.Read(part.Next).Tree is not { } tree)
            return;
        var walk = Walk(part, PartField.Next, part.Next, tree);
        Compare(part, PartField.Next, tree, walk, walk.OfLine(tree), _units[part.Id], $"{part.Symbol} is");
    }

    private void CurveLines(ResponseCurve curve)
    {
        if (curve.Law is not (CurveLaw.Hill or CurveLaw.Logistic))
            return;
        foreach (
            var (field, own) in new[]
            {
                (PartField.Low, _units[curve.Id]),
                (PartField.High, _units[curve.Id]),
                (PartField.Half, _arguments[curve.Id]),
            }
        )
        {
            if (Formula.Read(curve.Line(field)).Tree is not { } tree)
                continue;
            var walk = Walk(curve, field, curve.Line(field), tree);
            Compare(curve, field, tree, walk, walk.OfLine(tree), own, $"The {field.ToString().ToLowerInvariant()} of {curve.Symbol} is");
        }
    }

    /// <summary>All ends of a flow hold the same thing.</summary>
    private void Ends(Flow flow)
    {
        var ends = flow.To.Select(target => target.Id).Prepend(flow.From).Select(_document.Compartment).OfType<Compartment>().ToList();
        foreach (var other in ends.Skip(1))
        {
            var agreement = _solver.Equate(_units[ends[0].Id], _units[other.Id]);
            if (agreement == Agreement.Agree)
                continue;
            var (a, b) = (_solver.Resolve(_units[ends[0].Id]), _solver.Resolve(_units[other.Id]));
            _disagree.Add(other.Id);
            _findings.Add(
                other.Id,
                PartField.Unit,
                Severity.Doubt,
                null,
                $"{_document.Describe(flow)} joins {ends[0].Symbol} {FormulaUnits.Words(a)} to {other.Symbol} "
                    + $"{FormulaUnits.Words(b)}. What flows does not change its unit on the way.",
                a.IsKnown ? [($"{other.Symbol} in {FormulaUnits.Name(a.Known)}", a.Known.Text())] : []
            );
        }
        foreach (var target in flow.To)
        {
            if (Formula.Read(target.Share).Tree is not { } tree)
                continue;
            var walk = Walk(flow, PartField.Share, target.Share, tree);
            if (_solver.Equate(walk.OfLine(tree), UnitTerm.Pure) != Agreement.Agree)
                Report(
                    flow.Id,
                    PartField.Share,
                    new(
                        tree.Span,
                        $"A share is a pure number, and {target.Share} is {FormulaUnits.Words(_solver.Resolve(walk.OfLine(tree)))}.",
                        null
                    )
                );
        }
    }

    private void Rate(Flow flow)
    {
        if (_document.Solver.IsDiscrete && flow.Kind != RateKind.MeanStay)
        {
            PerStep(flow);
            return;
        }
        if (Formula.Read(flow.Rate).Tree is not { } tree)
            return;
        var time = UnitTerm.Of(_table.TimeMeasure);
        var amount = _document.Compartment(flow.From)
            ?? flow.To.Select(target => _document.Compartment(target.Id)).OfType<Compartment>().FirstOrDefault();
        var wanted = flow.Kind switch
        {
            RateKind.PerHead => UnitTerm.Pure.Per(time),
            RateKind.MeanStay => time,
            _ => amount is null ? UnitTerm.Pure : _units[amount.Id].Per(time),
        };
        var walk = Walk(flow, PartField.Rate, flow.Rate, tree);
        if (tree.Units().Any())
            _given.Add(flow.Id);
        // "at" and "after" with the other's unit are told by a finding of their own, with the other word as its fix.
        // Where nothing says what is counted, a bare number in a product may well be a rate.
        if (
            flow.Kind == RateKind.Whole
            && FormulaUnits.HidesNumbers(tree)
            && amount is not null
            && !_solver.Resolve(_units[amount.Id]).IsKnown
        )
            return;
        if (flow.Kind != RateKind.Whole && RateDimension.Misuse(_document, flow.Kind, tree, flow.Rate) is not null)
            return;
        var got = walk.OfLine(tree);
        _rates[flow.Id] = (got, wanted);
        Compare(
            flow,
            PartField.Rate,
            tree,
            walk,
            got,
            wanted,
            $"{_document.Describe(flow)} is",
            flow.Kind == RateKind.Whole && FormulaUnits.HidesNumbers(tree) ? FormulaRank : AmountRank
        );
    }

    /// <summary>
    /// What a reaction moves is counted as its first end is, per time. Things of several kinds may stand in one, so that the others keep
    /// their own.
    /// </summary>
    private void Rate(Reaction part)
    {
        if (_document.Solver.IsDiscrete || ReactionLine.Read(part.Text).Line is not { } line)
            return;
        var walk = Walk(part, PartField.Text, part.Text, line.Rate);
        var got = walk.OfLine(line.Rate);
        if (line.Ends.Select(end => _parts.GetValueOrDefault(end.Name.Name)).OfType<Compartment>().FirstOrDefault() is { } first)
        {
            if (FormulaUnits.HidesNumbers(line.Rate) && !_solver.Resolve(_units[first.Id]).IsKnown)
                return;
            Compare(
                part,
                PartField.Text,
                line.Rate,
                walk,
                got,
                _units[first.Id].Per(UnitTerm.Of(_table.TimeMeasure)),
                $"{part.Symbol} is",
                FormulaUnits.HidesNumbers(line.Rate) ? FormulaRank : AmountRank
            );
        }
        Compare(part, PartField.Text, line.Rate, walk, got, _units[part.Id], $"{part.Symbol} is said to be");
    }

    /// <param name="highestRank">Which unknowns this line may settle: numbers without a unit in a product may hide one, so that it says
    /// little about amounts.</param>
    private void Compare(
        IPart part,
        PartField field,
        Syntax tree,
        FormulaUnits walk,
        UnitTerm got,
        UnitTerm wanted,
        string what,
        int highestRank = AmountRank
    )
    {
        var agreement = _solver.Equate(got, wanted, highestRank);
        if (agreement == Agreement.Agree)
            return;
        var (a, b) = (_solver.Resolve(got), _solver.Resolve(wanted));
        // Two unknown units that differ by a known one: only what can be mended is worth a sentence.
        if (!a.IsKnown && !b.IsKnown)
        {
            if (walk.MakeRate(tree, a, b) is { } lacking)
                Report(
                    part.Id,
                    field,
                    new(tree.Span, $"{what} an amount {_table.Time.Each()}, and the formula does not give it by time.", lacking)
                );
            return;
        }
        var fix =
            agreement == Agreement.OtherSize && a.IsKnown && b.IsKnown ? walk.Convert(tree, a.Known, b.Known) : walk.MakeRate(tree, a, b);
        var message = $"{what} {FormulaUnits.Words(b)}, and the formula is {FormulaUnits.Words(a)}.";
        if (fix is null && a.IsKnown && b.IsKnown && SameThing(a.Known, b.Known) is { Count: > 0 } same && !_silent)
        {
            _disagree.Add(part.Id);
            _findings.AddWithEdits(part.Id, field, Severity.Doubt, tree.Span, message, same);
            return;
        }
        Report(part.Id, field, new(tree.Span, message, fix));
    }

    /// <summary>
    /// Where two units differ in what they count alone, births and cells, one noun can be said to be the other: the edits that do so
    /// and are allowed.
    /// </summary>
    private List<FindingFix> SameThing(Unit a, Unit b)
    {
        if (a.Per(b).Factors is not [var one, var other] || one.Power != -other.Power || Math.Abs(one.Power) != 1)
            return [];
        if (!IsNoun(one.Atom) || !IsNoun(other.Atom))
            return [];
        return
        [
            .. new[] { (one.Atom, other.Atom), (other.Atom, one.Atom) }
                .Select(pair =>
                    (
                        Edit: new SetUnit(pair.Item1.Singular, pair.Item2.Singular),
                        Words: $"1 {pair.Item1.Singular} is 1 {pair.Item2.Singular}"
                    )
                )
                .Where(fix => fix.Edit.Apply(_document).Document is not null)
                .Take(1)
                .Select(fix => new FindingFix(fix.Words, fix.Edit)),
        ];
    }

    private static bool IsNoun(UnitAtom atom) => atom.Equals(UnitAtom.Noun(atom.Singular, atom.Plural));
}
