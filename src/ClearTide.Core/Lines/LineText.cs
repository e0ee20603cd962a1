using System.Globalization;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Lines;

/// <summary>Parts as they would be typed into the quick line: a whole model as text that can be read again.</summary>
public static class LineText
{
    /// <summary>The model, one part a line, in an order in which each line can be added.</summary>
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
    public static string Of(StudyDocument document, IPart part) =>
        part switch
        {
            Flow flow => Of(document, flow),
            Compartment compartment => string.Join(
                "; ",
                new[]
                {
                    compartment.Start.Length == 0
                        ? ""
                        : $"{compartment.Symbol}{GroupText.Brackets(document, compartment.Id)}(0) = {compartment.Start}",
                    compartment.Next.Length == 0 ? "" : $"next {compartment.Symbol} = {compartment.Next}",
                }.Where(line => line.Length > 0)
            ),
            Reaction reaction => $"reaction {reaction.Symbol}: {reaction.Text}",
            Definition definition => definition.Text.Length == 0
                ? ""
                : $"{definition.Symbol}{GroupText.Brackets(document, definition.Id)} = {definition.Text}",
            Input input => $"{input.Symbol} = {Points(input)}",
            ResponseCurve curve => $"{curve.Symbol}(x) = {Curve(curve)}",
            RandomInput random => $"{random.Symbol} = {random.Text}",
            EventRule rule => rule.Text,
            Assumption assumption => "assume: " + assumption.Text,
            Expectation expectation => "expect: " + expectation.Text,
            Group group => $"group {group.Symbol} = {string.Join(", ", group.Members.Select(member => member.Symbol))}",
            _ => "",
        };

    /// <summary>An input's table as it is typed.</summary>
    public static string Points(Input input) =>
        PointsLine.Write(input.Points, input.Between, input.Before, input.AfterIsChosen ? input.After : null, input.Period);

    /// <summary>The ends of a flow as they are typed: <c>R 98%, D</c>.</summary>
    public static string Ends(StudyDocument document, Flow flow) =>
        string.Join(
            ", ",
            flow.To.Select(target =>
                $"{GroupText.End(document, target.Id, target.Member) ?? (flow.FansOut ? "outside" : "")} {target.Share}".Trim()
            )
        );

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
