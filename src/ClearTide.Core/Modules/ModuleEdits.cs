using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Modules;

/// <summary>Gives a module another name or label.</summary>
/// <param name="Of">The symbol that it has.</param>
/// <param name="Symbol">The symbol that it shall have.</param>
/// <param name="Label">The new name that people read.</param>
public sealed record RenameModule(string Of, string Symbol, string Label) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (ModuleParts.Of(document).FirstOrDefault(one => one.Symbol == Of) is not { } module)
            return EditResult.Refused("This module is no longer in the study.");
        var (symbol, label) = (Symbols.Normalize(Symbol.Trim()), Label.Trim());
        // A module in a module stays in it: only its own name is typed.
        if (ModuleName.Of(Of) is { Length: > 0 } outer && !symbol.Contains('.', StringComparison.Ordinal))
            symbol = $"{outer}.{symbol}";
        if (symbol != Of && ModuleRefusals.Of(document, symbol, label) is { } refusal)
            return EditResult.Refused(refusal);
        try
        {
            var renamed = symbol == Of ? document : ModuleParts.Renamed(document, Of, symbol);
            return WithRecords(renamed, module, symbol, label);
        }
        catch (ModuleRefusedException wrong)
        {
            return EditResult.Refused(wrong.Message);
        }
    }

    private StudyDocument WithRecords(StudyDocument document, Module module, string symbol, string label)
    {
        var named = document with
        {
            Modules =
            [
                .. document.Modules.Select(one =>
                    one.Symbol == Of ? one with { Symbol = symbol, Label = label }
                    : ModuleParts.Is(Of, one.Symbol) ? one with { Symbol = symbol + one.Symbol[Of.Length..] }
                    : one
                ),
            ],
        };
        if (named.Modules.FirstOrDefault(one => one.Symbol == symbol) is not { } known)
            return ModuleFrames.Add(named, module with { Symbol = symbol, Label = label }, []);
        return new ChangeRegion(known.RegionId, ModuleFrames.Name(known)).Apply(named).Document ?? named;
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"module {Of}: renamed {Symbol.Trim()}";
}

/// <summary>Takes a module apart: its parts become plain parts of the study, or of the module that it was in.</summary>
/// <param name="Of">The symbol of the module.</param>
public sealed record DissolveModule(string Of) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (ModuleParts.Of(document).FirstOrDefault(one => one.Symbol == Of) is not { } module)
            return EditResult.Refused("This module is no longer in the study.");
        var outer = ModuleName.Of(Of);
        document = ModuleRests.Spelled(document, Of);
        foreach (var symbol in ModuleParts.Named(document, Of).Select(part => part.Symbol).ToList())
        {
            var plain = (outer.Length > 0 ? outer + "." : "") + symbol[(Of.Length + 1)..];
            // A name that is taken gets the module's behind it.
            var free = plain;
            var own = ModuleName.Inner(Of);
            for (var twin = 1; document.PartBySymbol(free) is not null || document.GroupBySymbol(free) is not null; twin++)
                free = $"{plain}_{own}{(twin == 1 ? "" : twin)}";
            var result = new SetField(document.PartBySymbol(symbol)!.Id, PartField.Symbol, free).Apply(document);
            if (result.Document is not { } next)
                return EditResult.Refused($"{symbol}: {result.Refusal}");
            document = next;
        }
        return document with
        {
            Modules =
            [
                .. document
                    .Modules.Where(one => one.Symbol != Of)
                    .Select(one =>
                        ModuleParts.Is(Of, one.Symbol)
                            ? one with
                            {
                                Symbol = (outer.Length > 0 ? outer + "." : "") + one.Symbol[(Of.Length + 1)..],
                            }
                            : one
                    ),
            ],
            Regions = document.Regions.RemoveAll(region => region.Id == module.RegionId),
        };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"module {Of}: taken apart";
}

/// <summary>Takes a module out with all that is in it.</summary>
/// <param name="Of">The symbol of the module.</param>
public sealed record RemoveModule(string Of) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        var result = new RemoveParts([.. ModuleParts.Inside(document, Of)]).Apply(document);
        return result.Document is { } left
            ? left with
            {
                Modules = left.Modules.RemoveAll(one => one.Symbol == Of || ModuleParts.Is(Of, one.Symbol)),
            }
            : result;
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"module {Of}: removed";
}
