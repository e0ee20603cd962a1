using System.Collections.Immutable;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Groups;

/// <summary>Writes the members of all parts of a study.</summary>
internal sealed partial class MemberWriter(StudyDocument study)
{
    private readonly IndexTable _table = new(study);
    private readonly WrittenOut _out = new(study);
    private readonly List<WrittenProblem> _problems = [];

    private IndexedLine Lines => field ??= new(_table);

    public WrittenOut Write()
    {
        var compartments = ImmutableArray.CreateBuilder<Compartment>();
        var totals = new List<Definition>();
        foreach (var part in study.Compartments)
            Compartment(part, compartments, totals);
        var document = study with
        {
            Groups = [],
            Splits = [],
            Compartments = compartments.ToImmutable(),
            Definitions = [.. totals, .. study.Definitions.SelectMany(Definition)],
            Flows = [.. study.Flows.SelectMany(Flow), .. Passages()],
            Reactions =
            [
                .. study.Reactions.Select(part => part with { Text = Line(part.Id, PartField.Text, part.Text, LineForm.Reaction) }),
            ],
            RandomInputs =
            [
                .. study.RandomInputs.Select(part => part with { Text = Line(part.Id, PartField.Text, part.Text, LineForm.Draw) }),
            ],
            Events = [.. study.Events.Select(Event)],
            Expectations =
            [
                .. study.Expectations.Select(part => part with { Text = Line(part.Id, PartField.Text, part.Text, LineForm.Expectation) }),
            ],
            Observations = [.. study.Observations.Select(Observation)],
            Scenarios = [.. study.Scenarios.Select(scenario => scenario with { Rules = [.. scenario.Rules.Select(Event)] })],
            Regions = [],
            References = [],
            Texts = [],
        };
        _out.Document = document;
        _out.Problems = _problems;
        return _out;
    }

    private void Compartment(Compartment part, ImmutableArray<Compartment>.Builder into, List<Definition> totals)
    {
        var groups = _table.OfPart(part.Id);
        if (groups.IsEmpty)
        {
            into.Add(
                part with
                {
                    Start = Start(part.Id, part.Start, Coordinates.None),
                    Next = Formula(part.Id, PartField.Next, part.Next, Coordinates.None),
                }
            );
            return;
        }
        var split = study.SplitOf(part.Id)!;
        Syntax? total = null;
        foreach (var members in IndexTable.Combinations(groups))
        {
            var (member, at) = (Member(part.Id, members), IndexTable.At(groups, members));
            var symbol = MemberName.Of(part.Symbol, members);
            into.Add(
                part with
                {
                    Id = member.Id,
                    Symbol = symbol,
                    Label = Label(part.Label, groups, members),
                    Start = Start(member.Id, split.LineOf(member.Key) ?? part.Start, at),
                    Next = Formula(member.Id, PartField.Next, part.Next, at),
                    FileId = "",
                }
            );
            var name = new NameSyntax(default, symbol);
            total = total is null ? name : new BinarySyntax(default, BinaryOperator.Add, total, name);
        }
        totals.Add(new(part.Id, part.Symbol, part.Label, Language.Formula.Made(total!).Text) { Unit = part.Unit, Note = part.Note });
    }

    private IEnumerable<Definition> Definition(Definition part)
    {
        var groups = _table.OfPart(part.Id);
        if (groups.IsEmpty)
        {
            yield return part with
            {
                Text = Formula(part.Id, PartField.Text, part.Text, Coordinates.None),
            };
            yield break;
        }
        var split = study.SplitOf(part.Id)!;
        var members = IndexTable.Combinations(groups).Select(one => Member(part.Id, one)).ToList();
        // One number for all stays one value, so that a fit or a measure changes it for all.
        var isShared = Language.Formula.Read(part.Text) is { HasNames: false } && members.Any(member => split.LineOf(member.Key) is null);
        if (isShared)
            yield return part;
        foreach (var member in members)
        {
            var at = IndexTable.At(groups, member.Members);
            var own = split.LineOf(member.Key);
            if (own is not null && isShared)
                at = at.Beside(part.Symbol);
            yield return part with
            {
                Id = member.Id,
                Symbol = MemberName.Of(part.Symbol, member.Members),
                Label = Label(part.Label, groups, member.Members),
                Text = own is null && isShared ? part.Symbol : Formula(member.Id, PartField.Text, own ?? part.Text, at),
                Lower = own is null && isShared ? "" : part.Lower,
                Upper = own is null && isShared ? "" : part.Upper,
                FileId = "",
            };
        }
    }

    private EventRule Event(EventRule rule)
    {
        try
        {
            return new IndexedEvent(_table).Write(rule);
        }
        catch (IndexException wrong)
        {
            Report(rule.Id, PartField.Text, 0, rule.Text, wrong);
            return rule with { Text = "" };
        }
    }

    /// <summary>What was seen of a split flow is seen of all its members together.</summary>
    private Observation Observation(Observation one)
    {
        string Formula(string text) => this.Formula(one.Id, PartField.Text, text, Coordinates.None);
        List<string> flows =
        [
            .. one
                .OtherFlows.Prepend(one.FlowId)
                .SelectMany(id => _out.Members(id) is { Count: > 0 } all ? all.Select(member => member.Id) : [id]),
        ];
        return one with
        {
            FlowId = flows[0],
            OtherFlows = [.. flows.Skip(1)],
            Formula = Formula(one.Formula),
            Reporting = Formula(one.Reporting),
            Delay = Formula(one.Delay),
            Weekdays = [.. one.Weekdays.Select(Formula)],
        };
    }

    private WrittenMember Member(string partId, ImmutableArray<string> members)
    {
        var member = new WrittenMember(WrittenOut.IdOf(partId, members), partId, members);
        _out.Add(member);
        return member;
    }

    private static string Label(string label, ImmutableArray<Group> groups, ImmutableArray<string> members) =>
        $"{label}, {string.Join(", ", groups.Select((group, k) => group.Members[group.IndexOf(members[k])].Name))}".TrimStart(',', ' ');

    private string Start(string partId, string text, Coordinates at)
    {
        if (at != Coordinates.None && StartLine.Read(text).TheRest)
        {
            _problems.Add(
                new(
                    partId,
                    PartField.Start,
                    0,
                    text,
                    new(0, text.Length),
                    "Only one can take the rest of a total, and this is split: say what each member starts with.",
                    []
                )
            );
            return "0";
        }
        return StartLine.Read(text) is { TheRest: false, AtEquilibrium: false }
            ? Formula(partId, PartField.Start, text, at)
            : Line(partId, PartField.Start, text, LineForm.Start, at);
    }

    /// <summary>A formula with its indices filled in; one where that cannot be done is reported, and counts as zero.</summary>
    private string Formula(string partId, PartField field, string text, Coordinates at, int place = 0)
    {
        try
        {
            return text.Length == 0 ? text : Lines.Formula(text, at);
        }
        catch (IndexException wrong)
        {
            Report(partId, field, place, text, wrong);
            return "0";
        }
    }

    private string Line(string partId, PartField field, string text, LineForm form, Coordinates? at = null)
    {
        try
        {
            return Lines.Write(form, text, at ?? Coordinates.None);
        }
        catch (IndexException wrong)
        {
            Report(partId, field, 0, text, wrong);
            return text;
        }
    }

    private void Report(string partId, PartField field, int place, string text, IndexException wrong) =>
        _problems.Add(new(partId, field, place, text, wrong.Span, wrong.Message, wrong.Fixes));
}
