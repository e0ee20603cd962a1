using System.Collections.Frozen;
using System.Collections.Immutable;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using static ClearTide.Core.Model.KindField;

namespace ClearTide.Core.Model;

/// <summary>The kinds of parts that a study can hold.</summary>
public static class PartKinds
{
    private static readonly PartKind<Compartment> Compartments = new(
        _ => "a compartment",
        document => document.Compartments,
        (document, parts) => document with { Compartments = parts },
        Text<Compartment>(PartField.Symbol, part => part.Symbol, (part, value) => part with { Symbol = value }),
        Text<Compartment>(PartField.Label, part => part.Label, (part, value) => part with { Label = value }),
        Text<Compartment>(PartField.Note, part => part.Note, (part, value) => part with { Note = value }),
        Text<Compartment>(PartField.Unit, part => part.Unit, (part, value) => part with { Unit = value }),
        Line<Compartment>(PartField.Start, LineForm.Start, part => part.Start, (part, value) => part with { Start = value }),
        Line<Compartment>(PartField.Next, LineForm.Formula, part => part.Next, (part, value) => part with { Next = value }),
        Choice<Compartment, Origin>(PartField.Origin, part => part.Origin, (part, value) => part with { Origin = value }),
        Switch<Compartment>(PartField.NeverBelowZero, part => part.NeverBelowZero, (part, value) => part with { NeverBelowZero = value }),
        Switch<Compartment>(PartField.WholeUnits, part => part.WholeUnits, (part, value) => part with { WholeUnits = value })
    );

    private static readonly PartKind<Reaction> Reactions = new(
        _ => "a reaction",
        document => document.Reactions,
        (document, parts) => document with { Reactions = parts },
        Text<Reaction>(PartField.Symbol, part => part.Symbol, (part, value) => part with { Symbol = value }),
        Text<Reaction>(PartField.Label, part => part.Label, (part, value) => part with { Label = value }),
        Text<Reaction>(PartField.Note, part => part.Note, (part, value) => part with { Note = value }),
        Text<Reaction>(PartField.Unit, part => part.Unit, (part, value) => part with { Unit = value }),
        Line<Reaction>(PartField.Text, LineForm.Reaction, part => part.Text, (part, value) => part with { Text = value })
    );

    private static readonly PartKind<Definition> Definitions = new(
        part => Formula.Read(part.Text).HasNames ? "a quantity" : "a parameter",
        document => document.Definitions,
        (document, parts) => document with { Definitions = parts },
        Text<Definition>(PartField.Symbol, part => part.Symbol, (part, value) => part with { Symbol = value }),
        Text<Definition>(PartField.Label, part => part.Label, (part, value) => part with { Label = value }),
        Text<Definition>(PartField.Note, part => part.Note, (part, value) => part with { Note = value }),
        Text<Definition>(PartField.Unit, part => part.Unit, (part, value) => part with { Unit = value }),
        Line<Definition>(PartField.Text, LineForm.Formula, part => part.Text, (part, value) => part with { Text = value }),
        Choice<Definition, Origin>(PartField.Origin, part => part.Origin, (part, value) => part with { Origin = value }),
        Text<Definition>(PartField.Lower, part => part.Lower, (part, value) => part with { Lower = value }),
        Text<Definition>(PartField.Upper, part => part.Upper, (part, value) => part with { Upper = value })
    );

    private static readonly PartKind<Input> Inputs = new(
        _ => "an input",
        document => document.Inputs,
        (document, parts) => document with { Inputs = parts },
        Text<Input>(PartField.Symbol, part => part.Symbol, (part, value) => part with { Symbol = value }),
        Text<Input>(PartField.Label, part => part.Label, (part, value) => part with { Label = value }),
        Text<Input>(PartField.Note, part => part.Note, (part, value) => part with { Note = value }),
        Text<Input>(PartField.Unit, part => part.Unit, (part, value) => part with { Unit = value }),
        Text<Input>(PartField.Period, part => part.Period, (part, value) => part with { Period = value }),
        Choice<Input, Between>(PartField.Between, part => part.Between, (part, value) => part with { Between = value }),
        Choice<Input, Beyond>(PartField.Before, part => part.Before, (part, value) => part with { Before = value }),
        Choice<Input, Beyond>(PartField.After, part => part.After, (part, value) => part with { After = value, AfterIsChosen = true })
    );

    private static readonly PartKind<ResponseCurve> Curves = new(
        _ => "a response curve",
        document => document.Curves,
        (document, parts) => document with { Curves = parts },
        Text<ResponseCurve>(PartField.Symbol, part => part.Symbol, (part, value) => part with { Symbol = value }),
        Text<ResponseCurve>(PartField.Label, part => part.Label, (part, value) => part with { Label = value }),
        Text<ResponseCurve>(PartField.Note, part => part.Note, (part, value) => part with { Note = value }),
        Text<ResponseCurve>(PartField.Unit, part => part.Unit, (part, value) => part with { Unit = value }),
        Text<ResponseCurve>(PartField.ArgumentUnit, part => part.ArgumentUnit, (part, value) => part with { ArgumentUnit = value }),
        Choice<ResponseCurve, Between>(PartField.Between, part => part.Between, (part, value) => part with { Between = value }),
        Line<ResponseCurve>(PartField.Low, LineForm.Formula, part => part.Low, (part, value) => part with { Low = value }),
        Line<ResponseCurve>(PartField.High, LineForm.Formula, part => part.High, (part, value) => part with { High = value }),
        Line<ResponseCurve>(PartField.Half, LineForm.Formula, part => part.Half, (part, value) => part with { Half = value }),
        Line<ResponseCurve>(PartField.Slope, LineForm.Formula, part => part.Slope, (part, value) => part with { Slope = value }),
        Text<ResponseCurve>(PartField.From, part => part.From, (part, value) => part with { From = value }),
        Text<ResponseCurve>(PartField.Until, part => part.Until, (part, value) => part with { Until = value })
    );

    private static readonly PartKind<RandomInput> RandomInputs = new(
        _ => "a random input",
        document => document.RandomInputs,
        (document, parts) => document with { RandomInputs = parts },
        Text<RandomInput>(PartField.Symbol, part => part.Symbol, (part, value) => part with { Symbol = value }),
        Text<RandomInput>(PartField.Label, part => part.Label, (part, value) => part with { Label = value }),
        Text<RandomInput>(PartField.Note, part => part.Note, (part, value) => part with { Note = value }),
        Text<RandomInput>(PartField.Unit, part => part.Unit, (part, value) => part with { Unit = value }),
        Line<RandomInput>(PartField.Text, LineForm.Draw, part => part.Text, (part, value) => part with { Text = value })
    );

    private static readonly PartKind<Flow> Flows = new(
        _ => "a flow",
        document => document.Flows,
        (document, parts) => document with { Flows = parts },
        Text<Flow>(PartField.Label, part => part.Label, (part, value) => part with { Label = value }),
        Text<Flow>(PartField.Note, part => part.Note, (part, value) => part with { Note = value }),
        Line<Flow>(PartField.Rate, LineForm.Formula, part => part.Rate, (part, value) => part with { Rate = value }),
        Choice<Flow, RateKind>(PartField.RateKind, part => part.Kind, (part, value) => part with { Kind = value }),
        Choice<Flow, Origin>(PartField.Origin, part => part.Origin, (part, value) => part with { Origin = value }),
        Switch<Flow>(PartField.Limited, part => part.Limited, (part, value) => part with { Limited = value }),
        Text<Flow>(PartField.Noise, part => part.Noise, (part, value) => part with { Noise = value }),
        Switch<Flow>(PartField.SpreadStart, part => part.SpreadStart, (part, value) => part with { SpreadStart = value }),
        new(
            PartField.Share,
            (part, at) => part.To[at].Share,
            (part, at, value) => part with { To = part.To.SetItem(at, part.To[at] with { Share = value }) },
            LineForm.Formula
        )
        {
            Count = part => part.To.Length,
        }
    );

    private static readonly PartKind<EventRule> Events = new(
        _ => "an event",
        document => document.Events,
        (document, parts) => document with { Events = parts },
        Text<EventRule>(PartField.Label, part => part.Label, (part, value) => part with { Label = value }),
        Text<EventRule>(PartField.Note, part => part.Note, (part, value) => part with { Note = value }),
        Line<EventRule>(PartField.Text, LineForm.Event, part => part.Text, (part, value) => part with { Text = value }),
        Line<EventRule>(PartField.Priority, LineForm.Formula, part => part.Priority, (part, value) => part with { Priority = value }),
        Switch<EventRule>(PartField.ValuesAtTrigger, part => part.ValuesAtTrigger, (part, value) => part with { ValuesAtTrigger = value }),
        Switch<EventRule>(PartField.Together, part => part.Together, (part, value) => part with { Together = value }),
        Switch<EventRule>(PartField.ActsAtStart, part => part.ActsAtStart, (part, value) => part with { ActsAtStart = value }),
        Switch<EventRule>(PartField.StopsWhenShort, part => part.StopsWhenShort, (part, value) => part with { StopsWhenShort = value }),
        Switch<EventRule>(
            PartField.DroppedWhenFalse,
            part => part.DroppedWhenFalse,
            (part, value) => part with { DroppedWhenFalse = value }
        )
    );

    private static readonly PartKind<Assumption> Assumptions = new(
        _ => "an assumption",
        document => document.Assumptions,
        (document, parts) => document with { Assumptions = parts },
        Text<Assumption>(PartField.Text, part => part.Text, (part, value) => part with { Text = Said(value) }),
        Text<Assumption>(PartField.Note, part => part.Note, (part, value) => part with { Note = value })
    );

    private static readonly PartKind<Expectation> Expectations = new(
        _ => "an expectation",
        document => document.Expectations,
        (document, parts) => document with { Expectations = parts },
        Line<Expectation>(PartField.Text, LineForm.Expectation, part => part.Text, (part, value) => part with { Text = Said(value) }),
        Text<Expectation>(PartField.Note, part => part.Note, (part, value) => part with { Note = value })
    );

    private static readonly PartKind<Group> Groups = new(
        _ => "a group",
        document => document.Groups,
        (document, parts) => document with { Groups = parts },
        Text<Group>(PartField.Symbol, part => part.Symbol, (part, value) => part with { Symbol = value }),
        Text<Group>(PartField.Label, part => part.Label, (part, value) => part with { Label = value }),
        Text<Group>(PartField.Note, part => part.Note, (part, value) => part with { Note = value })
    );

    /// <summary>Kinds whose parts have a symbol, in the order of the ledger.</summary>
    internal static readonly ImmutableArray<PartKind> Named = [Compartments, Reactions, Definitions, Inputs, Curves, RandomInputs];

    /// <summary>All kinds, in the order of the ledger.</summary>
    public static readonly ImmutableArray<PartKind> All = [.. Named, Flows, Events, Assumptions, Expectations, Groups];

    private static readonly FrozenDictionary<Type, PartKind> ByType = All.ToFrozenDictionary(kind => kind.PartType);

    /// <summary>The kind of a part.</summary>
    /// <param name="part">Any part of a study.</param>
    /// <exception cref="ArgumentException">It is no part of a study.</exception>
    public static PartKind Of(IPart part) =>
        ByType.GetValueOrDefault(part.GetType())
        ?? throw new ArgumentException($"A {part.GetType().Name} is no part of a study.", nameof(part));

    /// <summary>What a part is called, with its article: “a quantity”.</summary>
    /// <param name="part">The part.</param>
    public static string Noun(IPart part) => Of(part).Noun(part);

    /// <summary>The text in a field of a part as typed, or null where it has no such field.</summary>
    /// <param name="part">Any part of a study.</param>
    /// <param name="field">Any field.</param>
    /// <param name="at">Which of several it is, for the ends of a flow.</param>
    public static string? Text(IPart part, PartField field, int at = 0) => Of(part).Text(part, field, at);

    private static string Said(string text) =>
        text.Length is > 0 and <= Assumption.LongestText
            ? text
            : throw new FieldRefusedException($"A statement has between 1 and {Assumption.LongestText} characters.");
}
