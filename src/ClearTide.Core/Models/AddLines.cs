using System.Collections.Immutable;
using ClearTide.Core.Formulas;
using ClearTide.Core.Units;

namespace ClearTide.Core.Models;

/// <summary>Adds what the quick line says: flows with the compartments they need, values, quantities, initial amounts.</summary>
public sealed record AddLines(string Text) : Edit
{
    /// <summary>A study holds at most this many parts.</summary>
    public const int MostParts = 2000;

    public override EditResult Apply(StudyDocument document) => Build(document).Result;

    /// <summary>What applying it to <paramref name="document"/> would add, one phrase for each item, for the preview.</summary>
    public IReadOnlyList<string> Preview(StudyDocument document) => Build(document).Said;

    public override string Describe(StudyDocument before) => string.Join("; ", Preview(before));

    private (EditResult Result, IReadOnlyList<string> Said) Build(StudyDocument document)
    {
        var (items, problem) = QuickLine.Read(Text);
        if (problem is not null) return (EditResult.Refused(problem), []);
        if (items.Count == 0) return (EditResult.Refused("Type a part to add, as in “S -> I : beta * S * I / N”."), []);
        var said = new List<string>();
        foreach (var item in items)
        {
            switch (item)
            {
                case QuickFlow flow:
                    if (Misused(document, flow) is { } misuse) return (misuse, []);
                    document = AddFlow(document, flow, said);
                    break;
                case QuickStart start:
                    document = SetStart(document, start, said);
                    break;
                case QuickDefinition definition:
                    document = Define(document, definition, said);
                    break;
            }
            if (document.Parts.Count() > MostParts) return (EditResult.Refused($"A study holds at most {MostParts:N0} parts."), []);
        }
        return (document, said);
    }

    private EditResult? Misused(StudyDocument document, QuickFlow flow)
    {
        if (RateDimension.Misuse(document, flow.Kind, flow.Tree, flow.Line) is not { } misuse) return null;
        var at = Text.IndexOf(flow.Line, StringComparison.Ordinal);
        var word = RateLine.Word(flow.Kind);
        var wordAt = Text.LastIndexOf(word, at, StringComparison.Ordinal);
        var fixes = misuse.Fixes.Select(fix => new TextFix(fix.Label, Text[..wordAt] + fix.Replacement + Text[(at + flow.Line.Length)..])).ToList();
        return new(null, misuse.Message, new(at, flow.Line.Length), fixes);
    }

    private static StudyDocument AddFlow(StudyDocument document, QuickFlow item, List<string> said)
    {
        (document, var from) = End(document, item.From, null, said);
        (document, var to) = End(document, item.To, from, said);
        var flow = new Flow("f" + document.NextId, "", from?.Id, to?.Id, item.Kind, item.Line);
        document = document with { Flows = document.Flows.Add(flow), NextId = document.NextId + 1 };
        var twin = document.Flows.Any(other => other.Id != flow.Id && other.From == flow.From && other.To == flow.To);
        said.Add($"adds {(twin ? "another" : "the")} flow {document.Describe(flow)}");
        return document;
    }

    private static (StudyDocument, Compartment?) End(StudyDocument document, string? symbol, Compartment? neighbour, List<string> said)
    {
        if (symbol is null) return (document, null);
        if (document.CompartmentBySymbol(symbol) is { } known) return (document, known);
        var start = "0";
        if (document.DefinitionBySymbol(symbol) is { } plain)
        {
            // A plain number that becomes a flow's end turns into that compartment, with that start.
            start = plain.Text;
            document = document with { Definitions = document.Definitions.Remove(plain) };
            said.Add($"turns {symbol} into a compartment");
        }
        else
        {
            var near = Symbols.Nearest(symbol, document.Compartments.Select(part => part.Symbol));
            said.Add($"new compartment {symbol}" + (near is null ? "" : $" (did you mean {near}?)"));
        }
        var (x, y) = PlatePlacing.Next(document.Compartments, neighbour);
        var made = new Compartment("c" + document.NextId, symbol, symbol, start, x, y);
        return (document with { Compartments = document.Compartments.Add(made), NextId = document.NextId + 1 }, made);
    }

    private static StudyDocument SetStart(StudyDocument document, QuickStart item, List<string> said)
    {
        (document, var part) = End(document, item.Symbol, null, said);
        said.Add($"{item.Symbol} starts at {item.Line}");
        return document with { Compartments = document.Compartments.Change(part!.Id, compartment => compartment with { Start = item.Line }) };
    }

    private static StudyDocument Define(StudyDocument document, QuickDefinition item, List<string> said)
    {
        if (document.CompartmentBySymbol(item.Symbol) is not null) return SetStart(document, new(item.Symbol, item.Line), said);
        var kind = Formula.Read(item.Line).HasNames ? "quantity" : "value";
        if (document.DefinitionBySymbol(item.Symbol) is { } known)
        {
            said.Add($"changes {item.Symbol} to {item.Line}");
            return document with { Definitions = document.Definitions.Change(known.Id, part => part with { Text = item.Line, Origin = Origin.Guess }) };
        }
        said.Add($"adds the {kind} {item.Symbol}");
        var made = new Definition("v" + document.NextId, item.Symbol, item.Symbol, item.Line);
        return document with { Definitions = document.Definitions.Add(made), NextId = document.NextId + 1 };
    }
}

/// <summary>Adds a parameter without a value, for a name that formulas already use.</summary>
public sealed record AddParameter(string Symbol) : Edit
{
    public override EditResult Apply(StudyDocument document)
    {
        if (Symbols.Refusal(Symbol) is { } refusal) return EditResult.Refused(refusal);
        if (document.CompartmentBySymbol(Symbol) is not null || document.DefinitionBySymbol(Symbol) is not null)
        {
            return EditResult.Refused($"“{Symbol}” is already there.");
        }
        return document with
        {
            Definitions = document.Definitions.Add(new("v" + document.NextId, Symbol, Symbol, "")),
            NextId = document.NextId + 1,
        };
    }

    public override string Describe(StudyDocument before) => $"adds the value {Symbol}";
}
