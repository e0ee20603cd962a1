using System.Collections.Immutable;
using ClearTide.Core.Conversion;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Modules;

/// <summary>Puts a model into a study as a module: another study, or a module of this one once more, with values of its own.</summary>
/// <param name="Symbol">The name of the new module.</param>
/// <param name="Label">What people call it; may be empty.</param>
/// <param name="Selection">The parts that are put in.</param>
/// <param name="From">The name that the parts have their module by; empty for those of another study.</param>
/// <param name="Of">Id of the study or the module that they are of.</param>
/// <param name="Title">What that is called.</param>
public sealed record UseModule(string Symbol, string Label, PartSelection Selection, string From, string Of, string Title) : Edit
{
    /// <summary>A module of a study once more.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="module">The module.</param>
    /// <param name="symbol">The symbol of the new one.</param>
    public static UseModule Again(StudyDocument document, Module module, string symbol) =>
        new(symbol, module.Label, ModuleParts.Selection(document, module.Symbol), module.Symbol, module.Id, module.Symbol);

    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        var (symbol, label) = (Symbols.Normalize(Symbol.Trim()), Label.Trim());
        if (ModuleRefusals.Of(document, symbol, label) is { } refusal)
            return EditResult.Refused(refusal);
        try
        {
            var parts = ModuleParts.Renamed(Selection.Parts, From, symbol);
            var before = document.Compartments.Length;
            // Beside all that is there, so that neither plates nor frames cover others.
            var shift =
                document.Compartments.IsEmpty || parts.Compartments.IsEmpty
                    ? 0
                    : document.Compartments.Max(part => part.Y) + 160 - parts.Compartments.Min(part => part.Y);
            var result = new AddCopies(Selection with { Parts = parts }, 0, shift).Apply(document);
            if (result.Document is not { } made)
                return result;
            var plates = made.Compartments.Skip(before).Select(part => part.Id).ToImmutableArray();
            var inner = ModuleParts.Of(parts).Where(module => ModuleParts.Is(symbol, module.Symbol)).Select(module => module.Symbol);
            made = ModuleFrames.Add(made, new("", symbol, label) { Source = new(Of, Title, ModuleParts.Lines(made, symbol)) }, plates);
            foreach (var name in inner)
                made = made with { NextId = made.NextId + 1, Modules = made.Modules.Add(new($"m{made.NextId}", name, "")) };
            return made;
        }
        catch (ModuleRefusedException wrong)
        {
            return EditResult.Refused(wrong.Message);
        }
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"module {Symbol.Trim()} from {Title}";
}
