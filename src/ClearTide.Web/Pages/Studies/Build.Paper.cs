using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Storage;
using Microsoft.AspNetCore.Mvc;

namespace ClearTide.Web.Pages.Studies;

/// <summary>What gestures on the diagram's paper post.</summary>
public sealed partial class BuildModel
{
    private const int MostPlaces = 2000;

    private static readonly JsonSerializerOptions Camel = new()
    {
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        Converters = { new System.Text.Json.Serialization.JsonStringEnumConverter(JsonNamingPolicy.CamelCase) },
    };

    /// <summary>What a part is moved by and what it moves; without a part, how compartments move flows.</summary>
    public IActionResult OnGetInfluences(string? partId) =>
        new JsonResult(string.IsNullOrEmpty(partId) ? Influences.OnFlows(Run) : Influences.Of(Run, partId), Camel);

    /// <summary>Plates, references and texts put somewhere else.</summary>
    /// <param name="places">Id, left and top of each, as in <c>c1:120:40;c2:300:40</c>.</param>
    public IActionResult OnPostPlace(long version, string? places, string? how) =>
        Places(places) is { } read
            ? Changed(Save(version, new MoveOnPaper(read, how is "aligned" or "spread" or "arranged" ? how : "moved")))
            : Changed(Refused("A place on the paper is two numbers."));

    public IActionResult OnPostPin(long version, string? partIds, bool pinned) =>
        Changed(Save(version, new PinPlates(Ids(partIds), pinned)));

    public IActionResult OnPostPlate(long version, string? name, double x, double y) =>
        Drawn(Save(version, new AddPlate(name ?? "", x, y)), document => document.Compartments[^1].Id);

    public IActionResult OnPostDrawFlow(long version, string? from, string? to, double? x, double? y) =>
        Drawn(Save(version, new DrawFlow(Known(from), Known(to), Point(x, y))), document => document.Flows[^1].Id);

    public IActionResult OnPostFanOut(long version, string partId, string? to)
    {
        if (Document.Flow(partId) is not { } flow)
            return Changed(Refused("This flow is no longer in the study."));
        return Changed(
            Save(version, new SetField(partId, PartField.Target, Document.Compartment(to)?.Symbol ?? "outside", flow.To.Length))
        );
    }

    public IActionResult OnPostLead(long version, string partId, int leg, string? to) =>
        Changed(Save(version, new SetField(partId, PartField.Target, Document.Compartment(to)?.Symbol ?? "outside", leg)));

    public IActionResult OnPostShape(long version, string partId, int leg, RibbonShape shape, double? x, double? y, int size) =>
        Changed(Save(version, new ShapeRibbon(partId, leg, shape, Point(x, y), size)));

    public IActionResult OnPostRegion(long version, string? label, string? partIds) =>
        Changed(Save(version, new AddRegion(label ?? "", Ids(partIds))));

    public IActionResult OnPostFold(long version, string regionId, bool folded) =>
        Changed(Save(version, new ChangeRegion(regionId, Folded: folded)));

    public IActionResult OnPostRenameRegion(long version, string regionId, string? label) =>
        Changed(Save(version, new ChangeRegion(regionId, Label: label ?? "")));

    public IActionResult OnPostDissolve(long version, string regionId) => Changed(Save(version, new ChangeRegion(regionId, Members: [])));

    public IActionResult OnPostReference(long version, string partId, double x, double y) =>
        Changed(Save(version, new AddReference(partId, x, y)));

    public IActionResult OnPostText(long version, string? textId, string? text, double x, double y) =>
        Changed(Save(version, new WriteText(Known(textId), text ?? "", x, y)));

    public IActionResult OnPostNote(long version, string partId, double x, double y) => Changed(Save(version, new PinNote(partId, x, y)));

    public IActionResult OnPostRemoveMark(long version, string markId) => Changed(Save(version, new RemoveMark(markId)));

    /// <summary>Tells the page which part was drawn, so that its line opens.</summary>
    private PartialViewResult Drawn(SaveResult result, Func<StudyDocument, string> id)
    {
        if (result is { Outcome: SaveOutcome.Saved, State.Document: { } document })
            Response.Headers["HX-Trigger-After-Settle"] = JsonSerializer.Serialize(new { drawn = new { part = id(document) } });
        return Changed(result);
    }

    private static string? Known(string? id) => string.IsNullOrEmpty(id) ? null : id;

    private static Offset? Point(double? x, double? y) => x is { } left && y is { } top ? new(left, top) : null;

    private static ImmutableArray<PaperPlace>? Places(string? text)
    {
        var places = ImmutableArray.CreateBuilder<PaperPlace>();
        foreach (var one in (text ?? "").Split(';', StringSplitOptions.RemoveEmptyEntries).Take(MostPlaces))
        {
            if (
                one.Split(':') is not [var id, var left, var top]
                || TypedNumber.Read(left) is not { } x
                || TypedNumber.Read(top) is not { } y
            )
                return null;
            places.Add(new(id, x, y));
        }
        return places.Count == 0 ? null : places.ToImmutable();
    }
}
