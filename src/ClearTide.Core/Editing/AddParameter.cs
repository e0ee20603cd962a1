using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

/// <summary>Adds a parameter without a value, for a name that formulas already use.</summary>
/// <param name="Symbol">The name, as formulas already use it.</param>
public sealed record AddParameter(string Symbol) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (Symbols.Refusal(Symbol) is { } refusal)
            return EditResult.Refused(refusal);
        if (document.PartBySymbol(Symbol) is not null)
            return EditResult.Refused($"“{Symbol}” is already there.");
        return document with
        {
            Definitions = document.Definitions.Add(new("v" + document.NextId, Symbol, Symbol, "")),
            NextId = document.NextId + 1,
        };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"adds the parameter {Symbol}";
}
