using System.Net;
using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Formats.Print;
using ClearTide.Web.Curves;
using ClearTide.Web.Words;

namespace ClearTide.Web.Ledger;

/// <summary>One line of the ledger.</summary>
/// <param name="Name">How the line is spoken of: symbol or ends of a flow, as plain text.</param>
/// <param name="Symbol">The same in print, as MathML.</param>
/// <param name="Print">The formula in print, as MathML or escaped text.</param>
/// <param name="Value">A value that does not change along the run, in words; null where the cursor gives it.</param>
/// <param name="Unit">Its unit, given or inferred; empty where nothing says.</param>
public sealed record LedgerLine(
    IPart Part,
    string Name,
    string Symbol,
    string Print,
    int Colour,
    string? Value,
    string Unit,
    bool UnitIsInferred,
    IReadOnlyList<Finding> Findings
)
{
    public string Id => Part.Id;

    /// <summary>What each member holds or is, where the part is split and there is room for it.</summary>
    public IReadOnlyList<LedgerMember> Members { get; init; } = [];

    public bool IsUnfinished => Findings.Any(finding => finding.Severity == Severity.Unfinished);

    public bool IsGuess =>
        Part switch
        {
            Definition definition => definition.Origin == Origin.Guess && !Formula.Read(definition.Text).HasNames,
            _ => false,
        };

    /// <summary>Whether its symbol says all there is to its name.</summary>
    public bool IsNamedOnce => (Part is ISymbolPart named && named.Symbol == Part.Label) || (Part is Flow && Part.Label.Length == 0);

    /// <summary>All of the line in words, where there is no room for it.</summary>
    public string Whole =>
        string.Join(
            " · ",
            new[]
            {
                Name,
                Part.Label == Name ? "" : Part.Label,
                Part is Flow flow
                    ? RateLine.Write(flow.Kind, flow.Rate)
                    : PartKinds.Text(Part, Part is Compartment ? PartField.Start : PartField.Text) ?? "",
            }.Where(words => words.Length > 0)
        );

    /// <summary>What the filter box looks in.</summary>
    public string Searched => $"{Name} {Part.Label} {Part.Note}".ToLowerInvariant();
}

public sealed record LedgerSection(string Heading, string Column, IReadOnlyList<LedgerLine> Lines);

/// <summary>Every part as a line of a document, grouped by kind.</summary>
public sealed record LedgerModel(
    IReadOnlyList<LedgerSection> Sections,
    IReadOnlyList<LedgerLine> Unfinished,
    IReadOnlyList<Finding> General
)
{
    public static LedgerModel Of(StudyRun run)
    {
        var lowered = run.Lowered;
        var document = lowered.Study;
        var findings = run.Findings.Where(finding => finding.PartId is not null).ToLookup(finding => finding.PartId!);
        LedgerLine Line(IPart part) => One(lowered, part, [.. findings[part.Id]]);
        var each = TimeWords.Each(document.Solver.IsDiscrete ? "step" : document.TimeUnit.Singular);
        var amounts = CommonUnit(lowered, document.Compartments);
        List<LedgerSection> sections =
        [
            new("Compartments", amounts.Length > 0 ? $"start · {amounts}" : "start", [.. document.Compartments.Select(Line)]),
            new("Flows", amounts.Length > 0 ? $"{amounts} {each}" : each, [.. document.Flows.Select(Line)]),
            new("Reactions", each, [.. document.Reactions.Select(Line)]),
            new("Parameters", "", [.. document.Definitions.Where(part => !Formula.Read(part.Text).HasNames).Select(Line)]),
            new("Quantities", "", [.. document.Definitions.Where(part => Formula.Read(part.Text).HasNames).Select(Line)]),
            new("Inputs", "", [.. document.Inputs.Select(Line)]),
            new("Response curves", "", [.. document.Curves.Select(Line)]),
            new("Random inputs", $"seed {document.Seed}", [.. document.RandomInputs.Select(Line)]),
            new("Groups", "", [.. document.Groups.Select(Line)]),
            new("Events", "", [.. document.Events.Select(Line)]),
            new("Assumptions", "", [.. document.Assumptions.Select(Line)]),
            new("Expectations", "", [.. document.Expectations.Select(Line)]),
        ];
        sections.RemoveAll(section => section.Lines.Count == 0);
        return new(
            sections,
            [.. sections.SelectMany(section => section.Lines).Where(line => line.IsUnfinished)],
            [.. run.Findings.Where(finding => finding.PartId is null)]
        );
    }

    /// <summary>The line of one part.</summary>
    public static LedgerLine? Line(StudyRun run, string partId) =>
        run.Lowered.Study.Part(partId) is { } part
            ? One(run.Lowered, part, [.. run.Findings.Where(finding => finding.PartId == partId)])
            : null;

    private static LedgerLine One(LoweredModel lowered, IPart part, IReadOnlyList<Finding> findings)
    {
        var document = lowered.Study;
        var unit = part is ISymbolPart ? lowered.Units.Of(part.Id) : null;
        var flow = part as Flow;
        var symbol = (part as ISymbolPart)?.Symbol ?? (part as Group)?.Symbol;
        return new(
            part,
            symbol is not null ? MathMl.PlainSymbol(symbol) : document.Describe(part),
            symbol is not null ? MathMl.Symbol(symbol) + Indices(document, part)
                : flow is not null ? Ends(document, flow)
                : "",
            part is EventRule rule && DoseWords.Sum(lowered, rule) is { } doses ? WebUtility.HtmlEncode(doses)
                : HasOwnLines(lowered, part)
                    ? WebUtility.HtmlEncode(
                        $"by {string.Join(" and ", document.GroupsOf(part.Id).Select(group => group.Symbol).Distinct())}"
                    )
                : LinePrint.Of(document, part),
            flow is not null ? Palette.Of(document, flow.From ?? flow.Target)
                : part is Compartment ? Palette.Of(document, part.Id)
                : 0,
            part is Definition definition && Value(lowered, definition) is { } value ? Numbers.Say(value) : null,
            unit?.Unit is { } known ? known.Text() : "",
            unit is { Given: false },
            findings
        )
        {
            Members = LedgerMember.Of(lowered, part),
        };
    }

    /// <summary>Whether every member has a line of its own, so that none has that of all.</summary>
    private static bool HasOwnLines(LoweredModel lowered, IPart part) =>
        lowered.Study.SplitOf(part.Id) is { Groups.IsEmpty: false } split && split.Lines.Length >= lowered.Written.Members(part.Id).Count;

    private static string Indices(StudyDocument document, IPart part) =>
        document.GroupsOf(part.Id) is { IsEmpty: false } groups && part is not Flow
            ? "<mtext class=\"text-2xs text-mute not-italic\">"
                + $"[{WebUtility.HtmlEncode(string.Join(", ", groups.Select(group => group.Symbol)))}]</mtext>"
            : "";

    /// <summary>A parameter's value, unless events change it along the run.</summary>
    private static double? Value(LoweredModel lowered, Definition part) =>
        // Of one that is split the number is that of all members without one of their own.
        lowered.Study.SplitOf(part.Id)
            is { } split
        && (split.Lines.Length >= lowered.Written.Members(part.Id).Count)
            ? null
        : lowered.Network.Quantities.Any(quantity => quantity.PartId == part.Id) ? null
        : lowered.Network.IndexOf(part.Symbol) is var index && index >= 0 ? lowered.Network.Values[index].Value
        : null;

    /// <summary>The unit of all these parts, where they share one.</summary>
    private static string CommonUnit(LoweredModel lowered, IEnumerable<ISymbolPart> parts)
    {
        var units = parts.Select(part => lowered.Units.Of(part.Id).Unit?.Text() ?? "").Distinct().ToList();
        return units.Count == 1 ? units[0] : "";
    }

    private static string Ends(StudyDocument document, Flow flow)
    {
        // The name of a module that all ends are of stands once.
        List<string> names =
        [
            .. flow.To.Select(target => target.Id).Append(flow.From).Select(id => document.Compartment(id)?.Symbol ?? ""),
        ];
        var common = names.Select(ModuleName.Of).Distinct().ToList() is [{ Length: > 0 } module] ? module : "";
        string End(string? id) =>
            document.Compartment(id) is { } part ? MathMl.Symbol(common.Length > 0 ? ModuleName.Inner(part.Symbol) : part.Symbol)
            : flow.FansOut && id is null ? "<mtext>outside</mtext>"
            : "<mi></mi>";
        var head = common.Length > 0 ? $"<mi>{System.Net.WebUtility.HtmlEncode(common)}:</mi><mspace width='.3em'/>" : "";
        return $"{head}{End(flow.From)}<mo>→</mo>{string.Join("<mo>,</mo>", flow.To.Select(target => End(target.Id)))}";
    }
}
