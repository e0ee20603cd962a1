using System.Collections.Immutable;
using ClearTide.Core.Model;
using ClearTide.Core.Modules;

namespace ClearTide.Web.Studies;

/// <summary>A module as the ledger shows it.</summary>
/// <param name="Parts">How many parts it has.</param>
/// <param name="IsAtHand">Whether what it was made from can be looked at.</param>
/// <param name="Changes">What that would bring by now.</param>
public sealed record ModuleView(Module Module, int Parts, ModuleBorder Border, bool IsAtHand, ImmutableArray<ModuleChange> Changes)
{
    public static ModuleView Of(StudyDocument document, Module module, UpdateModule? update) =>
        new(
            module,
            ModuleParts.Named(document, module.Symbol).Count(),
            ModuleBorder.Of(document, module.Symbol),
            update is not null,
            Brought(document, update)
        );

    private static ImmutableArray<ModuleChange> Brought(StudyDocument document, UpdateModule? update)
    {
        try
        {
            return update?.Changes(document) ?? [];
        }
        catch (ModuleRefusedException)
        {
            // A part there has by now a name that it cannot have here; updating says so.
            return [];
        }
    }
}
