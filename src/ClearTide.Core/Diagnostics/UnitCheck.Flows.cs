using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Core.Diagnostics;

/// <summary>Units of flows and reactions against those of the compartments at their ends.</summary>
internal sealed partial class UnitCheck
{
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

    /// <param name="part">The part that the line is of.</param>
    /// <param name="field">Which of its fields.</param>
    /// <param name="tree">The line, read.</param>
    /// <param name="walk">Works out units of the line's nodes.</param>
    /// <param name="got">The unit that the line has.</param>
    /// <param name="wanted">The unit that it should have.</param>
    /// <param name="what">What the line is, for the sentence.</param>
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
