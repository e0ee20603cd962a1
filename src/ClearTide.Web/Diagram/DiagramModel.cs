using ClearTide.Core.Formulas;
using ClearTide.Core.Models;
using ClearTide.Formats.Print;
using ClearTide.Web.Studies;

namespace ClearTide.Web.Diagram;

public sealed record PlateView(Compartment Part, int Colour, string Symbol, bool Unfinished);

/// <summary>One ribbon of a flow.</summary>
/// <param name="Leg">Which of the flow's ends it leads to.</param>
/// <param name="Share">The share of the flow that goes there, where it is a plain number; else 1.</param>
public sealed record RibbonView(Flow Part, int Leg, double Share, FlowLine Line, int Colour, string Caption, string Ends, bool Unfinished, double CaptionX, double CaptionY, string Anchor);

/// <summary>What the diagram draws: plates, ribbons with captions, and the part of the paper that holds them.</summary>
public sealed record DiagramModel(IReadOnlyList<PlateView> Plates, IReadOnlyList<RibbonView> Ribbons, double Left, double Top, double Width, double Height)
{
    /// <summary>All that is to be seen, as a text: two diagrams of one look need no new drawing.</summary>
    public string Look => string.Join('\n', Plates.Select(plate => $"{plate.Part.Id} {plate.Symbol} {plate.Part.Label} {plate.Part.X} {plate.Part.Y} {plate.Colour} {plate.Unfinished}")
        .Concat(Ribbons.Select(ribbon => $"{ribbon.Part.Id} {ribbon.Share} {ribbon.Line.Path} {ribbon.Colour} {ribbon.Caption} {ribbon.Ends} {ribbon.Part.Label} {ribbon.Unfinished} {ribbon.CaptionX} {ribbon.CaptionY}"))
        .Append($"{Left} {Top} {Width} {Height}"));

    private const double Margin = 40;
    /// <summary>A letter of a caption is about this wide.</summary>
    private const double CaptionLetter = 6.5;
    private const double LeastWidth = 800;
    private const double LeastHeight = 430;

    public static DiagramModel Of(LoweredModel lowered)
    {
        var document = lowered.Document;
        var lines = FlowGeometry.Lines(document);
        var marked = lowered.Findings.Where(finding => finding.Severity == Severity.Unfinished).Select(finding => finding.PartId).ToHashSet();
        var plates = document.Compartments.Select(part => new PlateView(part, Palette.Of(document, part.Id), MathMl.PlainSymbol(part.Symbol), marked.Contains(part.Id))).ToList();
        var ribbons = document.Flows.SelectMany(flow => flow.To.Select((_, leg) => Ribbon(document, flow, leg, lines[flow.Id][leg], marked.Contains(flow.Id)))).ToList();
        if (plates.Count == 0) return new(plates, ribbons, 0, 0, LeastWidth, LeastHeight);
        var captions = ribbons.SelectMany(ribbon => ribbon.Anchor == "start" ? new[] { ribbon.CaptionX, ribbon.CaptionX + CaptionLetter * ribbon.Caption.Length } : [ribbon.CaptionX - 0.5 * CaptionLetter * ribbon.Caption.Length, ribbon.CaptionX + 0.5 * CaptionLetter * ribbon.Caption.Length]);
        var xs = captions.Concat(lines.Values.SelectMany(legs => legs).SelectMany(line => new[] { line.X1, line.X2 })).Concat(document.Compartments.SelectMany(part => new[] { part.X, part.X + PlatePlacing.Width })).ToList();
        var ys = lines.Values.SelectMany(legs => legs).SelectMany(line => new[] { line.Y1, line.Y2 }).Concat(document.Compartments.SelectMany(part => new[] { part.Y, part.Y + PlatePlacing.Height })).ToList();
        var width = Math.Max(LeastWidth, xs.Max() - xs.Min() + 2 * Margin);
        var height = Math.Max(LeastHeight, ys.Max() - ys.Min() + 2 * Margin);
        return new(plates, ribbons, Math.Round((xs.Min() + xs.Max() - width) / 2), Math.Round((ys.Min() + ys.Max() - height) / 2), width, height);
    }

    private static RibbonView Ribbon(StudyDocument document, Flow flow, int leg, FlowLine line, bool unfinished)
    {
        var (x, y) = line.Middle;
        var upright = Math.Abs(line.X2 - line.X1) < 30;
        var slope = upright || Math.Abs(line.Y2 - line.Y1) < 12 ? 0 : Math.Sign(line.Y2 - line.Y1);
        var share = flow.FansOut ? flow.To[leg].Share : "";
        var rate = flow.Kind switch
        {
            RateKind.PerHead => "at " + PlainPrint.Of(flow.Rate),
            RateKind.MeanStay => "after " + PlainPrint.Of(flow.Rate),
            _ => PlainPrint.Of(flow.Rate),
        };
        // The first ribbon of a fan-out says the rate, and each its share.
        var part = !flow.FansOut ? "" : share.Length > 0 ? PlainPrint.Of(share) : "the rest";
        var caption = !flow.FansOut ? rate : leg == 0 ? $"{part}, {rate}" : part;
        if (flow.Stages > 1 && leg == 0) caption += $" · {flow.Stages} stages";
        // Beside a steep ribbon; above a flat or rising one, clear of half the widest ribbon and a line of text; below a falling one.
        return new(flow, leg, PlainShare(document, flow, leg), line, Palette.Of(document, flow.From ?? flow.Target), caption.Length > 26 ? caption[..25] + "…" : caption, document.Describe(flow), unfinished,
            upright ? x + 12 : x - (slope < 0 ? 44 : 0), upright ? y : slope > 0 ? y + 34 : y - 42, upright ? "start" : "middle");
    }

    private static double PlainShare(StudyDocument document, Flow flow, int leg)
    {
        if (!flow.FansOut) return 1;
        double? Of(Target target) => Formula.Read(target.Share) is { HasNames: false, Tree: { } tree } ? FormulaBinder.ValueOf(tree, document.UnitTable()) : null;
        if (flow.To[leg].Share.Length > 0) return Of(flow.To[leg]) ?? 1;
        return 1 - flow.To.Where(target => target.Share.Length > 0).Sum(target => Of(target) ?? 0);
    }
}
