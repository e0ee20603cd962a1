using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;

namespace ClearTide.Core.Compilation;

/// <summary>A value or an input that is replaced as long as a condition is true.</summary>
internal sealed record Override(string PartId, Syntax Condition, Syntax Line, string Text);

/// <summary>Binds names either along a run or at its start, where a compartment stands for its initial amount.</summary>
internal sealed partial class NameScope(ModelBuilder build, ValueReader values, bool atStart)
{
    private readonly Dictionary<string, int> _nodes = [];
    private readonly List<string> _open = [];
    private readonly Dictionary<string, List<Override>> _overrides = [];
    private readonly Dictionary<string, (int Flag, int Value)> _setInputs = [];
    private int _smoothed;

    /// <summary>The scope in which delays and smoothing start.</summary>
    public NameScope? AtStart { get; set; }

    private ExpressionGraph Graph => build.Graph;

    public void AddOverride(string symbol, Override change)
    {
        if (!_overrides.TryGetValue(symbol, out var list))
            _overrides[symbol] = list = [];
        list.Add(change);
    }

    /// <summary>The parameters by which an event replaces an input: whether it does, and by what.</summary>
    public (int Flag, int Value) SetInput(string symbol)
    {
        if (!_setInputs.TryGetValue(symbol, out var slots))
            _setInputs[symbol] = slots = (build.AddSlot(0, $"sets {symbol}"), build.AddSlot(0, $"sets {symbol}"));
        return slots;
    }

    /// <summary>Binds one line of a part; unknown names are reported and count as zero.</summary>
    /// <param name="tree">The line, read.</param>
    /// <param name="partId">Id of the part that the line is of.</param>
    /// <param name="field">Which of its fields the line stands in.</param>
    /// <param name="text">The line, for fixes.</param>
    /// <param name="at">Which of several such fields it is, for the ends of a flow.</param>
    public int Bind(Syntax tree, string partId, PartField field, string text, int at = 0)
    {
        Check(tree, partId, field, text, at);
        return Binder(partId, field, text).Bind(tree);
    }

    private FormulaBinder Binder(string partId, PartField field, string text) =>
        new(Graph, build.Units, name => Node(name), (call, binder) => Call(call, binder, partId, field, text));

    /// <summary>Whether a line can be computed: all its names are known, and so is all that they stand for.</summary>
    public bool IsWhole(Syntax tree) =>
        tree.Names().All(name => name.Name == "t" || (build.Part(name.Name) is not null && !build.Broken.Contains(name.Name)));

    /// <summary>Reports what a line names and the study has not.</summary>
    private void Check(Syntax tree, string partId, PartField field, string text, int at)
    {
        NameSyntax? callee = null;
        foreach (var node in tree.All())
        {
            // A function's own name comes right behind its call, with which it is looked at.
            if (!ReferenceEquals(node, callee))
                CheckNode(node, partId, field, text, at);
            callee = (node as UserCallSyntax)?.Callee;
        }
    }

    private void CheckNode(Syntax node, string partId, PartField field, string text, int at)
    {
        switch (node)
        {
            case UserCallSyntax call:
                var called = build.Part(call.Callee.Name);
                if (called is not (Input or ResponseCurve))
                    build.Findings.Unknown(partId, field, text, call.Callee, called: true, at);
                else if (call.Arguments.Count != 1)
                    build.Findings.AddWithEdits(
                        partId,
                        field,
                        Severity.Unfinished,
                        call.Span,
                        $"{called.Symbol} takes one argument: {called.Symbol}({(called is Input ? "t" : "x")}).",
                        [],
                        at
                    );
                break;
            case NameSyntax name when name.Name != "t":
                var part = build.Part(name.Name);
                if (part is null)
                    build.Findings.Unknown(partId, field, text, name, called: false, at);
                else if (part is Input or ResponseCurve)
                {
                    var argument = part is Input ? "t" : "x";
                    build.Findings.AddWithEdits(
                        partId,
                        field,
                        Severity.Unfinished,
                        name.Span,
                        $"{name.Name} is a function: write {name.Name}({argument}).",
                        part is Input
                            ?
                            [
                                new(
                                    $"{name.Name}(t)",
                                    new SetField(partId, field, text[..name.Span.Start] + name.Name + "(t)" + text[name.Span.End..], at)
                                ),
                            ]
                            : [],
                        at
                    );
                }
                break;
        }
    }

    /// <summary>The node of a symbol, or -1 where there is none.</summary>
    public int Node(string symbol)
    {
        if (_nodes.TryGetValue(symbol, out var known))
            return known;
        var part = build.Part(symbol);
        switch (part)
        {
            case Compartment compartment:
                return atStart ? Start(compartment) : _nodes[symbol] = build.Amount(compartment);
            case Reaction reaction:
                if (ReactionLine.Read(reaction.Text).Line is not { } line)
                    return -1;
                return Guarded(symbol, reaction.Id, PartField.Text, () =>
                {
                    var node = Bind(line.Rate, reaction.Id, PartField.Text, reaction.Text);
                    if (!IsWhole(line.Rate))
                        build.Broken.Add(symbol);
                    return node;
                });
            case RandomInput random:
                return DrawSlots.TryGetValue(random.Id, out var slot) ? Graph.Parameter(slot) : -1;
            case Definition definition:
                var own = values.Value(definition.Id, PartField.Text);
                if (own >= 0)
                    return _overrides.ContainsKey(symbol) && !atStart
                        ? Guarded(symbol, definition.Id, PartField.Text, () => Overridden(symbol, own))
                        : own;
                var formula = values.Formula(definition.Id, PartField.Text);
                if (formula.Tree is null)
                    return -1;
                return Guarded(symbol, definition.Id, PartField.Text, () =>
                {
                    var node = Bind(formula.Tree, definition.Id, PartField.Text, definition.Text);
                    if (!IsWhole(formula.Tree))
                        build.Broken.Add(symbol);
                    return node;
                });
            default:
                return -1;
        }
    }

    /// <summary>Parameter index of each random input, by the part's id.</summary>
    public Dictionary<string, int> DrawSlots { get; init; } = [];

    /// <summary>What holds while conditions are true, over what there would be without: the last event that applies wins.</summary>
    private int Overridden(string symbol, int node)
    {
        foreach (var change in _overrides[symbol])
        {
            var before = node;
            var binder = new FormulaBinder(
                Graph,
                build.Units,
                name => name == symbol ? before : Node(name),
                (call, inner) => Call(call, inner, change.PartId, PartField.Text, change.Text)
            );
            foreach (var part in new[] { change.Condition, change.Line })
                Check(part, change.PartId, PartField.Text, change.Text, 0);
            node = Graph.Choose(binder.Bind(change.Condition), binder.Bind(change.Line), node);
        }
        return node;
    }

    public int Start(Compartment part)
    {
        var start = StartLine.Read(part.Start);
        if (start.Formula.Tree is null)
            return Graph.Constant(0);
        if (start.AtEquilibrium)
            return build.EquilibriumSlots(part.Id).Select(Graph.Parameter).Aggregate(Graph.Add);
        return Guarded(part.Symbol, part.Id, PartField.Start, () =>
        {
            var own = values.Value(part.Id, PartField.Start);
            var amount = own >= 0 ? own : Bind(start.Formula.Tree, part.Id, PartField.Start, part.Start);
            if (!start.TheRest)
                return amount;
            var scopes = new RestScopes(build.Document);
            var scope = scopes.Of(part.Symbol);
            foreach (var other in build.Document.Compartments)
            {
                if (other.Id != part.Id && scopes.Of(other.Symbol) == scope && !StartLine.Read(other.Start).TheRest)
                    amount = Graph.Subtract(amount, Start(other));
            }
            return amount;
        });
    }

    /// <summary>Everything that is computed along a run besides amounts and flows: quantities, inputs, draws, values that events
    /// change.</summary>
    public IReadOnlyList<NamedExpression> Quantities()
    {
        var all = new List<NamedExpression>();
        foreach (var part in build.Document.Definitions)
        {
            var isValue = values.Value(part.Id, PartField.Text) >= 0;
            if (!isValue || _overrides.ContainsKey(part.Symbol) || SetByEvents.Contains(part.Symbol))
                all.Add(new(part.Symbol, part.Id, Node(part.Symbol) is var node && node >= 0 ? node : Graph.Constant(0)));
        }
        foreach (var part in build.Document.Reactions)
            all.Add(new(part.Symbol, part.Id, Node(part.Symbol) is var node && node >= 0 ? node : Graph.Constant(0)));
        foreach (var part in build.Document.Inputs)
            all.Add(new(part.Symbol, part.Id, InputAt(part, Graph.Time())));
        foreach (var part in build.Document.RandomInputs)
            all.Add(new(part.Symbol, part.Id, Node(part.Symbol) is var node && node >= 0 ? node : Graph.Constant(0)));
        return all;
    }

    /// <summary>Symbols of values that events set.</summary>
    public HashSet<string> SetByEvents { get; } = [];

    private int Guarded(string symbol, string partId, PartField field, Func<int> make)
    {
        if (_nodes.TryGetValue(symbol, out var known))
            return known;
        if (_open.IndexOf(symbol) is var at && at >= 0)
        {
            var circle = string.Join(" → ", _open.Skip(at).Append(symbol));
            build.Findings.Add(
                partId,
                field,
                Severity.Unfinished,
                null,
                $"{symbol} depends on itself: {circle}. Take one of them out of the other's formula."
            );
            return Graph.Constant(0);
        }
        if (_open.Count > FormulaLimits.Depth)
        {
            build.Findings.Add(
                partId,
                field,
                Severity.Unfinished,
                null,
                $"Formulas refer to each other more than {FormulaLimits.Depth} deep here. Write some of them out."
            );
            return Graph.Constant(0);
        }
        _open.Add(symbol);
        var node = make();
        _open.RemoveAt(_open.Count - 1);
        return _nodes[symbol] = node;
    }
}
