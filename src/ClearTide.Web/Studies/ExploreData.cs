using System.Buffers;
using System.Globalization;
using System.Text;
using System.Text.Json;
using ClearTide.Core.Data;
using ClearTide.Core.Exploration;
using ClearTide.Core.Models;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Tables;

namespace ClearTide.Web.Studies;

/// <summary>What the panels of Explore are drawn from.</summary>
public static class ExploreData
{
    /// <summary>The curves that panels can show.</summary>
    public static IReadOnlyList<(string Id, string Kind, string Name)> Curves(LoweredModel lowered) =>
    [
        .. lowered.Form.Amounts.Select(one => (one.PartId, "compartment", one.Symbol)),
        .. lowered.Document.Flows.Select(flow => (flow.Id, "flow", lowered.Document.Describe(flow))),
        .. lowered.Form.Quantities.Select(one => (one.PartId, lowered.Document.Part(one.PartId) is Reaction ? "flow" : "quantity", one.Symbol)),
    ];

    /// <summary>A run with what each panel makes of it: formulas over its results, budgets, readings.</summary>
    public static string Json(StudyRun run, IReadOnlyList<Panel> panels, DataSet? data)
    {
        var buffer = new ArrayBufferWriter<byte>(1 << 16);
        using (var json = new Utf8JsonWriter(buffer))
        {
            json.WriteStartObject();
            json.WritePropertyName("run");
            json.WriteRawValue(RunData.Json(run, data), skipInputValidation: true);
            json.WriteStartObject("panels");
            foreach (var panel in panels)
            {
                json.WriteStartObject(panel.Id);
                if (panel.Kind is PanelKind.Curves or PanelKind.Table) Formulas(json, run, panel);
                if (panel.Kind == PanelKind.Budget) Terms(json, run, panel);
                json.WriteEndObject();
            }
            json.WriteEndObject();
            json.WriteEndObject();
        }
        return Encoding.UTF8.GetString(buffer.WrittenSpan);
    }

    private static IEnumerable<string> Lines(Panel panel) => panel.Formulas.Split('\n', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries).Take(12);

    private static void Formulas(Utf8JsonWriter json, StudyRun run, Panel panel)
    {
        json.WriteStartArray("formulas");
        foreach (var line in Lines(panel))
        {
            var column = ResultFormula.Of(run, line);
            json.WriteStartObject();
            json.WriteString("name", column.Name);
            json.WriteString("problem", column.Problem);
            Numbers(json, "values", column.Values);
            json.WriteEndObject();
        }
        json.WriteEndArray();
    }

    private static void Terms(Utf8JsonWriter json, StudyRun run, Panel panel)
    {
        if (Budget.Of(run, panel.Of) is not { } budget)
        {
            json.WriteString("problem", run.Lowered.Document.Compartment(panel.Of) is null ? "The compartment of this budget is no longer in the model. Choose another one." : run.Failure);
            return;
        }
        json.WriteString("symbol", budget.Symbol);
        json.WriteStartArray("terms");
        foreach (var term in budget.Terms)
        {
            json.WriteStartObject();
            json.WriteString("id", term.FlowId);
            json.WriteString("name", term.Name);
            json.WriteNumber("colour", Palette.Of(run.Lowered.Document, Other(run.Lowered.Document, term.FlowId, panel.Of)));
            Numbers(json, "values", term.Values);
            json.WriteEndObject();
        }
        json.WriteEndArray();
        json.WriteStartArray("turns");
        foreach (var turn in budget.Turns)
        {
            json.WriteStartObject();
            json.WriteNumber("time", turn.Time);
            json.WriteString("words", turn.Words);
            json.WriteEndObject();
        }
        json.WriteEndArray();
    }

    /// <summary>A flow in a budget is known by what lies at its other end.</summary>
    private static string? Other(StudyDocument document, string flowId, string partId) =>
        document.Part(flowId) is Reaction reaction ? (ReactionLine.Read(reaction.Text).Line?.Ends ?? []).Select(end => document.CompartmentBySymbol(end.Name.Name)?.Id).FirstOrDefault(id => id is not null && id != partId) ?? partId :
        document.Flow(flowId) is { } flow ? flow.From is not null && flow.From != partId ? flow.From : flow.To.FirstOrDefault(target => target.Id is not null && target.Id != partId)?.Id ?? partId : partId;

    private static void Numbers(Utf8JsonWriter json, string name, IEnumerable<double> values)
    {
        json.WriteStartArray(name);
        foreach (var value in values)
        {
            if (double.IsFinite(value)) json.WriteNumberValue(value);
            else json.WriteNullValue();
        }
        json.WriteEndArray();
    }

    /// <summary>Starts as typed: two numbers each.</summary>
    public static (IReadOnlyList<(double, double)>? Starts, string? Problem) Starts(string typed)
    {
        var starts = new List<(double, double)>();
        foreach (var pair in typed.Split([';', '\n', ','], StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries))
        {
            var numbers = pair.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries);
            if (numbers.Length != 2 || !double.TryParse(numbers[0], NumberStyles.Float, CultureInfo.InvariantCulture, out var x) || !double.TryParse(numbers[1], NumberStyles.Float, CultureInfo.InvariantCulture, out var y) || !double.IsFinite(x) || !double.IsFinite(y))
            {
                return (null, $"“{pair}” is no start. Type two numbers for each, as in 100 5, 200 20.");
            }
            starts.Add((x, y));
        }
        return starts.Count > PhasePlane.MostStarts ? (null, $"At most {PhasePlane.MostStarts} starts are followed.") : (starts, null);
    }

    public static string Json(PhasePlane plane)
    {
        double?[] Finite(double[] values) => [.. values.Select(value => double.IsFinite(value) ? value : (double?)null)];
        double[] Four(PlaneSegment segment) => [segment.X1, segment.Y1, segment.X2, segment.Y2];
        return JsonSerializer.Serialize(new { paths = plane.Paths.Select(path => new { path.Value, path.Start, x = Finite(path.X), y = Finite(path.Y), path.Failure }), still = plane.Still.Select(one => new { one.Value, x = one.X.Select(Four), y = one.Y.Select(Four) }), plane.Note }, JsonSerializerOptions.Web);
    }

    /// <summary>The columns of a panel at rows of its own spacing, between the points of curves by straight lines where they do not fall on them.</summary>
    public static (IReadOnlyList<double> Times, IReadOnlyList<TableColumn> Columns) Table(StudyRun run, Panel panel)
    {
        var (made, document) = (run.Run!, run.Lowered.Document);
        var all = Curves(run.Lowered);
        var chosen = panel.Curves.IsEmpty ? all.Where(curve => curve.Kind == "compartment").ToList() : [.. panel.Curves.Select(id => all.FirstOrDefault(curve => curve.Id == id)).Where(curve => curve.Id is not null)];
        var columns = chosen.Select(curve => new TableColumn(curve.Name, made.OutputColumn(all.ToList().FindIndex(one => one.Id == curve.Id))))
            .Concat(Lines(panel).Select(line => ResultFormula.Of(run, line)).Where(column => column.Values.Length > 0).Select(column => new TableColumn(column.Name, column.Values))).ToList();
        if (!double.TryParse(panel.Every, NumberStyles.Float, CultureInfo.InvariantCulture, out var every) || !(every > 0) || (document.End - document.Start) / every > 100_000) return (made.Times, columns);
        var times = Simulator.Grid(document.Start, document.End, every);
        return (times, [.. columns.Select(column => new TableColumn(column.Head, [.. times.Select(time => Between(made.Times, column.Values, time))]))]);
    }

    /// <summary>The value at a time; at a jump that after it.</summary>
    internal static double Between(IReadOnlyList<double> times, double[] values, double time)
    {
        var high = 0;
        for (var step = times.Count; step > 0; step /= 2) while (high + step < times.Count && times[high + step] <= time) high += step;
        if (times[high] >= time || high + 1 >= times.Count) return values[high];
        var share = (time - times[high]) / (times[high + 1] - times[high]);
        return values[high] + share * (values[high + 1] - values[high]);
    }

    /// <summary>Within which ends each value is varied: its bounds where it has both, else a share of it up and down. Zeros have no share.</summary>
    public static IReadOnlyList<(string Address, double Low, double High)> Ranges(LoweredModel lowered, double share)
    {
        bool Number(string text, out double number) => double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out number);
        var ranges = new List<(string, double, double)>();
        foreach (var value in lowered.Form.Values)
        {
            var part = lowered.Document.Definitions.FirstOrDefault(part => part.Id == value.PartId);
            if (part is not null && Number(part.Lower, out var low) && Number(part.Upper, out var high) && high > low) ranges.Add((value.Address, low, high));
            else if (value.Value != 0 && double.IsFinite(value.Value)) ranges.Add((value.Address, Math.Min(value.Value * (1 - share), value.Value * (1 + share)), Math.Max(value.Value * (1 - share), value.Value * (1 + share))));
        }
        return [.. ranges.Take(40)];
    }
}

/// <summary>What a panel of checks shows.</summary>
/// <param name="Expectations">What each expectation found, in the order of the ledger.</param>
/// <param name="IsStudy">Whether the run is that of the study itself, with no slider moved.</param>
public sealed record ChecksModel(StudyRun Run, StepCheck? Steps, IReadOnlyList<(IReadOnlyList<ExpectationCase> Cases, string? Problem)> Expectations, bool IsStudy);
