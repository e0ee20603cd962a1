using ClearTide.Core.Formulas;
using ClearTide.Core.Models;
using ClearTide.Formats.Print;

namespace ClearTide.Web.Studies;

/// <summary>One line of the ledger.</summary>
/// <param name="Name">How the line is spoken of: symbol or ends of a flow, as plain text.</param>
/// <param name="Symbol">The same in print.</param>
/// <param name="Print">The formula in print, as MathML or escaped text.</param>
/// <param name="Typed">The editable line.</param>
/// <param name="Value">A value that does not change along the run, in words; null where the cursor gives it.</param>
public sealed record LedgerLine(string Id, string Name, string Symbol, string Label, string Print, string Typed, PartField Field, int Colour, bool HasSymbol, bool IsGuess, string? Value, string Note, string? Equivalents, IReadOnlyList<Finding> Findings)
{
    public bool IsUnfinished => Findings.Any(finding => finding.Severity == Severity.Unfinished);
}

public sealed record LedgerSection(string Heading, string Column, IReadOnlyList<LedgerLine> Lines);

/// <summary>Every part as a line of a document, grouped by kind.</summary>
public sealed record LedgerModel(IReadOnlyList<LedgerSection> Sections, int Unfinished)
{
    public static LedgerModel Of(LoweredModel lowered)
    {
        var document = lowered.Document;
        var unit = document.TimeUnit.Singular;
        IReadOnlyList<Finding> Of(string id) => [.. lowered.Findings.Where(finding => finding.PartId == id)];
        string? ValueOf(string address) => lowered.Form.IndexOf(address) is var index && index >= 0 ? Numbers.Say(lowered.Form.Values[index].Value) : null;
        var compartments = document.Compartments.Select(part => new LedgerLine(part.Id, MathMl.PlainSymbol(part.Symbol), MathMl.Symbol(part.Symbol), part.Label, Start(part), part.Start, PartField.Start,
            Palette.Of(document, part.Id), true, false, null, part.Note, null, Of(part.Id))).ToList();
        var flows = document.Flows.Select(part => new LedgerLine(part.Id, document.Describe(part), Ends(document, part), part.Label.Length > 0 ? part.Label : "Flow", Rate(part), RateLine.Write(part.Kind, part.Rate), PartField.Rate,
            Palette.Of(document, part.From ?? part.Target), false, false, null, part.Note, Equivalents.Of(document, part), Of(part.Id))).ToList();
        var definitions = document.Definitions.Select(part => (Part: part, Line: new LedgerLine(part.Id, MathMl.PlainSymbol(part.Symbol), MathMl.Symbol(part.Symbol), part.Label, Printed(part.Text), part.Text, PartField.Text,
            0, true, part.Origin == Origin.Guess && !Formula.Read(part.Text).HasNames, ValueOf(part.Symbol), part.Note, Equivalents.Of(document, part), Of(part.Id)))).ToList();
        bool IsQuantity(Definition part) => Formula.Read(part.Text).HasNames;
        var sections = new List<LedgerSection>
        {
            new("Compartments", "start", compartments),
            new("Flows", $"per {unit}", flows),
            new("Values", "", [.. definitions.Where(pair => !IsQuantity(pair.Part)).Select(pair => pair.Line)]),
            new("Quantities", "", [.. definitions.Where(pair => IsQuantity(pair.Part)).Select(pair => pair.Line)]),
        };
        return new([.. sections.Where(section => section.Lines.Count > 0)], lowered.Findings.Count(finding => finding.Severity == Severity.Unfinished));
    }

    private static string Ends(StudyDocument document, Flow flow)
    {
        string End(string? id) => document.Compartment(id) is { } part ? MathMl.Symbol(part.Symbol) : "<mi></mi>";
        return $"{End(flow.From)}<mo>→</mo>{string.Join("<mo>,</mo>", flow.To.Select(target => End(target.Id)))}";
    }

    private static string Printed(string text) => Formula.Read(text).Tree is { } tree ? MathMl.Of(tree) : $"<code>{System.Net.WebUtility.HtmlEncode(text)}</code>";

    private static string Start(Compartment part)
    {
        var start = StartLine.Read(part.Start);
        return start.Formula.Tree is not { } tree ? Printed(part.Start) : (start.TheRest ? "the rest of " : "") + MathMl.Of(tree);
    }

    private static string Rate(Flow flow) => flow.Kind switch
    {
        RateKind.PerHead => "at " + Printed(flow.Rate),
        RateKind.MeanStay => "after " + Printed(flow.Rate),
        _ => Printed(flow.Rate),
    };
}
