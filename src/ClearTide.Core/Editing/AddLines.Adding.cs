using System.Collections.Immutable;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Core.Editing;

public sealed partial record AddLines
{
    /// <summary>A document while items are added to it, and what has been added so far.</summary>
    private sealed partial class Adding(StudyDocument document)
    {
        public StudyDocument Document { get; private set; } = document;

        public List<string> Said { get; } = [];

        private string NextId(string kind)
        {
            var id = kind + Document.NextId;
            Document = Document with { NextId = Document.NextId + 1 };
            return id;
        }

        /// <summary>What is wrong with an item in this document, though it can be read.</summary>
        public FormulaProblem? Problem(QuickItem item)
        {
            var units = Document.UnitTable();
            foreach (var unit in item.Trees.SelectMany(tree => tree.Units()))
            {
                if (units.Unknown(unit) is { } unknown)
                    return UnknownUnit(item.Text, unknown, units);
            }
            return item is QuickFlow flow ? Misuse(flow) : null;
        }

        private FormulaProblem UnknownUnit(string text, UnitWord unknown, UnitTable units)
        {
            var fixes = new List<TextFix>();
            string With(string word) => text[..unknown.Span.Start] + word + text[unknown.Span.End..];
            var isSymbol = Document.PartBySymbol(unknown.Word) is not null;
            var near = isSymbol ? null : units.Nearest(unknown.Word);
            var noun = near is not null && units.IsTime(near);
            if (isSymbol)
                fixes.Add(new($"Multiply by {unknown.Word}", With("* " + unknown.Word)));
            if (noun && UnitTable.Refusal(unknown.Word) is null)
                fixes.Add(new($"Add {unknown.Word} as a unit", $"unit {unknown.Word}; {text.TrimStart()}"));
            if (near is not null)
                fixes.Add(new($"Write “{near}”", With(near)));
            if (!noun && UnitTable.Refusal(unknown.Word) is null)
            {
                fixes.Add(new($"Add {unknown.Word} as a unit", $"unit {unknown.Word}; {text.TrimStart()}"));
                if (near is not null)
                    fixes.Add(new($"{unknown.Word} is another spelling of {near}", $"unit {unknown.Word} = {near}; {text.TrimStart()}"));
            }
            if (!isSymbol && near is null)
                fixes.Add(new($"Multiply by {unknown.Word}", With("* " + unknown.Word)));
            return new(
                unknown.Span,
                $"There is no unit “{unknown.Word}”."
                    + (
                        noun ? $" Add it, if that is what is counted, or write “{near}”."
                        : near is not null ? $" Did you mean “{near}”?"
                        : " A word after a number is its unit; to multiply, put * between them."
                    ),
                fixes
            );
        }

        private FormulaProblem? Misuse(QuickFlow flow)
        {
            if (RateDimension.Misuse(Document, flow.Kind, flow.Tree, flow.Line) is not { } misuse)
                return null;
            var at = flow.Text.IndexOf(flow.Line, StringComparison.Ordinal);
            var wordAt = flow.Text.LastIndexOf(RateLine.Word(flow.Kind), at, StringComparison.Ordinal);
            return new(
                new(at, flow.Line.Length),
                misuse.Message,
                [
                    .. misuse.Fixes.Select(fix => new TextFix(
                        fix.Label,
                        flow.Text[..wordAt] + fix.Replacement + flow.Text[(at + flow.Line.Length)..]
                    )),
                ]
            );
        }

        /// <summary>Adds one item; a problem where the document does not allow it.</summary>
        public FormulaProblem? Add(QuickItem item)
        {
            switch (item)
            {
                case QuickFlow flow:
                    return AddFlow(flow);
                case QuickReaction reaction:
                    return AddReaction(reaction);
                case QuickStart start:
                    return SetStart(start.Symbol, start.Line, start.Text);
                case QuickNext next:
                    return SetNext(next);
                case QuickDefinition definition:
                    return Define(definition);
                case QuickInput input:
                    return AddInput(input);
                case QuickCurve curve:
                    return AddCurve(curve);
                case QuickRandom random:
                    return AddRandom(random);
                case QuickEvent rule:
                    return AddEvent(rule);
                case QuickStatement statement:
                    return AddStatement(statement);
                case QuickGroup group:
                    return AddGroup(group);
                case QuickSplit split:
                    return AddSplit(split);
                case QuickPassage passage:
                    return AddPassage(passage);
                case QuickTable table:
                    return AddTable(table);
                default:
                    return AddUnit((QuickUnit)item);
            }
        }

        private static FormulaProblem Whole(string text, string message) => new(new(0, text.Length), message);

        private FormulaProblem? AddFlow(QuickFlow item)
        {
            if (TakenByOther([item.From, .. item.To.Select(target => target.Symbol)], item.Text) is { } taken)
                return taken;
            var from = End(item.From, null);
            var targets = item
                .To.Select(target => new Target(End(target.Symbol, from)?.Id, target.Share) { Member = MemberOf(target.Symbol) })
                .ToImmutableArray();
            var flow = new Flow(NextId("f"), "", from?.Id, targets, item.Kind, item.Line)
            {
                Stages = item.Stages,
                Limited = item.Limited,
                Noise = item.Noise,
                FromMember = MemberOf(item.From),
            };
            Document = Document with { Flows = Document.Flows.Add(flow) };
            var twin = Document.Flows.Any(other =>
                other.Id != flow.Id
                && other.From == flow.From
                && other.To.Length == flow.To.Length
                && other.To.Zip(flow.To).All(pair => pair.First.LeadsAs(pair.Second))
            );
            Said.Add($"adds {(twin ? "another" : "the")} flow {Document.Describe(flow)}");
            return null;
        }

        private FormulaProblem? AddReaction(QuickReaction item)
        {
            var known = Document.PartBySymbol(item.Symbol);
            if (known is not (null or Reaction))
                return Other(item.Symbol, item.Text);
            if (TakenByOther(item.Ends, item.Text) is { } taken)
                return taken;
            Compartment? neighbour = null;
            foreach (var end in item.Ends)
                neighbour = End(end, neighbour);
            var made = known is Reaction reaction
                ? reaction with
                {
                    Text = item.Line,
                }
                : new Reaction(NextId("k"), item.Symbol, item.Symbol, item.Line);
            Document = Document.With(made);
            Said.Add($"{(known is null ? "adds" : "changes")} the reaction {item.Symbol}");
            return null;
        }

        /// <summary>A quantity, an input or a curve cannot become the end of a flow.</summary>
        private FormulaProblem? TakenByOther(IEnumerable<string?> symbols, string text)
        {
            foreach (var named in symbols)
            {
                var symbol = named is null ? null : MemberName.BaseOf(named);
                if (symbol is null || Document.PartBySymbol(symbol) is null or Compartment)
                    continue;
                if (Document.DefinitionBySymbol(symbol) is { } definition && !Formula.Read(definition.Text).HasNames)
                    continue;
                var at = Math.Max(0, text.IndexOf(symbol, StringComparison.Ordinal));
                return new(
                    new(at, symbol.Length),
                    $"{symbol} is {PartKinds.Noun(Document.PartBySymbol(symbol)!)}, and a flow joins compartments. Choose another symbol "
                        + "for the compartment."
                );
            }
            return null;
        }

        private Compartment? End(string? symbol, Compartment? neighbour)
        {
            if (symbol is null)
                return null;
            symbol = MemberName.BaseOf(symbol);
            if (Document.CompartmentBySymbol(symbol) is { } known)
                return known;
            var (start, unit) = ("0", "");
            if (Document.DefinitionBySymbol(symbol) is { } plain)
            {
                // A plain number that becomes a flow's end turns into that compartment, with that start.
                (start, unit) = (plain.Text, plain.Unit);
                Document = Document with { Definitions = Document.Definitions.Remove(plain) };
                Said.Add($"turns {symbol} into a compartment");
            }
            else
            {
                var near = Symbols.Nearest(symbol, Document.Compartments.Select(part => part.Symbol));
                Said.Add($"new compartment {symbol}" + (near is null ? "" : $" (did you mean {near}?)"));
            }
            var (x, y) = PlatePlacing.Next(Document.Compartments, neighbour);
            var made = new Compartment(NextId("c"), symbol, symbol, start, x, y) { Unit = unit };
            Document = Document with { Compartments = Document.Compartments.Add(made) };
            return made;
        }

        private FormulaProblem? SetStart(string symbol, string line, string text)
        {
            if (TakenByOther([symbol], text) is { } taken)
                return taken;
            var part = End(symbol, null)!;
            Said.Add($"{MemberName.Print(symbol)} starts at {line}");
            if (MemberName.IndicesOf(symbol) is { Count: > 0 } indices)
                return SetMember(part.Id, indices, PartField.Start, line, text);
            Document = Document.With(Document.Compartment(part.Id)! with { Start = line, Origin = Origin.Guess });
            return null;
        }

        private FormulaProblem? SetNext(QuickNext item)
        {
            if (TakenByOther([item.Symbol], item.Text) is { } taken)
                return taken;
            var part = End(item.Symbol, null)!;
            Said.Add($"{item.Symbol} is {item.Line} one step later");
            Document = Document.With(Document.Compartment(part.Id)! with { Next = item.Line });
            return null;
        }

        private FormulaProblem? Define(QuickDefinition item)
        {
            if (MemberName.IndicesOf(item.Symbol) is { Count: > 0 } indices)
                return DefineMember(item, MemberName.BaseOf(item.Symbol), indices);
            if (Document.CompartmentBySymbol(item.Symbol) is not null)
                return SetStart(item.Symbol, item.Line, item.Text);
            if (Document.DefinitionBySymbol(item.Symbol) is { } known)
            {
                Said.Add($"changes {item.Symbol} to {item.Line}");
                Document = Document.With(known with { Text = item.Line, Origin = Origin.Guess });
                return null;
            }
            if (Other(item.Symbol, item.Text) is { } other)
                return other;
            Said.Add($"adds the {(Formula.Read(item.Line).HasNames ? "quantity" : "parameter")} {item.Symbol}");
            var id = NextId("v");
            Document = Document with { Definitions = Document.Definitions.Add(new(id, item.Symbol, item.Symbol, item.Line)) };
            return null;
        }

        /// <summary>A symbol that another kind of part has already.</summary>
        private FormulaProblem? Other(string symbol, string text) =>
            Document.GroupBySymbol(symbol) is not null
                ? Whole(text, $"{symbol} is a group already. Choose another symbol, or rename the group in the ledger.")
            : Document.PartBySymbol(symbol) is { } part
                ? Whole(text, $"{symbol} is {PartKinds.Noun(part)} already. Choose another symbol, or change it in the ledger.")
            : null;
    }
}
