using System.Collections.Immutable;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Modules;

/// <summary>What crosses the border of a module.</summary>
/// <param name="Entries">Symbols of the outer model that its lines use, in the order in which they are met.</param>
/// <param name="Offers">Its quantities: what it gives to look at, and to other lines.</param>
/// <param name="Used">Its symbols that lines outside use.</param>
/// <param name="FlowsIn">Flows from a compartment outside to one inside.</param>
/// <param name="FlowsOut">Flows from a compartment inside to one outside.</param>
/// <param name="Sinks">Flows between one of its compartments and the outside of the whole model, in either direction.</param>
public sealed record ModuleBorder(
    ImmutableArray<string> Entries,
    ImmutableArray<string> Offers,
    ImmutableArray<string> Used,
    ImmutableArray<Flow> FlowsIn,
    ImmutableArray<Flow> FlowsOut,
    ImmutableArray<Flow> Sinks
)
{
    /// <summary>Whether amounts inside change by what crosses a border at all.</summary>
    public bool IsClosed => FlowsIn.IsEmpty && FlowsOut.IsEmpty && Sinks.IsEmpty;

    /// <summary>The border of one module of a study.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="module">The symbol of the module; empty for the study itself.</param>
    public static ModuleBorder Of(StudyDocument document, string module)
    {
        var inside = ModuleParts.Inside(document, module);
        bool In(string? id) => id is not null && inside.Contains(id);
        // A flow is of the module where it leaves, or of the one it enters from outside the model.
        bool IsInner(IPart part) =>
            part is Flow flow
                ? flow.From is { } from
                    ? In(from)
                    : flow.To.Any(target => In(target.Id))
                : In(part.Id);
        var names = document.Parts.Where(IsInner).SelectMany(LineNames.Of).Select(name => name.Base).Distinct();
        var used = document
            .Parts.Where(part => !IsInner(part))
            .SelectMany(LineNames.Of)
            .Concat(document.Observations.SelectMany(one => one.Lines).SelectMany(line => Formula.Read(line).Tree?.Names() ?? []))
            .Select(name => name.Base)
            .Where(name => ModuleParts.Is(module, name))
            .Distinct();
        return new(
            [.. names.Where(name => !ModuleParts.Is(module, name) && document.PartBySymbol(name) is not null)],
            [.. ModuleParts.Offers(document, module).Select(part => part.Symbol)],
            [.. used],
            [.. document.Flows.Where(flow => flow.From is not null && !In(flow.From) && flow.To.Any(target => In(target.Id)))],
            [.. document.Flows.Where(flow => In(flow.From) && flow.To.Any(target => target.Id is not null && !In(target.Id)))],
            [
                .. document.Flows.Where(flow =>
                    In(flow.From) ? flow.To.Any(target => target.Id is null) : flow.From is null && flow.To.Any(target => In(target.Id))
                ),
            ]
        );
    }
}
