using System.Collections.Immutable;
using ClearTide.Core.Editing;
using ClearTide.Core.Model;

namespace ClearTide.Core.Modules;

/// <summary>The record of a module and the region that frames it on the paper.</summary>
internal static class ModuleFrames
{
    /// <summary>The document with a module and a frame around its plates.</summary>
    public static StudyDocument Add(StudyDocument document, Module module, ImmutableArray<string> plates)
    {
        // A record whose parts are all gone makes room.
        document = document with { Modules = document.Modules.RemoveAll(one => one.Symbol == module.Symbol) };
        var next = document.NextId;
        var id = $"m{next++}";
        if (plates.IsEmpty)
            return document with { NextId = next, Modules = document.Modules.Add(module with { Id = id }) };
        var framed = new AddRegion(Name(module), plates).Apply(document with { NextId = next }).Document!;
        return framed with { Modules = framed.Modules.Add(module with { Id = id, RegionId = framed.Regions[^1].Id }) };
    }

    /// <summary>What stands at the head of its frame.</summary>
    public static string Name(Module module)
    {
        var name = module.Label.Length > 0 ? $"{module.Symbol}: {module.Label}" : module.Symbol;
        return name.Length <= AddRegion.LongestLabel ? name : module.Symbol;
    }
}
