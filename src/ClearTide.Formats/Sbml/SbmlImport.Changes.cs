using System.Collections.Immutable;
using System.Text.RegularExpressions;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Stochastic;

namespace ClearTide.Formats.Sbml;

/// <content>Reactions and events.</content>
public sealed partial class SbmlImport
{
    /// <summary>How much of a species one unit of a reaction makes, less what it takes; null where it moves none.</summary>
    private Syntax? Net(SbmlReaction reaction, SbmlSpecies species)
    {
        if (!_amounts.Contains(species.Id) || species.Boundary || species.Constant)
            return null;
        Syntax? net = null;
        var (number, isNumber) = (0.0, true);
        foreach (var (references, sign) in new[] { (reaction.Reactants, -1.0), (reaction.Products, 1.0) })
        {
            foreach (var reference in references.Where(reference => reference.Species == species.Id))
            {
                var count = reference.Formula
                    ?? (
                        reference.Id is { } id && (_changing.Contains(id) || _starting.ContainsKey(id))
                            ? new NameSyntax(default, id)
                            : MathReader.Of(reference.Stoichiometry)
                    );
                if ((species.ConversionFactor ?? _model.ConversionFactor) is { } conversion)
                    count = Product(count, new NameSyntax(default, conversion));
                if (count is NumberSyntax plain)
                    number += sign * plain.Value;
                else
                    isNumber = false;
                net = net is null
                    ? sign < 0
                        ? new UnarySyntax(default, UnaryOperator.Negate, count)
                        : count
                    : new BinarySyntax(default, sign < 0 ? BinaryOperator.Subtract : BinaryOperator.Add, net, count);
            }
        }
        return net is null ? null
            : !isNumber ? net
            : number == 0 ? null
            : MathReader.Of(number);
    }

    /// <summary>All that a reaction moves, with how much of each one unit of it makes, less what it takes.</summary>
    private List<(string Id, Syntax? Net)> Moved(SbmlReaction reaction) =>
        [
            .. reaction
                .Reactants.Concat(reaction.Products)
                .Select(reference => reference.Species)
                .Distinct()
                .Select(id => (Id: id, Net: Net(reaction, _species[id])))
                .Where(pair => pair.Net is not null),
        ];

    private void Add(SbmlReaction reaction)
    {
        if (reaction.Rate is null)
        {
            _notes.Add($"The reaction {Symbol(reaction.Id)} has no rate in the file and moves nothing.");
            return;
        }
        var moved = Moved(reaction);
        var name = reaction.Name.Length > 0 ? reaction.Name : SbmlText.Id(reaction.Id);
        if (_fans.TryGetValue(reaction.Id, out var fan))
            Branching(reaction, fan);
        else if (moved.Count == 0)
            Definition(reaction.Id, name, Text(reaction.Rate), reaction);
        else if (IsOneForOne(moved) || moved is [{ Net: not NumberSyntax }])
            Transfer(reaction, name, moved);
        else
            Several(reaction, moved);
    }

    /// <summary>Whether a reaction leads one of a thing to one of another, or to outside or from there.</summary>
    private static bool IsOneForOne(IReadOnlyList<(string Id, Syntax? Net)> moved) =>
        moved.All(pair => pair.Net is NumberSyntax { Value: 1 or -1 })
        && moved.Select(pair => ((NumberSyntax)pair.Net!).Value).Distinct().Count() == moved.Count;

    private void Transfer(SbmlReaction reaction, string name, IReadOnlyList<(string Id, Syntax? Net)> moved)
    {
        var rate = NamedRate(reaction, name, out var named);
        var note = named ? "" : reaction.Note;
        if (moved is [{ Net: not NumberSyntax } other])
        {
            Flow("", null, [new(Symbol(other.Id))], RateKind.Whole, Text(Product(other.Net!, rate)), note);
            return;
        }
        string? End(double sign) => moved.FirstOrDefault(pair => ((NumberSyntax)pair.Net!).Value == sign).Id;
        var (from, to) = (End(-1), End(1));
        var (kind, line) = Rate(from, named, rate);
        Flow(name, from is null ? null : Symbol(from), [new(to is null ? null : Symbol(to))], kind, line, note);
    }

    /// <summary>The rate of a reaction that becomes a flow: a quantity under the reaction's id where formulas elsewhere read it.</summary>
    private Syntax NamedRate(SbmlReaction reaction, string name, out bool named)
    {
        named = IsNamed(reaction.Id);
        if (!named)
            return reaction.Rate!;
        Definition(reaction.Id, name, Text(reaction.Rate!), reaction);
        return new NameSyntax(default, reaction.Id);
    }

    private (RateKind Kind, string Line) Rate(string? from, bool named, Syntax rate) =>
        from is not null && !named && PerHead(from, rate) is { } head ? (RateKind.PerHead, head) : (RateKind.Whole, Text(rate));

    /// <summary>A reaction that takes or makes several things stays one.</summary>
    private void Several(SbmlReaction reaction, IReadOnlyList<(string Id, Syntax? Net)> moved)
    {
        string Count(Syntax net) =>
            net switch
            {
                NumberSyntax { Value: 1 } => "",
                NumberSyntax number when double.IsFinite(number.Value) => FormulaText.Of(number) + " ",
                _ => $"({Text(net)}) ",
            };
        static bool Takes((string Id, Syntax? Net) pair) => pair.Net is NumberSyntax { Value: < 0 };
        var (takes, makes) = (
            moved.Where(Takes).Select(pair => Count(MathReader.Of(-((NumberSyntax)pair.Net!).Value)) + Symbol(pair.Id)),
            moved.Where(pair => !Takes(pair)).Select(pair => Count(pair.Net!) + Symbol(pair.Id))
        );
        var symbol = Symbol(reaction.Id);
        var made = new Reaction(
            NextId("k"),
            symbol,
            reaction.Name.Length > 0 ? reaction.Name : symbol,
            $"{string.Join(" + ", takes)} -> {string.Join(" + ", makes)} : {Text(reaction.Rate!)}".TrimStart(),
            reaction.Note
        )
        {
            FileId = FileId(reaction.Id),
        };
        _study = _study with { Reactions = _study.Reactions.Add(made) };
    }

    /// <summary>A reaction that is found to lead one thing to several ends by shares.</summary>
    private void Branching(SbmlReaction reaction, Fan fan)
    {
        var rate = NamedRate(reaction, reaction.Name, out var named);
        var (kind, line) = Rate(fan.From, named, rate);
        Flow(
            reaction.Name,
            Symbol(fan.From),
            [.. fan.To.Select(end => new Target(Symbol(end.Id), end.Share is null ? "" : Text(end.Share)))],
            kind,
            line,
            named ? "" : reaction.Note
        );
    }

    /// <summary>Whether formulas elsewhere read the rate of a reaction.</summary>
    private bool IsNamed(string id) =>
        _assigned
            .Values.Concat(_rates.Values)
            .Concat(_starting.Values)
            .Concat(_model.Reactions.Where(other => other.Id != id).Select(other => other.Rate).OfType<Syntax>())
            .Concat(References().Select(reference => reference.Formula).OfType<Syntax>())
            .Concat(_model.Constraints.Select(constraint => constraint.Math))
            .Concat(
                _model.Events.SelectMany(one =>
                    one.Assignments.Select(set => set.Math).Append(one.Trigger).Concat(new[] { one.Delay, one.Priority }.OfType<Syntax>())
                )
            )
            .Any(formula => formula.Names().Any(name => name.Name == id));

    /// <summary>The rate for each unit of a compartment, where the whole is just that times its amount.</summary>
    private string? PerHead(string from, Syntax whole)
    {
        if (whole is not BinarySyntax { Operator: BinaryOperator.Multiply } product)
            return null;
        bool IsSource(Syntax side) =>
            side is NameSyntax name && name.Name == from && (_species[from].SubstanceOnly || !HasSize(_species[from]));
        var head =
            IsSource(product.Left) ? product.Right
            : IsSource(product.Right) ? product.Left
            : null;
        return head is NameSyntax { Name: var id } && !_changing.Contains(id) && !_species.ContainsKey(id) || head is NumberSyntax
            ? Text(head)
            : null;
    }

    [GeneratedRegex("_to_.+_stage_[0-9]+$")]
    private static partial Regex StageName();

    /// <summary>Whether a name says no more than the ends, as ids of flows do that Clear Tide has written.</summary>
    private static bool SaysEnds(string name, string? from, IReadOnlyList<Target> to) =>
        name == $"{from ?? "outside"}_to_{string.Join('_', to.Select(end => end.Id ?? "outside"))}" || StageName().IsMatch(name);

    /// <param name="to">The ends, by symbol.</param>
    private void Flow(string label, string? from, IReadOnlyList<Target> to, RateKind kind, string rate, string note)
    {
        if (SaysEnds(label, from, to))
            label = "";
        var flow = new Flow(
            NextId("f"),
            label,
            from is null ? null : _study.CompartmentBySymbol(from)!.Id,
            [.. to.Select(end => end with { Id = end.Id is null ? null : _study.CompartmentBySymbol(end.Id)!.Id })],
            kind,
            rate,
            note
        );
        _study = _study with { Flows = _study.Flows.Add(flow) };
    }

    private void Add(SbmlConstraint constraint)
    {
        var text = Text(constraint.Math);
        if (text.Length > Assumption.LongestText || ExpectationLine.Read(text).Problem is not null)
        {
            _notes.Add(
                $"Line {constraint.Line} of the file: a constraint is no comparison, or too long, and is not taken over as an expectation."
            );
            return;
        }
        _study = _study with { Expectations = _study.Expectations.Add(new(NextId("x"), text, constraint.Message)) };
    }

    private void Add(SbmlEvent one)
    {
        var assignments = one.Assignments.Where(set => IsSettable(set.Variable)).ToList();
        // What is said as a concentration keeps its amount when its compartment gets another size.
        foreach (
            var species in _model.Species.Where(species =>
                _rates.ContainsKey(species.Id)
                && !species.SubstanceOnly
                && HasSize(species)
                && one.Assignments.All(set => set.Variable != species.Id)
            )
        )
        {
            if (one.Assignments.FirstOrDefault(set => set.Variable == species.Compartment) is not { } resized)
                continue;
            assignments.Add(
                new(
                    species.Id,
                    new BinarySyntax(
                        default,
                        BinaryOperator.Divide,
                        Product(new NameSyntax(default, species.Id), SizeOf(species)),
                        resized.Math
                    )
                )
            );
        }
        if (assignments.Count == 0)
        {
            _notes.Add($"The event {(one.Id.Length > 0 ? SbmlText.Id(one.Id) : one.Name)} sets nothing that may change, and is left out.");
            return;
        }
        var after = one.Delay is null or NumberSyntax { Value: 0 } ? "" : $" after {Interval(one.Delay)}";
        var actions = assignments.Select(set => $"{Symbol(set.Variable)} = {Text(Said(one, set))}{after}");
        var set = assignments.Select(assignment => assignment.Variable).ToHashSet();
        var crossed =
            assignments.Count > 1
            && assignments.Any(assignment =>
                assignment
                    .Math.Names()
                    .Any(name =>
                        name.Name != assignment.Variable
                        && (
                            set.Contains(name.Name)
                            || _assigned.ContainsKey(name.Name)
                            || _species.ContainsKey(name.Name) && _changing.Contains(_species[name.Name].Compartment)
                        )
                    )
            );
        var own = NextId("e");
        _study = _study with
        {
            Events = _study.Events.Add(
                new(own, one.Name, $"when {Condition(one.Trigger)}: {string.Join(", ", actions)}", one.Note)
                {
                    Priority = one.Priority is null ? "" : Text(one.Priority),
                    // Without a delay it makes a difference only where another event may act at the same instant.
                    ValuesAtTrigger = one.ValuesAtTrigger && (one.Delay is not null || _model.Events.Length > 1),
                    Together = crossed,
                    ActsAtStart = !one.InitialValue,
                    DroppedWhenFalse = !one.Persistent,
                }
            ),
        };
    }

    private bool IsSettable(string id) => _states.Contains(id) || !_assigned.ContainsKey(id) && !_reactions.ContainsKey(id);

    /// <summary>A condition that is a plain number stands as a comparison, which is what conditions are.</summary>
    private string Condition(Syntax trigger) =>
        trigger is NumberSyntax number
            ? number.Value != 0
                ? "0 < 1"
                : "1 < 0"
            : Text(trigger);

    /// <summary>What goes behind “after”: anything but a plain number or name stands in parentheses.</summary>
    private string Interval(Syntax delay) => delay is NumberSyntax or NameSyntax ? Text(delay) : $"({Text(delay)})";

    /// <summary>What an event sets a symbol to, as the study holds it: an amount where the file speaks of a concentration.</summary>
    private Syntax Said(SbmlEvent one, SbmlRule set)
    {
        if (!_species.TryGetValue(set.Variable, out var species) || species.SubstanceOnly || !HasSize(species))
            return set.Math;
        if (!_amounts.Contains(species.Id) && (_states.Contains(species.Id) || species.InitialAmount is null))
            return set.Math;
        // A concentration is one in the size that the same event gives the compartment, if it does.
        return Product(
            set.Math,
            one.Assignments.FirstOrDefault(other => other.Variable == species.Compartment) is { } resized ? resized.Math : SizeOf(species)
        );
    }
}
