using System.Collections.Immutable;
using ClearTide.Core.Formulas;

namespace ClearTide.Core.Models;

/// <summary>Sets one field of a part to a typed text. A formula with a slip is kept and becomes a finding; a symbol that cannot be is refused.</summary>
public sealed record SetField(string PartId, PartField Field, string Value) : Edit
{
    public const int LongestNote = 4000;

    public override EditResult Apply(StudyDocument document)
    {
        var value = Value.Trim();
        if (value.Length > (Field == PartField.Note ? LongestNote : FormulaLimits.Characters)) return EditResult.Refused("This text is too long to keep. Shorten it.");
        if (document.Parts.All(part => part.Id != PartId)) return EditResult.Refused("This part is no longer in the study.");
        return Field switch
        {
            PartField.Symbol => Rename(document, Symbols.Normalize(value)),
            PartField.Label when value.Length > 120 => EditResult.Refused("A label has at most 120 characters; put the rest into the note."),
            _ => Replace(document, value),
        };
    }

    private StudyDocument Replace(StudyDocument document, string value) => document with
    {
        Compartments = document.Compartments.Change(PartId, part => Field switch
        {
            PartField.Label => part with { Label = value },
            PartField.Start => part with { Start = value },
            PartField.Note => part with { Note = value },
            _ => part,
        }),
        Flows = document.Flows.Change(PartId, part => Field switch
        {
            PartField.Label => part with { Label = value },
            PartField.Rate when RateLine.Read(value, part.Kind) is var (kind, line) => part with { Kind = kind, Rate = line },
            PartField.Note => part with { Note = value },
            _ => part,
        }),
        Definitions = document.Definitions.Change(PartId, part => Field switch
        {
            PartField.Label => part with { Label = value },
            PartField.Text => part with { Text = value, Origin = Origin.Guess },
            PartField.Note => part with { Note = value },
            _ => part,
        }),
    };

    private EditResult Rename(StudyDocument document, string symbol)
    {
        var old = document.Compartments.FirstOrDefault(part => part.Id == PartId)?.Symbol
            ?? document.Definitions.FirstOrDefault(part => part.Id == PartId)?.Symbol;
        if (old is null) return EditResult.Refused("A flow has no symbol; change its label instead.");
        if (old == symbol) return document;
        if (Symbols.Refusal(symbol) is { } refusal) return EditResult.Refused(refusal);
        if (document.CompartmentBySymbol(symbol) is not null || document.DefinitionBySymbol(symbol) is not null)
        {
            return EditResult.Refused($"“{symbol}” is already the symbol of another part; choose another.");
        }
        string Text(string text) => Formula.Rename(text, old, symbol);
        string Address(string address) => address == old ? symbol : address.StartsWith(old + ".", StringComparison.Ordinal) ? symbol + address[old.Length..] : address;
        return document with
        {
            Compartments = [.. document.Compartments.Select(part => part with { Symbol = part.Id == PartId ? symbol : part.Symbol, Start = Text(part.Start) })],
            Flows = [.. document.Flows.Select(part => part with { Rate = Text(part.Rate) })],
            Definitions = [.. document.Definitions.Select(part => part with { Symbol = part.Id == PartId ? symbol : part.Symbol, Text = Text(part.Text) })],
            Observations = [.. document.Observations.Select(part => part with { Reporting = Text(part.Reporting) })],
            Fit = document.Fit with { Parameters = [.. document.Fit.Parameters.Select(part => part with { Address = Address(part.Address) })] },
            Scenarios = [.. document.Scenarios.Select(scenario => scenario with
            {
                Measures = [.. scenario.Measures.Select(measure => measure with { Address = Address(measure.Address) })],
            })],
        };
    }

    public override string Describe(StudyDocument before)
    {
        var part = before.Parts.FirstOrDefault(candidate => candidate.Id == PartId);
        var was = (part, Field) switch
        {
            (Compartment c, PartField.Start) => c.Start,
            (Flow f, PartField.Rate) => RateLine.Write(f.Kind, f.Rate),
            (Definition d, PartField.Text) => d.Text,
            (Compartment c, PartField.Symbol) => c.Symbol,
            (Definition d, PartField.Symbol) => d.Symbol,
            (Compartment c, PartField.Label) => c.Label,
            (Flow f, PartField.Label) => f.Label,
            (Definition d, PartField.Label) => d.Label,
            _ => null,
        };
        var name = part is Flow flow ? before.Describe(flow) : part?.Name ?? "part";
        return was is null ? $"{name}: {Field.ToString().ToLowerInvariant()}" : $"{name}: {Short(was)} → {Short(Value.Trim())}";
    }

    private static string Short(string text) => text.Length == 0 ? "empty" : text.Length <= 30 ? text : text[..29] + "…";
}

/// <summary>Puts a plate somewhere else on the paper.</summary>
public sealed record MovePlate(string PartId, double X, double Y) : Edit
{
    /// <summary>Plates stay within this distance of the paper's origin, so that a wild gesture cannot lose them.</summary>
    public const double Reach = 4000;

    public override EditResult Apply(StudyDocument document)
    {
        if (!double.IsFinite(X) || !double.IsFinite(Y)) return EditResult.Refused("A place on the paper is two numbers.");
        if (document.Compartment(PartId) is null) return EditResult.Refused("This compartment is no longer in the study.");
        return document with
        {
            Compartments = document.Compartments.Change(PartId, part => part with { X = Math.Clamp(Math.Round(X), -Reach, Reach), Y = Math.Clamp(Math.Round(Y), -Reach, Reach) }),
        };
    }

    public override string Describe(StudyDocument before) => $"{before.Compartment(PartId)?.Symbol}: moved";
}

/// <summary>Takes a part out of the study; a compartment takes its flows with it. What used it is marked, not changed.</summary>
public sealed record RemovePart(string PartId) : Edit
{
    public override EditResult Apply(StudyDocument document)
    {
        if (document.Parts.All(part => part.Id != PartId)) return EditResult.Refused("This part is no longer in the study.");
        var flows = document.Flows.RemoveAll(flow => flow.Id == PartId || flow.From == PartId || flow.To == PartId);
        return document with
        {
            Compartments = document.Compartments.RemoveAll(part => part.Id == PartId),
            Flows = flows,
            Definitions = document.Definitions.RemoveAll(part => part.Id == PartId),
        };
    }

    public override string Describe(StudyDocument before)
    {
        var part = before.Parts.FirstOrDefault(candidate => candidate.Id == PartId);
        return $"removed {(part is Flow flow ? before.Describe(flow) : part?.Name)}";
    }
}

internal static class PartLists
{
    /// <summary>The list with the part of this id changed; the same list where no part has it.</summary>
    public static ImmutableArray<T> Change<T>(this ImmutableArray<T> parts, string id, Func<T, T> change) where T : class, IPart
    {
        for (var k = 0; k < parts.Length; k++)
        {
            if (parts[k].Id == id) return parts.SetItem(k, change(parts[k]));
        }
        return parts;
    }
}
