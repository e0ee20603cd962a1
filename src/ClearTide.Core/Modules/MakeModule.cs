using System.Collections.Immutable;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Modules;

/// <summary>Makes a module of chosen parts. Values, quantities and response curves that nothing else uses come along; what others use
/// stays outside, as inputs do, and is what the module takes. The numbers of a run are the same before and after.</summary>
/// <param name="Symbol">Its name, before the point.</param>
/// <param name="Label">What people call it; may be empty.</param>
/// <param name="PartIds">Ids of compartments and other parts with symbols.</param>
public sealed record MakeModule(string Symbol, string Label, ImmutableArray<string> PartIds) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        var (symbol, label) = (Symbols.Normalize(Symbol.Trim()), Label.Trim());
        var chosen = document.SymbolParts.Where(part => PartIds.Contains(part.Id)).Select(part => part.Id).ToHashSet();
        if (chosen.Count == 0)
            return EditResult.Refused("A module is made of compartments, values and quantities: select some of them first.");
        if (ModuleRefusals.Of(document, symbol, label) is { } refusal)
            return EditResult.Refused(refusal);
        chosen = WithOwn(document, chosen);
        var parts = document.SymbolParts.Where(part => chosen.Contains(part.Id)).ToList();
        // A module comes whole, as a module in this one.
        foreach (var module in parts.Select(part => ModuleName.Of(part.Symbol)).Where(name => name.Length > 0).Distinct())
        {
            if (ModuleParts.Named(document, module).FirstOrDefault(part => !chosen.Contains(part.Id)) is { } other)
                return EditResult.Refused(
                    $"{other.Symbol} is of the module {module} too, and is not selected. Select all of the module, or leave it out."
                );
        }
        try
        {
            var named = ModuleRests.Closed(document, parts.OfType<Compartment>().Select(part => part.Id).ToHashSet());
            var made = ModuleParts.Renamed(named, "", symbol, parts.Select(part => part.Symbol).ToList());
            var plates = parts.OfType<Compartment>().Select(part => part.Id).ToImmutableArray();
            made = made with { Modules = [.. made.Modules.Select(one => Inside(one, parts, symbol))] };
            return ModuleFrames.Add(made, new("", symbol, label), plates);
        }
        catch (ModuleRefusedException wrong)
        {
            return EditResult.Refused(wrong.Message);
        }
    }

    private static Module Inside(Module module, List<ISymbolPart> parts, string symbol) =>
        parts.Exists(part => ModuleParts.Is(module.Symbol, part.Symbol)) ? module with { Symbol = $"{symbol}.{module.Symbol}" } : module;

    /// <summary>The chosen parts with the values, quantities and curves that they alone use. Inputs are the world that a model is set
    /// in.</summary>
    private static HashSet<string> WithOwn(StudyDocument document, HashSet<string> chosen)
    {
        bool IsInner(IPart part) =>
            part is Flow flow
                ? (flow.From is null || chosen.Contains(flow.From)) && flow.To.All(end => end.Id is null || chosen.Contains(end.Id))
                : chosen.Contains(part.Id);
        var names = document.Parts.ToDictionary(part => part.Id, part => LineNames.Of(part).Select(name => name.Base).ToHashSet());
        var seen = document
            .Observations.SelectMany(one => one.Lines)
            .SelectMany(line => Formula.Read(line).Tree?.Names() ?? [])
            .Select(name => name.Base)
            .ToHashSet();
        var candidates = document.SymbolParts.Where(part => part is Definition or ResponseCurve && !chosen.Contains(part.Id)).ToList();
        for (var grew = true; grew; )
        {
            grew = false;
            foreach (var part in candidates.Where(part => !chosen.Contains(part.Id) && !seen.Contains(part.Symbol)))
            {
                var users = document.Parts.Where(one => one.Id != part.Id && names[one.Id].Contains(part.Symbol)).ToList();
                if (users.Count > 0 && users.TrueForAll(IsInner))
                    grew |= chosen.Add(part.Id);
            }
        }
        return chosen;
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        $"module {Symbol.Trim()} of "
        + string.Join(", ", PartIds.Select(before.Part).OfType<ISymbolPart>().Take(6).Select(part => part.Symbol));
}
