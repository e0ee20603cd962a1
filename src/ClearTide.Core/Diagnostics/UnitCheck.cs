using ClearTide.Core.Groups;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Core.Diagnostics;

/// <summary>
/// Infers the units of a study's parts from those that are typed, and reports where formulas disagree. What is said outright comes first,
/// then what formulas leave no choice about. A study without any typed unit has nothing to disagree with.
/// </summary>
internal sealed partial class UnitCheck
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

    /// <summary>How the document was written out: the members of a part have one unit, and one of them is looked at for all.</summary>
    private readonly WrittenOut? _written;

    private UnitCheck(StudyDocument document, FindingList findings, WrittenOut? written)
    {
        _written = written is { HasGroups: true } ? written : null;
        _document = document;
        _table = document.UnitTable();
        _findings = findings;
    }

    public static UnitReport Run(StudyDocument document, FindingList findings, WrittenOut? written = null) =>
        new UnitCheck(document, findings, written).Run();

    /// <summary>The part that this one has its unit from: the first member of what it is a member of.</summary>
    private string Like(string id) => _written?.Member(id) is { } member ? _written.Members(member.BaseId)[0].Id : id;

    /// <summary>Whether its line has to be looked at: that of all members is looked at once.</summary>
    private bool IsLookedAt(IPart part) =>
        _written?.Member(part.Id) is not { } member
        || Like(part.Id) == part.Id
        || _written.Study.SplitOf(member.BaseId)?.LineOf(member.Key) is not null;

    private UnitReport Run()
    {
        foreach (var part in _document.SymbolParts)
        {
            _parts.TryAdd(part.Symbol, part);
            if (Like(part.Id) is var like && like != part.Id && _units.TryGetValue(like, out var same))
            {
                _units[part.Id] = same;
                continue;
            }
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
        foreach (var flow in _document.Flows.Where(IsLookedAt))
            Ends(flow);
        foreach (var curve in _document.Curves)
            CurveLines(curve);
        foreach (var part in _document.Definitions.Where(IsLookedAt))
            Formulas(part);
        foreach (var part in _document.Compartments.Where(IsLookedAt))
        {
            Start(part);
            Next(part);
        }
        // Rates that say their own unit come before whole formulas, in which numbers may hide one.
        foreach (var flow in _document.Flows.Where(IsLookedAt).OrderBy(flow => flow.Kind == RateKind.Whole))
            Rate(flow);
        foreach (var reaction in _document.Reactions)
            Rate(reaction);
        foreach (var rule in _document.Events)
            Actions(rule);
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
        foreach (var part in _document.SymbolParts.Where(IsLookedAt))
        {
            var field = part is Compartment ? PartField.Start : PartField.Text;
            var formula = StartLine.Read(part is Compartment or Definition ? PartKinds.Text(part, field) ?? "" : "").Formula;
            if (formula.Tree is { } tree && !formula.HasNames && !FormulaUnits.IsBare(tree))
                Say(part.Id, Walk(part, field, formula.Text, tree).OfLine(tree));
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
}
