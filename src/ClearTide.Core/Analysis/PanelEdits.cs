using System.Collections.Immutable;
using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Analysis;

/// <summary>The panels as they are shown, which an edit begins from: the usual ones where nobody has made any.</summary>
internal static class ShownPanels
{
    public static StudyDocument Settled(StudyDocument document) =>
        document.Panels.IsEmpty ? document with { Panels = Panel.Usual(document) } : document;
}

/// <summary>Adds a panel of a kind, with what it would usually show.</summary>
/// <param name="Kind">What the panel shows.</param>
public sealed record AddPanel(PanelKind Kind) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        document = ShownPanels.Settled(document);
        if (document.Panels.Length >= Panel.Most)
            return EditResult.Refused($"Explore holds at most {Panel.Most} panels. Remove one first.");
        var curve = Kind == PanelKind.Phase ? document.Compartments.FirstOrDefault()?.Id ?? "" : Panel.Passing(document);
        var value = Lowering
            .Lower(document)
            .Network.Values.FirstOrDefault(value => document.Definitions.Any(part => part.Id == value.PartId));
        var range = value is null || value.Value == 0 ? ("0", "1") : (Number(value.Value / 2), Number(value.Value * 2));
        var panel = new Panel("x" + Free(document), Kind)
        {
            Of = curve,
            Against = Panel.Passing(document) is var other && other != curve ? other : document.Compartments.LastOrDefault()?.Id ?? "",
            Address = Kind == PanelKind.Sweep ? value?.Address ?? ValueAddress.None : ValueAddress.None,
            From = Kind == PanelKind.Sweep ? range.Item1 : "",
            To = Kind == PanelKind.Sweep ? range.Item2 : "",
            Runs = Kind == PanelKind.Chance ? UsualChanceRuns : UsualRuns,
        };
        return document with { Panels = document.Panels.Add(panel) };
    }

    /// <summary>Runs that a new panel takes: of a sensitivity, and by chance.</summary>
    private const string UsualRuns = "8192",
        UsualChanceRuns = "1000";

    private static int Free(StudyDocument document) =>
        1 + document.Panels.Select(panel => TypedNumber.ReadWhole(panel.Id[1..]) ?? 0).DefaultIfEmpty(0).Max();

    private static string Number(double value) => TypedNumber.Short(value);

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"panel: {Kind.ToString().ToLowerInvariant()}";
}

/// <summary>Takes a panel away; the last one stays.</summary>
/// <param name="PanelId">Id of the panel.</param>
public sealed record RemovePanel(string PanelId) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        document = ShownPanels.Settled(document);
        return document.Panels.Length == 1
            ? EditResult.Refused("The last panel stays: change what it shows instead.")
            : document with
            {
                Panels = document.Panels.RemoveAll(panel => panel.Id == PanelId),
            };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => "removed a panel";
}

/// <summary>Puts a panel in front of another one, or at the end.</summary>
/// <param name="PanelId">Id of the panel.</param>
/// <param name="By">How many places, below zero for forward.</param>
public sealed record MovePanel(string PanelId, int By) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        document = ShownPanels.Settled(document);
        var at = document.Panels.ToList().FindIndex(panel => panel.Id == PanelId);
        if (at < 0)
            return EditResult.Refused("This panel is no longer there.");
        var panel = document.Panels[at];
        return document with { Panels = document.Panels.RemoveAt(at).Insert(Math.Clamp(at + By, 0, document.Panels.Length - 1), panel) };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => "moved a panel";
}

/// <summary>Sets one field of a panel, by its name in the file of the study.</summary>
/// <param name="PanelId">Id of the panel.</param>
/// <param name="Field">The field, by its name in the file of the study.</param>
/// <param name="Value">The new value as the file would hold it.</param>
public sealed record SetPanel(string PanelId, string Field, string Value) : Edit
{
    private const int Longest = 2000;

    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        document = ShownPanels.Settled(document);
        if (document.Panels.FirstOrDefault(panel => panel.Id == PanelId) is not { } panel)
            return EditResult.Refused("This panel is no longer there.");
        if (Value.Length > Longest)
            return EditResult.Refused($"This has at most {Longest:N0} characters.");
        var value = Value.Trim();
        bool Truth() => value is "true" or "on";
        ImmutableArray<string> Ids() =>
            [
                .. value
                    .Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
                    .Where(id => document.Part(id) is not null || ComputedCurves.Is(id))
                    .Distinct()
                    .Take(60),
            ];
        bool IsNumber() => value.Length == 0 || TypedNumber.Read(value) is not null;
        if (Field == "every" && TableTimes.Every(document, value).Problem is { } wrong)
            return EditResult.Refused(wrong);
        if (Field == "digits" && value.Length > 0 && TypedNumber.ReadWhole(value) is not (>= 1 and <= 17))
            return EditResult.Refused("Digits are a whole number from 1 to 17.");
        if (Field is "minimum" or "maximum" or "level" or "limit" or "spread" && !IsNumber())
            return EditResult.Refused($"“{value}” is no number. Type one, as in 100, or leave it empty.");
        Panel? changed = Field switch
        {
            "title" => panel with { Title = value.Length <= 120 ? value : value[..120] },
            "wide" => panel with { Wide = Truth() },
            "height" when TypedNumber.ReadWhole(value) is { } height => panel with
            {
                Height = height == 0 ? 0 : Math.Clamp(height, Panel.LeastHeight, Panel.MostHeight),
            },
            "data" => panel with { WithoutData = !Truth() },
            "bands" => panel with { Bands = Truth() },
            "curves" => panel with
            {
                Curves = Ids(),
                Second = [.. panel.Second.Where(id => ComputedCurves.Is(id) || Ids().IsEmpty || Ids().Contains(id))],
            },
            "second" => panel with { Second = Ids() },
            "formulas" => panel with { Formulas = Value.Trim('\n', '\r') },
            "log" => panel with { Log = Truth() },
            "shape" when Enum.TryParse<PanelShape>(value, true, out var shape) => panel with { Shape = shape },
            "minimum" => panel with { Minimum = value },
            "maximum" => panel with { Maximum = value },
            "of" => panel with { Of = value },
            "against" => panel with { Against = value },
            "starts" => panel with { Starts = value },
            "address" => WithRange(document, panel, ValueAddress.Read(value)),
            "spacing" when Enum.TryParse<Spacing>(value, true, out var spacing) => panel with { Spacing = spacing },
            "from" => panel with { From = value },
            "to" => panel with { To = value },
            "count" => panel with { Count = value },
            "list" => panel with { List = value },
            "secondAddress" => WithSecondRange(document, panel, ValueAddress.Read(value)),
            "secondFrom" => panel with { SecondFrom = value },
            "secondTo" => panel with { SecondTo = value },
            "secondCount" => panel with { SecondCount = value },
            "outcome" when Enum.TryParse<OutcomeKind>(value, true, out var outcome) => panel with { Outcome = outcome },
            "level" => panel with { Level = value },
            "limit" => panel with { Limit = value },
            "statement" => panel with { Statement = value },
            "method" when Enum.TryParse<SensitivityMethod>(value, true, out var method) => panel with { Method = method },
            "spread" => panel with { Spread = value },
            "runs" => panel with { Runs = value },
            "every" => panel with { Every = value },
            "digits" => panel with { Digits = value },
            _ => null,
        };
        if (Field is "minimum" or "maximum" or "log" && changed is not null && Limits(changed) is { } crossed)
            return EditResult.Refused(crossed);
        if (Field == "height" && changed is null)
            return EditResult.Refused(
                $"A height is a whole number of pixels, from {Panel.LeastHeight} to {Panel.MostHeight}, or 0 for the usual one."
            );
        return changed is null
            ? EditResult.Refused("This panel has no such field.")
            : document with
            {
                Panels = document.Panels.Replace(panel, changed),
            };
    }

    /// <summary>What is wrong with the ends of its upright axis, or null.</summary>
    private static string? Limits(Panel panel)
    {
        var (low, high) = (TypedNumber.Read(panel.Minimum), TypedNumber.Read(panel.Maximum));
        if (low >= high)
            return $"The axis cannot go from {panel.Minimum} to {panel.Maximum}. Type a least value below the most.";
        if (panel.Log && (low <= 0 || high <= 0))
            return "A logarithmic axis has both ends above zero. Type another end, or leave it empty.";
        return null;
    }

    private static (string, string) Range(StudyDocument document, ValueAddress address)
    {
        var network = Lowering.Lower(document).Network;
        var value = network.IndexOf(address) is var index and >= 0 ? network.Values[index].Value : 0;
        string Number(double number) => TypedNumber.Short(number);
        return value == 0 ? ("0", "1") : (Number(value / 2), Number(value * 2));
    }

    private static Panel WithRange(StudyDocument document, Panel panel, ValueAddress address) =>
        address == ValueAddress.None ? panel with { Address = address }
        : Range(document, address) is var (from, to)
            ? panel with
            {
                Address = address,
                Count = panel.Kind == PanelKind.Phase && panel.Count == "21" ? "4" : panel.Count,
                From = from,
                To = to,
            }
        : panel;

    private static Panel WithSecondRange(StudyDocument document, Panel panel, ValueAddress address) =>
        address == ValueAddress.None ? panel with { SecondAddress = address }
        : Range(document, address) is var (from, to) ? panel with { SecondAddress = address, SecondFrom = from, SecondTo = to }
        : panel;

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        $"panel: {Field.ToLowerInvariant()}{(Value.Length is > 0 and <= 30 ? " " + Value.Trim() : "")}";

    /// <inheritdoc/>
    public override string Topic => $"panel {PanelId} {Field}";
}

/// <summary>Adds a slider for a value, or changes the ends of the one there is.</summary>
/// <param name="Address">The value that it moves.</param>
/// <param name="Low">Its lower end, in the unit of the study.</param>
/// <param name="High">Its upper end, above the lower.</param>
/// <param name="Log">Whether it moves by ratios; both ends above zero then.</param>
/// <param name="Step">How far one step goes, at most the whole way; 0 for any.</param>
public sealed record SetSlider(ValueAddress Address, double Low, double High, bool Log, double Step = 0) : Edit
{
    /// <summary>A slider from a quarter to four times a value, or within its bounds where it has them.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="address">The value that the slider is to move.</param>
    public static SetSlider For(StudyDocument document, ValueAddress address)
    {
        var network = Lowering.Lower(document).Network;
        if (network.IndexOf(address) is var index && index < 0)
            return new(address, 0, 1, false);
        var value = network.Values[index].Value;
        var bounds = ValueBounds.Of(document, document.Part(network.Values[index].PartId));
        var (low, high) = (value == 0 ? 0 : Math.Min(value / 4, value * 4), value == 0 ? 1 : Math.Max(value / 4, value * 4));
        return new(address, bounds.Lower ?? low, bounds.Upper ?? high, false);
    }

    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (Lowering.Lower(document).Network.IndexOf(Address) < 0)
            return EditResult.Refused($"There is no value “{Address}” in the model. Choose one from the list.");
        if (!double.IsFinite(Low) || !double.IsFinite(High) || !(High > Low))
            return EditResult.Refused("A slider goes from a lower to a higher number, as in 0.1 and 0.5.");
        if (Log && !(Low > 0))
            return EditResult.Refused("A slider in equal ratios begins above zero.");
        if (!double.IsFinite(Step) || Step < 0 || Step > High - Low)
            return EditResult.Refused($"A step goes into the range: type a number from 0 (as fine as can be) to {High - Low:0.######}.");
        var slider = new Slider(Address, Low, High) { Log = Log, Step = Step };
        var at = document.Sliders.ToList().FindIndex(one => one.Address == Address);
        if (at >= 0)
            return document with { Sliders = document.Sliders.SetItem(at, slider) };
        return document.Sliders.Length >= Slider.Most
            ? EditResult.Refused($"Explore holds at most {Slider.Most} sliders. Remove one first.")
            : document with
            {
                Sliders = document.Sliders.Add(slider),
            };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"slider: {Address}";
}

/// <summary>Takes a slider away; the value stays as it is.</summary>
/// <param name="Address">The value that it moves.</param>
public sealed record RemoveSlider(ValueAddress Address) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document) =>
        document with
        {
            Sliders = document.Sliders.RemoveAll(slider => slider.Address == Address),
        };

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"removed slider {Address}";
}
