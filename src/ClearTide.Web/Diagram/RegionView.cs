using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Modules;
using ClearTide.Formats.Print;

namespace ClearTide.Web.Diagram;

/// <summary>A region: the area around its plates, or the one plate it is folded to; that of a module shows what the module
/// offers.</summary>
public sealed record RegionView(Region Region, Box Box)
{
    /// <summary>What the module that it frames offers: ids and names of the quantities whose curves it shows; empty for other
    /// regions.</summary>
    public IReadOnlyList<(string Id, string Name)> Exits { get; init; } = [];

    /// <summary>Curves that there is room for at the foot of the area.</summary>
    public IEnumerable<(string Id, string Name)> ExitsInRoom => Exits.Take(Math.Max(1, (int)((Box.Width - 16) / ExitWidth)));

    /// <summary>Room that a small curve takes with its name.</summary>
    public const double ExitWidth = 64;

    /// <summary>The quantities of the module that a region frames; empty for other regions.</summary>
    public static IReadOnlyList<(string, string)> ExitsOf(StudyDocument document, Region region) =>
        document.Modules.FirstOrDefault(module => module.RegionId == region.Id) is { } module
            ? [.. ModuleParts.Offers(document, module.Symbol).Select(part => (part.Id, MathMl.PlainSymbol(ModuleName.Inner(part.Symbol))))]
            : [];

    /// <summary>Whether a plate stands in the frame of its module, which says the name before the point.</summary>
    public static bool SaysModuleOf(StudyDocument document, Compartment part) =>
        ModuleName.Of(part.Symbol) is { Length: > 0 } name
        && document.Modules.FirstOrDefault(module => module.Symbol == name) is { } module
        && document.RegionOf(part.Id)?.Id == module.RegionId;
}
