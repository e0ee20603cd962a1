using System.Collections.Immutable;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

/// <summary>Adds a group. Nothing is split by it yet.</summary>
/// <param name="Symbol">The name in formulas.</param>
/// <param name="Label">The name that people read.</param>
/// <param name="Members">Two or more, each with a symbol of its own.</param>
public sealed record AddGroup(string Symbol, string Label, ImmutableArray<GroupMember> Members) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        var symbol = Symbols.Normalize(Symbol.Trim());
        if (document.GroupBySymbol(symbol) is not null)
            return EditResult.Refused($"There is a group {symbol} already. Change its members in the ledger, or choose another name.");
        if (GroupRefusals.Of(document, symbol, Members) is { } wrong)
            return EditResult.Refused(wrong);
        return document with
        {
            Groups = document.Groups.Add(new($"g{document.NextId}", symbol, Label.Trim(), Members)),
            NextId = document.NextId + 1,
        };
    }

    /// <summary>Members as typed: separated by commas or lines, each with a label behind a colon where it has one.</summary>
    /// <param name="text">The text as typed.</param>
    public static ImmutableArray<GroupMember> Read(string text) =>
        [
            .. text.Split([',', '\n', ';'], StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
                .Select(typed =>
                {
                    var cut = typed.IndexOf(':', StringComparison.Ordinal);
                    var (symbol, label) = cut > 0 ? (typed[..cut].Trim(), typed[(cut + 1)..].Trim()) : (typed, "");
                    // What is no symbol as it stands, as “0 to 4”, becomes the label of one.
                    return Symbols.Refusal(Symbols.Normalize(symbol)) is null
                        ? new GroupMember(Symbols.Normalize(symbol), label)
                        : new GroupMember(SymbolOf(symbol), label.Length > 0 ? label : symbol);
                }),
        ];

    private static string SymbolOf(string typed)
    {
        var letters = string.Concat(Symbols.Normalize(typed).Select(letter => char.IsLetterOrDigit(letter) ? letter : '_')).Trim('_');
        return letters.Length > 0 && char.IsLetter(letters[0]) ? letters : "a" + letters;
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        $"group {Symbol}: {string.Join(", ", Members.Select(member => member.Symbol))}";
}
