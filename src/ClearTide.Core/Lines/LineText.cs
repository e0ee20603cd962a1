using System.Globalization;
using ClearTide.Core.Expressions;
using ClearTide.Core.Model;

namespace ClearTide.Core.Lines;

/// <summary>Parts as they would be typed into the quick line: a whole model as text that can be read again.</summary>
public static class LineText
{
    /// <summary>The model, one part a line, in an order in which each line can be added.</summary>
    /// <param name="document">The study; not changed.</param>
    public static string Of(StudyDocument document)
    {
        var lines = document
            .Units.Select(rule => rule.Meaning.Length == 0 ? $"unit {rule.Word}" : $"unit {rule.Word} = {rule.Meaning}")
            .ToList();
        lines.AddRange(document.Groups.Select(group => Of(document, group)));
        lines.AddRange(document.Flows.Select(flow => Of(document, flow)));
        lines.AddRange(document.Compartments.Select(part => Of(document, part)));
        lines.AddRange(document.Parts.Where(part => part is not (Flow or Compartment or Group)).Select(part => Of(document, part)));
        lines.AddRange(document.SymbolParts.SelectMany(part => GroupText.Lines(document, part)));
        lines.AddRange(document.Groups.SelectMany(GroupText.Passages));
        return string.Join("\n", lines.Where(line => line.Length > 0));
    }

    /// <summary>One part as a line; empty where it holds nothing yet.</summary>
    /// <param name="document">The study, for the names of what the line leads to.</param>
    /// <param name="part">A part of any kind.</param>
    public static string Of(StudyDocument document, IPart part) => Lines.Of(document, part);

    private static readonly KindTable<StudyDocument, string> Lines = new KindTable<StudyDocument, string>.Filling()
        .On<Flow>(Of)
        .On<Compartment>(Of)
        .On<Reaction>((_, part) => $"reaction {part.Symbol}: {part.Text}")
        .On<Definition>(
            (document, part) => part.Text.Length == 0 ? "" : $"{part.Symbol}{GroupText.Brackets(document, part.Id)} = {part.Text}"
        )
        .On<Input>((_, part) => $"{part.Symbol} = {Points(part)}")
        .On<ResponseCurve>((_, part) => $"{part.Symbol}(x) = {Curve(part)}")
        .On<RandomInput>((_, part) => $"{part.Symbol} = {part.Text}")
        .On<EventRule>((_, part) => part.Text)
        .On<Assumption>((_, part) => "assume: " + part.Text)
        .On<Expectation>((_, part) => "expect: " + part.Text)
        .On<Group>((_, part) => $"group {part.Symbol} = {string.Join(", ", part.Members.Select(member => member.Symbol))}")
        .Whole();

    /// <summary>An input's table as it is typed.</summary>
    /// <param name="input">The input.</param>
    public static string Points(Input input) =>
        PointsLine.Write(input.Points, input.Between, input.Before, input.AfterIsChosen ? input.After : null, input.Period);

    /// <summary>The ends of a flow as they are typed: <c>R 98%, D</c>.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="flow">The flow.</param>
    public static string Ends(StudyDocument document, Flow flow) =>
        string.Join(
            ", ",
            flow.To.Select(target =>
                $"{GroupText.End(document, target.Id, target.Member) ?? (flow.FansOut ? "outside" : "")} {target.Share}".Trim()
            )
        );

    private static string Of(StudyDocument document, Compartment part)
    {
        var start = part.Start.Length == 0 ? "" : $"{part.Symbol}{GroupText.Brackets(document, part.Id)}(0) = {part.Start}";
        var next = part.Next.Length == 0 ? "" : $"next {part.Symbol} = {part.Next}";
        return string.Join("; ", new[] { start, next }.Where(line => line.Length > 0));
    }

    private static string Of(StudyDocument document, Flow flow)
    {
        var stages = flow.Stages > 1 ? string.Create(CultureInfo.InvariantCulture, $" in {flow.Stages} stages") : "";
        return (
            $"{GroupText.End(document, flow.From, flow.FromMember)} -> {Ends(document, flow)} "
            + $"{RateLine.Write(flow.Kind, flow.Rate)}{stages}{(flow.Limited ? " limited" : "")}"
            + (flow.NoiseIntensity > 0 ? $", noise {flow.Noise}" : "")
        ).Trim();
    }

    private static string Curve(ResponseCurve curve)
    {
        if (curve.Law == CurveLaw.Points)
            return PointsLine.Write(curve.Points, curve.Between, Beyond.Hold, null, "");
        var range = (curve.From.Length > 0 ? $" from {curve.From}" : "") + (curve.Until.Length > 0 ? $" until {curve.Until}" : "");
        return $"{curve.Law.ToString().ToLowerInvariant()}({string.Join(", ", curve.Fields.Select(curve.Line))}){range}";
    }
}
