using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

/// <summary>
/// Sets one field of a part to a typed text. A formula with a slip is kept and becomes a finding; what cannot be kept at all is refused.
/// </summary>
/// <param name="PartId">Id of the part.</param>
/// <param name="Field">Which of its fields.</param>
/// <param name="Value">The text for the field, as typed.</param>
/// <param name="At">Which of several it is, for the ends of a flow.</param>
public sealed partial record SetField(string PartId, PartField Field, string Value, int At = 0) : Edit
{
    /// <summary>Characters that a note has at most.</summary>
    public const int LongestNote = 4000;

    /// <summary>Characters that a label has at most.</summary>
    public const int LongestLabel = 120;

    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        var value = Value.Trim();
        var most = Field switch
        {
            PartField.Note => LongestNote,
            PartField.Points => QuickLine.LongestText,
            _ => FormulaLimits.Characters,
        };
        if (value.Length > most)
            return EditResult.Refused("This text is too long to keep. Shorten it.");
        if (MemberLines.Find(document, PartId) is { } one)
            return Field == MemberLines.FieldOf(one.Part)
                ? MemberLines.Set(
                    document,
                    one.Part,
                    one.Member,
                    MemberUnit.With(value, MemberUnit.Of(PartKinds.Text(one.Part, Field) ?? ""))
                )
                : EditResult.Refused("This holds for all members: change it of the part itself.");
        if (document.Part(PartId) is not { } part)
            return EditResult.Refused("This part is no longer in the study.");
        if (Field == PartField.Symbol)
            return Rename(document, part, Symbols.Normalize(value));
        if (Field == PartField.Label && value.Length > LongestLabel)
            return EditResult.Refused($"A label has at most {LongestLabel} characters; put the rest into the note.");
        try
        {
            return ByRule(document, part, value) ?? document.With(PartKinds.Of(part).With(part, Field, value, At));
        }
        catch (FieldRefusedException refused)
        {
            return EditResult.Refused(refused.Message);
        }
    }

    private static EditResult Rename(StudyDocument document, IPart part, string symbol)
    {
        if (part is Group group)
            return RenameGroup(document, group, symbol);
        if (part is not ISymbolPart named)
            return EditResult.Refused("This part has no symbol; change its label instead.");
        var old = named.Symbol;
        if (old == symbol)
            return document;
        if (Symbols.Refusal(symbol) is { } refusal)
            return EditResult.Refused(refusal);
        if (document.PartBySymbol(symbol) is not null || document.GroupBySymbol(symbol) is not null)
            return EditResult.Refused($"“{symbol}” is already the symbol of another part; choose another.");
        var renamed = LineNames.Rename(document, old, symbol);
        // A label that only repeated the symbol goes with it.
        var label = part.Label == old ? symbol : part.Label;
        var kind = PartKinds.Of(part);
        return renamed.With(kind.With(kind.With(renamed.Part(part.Id)!, PartField.Symbol, symbol), PartField.Label, label));
    }

    /// <summary>A group's symbol stands in brackets and in sums.</summary>
    private static EditResult RenameGroup(StudyDocument document, Group group, string symbol)
    {
        if (group.Symbol == symbol)
            return document;
        if (document.GroupBySymbol(symbol) is not null || GroupRefusals.Of(document, symbol, group.Members) is not null)
            return EditResult.Refused(
                GroupRefusals.Of(document, symbol, group.Members) ?? $"There is a group {symbol} already; choose another name."
            );
        var renamed = LineNames.Rewrite(document, (_, text) => Formula.RenameWords(text, group.Symbol, symbol));
        return renamed.With(renamed.Groups.First(one => one.Id == group.Id) with { Symbol = symbol });
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before)
    {
        if (MemberLines.Find(before, PartId) is { } one)
            return $"{Short(before.Describe(one.Part))}[{MemberName.Print($"[{one.Member}").TrimStart('[')}]: "
                + (Value.Trim().Length == 0 ? "as all" : Short(Value.Trim()));
        var part = before.Part(PartId);
        var was = part switch
        {
            Flow flow when Field == PartField.Rate => RateLine.Write(flow.Kind, flow.Rate),
            not null when ShowsBefore => PartKinds.Text(part, Field),
            _ => null,
        };
        var name = part is null ? "part" : Short(before.Describe(part));
        var field = Field.ToString().ToLowerInvariant();
        return was is null
            ? $"{name}: {field}{(Value.Length is > 0 and <= 30 ? " " + Value.Trim() : "")}"
            : $"{name}: {Short(was)} → {Short(Value.Trim())}";
    }

    /// <summary>Whether the history shows what stood there before: in short lines that change often.</summary>
    private bool ShowsBefore =>
        Field is PartField.Start or PartField.Next or PartField.Text or PartField.Symbol or PartField.Unit or PartField.Label;

    /// <inheritdoc/>
    public override string Topic => $"{PartId} {Field} {At}";

    private static string Short(string text) =>
        text.Length == 0 ? "empty"
        : text.Length <= 30 ? text
        : text[..29] + "…";
}
