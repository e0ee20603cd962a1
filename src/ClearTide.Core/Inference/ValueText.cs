using System.Globalization;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Core.Inference;

/// <summary>Writes what a value is to be into the part of a document that holds it.</summary>
internal static class ValueText
{
    /// <param name="document">The study.</param>
    /// <param name="address">Of the value that is written.</param>
    /// <param name="partId">The part that holds it.</param>
    /// <param name="number">A number in the study's units, or a formula.</param>
    /// <param name="origin">Where the value comes from.</param>
    public static StudyDocument Write(StudyDocument document, ValueAddress address, string partId, string number, Origin origin)
    {
        var isNumber = IsNumber(number);
        var unit = document.TimeUnit.Singular;
        var units = document.UnitTable();
        string Rate(RateKind kind) =>
            kind switch
            {
                RateKind.MeanStay when isNumber => $"{number} {unit}",
                RateKind.PerHead when isNumber => $"{number} per {unit}",
                _ => number,
            };
        if (MemberLines.Find(document, partId) is { } one)
        {
            // One member gets a line of its own; what is said for all stays.
            var all = PartKinds.Text(one.Part, MemberLines.FieldOf(one.Part)) ?? "";
            var line = document.SplitOf(one.Part.Id)?.LineOf(one.Member) ?? all;
            var own = one.Part is Flow flow
                ? Rate(flow.Kind)
                : Keep(StartLine.Read(line).Formula.Text, number, units, (one.Part as ISymbolPart)?.Unit ?? "");
            return MemberLines.Set(document, one.Part, one.Member, own).Document ?? document;
        }
        if (address == FreedValues.StartDay && isNumber)
            return document with { Start = double.Parse(number, CultureInfo.InvariantCulture) };
        switch (document.Part(partId))
        {
            case Compartment part when address.Field == ValueField.Next:
                return document.With(part with { Next = Keep(part.Next, number, units) });
            case Compartment part:
                var start = Keep(StartLine.Read(part.Start).Formula.Text, number, units, part.Unit);
                return document.With(
                    part with
                    {
                        Start = address.Field == ValueField.Total ? $"the rest of {start}" : start,
                        Origin = origin,
                    }
                );
            case Flow part when address.Field == ValueField.Share:
                var at = part
                    .To.Select(target => document.Compartment(target.Id)?.Symbol ?? ValueAddress.Outside)
                    .ToList()
                    .IndexOf(address.End);
                return at < 0 ? document : document.With(part with { To = part.To.SetItem(at, part.To[at] with { Share = number }) });
            case Flow part:
                return document.With(part with { Rate = Rate(part.Kind), Origin = origin });
            case Input part when address.Field == ValueField.Point && IsNumber(number):
                var scale = units.ReadAlone(part.Unit).Unit?.Scale ?? 1;
                var point = part.Points[address.Twin - 1] with { Y = double.Parse(number, CultureInfo.InvariantCulture) / scale };
                return document.With(part with { Points = part.Points.SetItem(address.Twin - 1, point) });
            case Definition part:
                return document.With(part with { Text = Keep(part.Text, number, units, part.Unit), Origin = origin });
            case Group part:
                var field = address.Field == ValueField.Stay ? RateKind.MeanStay : RateKind.PerHead;
                return
                    part.Passages.Where(one => one.RateKind == field && IsNumber(Bare(one.Rate))).ElementAtOrDefault(address.Twin - 1)
                        is { } passage
                    ? document.With(part with { Passages = part.Passages.Replace(passage, passage with { Rate = Rate(field) }) })
                    : document;
            case ResponseCurve part when ResponseCurves.FieldOf(address.Field) is { } line && part.Fields.Contains(line):
                return document.With(ResponseCurves.WithLine(part, line, Keep(part.Line(line), number, units)));
            default:
                return document;
        }
    }

    /// <summary>A value typed with a unit keeps it, in the study's own sizes.</summary>
    /// <param name="text">The line as it stands.</param>
    /// <param name="number">What is to stand there.</param>
    /// <param name="units">The unit words of the study.</param>
    /// <param name="own">The unit of the part, in which a bare number is read.</param>
    private static string Keep(string text, string number, UnitTable units, string own = "")
    {
        if (Formula.Read(text).Tree is not { } tree || !IsNumber(number))
            return number;
        if (!tree.Units().Any())
        {
            var scale = FormulaUnits.IsBare(tree) ? units.ReadAlone(own).Unit?.Scale ?? 1 : 1;
            return scale == 1 ? number : TypedNumber.Exact(double.Parse(number, CultureInfo.InvariantCulture) / scale);
        }
        var unit = new FormulaUnits(new(), units, _ => UnitTerm.Pure, _ => null, text, _ => { }).OfLine(tree).Known;
        if (unit.IsPure)
            return number;
        return unit.Agrees(Unit.Pure.Per(units.TimeMeasure)) ? $"{number} per {units.Time.Singular}"
            : unit.Factors.Any(factor => factor.Power > 0) ? $"{number} {unit.Text()}"
            : $"{number} {unit.Text()}".Replace(" 1/", " per ", StringComparison.Ordinal).Replace("/", " per ", StringComparison.Ordinal);
    }

    /// <summary>The number that a line begins with.</summary>
    private static string Bare(string line) => line.Trim().Split(' ')[0];

    private static bool IsNumber(string text) => double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out _);
}
