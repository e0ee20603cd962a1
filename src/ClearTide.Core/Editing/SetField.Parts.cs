using System.Collections.Immutable;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

/// <summary>Fields that take more than a text: what is typed is read, and may change others beside it.</summary>
public sealed partial record SetField
{
    /// <summary>The document after the change, or null for a field that keeps what is typed.</summary>
    private EditResult? ByRule(StudyDocument document, IPart part, string value) =>
        (part, Field) switch
        {
            (Compartment compartment, PartField.Start) => document.With(
                compartment with
                {
                    Start = value,
                    Origin = value == compartment.Start ? compartment.Origin : Origin.Guess,
                }
            ),
            (Compartment compartment, PartField.Colour) => document.With(compartment with { Colour = Colour(value) }),
            (Definition definition, PartField.Text) => document.With(
                definition with
                {
                    Text = value,
                    Origin = value == definition.Text ? definition.Origin : Origin.Guess,
                }
            ),
            (Flow flow, PartField.Stages) => Stages(document, flow, value),
            (Flow flow, PartField.Noise) => Noise(document, flow, value),
            (Flow flow, PartField.Rate) => Rate(document, flow, value),
            (Flow flow, PartField.Share) when value is "the rest" => document.With(PartKinds.Of(flow).With(flow, PartField.Share, "", At)),
            (Flow flow, PartField.Target or PartField.Source) => FlowEnds.Change(
                document,
                flow,
                Field == PartField.Source ? -1 : At,
                value
            ),
            (Input input, PartField.Points) => document.With(WithPoints(document, input, value)),
            (ResponseCurve curve, PartField.Law) => document.With(CurveLaws.Change(curve, KindField.Choose<CurveLaw>(value))),
            (ResponseCurve curve, PartField.Points) => document.With(WithPoints(document, curve, value)),
            (Assumption assumption, PartField.Parts) => document.With(assumption with { Parts = Tied(document, value) }),
            _ => null,
        };

    private static int Colour(string value) =>
        TypedNumber.ReadWhole(value) is { } colour and <= 10
            ? colour
            : throw new FieldRefusedException("A colour is a number from 1 to 10 of the palette, or 0 for the one of its place.");

    private static EditResult Stages(StudyDocument document, Flow part, string value)
    {
        if (TypedNumber.Read(value) is not { } stages)
            return EditResult.Refused("How many stages? Type a whole number, 1 for none.");
        return QuickLine.StageRefusal(stages) is { } refusal
            ? EditResult.Refused(refusal)
            : document.With(part with { Stages = (int)stages });
    }

    private static EditResult Noise(StudyDocument document, Flow part, string value) =>
        QuickLine.NoiseRefusal(value) is { } refusal ? EditResult.Refused(refusal) : document.With(part with { Noise = value.Trim() });

    private static EditResult Rate(StudyDocument document, Flow part, string value)
    {
        var rate = RateLine.Read(value, part.Kind);
        if (QuickLine.NoiseRefusal(rate.Noise) is { } loud)
            return EditResult.Refused(loud);
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
                Noise = rate.Noise.Length > 0 ? rate.Noise : part.Noise,
                Origin = same ? part.Origin : Origin.Guess,
            }
        );
    }

    /// <summary>Points typed or pasted; the heading of a pasted table gives label and unit where there was none.</summary>
    private static Input WithPoints(StudyDocument document, Input part, string value)
    {
        var table = Table(document, value);
        return part with
        {
            Points = table.Points,
            Label = table.Label is not null && part.Label == part.Symbol ? table.Label : part.Label,
            Unit = table.Unit is not null && part.Unit.Length == 0 ? table.Unit : part.Unit,
        };
    }

    private static ResponseCurve WithPoints(StudyDocument document, ResponseCurve part, string value)
    {
        var table = Table(document, value);
        return ResponseCurves.TooFew(table.Points) is { } problem
            ? throw new FieldRefusedException(problem)
            : part with
            {
                Points = table.Points,
            };
    }

    private static PastedTable Table(StudyDocument document, string value)
    {
        var table = PastedTable.Read(value, document.UnitTable());
        return table.Problem is null ? table : throw new FieldRefusedException(table.Problem);
    }

    private static ImmutableArray<string> Tied(StudyDocument document, string value)
    {
        var ids = ImmutableArray.CreateBuilder<string>();
        foreach (var symbol in value.Split([',', ' '], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
        {
            var tied = document.PartBySymbol(Symbols.Normalize(symbol))
                ?? document.Part(symbol)
                ?? throw new FieldRefusedException($"There is no part “{symbol}” to tie this to. Type symbols, separated by commas.");
            if (!ids.Contains(tied.Id))
                ids.Add(tied.Id);
        }
        return ids.ToImmutable();
    }
}
