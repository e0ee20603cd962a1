using ClearTide.Core.Conversion;
using ClearTide.Core.Model;
using ClearTide.Core.Modules;
using ClearTide.Storage;
using ClearTide.Web.Studies;
using Microsoft.AspNetCore.Mvc;

namespace ClearTide.Web.Pages.Studies;

/// <summary>Modules: models that are parts of this one.</summary>
public sealed partial class BuildModel
{
    /// <summary>Where what is refused about modules is told.</summary>
    private const string ModulesRefused = "modules-refused";

    /// <summary>The modules of the study, each with what crosses its border and what its source would bring.</summary>
    public IEnumerable<ModuleView> Modules => ModuleParts.Of(Document).Select(module => ModuleView.Of(Document, module, Update(module)));

    /// <summary>Models that can be a module of this one.</summary>
    public IActionResult OnGetModels() => Partial("_Models", Library.Models.Where(model => model.Id != State.Id));

    /// <summary>Makes a module of the selection.</summary>
    /// <param name="name">Its name, and behind a colon what people call it.</param>
    public IActionResult OnPostModule(long version, string? name, string? partIds)
    {
        var typed = (name ?? "").Split(':', 2);
        return Module(Save(version, new MakeModule(typed[0], typed.Length > 1 ? typed[1] : "", Ids(partIds))), refusedAt: null);
    }

    /// <summary>A module of the study once more, with values of its own.</summary>
    public IActionResult OnPostUseAgain(long version, string? module, string? symbol) =>
        Known(module, out var known) ? Module(Save(version, UseModule.Again(Document, known, symbol ?? ""))) : Module(Gone);

    /// <summary>Another model as a module of this one.</summary>
    /// <param name="source">Id of a study, or of a starting pattern.</param>
    public IActionResult OnPostUseStudy(long version, string? source, string? symbol)
    {
        if (source == State.Id)
            return Module(Refused("A study cannot hold itself as a module. Make a module of a part of it, and use that again."));
        if (Library.Model(source ?? "") is not { } other)
            return Module(Refused("That study is not on the shelf any more. Choose another one."));
        if (other.Modules.Any(module => module.Source?.Of == State.Id))
            return Module(Refused("That study holds this one as a module already; each would hold the other without end."));
        var parts = PartSelection.Whole(other, Document.TimeUnit);
        return Module(Save(version, new UseModule(symbol ?? "", "", parts, "", source!, other.Title)));
    }

    public IActionResult OnPostModuleName(long version, string? module, string? symbol, string? label) =>
        Module(Save(version, new RenameModule(module ?? "", symbol ?? "", label ?? "")));

    public IActionResult OnPostModuleUpdate(long version, string? module) =>
        Known(module, out var known) && Update(known) is { } update
            ? Module(Save(version, update))
            : Module(Refused("What this module was made from is not at hand any more."));

    public IActionResult OnPostModuleApart(long version, string? module) => Module(Save(version, new DissolveModule(module ?? "")));

    public IActionResult OnPostModuleRemove(long version, string? module) => Module(Save(version, new RemoveModule(module ?? "")));

    /// <summary>Names of many lines change together: the whole ledger answers.</summary>
    private PartialViewResult Module(SaveResult result, string? refusedAt = ModulesRefused)
    {
        if (result.Outcome == SaveOutcome.Refused)
            return Changed(result, refusedAt: refusedAt);
        TakeUp(result);
        return Partial("_BuildAnswer", this);
    }

    private SaveResult Gone => Refused("This module is no longer in the study.");

    private bool Known(string? symbol, out Module module)
    {
        module = ModuleParts.Of(Document).FirstOrDefault(one => one.Symbol == symbol)!;
        return module is not null;
    }

    /// <summary>What would bring a module to what its source is now; null where it has none, or none that is at hand.</summary>
    private UpdateModule? Update(Module module)
    {
        if (module.Source is not { } source)
            return null;
        if (Document.Modules.FirstOrDefault(one => one.Id == source.Of) is { } here)
            return new(module.Symbol, ModuleParts.Selection(Document, here.Symbol), here.Symbol);
        return Library.Model(source.Of) is { } other
            ? new UpdateModule(module.Symbol, PartSelection.Whole(other, Document.TimeUnit), "")
            : null;
    }
}
