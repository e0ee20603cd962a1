using System.Collections.Immutable;
using ClearTide.Core.Conversion;
using ClearTide.Core.Editing;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Modules;

/// <summary>Brings a module to what its source is now. What was changed here stays; what the source took out goes.</summary>
/// <param name="Of">The name of the module.</param>
/// <param name="Selection">The source's parts as they are now.</param>
/// <param name="From">The name of the module that they are of; empty for another study.</param>
public sealed record UpdateModule(string Of, PartSelection Selection, string From) : Edit
{
    /// <summary>What an update would bring; empty where there is nothing, or no source.</summary>
    /// <param name="document">The study; not changed.</param>
    public ImmutableArray<ModuleChange> Changes(StudyDocument document) =>
        Source(document) is { } source
            ? ModuleChanges.Between(source.Lines, ModuleParts.Lines(Selection.Parts, From), ModuleParts.Lines(document, Of))
            : [];

    private ModuleSource? Source(StudyDocument document) => document.Modules.FirstOrDefault(one => one.Symbol == Of)?.Source;

    /// <summary>The source's parts under this module's name.</summary>
    private StudyDocument There() => ModuleParts.Renamed(Selection.Parts, From, Of);

    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (Source(document) is not { } source)
            return EditResult.Refused("This module was not made from another model, so that there is nothing to bring it up to.");
        StudyDocument there;
        try
        {
            there = There();
        }
        catch (ModuleRefusedException wrong)
        {
            return EditResult.Refused(wrong.Message);
        }
        var brought = Changes(document).Where(change => !change.IsKept).ToList();
        var keys = brought.ToDictionary(change => change.Key);
        var here = ModuleParts.Keys(document, Of).GroupBy(pair => pair.Key).ToDictionary(all => all.Key, all => all.First().Part.Id);
        foreach (var (key, _, part) in ModuleParts.Keys(there, Of).OrderBy(pair => pair.Part is Flow or EventRule).ToList())
        {
            if (!keys.TryGetValue(key, out var change) || change.Kind == SourceChange.Gone)
                continue;
            var own = change.Kind == SourceChange.Changed ? document.Part(here.GetValueOrDefault(key)) : null;
            var result = own is null ? Added(document, there, part) : Changed(document, own, part);
            if (result.Document is not { } next)
                return EditResult.Refused($"{change.Key}: {result.Refusal}");
            document = next;
        }
        ImmutableArray<string> gone =
        [
            .. brought
                .Where(change => change.Kind == SourceChange.Gone)
                .Select(change => here.GetValueOrDefault(change.Key))
                .OfType<string>(),
        ];
        if (!gone.IsEmpty && new RemoveParts(gone).Apply(document).Document is { } without)
            document = without;
        return document with
        {
            Modules =
            [
                .. document.Modules.Select(one =>
                    one.Symbol == Of ? one with { Source = source with { Lines = ModuleParts.Lines(there, Of) } } : one
                ),
            ],
        };
    }

    /// <summary>The part as it is there, under the id and at the place that it has here.</summary>
    private static EditResult Changed(StudyDocument document, IPart here, IPart there) =>
        (here, there) switch
        {
            (Compartment own, Compartment other) => document.With(
                own with
                {
                    Start = other.Start,
                    Next = other.Next,
                    Unit = other.Unit,
                    NeverBelowZero = other.NeverBelowZero,
                    WholeUnits = other.WholeUnits,
                }
            ),
            (Flow own, Flow other) => document.With(
                own with
                {
                    Rate = other.Rate,
                    Kind = other.Kind,
                    Stages = other.Stages,
                    Limited = other.Limited,
                    Noise = other.Noise,
                    To = [.. own.To.Zip(other.To, (mine, end) => mine with { Share = end.Share })],
                }
            ),
            (Definition own, Definition other) => document.With(other with { Id = own.Id }),
            (Input own, Input other) => document.With(other with { Id = own.Id }),
            (ResponseCurve own, ResponseCurve other) => document.With(other with { Id = own.Id }),
            (RandomInput own, RandomInput other) => document.With(other with { Id = own.Id }),
            (Reaction own, Reaction other) => document.With(own with { Text = other.Text, Unit = other.Unit }),
            _ => document,
        };

    private static EditResult Added(StudyDocument document, StudyDocument there, IPart part)
    {
        var line = LineText.Of(there, part);
        if (line.Length == 0)
            return document;
        var result = new AddLines(line).Apply(document);
        return
            result.Document is { } added
            && part is ISymbolPart named
            && added.PartBySymbol(named.Symbol) is { } made
            && part.Label.Length > 0
            ? new SetField(made.Id, PartField.Label, part.Label).Apply(added)
            : result;
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"module {Of}: brought up to {Source(before)?.Title}";
}
