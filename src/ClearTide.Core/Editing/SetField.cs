using System.Collections.Immutable;
using System.Globalization;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Stochastic;
using ClearTide.Core.Units;

namespace ClearTide.Core.Editing;

/// <summary>
/// Sets one field of a part to a typed text. A formula with a slip is kept and becomes a finding; what cannot be kept at all is refused.
/// </summary>
/// <param name="At">Which of several it is, for the ends of a flow.</param>
public sealed partial record SetField(string PartId, PartField Field, string Value, int At = 0) : Edit
{
    public const int LongestNote = 4000;
    public const int LongestLabel = 120;

    public override EditResult Apply(StudyDocument document)
    {
        var value = Value.Trim();
        var most = Field switch
        {
            PartField.Note => LongestNote,
            PartField.Points => QuickLine.LongestText,
            _ => FormulaLimits.Characters,
        };
        if (value.Length > most)
            return EditResult.Refused("This text is too long to keep. Shorten it.");
        if (document.Part(PartId) is not { } part)
            return EditResult.Refused("This part is no longer in the study.");
        if (Field == PartField.Symbol)
            return Rename(document, part, Symbols.Normalize(value));
        if (Field == PartField.Label && value.Length > LongestLabel)
            return EditResult.Refused($"A label has at most {LongestLabel} characters; put the rest into the note.");
        try
        {
            return part switch
            {
                Compartment compartment => document.With(Of(compartment, value)),
                Flow flow => Of(document, flow, value),
                Definition definition => document.With(Of(definition, value)),
                Input input => document.With(Of(document, input, value)),
                ResponseCurve curve => document.With(Of(document, curve, value)),
                Reaction reaction => document.With(
                    Field switch
                    {
                        PartField.Label => reaction with { Label = value },
                        PartField.Note => reaction with { Note = value },
                        PartField.Unit => reaction with { Unit = value },
                        PartField.Text => reaction with { Text = value },
                        _ => throw NoField(),
                    }
                ),
                RandomInput random => document.With(
                    Field switch
                    {
                        PartField.Label => random with { Label = value },
                        PartField.Note => random with { Note = value },
                        PartField.Unit => random with { Unit = value },
                        PartField.Text => random with { Text = value },
                        _ => throw NoField(),
                    }
                ),
                EventRule rule => document.With(
                    Field switch
                    {
                        PartField.Label => rule with { Label = value },
                        PartField.Note => rule with { Note = value },
                        PartField.Text => rule with { Text = value },
                        PartField.Priority => rule with { Priority = value },
                        PartField.ValuesAtTrigger => rule with { ValuesAtTrigger = Truth(value) },
                        PartField.Together => rule with { Together = Truth(value) },
                        PartField.ActsAtStart => rule with { ActsAtStart = Truth(value) },
                        PartField.StopsWhenShort => rule with { StopsWhenShort = Truth(value) },
                        PartField.DroppedWhenFalse => rule with { DroppedWhenFalse = Truth(value) },
                        _ => throw NoField(),
                    }
                ),
                Assumption assumption => document.With(Of(document, assumption, value)),
                Expectation expectation => document.With(
                    Field switch
                    {
                        PartField.Text => expectation with { Text = Said(value) },
                        PartField.Note => expectation with { Note = value },
                        _ => throw NoField(),
                    }
                ),
                _ => throw NoField(),
            };
        }
        catch (RefusedException refused)
        {
            return EditResult.Refused(refused.Message);
        }
    }

    /// <summary>Carries a refusal out of the readers below; caught in <see cref="Apply"/>.</summary>
    private sealed class RefusedException(string why) : Exception(why);

    private static RefusedException NoField() => new("This part has no such field.");

    private static bool Truth(string value) => value is "true" or "on" or "yes";

    private static T Choice<T>(string value)
        where T : struct, Enum =>
        Enum.TryParse<T>(value, ignoreCase: true, out var choice) && Enum.IsDefined(choice)
            ? choice
            : throw new RefusedException($"“{value}” is none of {string.Join(", ", Enum.GetNames<T>()).ToLowerInvariant()}.");

    private static string Said(string text) =>
        text.Length is > 0 and <= Assumption.LongestText
            ? text
            : throw new RefusedException($"A statement has between 1 and {Assumption.LongestText} characters.");

    private static EditResult Rename(StudyDocument document, IPart part, string symbol)
    {
        if (part is not ISymbolPart named)
            return EditResult.Refused("This part has no symbol; change its label instead.");
        var old = named.Symbol;
        if (old == symbol)
            return document;
        if (Symbols.Refusal(symbol) is { } refusal)
            return EditResult.Refused(refusal);
        if (document.PartBySymbol(symbol) is not null)
            return EditResult.Refused($"“{symbol}” is already the symbol of another part; choose another.");
        var renamed = LineNames.Rename(document, old, symbol);
        // A label that only repeated the symbol goes with it.
        var label = part.Label == old ? symbol : part.Label;
        return renamed.With(
            renamed.Part(part.Id) switch
            {
                Compartment it => it with { Symbol = symbol, Label = label },
                Reaction it => it with { Symbol = symbol, Label = label },
                Definition it => it with { Symbol = symbol, Label = label },
                Input it => it with { Symbol = symbol, Label = label },
                ResponseCurve it => it with { Symbol = symbol, Label = label },
                RandomInput it => it with { Symbol = symbol, Label = label },
                var other => throw new InvalidOperationException($"A {other?.GetType().Name} has no symbol."),
            }
        );
    }

    public override string Describe(StudyDocument before)
    {
        var part = before.Part(PartId);
        var was = (part, Field) switch
        {
            (Compartment c, PartField.Start) => c.Start,
            (Compartment c, PartField.Next) => c.Next,
            (Flow f, PartField.Rate) => RateLine.Write(f.Kind, f.Rate),
            (Definition d, PartField.Text) => d.Text,
            (Reaction r, PartField.Text) => r.Text,
            (RandomInput r, PartField.Text) => r.Text,
            (EventRule e, PartField.Text) => e.Text,
            (ISymbolPart s, PartField.Symbol) => s.Symbol,
            (ISymbolPart s, PartField.Unit) => s.Unit,
            (not null, PartField.Label) => part.Label,
            _ => null,
        };
        var name = part is null ? "part" : Short(before.Describe(part));
        var field = Field.ToString().ToLowerInvariant();
        return was is null
            ? $"{name}: {field}{(Value.Length is > 0 and <= 30 ? " " + Value.Trim() : "")}"
            : $"{name}: {Short(was)} → {Short(Value.Trim())}";
    }

    public override string Topic => $"{PartId} {Field} {At}";

    private static string Short(string text) =>
        text.Length == 0 ? "empty"
        : text.Length <= 30 ? text
        : text[..29] + "…";
}
