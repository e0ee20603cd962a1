using ClearTide.Core.Diagnostics;
using ClearTide.Core.Groups;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Core.Compilation;

/// <summary>
/// Reads every typed line of a document once: plain numbers become values with an address, the rest is kept as formulas. What cannot be
/// read
/// is reported.
/// </summary>
internal sealed class ValueReader(ModelBuilder build)
{
    private readonly Dictionary<(string Part, PartField Field, int At), Formula> _formulas = [];
    private readonly Dictionary<(string Part, PartField Field, int At), int> _nodes = [];

    private readonly HashSet<(string?, RateKind)> _exits = [];
    private readonly HashSet<(string?, RateKind)> _sharedExits = [];

    private StudyDocument Document => build.Document;

    /// <summary>The formula in a field that has been read.</summary>
    public Formula Formula(string partId, PartField field, int at = 0) => _formulas[(partId, field, at)];

    /// <summary>The node of a field that holds a plain number, or -1.</summary>
    public int Value(string partId, PartField field, int at = 0) => _nodes.GetValueOrDefault((partId, field, at), -1);

    public void ReadAll()
    {
        foreach (var part in Document.Flows)
        {
            var exit = (part.From, part.Kind);
            if (!_exits.Add(exit))
                _sharedExits.Add(exit);
        }
        foreach (var part in Document.Definitions)
        {
            var formula = Language.Formula.Read(part.Text);
            var scale = Scale(formula.Tree, part.Unit, build.Units);
            Read(
                part.Id,
                PartField.Text,
                part.Text,
                formula,
                new(part.Symbol),
                () => $"{part.Symbol} has no value yet. Type a number, as in “0.4 per {Document.TimeUnit.Singular}”, or a formula.",
                scale
            );
            if (formula.Problem is not null)
                build.Broken.Add(part.Symbol);
            foreach (var field in new[] { PartField.Lower, PartField.Upper })
                Bound(part, field, field == PartField.Lower ? part.Lower : part.Upper);
        }
        foreach (var part in Document.Compartments)
        {
            if (part.Next.Length > 0)
                Read(part.Id, PartField.Next, part.Next, Language.Formula.Read(part.Next), new(part.Symbol, ValueField.Next));
            var start = StartLine.Read(part.Start);
            if (start.AtEquilibrium)
            {
                // Where a search begins is no value of the model.
                _formulas[(part.Id, PartField.Start, 0)] = start.Formula;
                if (start.Formula.Problem is { } wrong)
                    build.Findings.Slip(part.Id, PartField.Start, part.Start, wrong, "");
                continue;
            }
            var scale = Scale(start.Formula.Tree, part.Unit, build.Units);
            Read(
                part.Id,
                PartField.Start,
                part.Start,
                start.Formula,
                new(part.Symbol, start.TheRest ? ValueField.Total : ValueField.Start),
                () => $"{part.Symbol} has no initial amount yet. Type a number, a formula, or “the rest of” a total.",
                scale
            );
        }
        foreach (var part in Document.Flows)
        {
            ReadShared(part, PartField.Rate, part.Rate, RateAddress(part, false), RateAddress(part, true), () =>
                $"The flow {Document.Describe(part)} has no rate yet. Type one, as in "
                + $"{(part.From is null ? $"“5 per {Document.TimeUnit.Singular}”" : $"“after 5 {Document.TimeUnit.Plural}”")}."
            );
            for (var k = 0; k < part.To.Length; k++)
            {
                if (part.To[k].Share.Length == 0)
                    continue;
                var end = Document.Compartment(part.To[k].Id)?.Symbol ?? ValueAddress.Outside;
                ReadShared(
                    part,
                    PartField.Share,
                    part.To[k].Share,
                    new(Document.Compartment(part.From)?.Symbol ?? part.Id, ValueField.Share, end),
                    new(BaseSymbol(part.From) ?? part.Id, ValueField.Share, BaseSymbol(part.To[k].Id) ?? ValueAddress.Outside),
                    null,
                    k
                );
            }
        }
        foreach (var part in Document.Curves)
        {
            foreach (var field in part.Fields)
            {
                Read(
                    part.Id,
                    field,
                    part.Line(field),
                    Language.Formula.Read(part.Line(field)),
                    new(part.Symbol, ResponseCurves.ValueOf(field)),
                    () => $"{part.Symbol} needs its {field.ToString().ToLowerInvariant()}. Type a number."
                );
            }
        }
    }

    /// <summary>What a line without names is worth in the units of the model.</summary>
    /// <param name="line">A tree without names.</param>
    /// <param name="unit">The unit of its part, which counts where the line has none of its own.</param>
    /// <param name="units">The unit words of the study.</param>
    public static double NumberOf(Syntax line, string unit, UnitTable units) =>
        Scale(line, unit, units) * FormulaBinder.ValueOf(line, units);

    private static double Scale(Syntax? line, string unit, UnitTable units) =>
        line is not null && FormulaUnits.IsBare(line) ? units.ReadAlone(unit).Unit?.Scale ?? 1 : 1;

    private void Read(
        string partId,
        PartField field,
        string text,
        Formula formula,
        ValueAddress address,
        Func<string>? whenEmpty = null,
        double scale = 1,
        int at = 0
    )
    {
        _formulas[(partId, field, at)] = formula;
        if (formula.Problem is { } problem)
        {
            build.Findings.Slip(partId, field, text, problem, whenEmpty?.Invoke() ?? "", at);
            return;
        }
        foreach (var unit in formula.Tree!.Units())
        {
            if (build.Units.Unknown(unit) is { } unknown)
                build.Findings.UnknownUnit(partId, field, text, unknown, build.Units, at);
        }
        if (!formula.HasNames)
            _nodes[(partId, field, at)] = build.AddValue(address, scale * FormulaBinder.ValueOf(formula.Tree!, build.Units), partId);
    }

    // Numbers of flows that run member by member, by the flow of the study: typed once, each is one value for all.
    private readonly Dictionary<(string BaseId, PartField Field, int At, string Text), int> _shared = [];

    /// <summary>A line of a flow; what is the same number for all members is one value.</summary>
    private void ReadShared(
        Flow part,
        PartField field,
        string text,
        ValueAddress address,
        ValueAddress shared,
        Func<string>? whenEmpty,
        int at = 0
    )
    {
        if (build.Written.Member(part.Id) is not { } member || OwnLine(member, field))
        {
            Read(part.Id, field, text, Language.Formula.Read(text), address, whenEmpty, at: at);
            return;
        }
        var group = build.Written.Study.Groups.FirstOrDefault(one => one.Id == member.BaseId);
        // Of a group each passage has numbers of its own, by its id, with which those of its flows begin.
        var origin = group is null ? member.BaseId : part.Id.Split('.')[0];
        if (_shared.TryGetValue((origin, field, at, text), out var node))
        {
            _formulas[(part.Id, field, at)] = Language.Formula.Read(text);
            _nodes[(part.Id, field, at)] = node;
            return;
        }
        // What passes between members is a number of their group.
        if (group is not null)
            shared = new(group.Symbol, shared.Field);
        var count = build.Values.Count;
        Read(part.Id, field, text, Language.Formula.Read(text), shared, whenEmpty, at: at);
        if (build.Values.Count > count)
        {
            build.Values[^1] = build.Values[^1] with { PartId = member.BaseId };
            _shared[(origin, field, at, text)] = _nodes[(part.Id, field, at)];
        }
    }

    private bool OwnLine(WrittenMember member, PartField field) =>
        field == PartField.Rate && build.Written.Study.SplitOf(member.BaseId)?.LineOf(member.Key) is not null;

    /// <summary>The symbol of a compartment in the study, whatever member it is.</summary>
    private string? BaseSymbol(string? id) => Document.Compartment(id)?.Symbol is { } symbol ? MemberName.BaseOf(symbol) : null;

    private void Bound(Definition part, PartField field, string typed)
    {
        if (typed.Length == 0)
            return;
        var formula = Language.Formula.Read(typed);
        if (formula.Problem is { } problem)
            build.Findings.Slip(part.Id, field, typed, problem, "");
        else if (formula.HasNames)
            build.Findings.Add(part.Id, field, Severity.Doubt, null, $"A bound of {part.Symbol} is a plain number, not a formula.");
        else if (Value(part.Id, PartField.Text) is var node and >= 0)
        {
            var (bound, value) = (ValueBounds.Read(typed, part, build.Units), build.Values[build.Graph[node].A].Value);
            if (field == PartField.Lower ? value < bound : value > bound)
                build.Findings.Add(
                    part.Id,
                    PartField.Text,
                    Severity.Doubt,
                    null,
                    $"{part.Symbol} lies {(field == PartField.Lower ? "below its lower" : "above its upper")} bound of {typed}. "
                        + "Change one of the two."
                );
        }
    }

    /// <summary><c>E.stay</c>, <c>I.rate</c>; with the to-end behind it where the compartment has several such exits.</summary>
    /// <param name="flow">Whose rate it is.</param>
    /// <param name="ofAll">Whether it is that of all members.</param>
    private ValueAddress RateAddress(Flow flow, bool ofAll)
    {
        string? Symbol(string? id) => ofAll ? BaseSymbol(id) : Document.Compartment(id)?.Symbol;
        var owner = Symbol(flow.From) ?? Symbol(flow.Target) ?? flow.Id;
        if (flow.From is null)
            return new(owner, ValueField.Inflow);
        var shared = _sharedExits.Contains((flow.From, flow.Kind));
        return new(
            owner,
            flow.Kind == RateKind.MeanStay ? ValueField.Stay : ValueField.Rate,
            shared ? Symbol(flow.Target) ?? ValueAddress.Outside : ""
        );
    }
}
