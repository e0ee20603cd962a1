using System.Collections.Immutable;
using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Units;
using ClearTide.Formats.Print;
using ClearTide.Web.Curves;

namespace ClearTide.Web.Diagram;

/// <summary>A compartment's plate, or a reference that shows it a second time.</summary>
/// <param name="Mark">The reference, or null for the plate itself.</param>
public sealed record PlateView(Compartment Part, Reference? Mark, Box Box, int Colour, string Symbol, bool Unfinished)
{
    /// <summary>The lanes of its members, where it is split.</summary>
    public IReadOnlyList<PlateLane> Lanes { get; init; } = [];
}

/// <summary>Words on the paper, in lines.</summary>
public sealed record TextView(PaperText Text, IReadOnlyList<string> Lines, Box Box);

/// <summary>A ribbon with its caption; between folded regions it stands for several flows.</summary>
public sealed record RibbonView(
    Leg Leg,
    IReadOnlyList<Strand> Strands,
    FlowLine Line,
    int Colour,
    string Caption,
    double CaptionSize,
    string Ends,
    bool Unfinished,
    CaptionPlace Place
)
{
    public Flow First => Strands[0].Flow;

    public bool IsBundle => Strands.Count > 1;
}

/// <summary>What the diagram draws, and the part of the paper that holds it.</summary>
public sealed record DiagramModel(
    IReadOnlyList<PlateView> Plates,
    IReadOnlyList<RegionView> Regions,
    IReadOnlyList<RibbonView> Ribbons,
    IReadOnlyList<TextView> Texts,
    Box Content,
    Box Paper
)
{
    public const double UsualCaption = 13.5;

    /// <summary>Height of the second line of a caption, which says the flow at the cursor.</summary>
    public const double AmountLine = 14;

    /// <summary>Captions keep off the ribbons of reactions: this many places on each, and so wide.</summary>
    private const int LegPoints = 12;
    private const double LegWidth = 12;

    /// <summary>Most letters that the flow at the cursor takes up, before its unit of time.</summary>
    private const string WidestAmount = "0000.0000";
    private const int LongestCaption = 26;
    private const int TextColumn = 42;
    private const double TextLine = 15,
        TextSize = 12;
    private const double Margin = 40;
    private const double LeastWidth = 800;
    private const double LeastHeight = 430;

    /// <summary>The document it was drawn from, and which of its parts are unfinished: what looks the same is not drawn again.</summary>
    private (StudyDocument Document, HashSet<string> Unfinished) Source { get; init; }

    /// <summary>Where the parts of reactions come together, with the ribbons between them and the plates.</summary>
    public IReadOnlyList<ReactionView> ReactionNodes { get; init; } = [];

    public IReadOnlyList<(ReactionLeg Leg, FlowLine Line)> ReactionLegs { get; init; } = [];

    /// <summary>All that is to be seen, as a text: two diagrams of one look need no new drawing.</summary>
    public string Look =>
        string.Join(
            '\n',
            Plates
                .Select(plate =>
                    $"{plate.Part.Id} {plate.Mark?.Id} {plate.Symbol} {plate.Part.Label} {plate.Part.Note} {plate.Box} "
                    + $"{plate.Colour} {plate.Unfinished} {plate.Part.Pinned} {PlateLanes.Look(plate.Lanes)}"
                )
                .Concat(
                    Regions.Select(region =>
                        $"{region.Region.Id} {region.Region.Label} {region.Region.Folded} {region.Region.Members.Length} {region.Box} {string.Join(' ', region.Exits)}"
                    )
                )
                .Concat(Texts.Select(text => $"{text.Text.Id} {string.Join('|', text.Lines)} {text.Box}"))
                .Concat(
                    Ribbons.Select(ribbon =>
                        $"{ribbon.Leg.Key} {string.Join(',', ribbon.Strands.Select(strand => strand.Share))} {ribbon.Line} "
                        + $"{ribbon.Colour} {ribbon.Caption} {ribbon.CaptionSize} {ribbon.Ends} {ribbon.First.Label} "
                        + $"{ribbon.First.Note} {ribbon.Unfinished} {ribbon.Place}"
                    )
                )
                .Concat(
                    ReactionNodes.Select(reactionNode =>
                        $"{reactionNode.Part.Id} {reactionNode.Part.Symbol} {reactionNode.Part.Label} {reactionNode.Part.Note} "
                        + $"{reactionNode.Box} {reactionNode.Caption} {reactionNode.Unfinished} {reactionNode.Place}"
                    )
                )
                .Concat(ReactionLegs.Select(leg => $"{leg.Leg.Leg.Key} {leg.Leg.Count} {leg.Leg.Colour} {leg.Line}"))
                .Append(Paper.ToString())
        );

    /// <param name="before">The diagram of the version before, taken over where nothing that it shows has changed.</param>
    public static DiagramModel Of(LoweredModel lowered, DiagramModel? before = null)
    {
        var document = lowered.Study;
        var unfinished = lowered
            .Findings.Where(finding => finding is { Severity: Severity.Unfinished, PartId: not null })
            .Select(finding => finding.PartId!)
            .ToHashSet();
        if (before is not null && SameSheet(before.Source.Document, document) && before.Source.Unfinished.SetEquals(unfinished))
            return before;
        var nodes = DockNode.All(document);
        var texts = document.Texts.Select(text => Text(document, text)).ToList();
        var plates = nodes.Where(node => node.Kind != DockKind.Region).Select(node => Plate(lowered, node, unfinished)).ToList();
        var regions = document
            .Regions.Select(region => new RegionView(
                region,
                region.Folded ? nodes.First(node => node.Id == region.Id).Box : Framed(DockNode.Area(document, region))
            )
            {
                Exits = RegionView.ExitsOf(document, region),
            })
            .ToList();
        var bundles = Bundles(document, nodes);
        var reactionNodes = Diagram.ReactionNodes.Place(document, nodes);
        var legs = reactionNodes
            .SelectMany(reactionNode =>
                Diagram.ReactionNodes.Legs(document, reactionNode.Part, reactionNode.Line, reactionNode.Node, nodes)
            )
            .ToList();
        var lines = FlowGeometry.Lines([.. bundles.Select(bundle => bundle.Leg), .. legs.Select(leg => leg.Leg)], nodes);
        var drawn = bundles
            .Select(bundle =>
                (bundle.Leg, bundle.Strands, Line: lines[bundle.Leg.Key], Caption: Caption(bundle.Strands), Size: Size(bundle.Strands))
            )
            .ToList();
        var taken = nodes
            .Concat(reactionNodes.Select(reactionNode => reactionNode.Node))
            .Select(node => node.Box)
            .Concat(texts.Select(text => text.Box))
            .Concat(regions.Where(region => !region.Region.Folded).Select(Heading))
            .Concat(
                legs.SelectMany(leg =>
                    Enumerable
                        .Range(1, LegPoints)
                        .Select(k => lines[leg.Leg.Key].At(k / (LegPoints + 1.0)))
                        .Select(at => Box.Around(at.X, at.Y, LegWidth, LegWidth))
                )
            );
        var captions = reactionNodes.Select(reactionNode => Diagram.ReactionNodes.Caption(reactionNode.Line, LongestCaption)).ToList();
        var places = CaptionPlacing.Place(
            [
                .. drawn.Select(ribbon => Wish(document, ribbon.Strands, ribbon.Line, ribbon.Caption, ribbon.Size)),
                .. reactionNodes.Select((reactionNode, k) => Wish(document, reactionNode.Node.Box, captions[k])),
            ],
            taken
        );
        var ribbons = drawn
            .Select(
                (ribbon, k) =>
                    new RibbonView(
                        ribbon.Leg,
                        ribbon.Strands,
                        ribbon.Line,
                        Palette.Of(document, ribbon.Strands[0].Flow.From ?? ribbon.Strands[0].Flow.Target),
                        ribbon.Caption,
                        ribbon.Size,
                        string.Join(", ", ribbon.Strands.Take(6).Select(strand => document.Describe(strand.Flow))),
                        ribbon.Strands.Any(strand => unfinished.Contains(strand.Flow.Id)),
                        places[k]
                    )
            )
            .ToList();
        var hull = Box.Hull([
            .. nodes.Select(node => node.Box),
            .. texts.Select(text => text.Box),
            .. regions.Select(region => region.Box),
            .. places.Select(place => place.Box),
            .. lines.Values.SelectMany(line => new[] { new Box(line.X1, line.Y1, 0, 0), new Box(line.X2, line.Y2, 0, 0) }),
        ]);
        var paper =
            document.Compartments.IsEmpty && texts.Count == 0
                ? new Box(0, 0, LeastWidth, LeastHeight)
                : Box.Around(
                    Math.Round(hull.CentreX),
                    Math.Round(hull.CentreY),
                    Math.Max(LeastWidth, hull.Width + 2 * Margin),
                    Math.Max(LeastHeight, hull.Height + 2 * Margin)
                );
        return new(plates, regions, ribbons, texts, hull, paper)
        {
            Source = (document, unfinished),
            ReactionNodes =
            [
                .. reactionNodes.Select(
                    (reactionNode, k) =>
                        new ReactionView(
                            reactionNode.Part,
                            reactionNode.Node.Box,
                            captions[k],
                            unfinished.Contains(reactionNode.Part.Id),
                            places[ribbons.Count + k]
                        )
                ),
            ],
            ReactionLegs = [.. legs.Select(leg => (leg, lines[leg.Leg.Key]))],
        };
    }

    private static bool SameSheet(StudyDocument a, StudyDocument b) =>
        a.Compartments == b.Compartments
        && a.Flows == b.Flows
        && a.Reactions == b.Reactions
        && a.Regions == b.Regions
        && a.Modules == b.Modules
        // What modules offer are quantities.
        && (a.Modules.IsEmpty || a.Definitions == b.Definitions)
        && a.References == b.References
        && a.Texts == b.Texts
        && a.Definitions.Length == b.Definitions.Length
        && a.Groups == b.Groups
        && a.Splits.Select(split => (split.PartId, string.Join(',', split.Groups)))
            .SequenceEqual(b.Splits.Select(split => (split.PartId, string.Join(',', split.Groups))))
        && a.Units == b.Units
        && a.TimeUnit == b.TimeUnit
        && a.Texts.All(text => text.Of is null);

    private static PlateView Plate(LoweredModel lowered, DockNode node, HashSet<string> unfinished)
    {
        var document = lowered.Study;
        var part = document.Compartment(node.Compartments[0])!;
        return new(
            part,
            document.References.FirstOrDefault(mark => mark.Id == node.Id),
            node.Box,
            Palette.Of(document, part.Id),
            MathMl.PlainSymbol(RegionView.SaysModuleOf(document, part) ? ModuleName.Inner(part.Symbol) : part.Symbol),
            unfinished.Contains(part.Id)
        )
        {
            Lanes = node.Kind == DockKind.Compartment ? PlateLanes.Of(lowered, part, node.Box) : [],
        };
    }

    /// <summary>The area of a region with room for its name above.</summary>
    private static Box Framed(Box area) => new(area.X - 22, area.Y - 40, area.Width + 44, area.Height + 62);

    private static Box Heading(RegionView region) =>
        new(region.Box.X, region.Box.Y, Math.Min(region.Box.Width, TypeWidth.Of(region.Region.Label, 13) + 80), 24);

    /// <summary>The ribbons: one for each end of a flow, drawn between the nearest places where its compartments are shown; all that run
    /// between two folded regions, or one and a plate, make one.</summary>
    private static List<(Leg Leg, IReadOnlyList<Strand> Strands)> Bundles(StudyDocument document, IReadOnlyList<DockNode> nodes)
    {
        var shown = nodes.SelectMany(node => node.Compartments.Select(id => (id, node))).ToLookup(pair => pair.id, pair => pair.node);
        var ribbons = new List<(Leg Leg, IReadOnlyList<Strand> Strands)>();
        var bundled = new Dictionary<(string?, string?), List<Strand>>();
        foreach (var flow in document.Flows)
        {
            for (var leg = 0; leg < flow.To.Length; leg++)
            {
                var (from, to) = NearestPair(
                    flow.From is null ? [] : [.. shown[flow.From]],
                    flow.To[leg].Id is { } id ? [.. shown[id]] : []
                );
                if ((from is null && to is null) || from == to)
                    continue;
                var strand = new Strand(flow, leg, PlainShare(document, flow, leg));
                if (from?.Kind == DockKind.Region || to?.Kind == DockKind.Region)
                {
                    if (bundled.TryGetValue((from?.Id, to?.Id), out var others))
                    {
                        others.Add(strand);
                        continue;
                    }
                    var strands = bundled[(from?.Id, to?.Id)] = [strand];
                    ribbons.Add((new($"{from?.Id}-{to?.Id}", from, to), strands));
                }
                else
                    ribbons.Add((new($"{flow.Id}-{leg}", from, to, flow.To[leg].Bend, flow.Open), [strand]));
            }
        }
        return ribbons;
    }

    private static (DockNode? From, DockNode? To) NearestPair(IReadOnlyList<DockNode> from, IReadOnlyList<DockNode> to)
    {
        // Without another end there is nothing to be near to: the plate itself comes first.
        if (from.Count == 0 || to.Count == 0)
            return (from.Count > 0 ? from[0] : null, to.Count > 0 ? to[0] : null);
        return from.SelectMany(a => to.Select(b => (From: a, To: b)))
            .MinBy(pair => Math.Abs(pair.From.Box.CentreX - pair.To.Box.CentreX) + Math.Abs(pair.From.Box.CentreY - pair.To.Box.CentreY));
    }

    private static string Caption(IReadOnlyList<Strand> strands)
    {
        if (strands.Count > 1)
            return $"{strands.Count} flows";
        var (flow, leg) = (strands[0].Flow, strands[0].Leg);
        var rate = flow.Kind switch
        {
            _ when string.IsNullOrWhiteSpace(flow.Rate) => "no rate yet",
            RateKind.PerHead => "at " + PlainPrint.Of(flow.Rate),
            RateKind.MeanStay => "after " + PlainPrint.Of(flow.Rate),
            _ => PlainPrint.Of(flow.Rate),
        };
        var share = flow.To[leg].Share;
        // The first ribbon of a fan-out says the rate, and each its share.
        var part =
            !flow.FansOut ? ""
            : share.Length > 0 ? PlainPrint.Of(share)
            : "the rest";
        var caption =
            !flow.FansOut ? rate
            : leg == 0 ? $"{part}, {rate}"
            : part;
        if (flow.Stages > 1 && leg == 0)
            caption += $" · {flow.Stages} stages";
        return caption.Length > LongestCaption ? caption[..(LongestCaption - 1)] + "…" : caption;
    }

    private static double Size(IReadOnlyList<Strand> strands) =>
        strands[0].Flow.To[strands[0].Leg].CaptionSize is > 0 and var size ? size : UsualCaption;

    private static CaptionWish Wish(StudyDocument document, IReadOnlyList<Strand> strands, FlowLine line, string caption, double size)
    {
        var end = strands[0].Flow.To[strands[0].Leg];
        var (x, y) = line.At(0.5);
        return new(
            line,
            Math.Max(TypeWidth.Of(caption, size), AmountWidth(document)),
            1.25 * size + AmountLine,
            strands.Count == 1 && end.Caption is { } offset ? (x + offset.X, y + offset.Y) : null
        );
    }

    /// <summary>A caption beside a reaction node, as if it stood on a short line through it.</summary>
    private static CaptionWish Wish(StudyDocument document, Box reactionNode, string caption)
    {
        var line = new FlowLine(
            reactionNode.X,
            reactionNode.CentreY,
            reactionNode.X,
            reactionNode.CentreY,
            reactionNode.Right,
            reactionNode.CentreY,
            reactionNode.Right,
            reactionNode.CentreY
        );
        return new(line, Math.Max(TypeWidth.Of(caption, UsualCaption), AmountWidth(document)), 1.25 * UsualCaption + AmountLine, null);
    }

    private static double AmountWidth(StudyDocument document) => TypeWidth.Of($"{WidestAmount} {document.TimeUnit.Each()}", 10.5);

    private static TextView Text(StudyDocument document, PaperText text)
    {
        var lines = new List<string>();
        foreach (var paragraph in (text.Of is { } id ? document.Part(id)?.Note ?? "" : text.Text).Split('\n'))
        {
            var line = "";
            foreach (var word in paragraph.Split(' '))
            {
                if (line.Length > 0 && line.Length + 1 + word.Length > TextColumn)
                {
                    lines.Add(line);
                    line = "";
                }
                line = line.Length == 0 ? word : $"{line} {word}";
            }
            lines.Add(line);
        }
        return new(
            text,
            lines,
            new(text.X, text.Y, Math.Max(20, lines.Max(line => TypeWidth.Of(line, TextSize))), TextLine * lines.Count + 4)
        );
    }

    private static double PlainShare(StudyDocument document, Flow flow, int leg)
    {
        if (!flow.FansOut)
            return 1;
        double? Of(Target target) =>
            Formula.Read(target.Share) is { HasNames: false, Tree: { } tree } ? FormulaBinder.ValueOf(tree, document.UnitTable()) : null;
        if (flow.To[leg].Share.Length > 0)
            return Of(flow.To[leg]) ?? 1;
        return 1 - flow.To.Where(target => target.Share.Length > 0).Sum(target => Of(target) ?? 0);
    }
}
