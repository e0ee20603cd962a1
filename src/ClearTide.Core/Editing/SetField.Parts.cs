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

/// <summary>What a field of each kind of part takes.</summary>
public sealed partial record SetField
{
    private Compartment Of(Compartment part, string value) =>
        Field switch
        {
            PartField.Label => part with { Label = value },
            PartField.Note => part with { Note = value },
            PartField.Unit => part with { Unit = value },
            PartField.Start => part with { Start = value, Origin = value == part.Start ? part.Origin : Origin.Guess },
            PartField.Next => part with { Next = value },
            PartField.Origin => part with { Origin = Choice<Origin>(value) },
            PartField.NeverBelowZero => part with { NeverBelowZero = Truth(value) },
            PartField.WholeUnits => part with { WholeUnits = Truth(value) },
            PartField.Colour => part with
            {
                Colour =
                    int.TryParse(value, NumberStyles.None, CultureInfo.InvariantCulture, out var colour) && colour is >= 0 and <= 10
                        ? colour
                        : throw new RefusedException("A colour is a number from 1 to 10 of the palette, or 0 for the one of its place."),
            },
            _ => throw NoField(),
        };

    private Definition Of(Definition part, string value) =>
        Field switch
        {
            PartField.Label => part with { Label = value },
            PartField.Note => part with { Note = value },
            PartField.Unit => part with { Unit = value },
            PartField.Text => part with { Text = value, Origin = value == part.Text ? part.Origin : Origin.Guess },
            PartField.Origin => part with { Origin = Choice<Origin>(value) },
            PartField.Lower => part with { Lower = value },
            PartField.Upper => part with { Upper = value },
            _ => throw NoField(),
        };

    private EditResult Of(StudyDocument document, Flow part, string value)
    {
        switch (Field)
        {
            case PartField.Label:
                return document.With(part with { Label = value });
            case PartField.Note:
                return document.With(part with { Note = value });
            case PartField.Origin:
                return document.With(part with { Origin = Choice<Origin>(value) });
            case PartField.Limited:
                return document.With(part with { Limited = Truth(value) });
            case PartField.SpreadStart:
                return document.With(part with { SpreadStart = Truth(value) });
            case PartField.Stages:
                var known = double.TryParse(value, NumberStyles.Float, CultureInfo.InvariantCulture, out var stages);
                return (known ? QuickLine.StageRefusal(stages) : "How many stages? Type a whole number, 1 for none.") is { } refusal
                    ? EditResult.Refused(refusal)
                    : document.With(part with { Stages = (int)stages });
            case PartField.Rate:
                var rate = RateLine.Read(value, part.Kind);
                if (rate.Stages is { } count && QuickLine.StageRefusal(count) is { } wrong)
                    return EditResult.Refused(wrong);
                var same = rate.Line == part.Rate && rate.Kind == part.Kind;
                return document.With(
                    part with
                    {
                        Kind = rate.Kind,
                        Rate = rate.Line,
                        Stages = rate.Stages ?? part.Stages,
                        Limited = rate.Limited || part.Limited,
                        Origin = same ? part.Origin : Origin.Guess,
                    }
                );
            case PartField.RateKind:
                return document.With(part with { Kind = Choice<RateKind>(value) });
            case PartField.Share when At >= 0 && At < part.To.Length:
                var share = value is "the rest" ? "" : value;
                return document.With(part with { To = part.To.SetItem(At, part.To[At] with { Share = share }) });
            case PartField.Target or PartField.Source:
                return FlowEnds.Change(document, part, Field == PartField.Source ? -1 : At, value);
            default:
                throw NoField();
        }
    }

    private Input Of(StudyDocument document, Input part, string value) =>
        Field switch
        {
            PartField.Label => part with { Label = value },
            PartField.Note => part with { Note = value },
            PartField.Unit => part with { Unit = value },
            PartField.Points => WithPoints(document, part, value),
            PartField.Between => part with { Between = Choice<Between>(value) },
            PartField.Before => part with { Before = Choice<Beyond>(value) },
            PartField.After => part with { After = Choice<Beyond>(value), AfterIsChosen = true },
            PartField.Period => part with { Period = value },
            _ => throw NoField(),
        };

    /// <summary>Points typed or pasted; the heading of a pasted table gives label and unit where there was none.</summary>
    private static Input WithPoints(StudyDocument document, Input part, string value)
    {
        var table = PastedTable.Read(value, document.UnitTable());
        if (table.Problem is not null)
            throw new RefusedException(table.Problem);
        return part with
        {
            Points = table.Points,
            Label = table.Label is not null && part.Label == part.Symbol ? table.Label : part.Label,
            Unit = table.Unit is not null && part.Unit.Length == 0 ? table.Unit : part.Unit,
        };
    }

    private ResponseCurve Of(StudyDocument document, ResponseCurve part, string value)
    {
        switch (Field)
        {
            case PartField.Label:
                return part with { Label = value };
            case PartField.Note:
                return part with { Note = value };
            case PartField.Unit:
                return part with { Unit = value };
            case PartField.ArgumentUnit:
                return part with { ArgumentUnit = value };
            case PartField.Between:
                return part with { Between = Choice<Between>(value) };
            case PartField.Law:
                return CurveLaws.Change(part, Choice<CurveLaw>(value));
            case PartField.Points:
                var table = PastedTable.Read(value, document.UnitTable());
                if ((table.Problem ?? ResponseCurves.TooFew(table.Points)) is { } problem)
                    throw new RefusedException(problem);
                return part with { Points = table.Points };
            case PartField.Low or PartField.High or PartField.Half or PartField.Slope or PartField.From or PartField.Until:
                return ResponseCurves.WithLine(part, Field, value);
            default:
                throw NoField();
        }
    }

    private Assumption Of(StudyDocument document, Assumption part, string value)
    {
        switch (Field)
        {
            case PartField.Text:
                return part with { Text = Said(value) };
            case PartField.Note:
                return part with { Note = value };
            case PartField.Parts:
                var ids = ImmutableArray.CreateBuilder<string>();
                foreach (var symbol in value.Split([',', ' '], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
                {
                    var tied = document.PartBySymbol(Symbols.Normalize(symbol))
                        ?? document.Part(symbol)
                        ?? throw new RefusedException($"There is no part “{symbol}” to tie this to. Type symbols, separated by commas.");
                    if (!ids.Contains(tied.Id))
                        ids.Add(tied.Id);
                }
                return part with { Parts = ids.ToImmutable() };
            default:
                throw NoField();
        }
    }
}
