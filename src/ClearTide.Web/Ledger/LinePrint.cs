using System.Net;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Formats.Print;

namespace ClearTide.Web.Ledger;

/// <summary>The main line of each kind of part in print.</summary>
public static class LinePrint
{
    public static string Of(StudyDocument document, IPart part) => Lines.Of(document, part);

    private static readonly KindTable<StudyDocument, string> Lines = new KindTable<StudyDocument, string>.Filling()
        .On<Compartment>((_, part) => Start(part))
        .On<Flow>((_, part) => Rate(part))
        .On<Definition>((_, part) => Formulas(part.Text))
        .On<Input>((_, part) => WebUtility.HtmlEncode($"{part.Points.Length} points, {Words(part)}"))
        .On<ResponseCurve>((_, part) => WebUtility.HtmlEncode(Curve(part)))
        .On<Reaction>((_, part) => Reaction(part.Text))
        .On<RandomInput>((_, part) => WebUtility.HtmlEncode(part.Text))
        .On<Group>((_, part) => WebUtility.HtmlEncode(string.Join(", ", part.Members.Select(member => member.Name))))
        .On<EventRule>((_, part) => part.Label.Length > 0 ? WebUtility.HtmlEncode(part.Text) : "")
        // A statement is its own name, which the line begins with.
        .On<Assumption>((_, _) => "")
        .On<Expectation>((_, _) => "")
        .Whole();

    private static string Curve(ResponseCurve part) =>
        part.Law == CurveLaw.Points
            ? $"{part.Points.Length} points"
            : $"{part.Law.ToString().ToLowerInvariant()}({string.Join(", ", part.Fields.Select(part.Line))})";

    private static string Words(Input input) =>
        input.After switch
        {
            Beyond.Repeat => "every "
                + $"{(input.Period.Length > 0 ? input.Period : NumberWords.Of(TableFunction.UsualPeriod(input.Points, input.Between)))}",
            Beyond.Zero => "then zero",
            Beyond.Trend => "then its trend",
            _ => "then holds",
        };

    private static string Formulas(string text) =>
        Formula.Read(text).Tree is { } tree ? MathMl.Of(tree) : $"<code>{WebUtility.HtmlEncode(text)}</code>";

    private static string Start(Compartment part)
    {
        var start = StartLine.Read(part.Start);
        if (start.AtEquilibrium)
            return WebUtility.HtmlEncode(part.Start);
        return start.Formula.Tree is not { } tree ? Formulas(part.Start) : (start.TheRest ? "the rest of " : "") + MathMl.Of(tree);
    }

    private static string Reaction(string text)
    {
        if (ReactionLine.Read(text).Line is not { } line)
            return $"<code>{WebUtility.HtmlEncode(text)}</code>";
        return $"<math>{ReactionPrint.MathMl(line)}</math> : {MathMl.Of(line.Rate)}";
    }

    private static string Rate(Flow flow) =>
        flow.Kind switch
        {
            RateKind.PerHead => "at " + Formulas(flow.Rate),
            RateKind.MeanStay => "after " + Formulas(flow.Rate),
            _ => Formulas(flow.Rate),
        }
        + (flow.Stages > 1 ? $" · {flow.Stages} stages" : "")
        + (flow.Limited ? " · limited" : "")
        + (flow.NoiseIntensity > 0 ? $" · noise {flow.Noise}" : "");
}
