using System.Buffers;
using System.Globalization;
using System.Text;
using System.Text.Json;
using ClearTide.Core.Analysis;
using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;
using ClearTide.Formats.Tables;
using ClearTide.Web.Words;

namespace ClearTide.Web.Curves;

/// <summary>What the panels of Explore are drawn from.</summary>
public static class ExploreData
{
    /// <summary>The curves that panels can show.</summary>
    public static IReadOnlyList<(string Id, string Kind, string Name)> Curves(LoweredModel lowered) =>
        [
            .. lowered.Network.Amounts.Select(one => (one.PartId, KindOf(lowered, one.PartId), MemberName.Print(one.Symbol))),
            .. lowered.Document.Flows.Select(flow => (flow.Id, "flow", MemberName.Print(lowered.Document.Describe(flow)))),
            .. lowered.Network.Quantities.Select(one => (one.PartId, KindOf(lowered, one.PartId), MemberName.Print(one.Symbol))),
        ];

    /// <summary>What a curve is; one member of a split compartment is none of the compartments that are shown where nothing is
    /// chosen.</summary>
    private static string KindOf(LoweredModel lowered, string id) =>
        (lowered.Study.Part(id) ?? lowered.Document.Part(id)) switch
        {
            Compartment => lowered.Written.Member(id) is null ? "compartment" : "member",
            Reaction or Flow => "flow",
            _ => "quantity",
        };

    /// <summary>A run with what each panel makes of it: formulas over its results, budgets, readings.</summary>
    /// <param name="beside">What stands beside the run in a table, at its times: the columns of kept runs.</param>
    public static JsonText Json(
        StudyRun run,
        IReadOnlyList<Panel> panels,
        Func<Panel, IReadOnlyList<double>, IEnumerable<TableColumn>>? beside = null
    )
    {
        return new(Write, RunData.Size(run));
        void Write(Utf8JsonWriter json)
        {
            json.WriteStartObject();
            json.WritePropertyName("run");
            RunData.Write(json, run);
            json.WriteStartObject("panels");
            foreach (var panel in panels)
            {
                json.WriteStartObject(panel.Id);
                if (panel.Kind is PanelKind.Curves or PanelKind.Table)
                    Formulas(json, run, panel);
                if (panel.Kind == PanelKind.Curves)
                    Made(json, run, panel);
                if (panel.Kind == PanelKind.Table && run.Run is not null)
                    Rows(json, run, panel, beside);
                if (panel.Kind == PanelKind.Budget)
                    Terms(json, run, panel);
                json.WriteEndObject();
            }
            json.WriteEndObject();
            json.WriteEndObject();
        }
    }

    /// <summary>The rows of one panel: what a table shows of it.</summary>
    /// <param name="beside">What stands beside the run, at its times.</param>
    public static JsonText RowsJson(StudyRun run, Panel panel, Func<Panel, IReadOnlyList<double>, IEnumerable<TableColumn>> beside) =>
        new(json =>
        {
            json.WriteStartObject();
            if (run.Run is not null)
                Rows(json, run, panel, beside);
            json.WriteEndObject();
        });

    private static void Formulas(Utf8JsonWriter json, StudyRun run, Panel panel)
    {
        json.WriteStartArray("formulas");
        foreach (var line in ComputedCurves.Lines(panel))
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

    /// <summary>Rows on a page; the files have them all.</summary>
    private const int MostShown = 500;

    private static void Rows(
        Utf8JsonWriter json,
        StudyRun run,
        Panel panel,
        Func<Panel, IReadOnlyList<double>, IEnumerable<TableColumn>>? beside
    )
    {
        var times = TableTimes.Of(run.Lowered.Document, TableTimes.Every(run.Lowered.Document, panel.Every).Every);
        var (rows, columns) = Table(run, panel, [.. times.Take(MostShown)], "", CancellationToken.None);
        json.WriteNumber("rowsInAll", times.Length);
        Numbers(json, "times", rows);
        json.WriteStartArray("columns");
        foreach (var column in columns.Concat(beside?.Invoke(panel, rows) ?? []))
        {
            json.WriteStartObject();
            json.WriteString("name", column.Head);
            Numbers(json, "values", column.Values);
            json.WriteEndObject();
        }
        json.WriteEndArray();
    }

    /// <summary>Chosen quantities that are made of other chosen curves: stacked upon them they would count twice.</summary>
    private static void Made(Utf8JsonWriter json, StudyRun run, Panel panel)
    {
        var document = run.Lowered.Document;
        json.WriteStartArray("made");
        foreach (var quantity in panel.Curves.Select(document.Part).OfType<Definition>())
        {
            var (seen, waiting) = (new HashSet<string>(), new Queue<Definition>([quantity]));
            while (waiting.TryDequeue(out var next))
            {
                foreach (var name in Formula.Read(next.Text).Tree?.Names() ?? [])
                {
                    if (seen.Add(name.Name) && document.DefinitionBySymbol(name.Name) is { } deeper)
                        waiting.Enqueue(deeper);
                }
            }
            if (panel.Curves.Any(id => id != quantity.Id && document.Part(id) is ISymbolPart other && seen.Contains(other.Symbol)))
                json.WriteStringValue(quantity.Id);
        }
        json.WriteEndArray();
    }

    private static void Terms(Utf8JsonWriter json, StudyRun run, Panel panel)
    {
        if (Budget.Of(run, panel.Of) is not { } budget)
        {
            json.WriteString(
                "problem",
                run.Lowered.Part(panel.Of) is not Compartment && run.Lowered.Study.Compartment(panel.Of) is null
                    ? "The compartment of this budget is no longer in the model. Choose another one."
                    : run.Failure
            );
            return;
        }
        json.WriteString("symbol", budget.Symbol);
        json.WriteStartArray("terms");
        foreach (var term in budget.Terms)
        {
            json.WriteStartObject();
            json.WriteString("id", term.FlowId);
            json.WriteString("name", term.Name);
            json.WriteNumber("colour", Palette.Of(run.Lowered.Study, Other(run.Lowered.Study, term.FlowId, panel.Of)));
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
        document.Part(flowId) is Reaction reaction
            ? (ReactionLine.Read(reaction.Text).Line?.Ends ?? [])
                .Select(end => document.CompartmentBySymbol(end.Name.Name)?.Id)
                .FirstOrDefault(id => id is not null && id != partId)
                ?? partId
        : document.Flow(flowId) is { } flow
            ? flow.From is not null && flow.From != partId ? flow.From
                : flow.To.FirstOrDefault(target => target.Id is not null && target.Id != partId)?.Id ?? partId
        : partId;

    private static void Numbers(Utf8JsonWriter json, string name, IEnumerable<double> values)
    {
        json.WriteStartArray(name);
        foreach (var value in values)
        {
            if (double.IsFinite(value))
                json.WriteNumberValue(value);
            else
                json.WriteNullValue();
        }
        json.WriteEndArray();
    }

    /// <summary>Starts as typed: two numbers each.</summary>
    public static (IReadOnlyList<(double, double)>? Starts, string? Problem) Starts(string typed)
    {
        var starts = new List<(double, double)>();
        var (plain, unclear) = NumberList.Plain(typed);
        if (plain is null)
            return (null, unclear);
        foreach (var pair in plain.Split([';', '\n', ','], StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries))
        {
            var numbers = pair.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries);
            if (numbers.Length != 2 || TypedNumber.Read(numbers[0]) is not { } x || TypedNumber.Read(numbers[1]) is not { } y)
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
        return JsonSerializer.Serialize(
            new
            {
                paths = plane.Paths.Select(path => new
                {
                    path.Value,
                    path.Start,
                    x = Finite(path.X),
                    y = Finite(path.Y),
                    path.Failure,
                }),
                still = plane.Still.Select(one => new
                {
                    one.Value,
                    x = one.X.Select(Four),
                    y = one.Y.Select(Four),
                }),
                plane.Note,
            },
            JsonSerializerOptions.Web
        );
    }

    /// <summary>
    /// The columns of a panel at even times, each with its unit in its head: the run is made at these times, not read between points
    /// of curves.
    /// </summary>
    /// <param name="suffix">What tells the columns of a kept run from the others.</param>
    public static (IReadOnlyList<double> Times, IReadOnlyList<TableColumn> Columns) Table(
        StudyRun run,
        Panel panel,
        double[] times,
        string suffix,
        CancellationToken cancel
    )
    {
        var document = run.Lowered.Document;
        var all = Curves(run.Lowered).ToList();
        var chosen = panel.Curves.IsEmpty
            ? all.Where(curve => curve.Kind == "compartment").ToList()
            : [.. panel.Curves.Select(id => all.FirstOrDefault(curve => curve.Id == id)).Where(curve => curve.Id is not null)];
        var even = run.At(times, cancel);
        string Head(string name, string unit) => $"{name}{(unit.Length > 0 ? $" ({unit})" : "")}{suffix}";
        return (
            even.Run!.Times,
            [
                .. chosen
                    .Select(curve => new TableColumn(
                        Head(curve.Name, CurveUnit.Of(run.Lowered, curve.Id)),
                        even.Run!.OutputColumn(all.FindIndex(one => one.Id == curve.Id))
                    ))
                    .Concat(
                        ComputedCurves
                            .Lines(panel)
                            .Select(line => ResultFormula.Of(even, line))
                            .Where(column => column.Values.Length > 0)
                            .Select(column => new TableColumn(Head(column.Name, ""), column.Values))
                    ),
            ]
        );
    }

    /// <summary>The value at a time; at a jump that after it.</summary>
    internal static double Between(IReadOnlyList<double> times, double[] values, double time)
    {
        var high = 0;
        for (var step = times.Count; step > 0; step /= 2)
            while (high + step < times.Count && times[high + step] <= time)
                high += step;
        if (times[high] >= time || high + 1 >= times.Count)
            return values[high];
        var share = (time - times[high]) / (times[high + 1] - times[high]);
        return values[high] + share * (values[high + 1] - values[high]);
    }

    /// <summary>Within which ends each value is varied: its bounds where it has both, else a share of it up and down. Zeros have no
    /// share.</summary>
    public static IReadOnlyList<(ValueAddress Address, double Low, double High)> Ranges(LoweredModel lowered, double share)
    {
        var ranges = new List<(ValueAddress, double, double)>();
        foreach (var value in lowered.Network.Values)
        {
            var bounds = ValueBounds.Of(lowered.Document, lowered.Document.Part(value.PartId));
            if (bounds is { Lower: { } low, Upper: { } high } && high > low)
                ranges.Add((value.Address, low, high));
            else if (value.Value != 0 && double.IsFinite(value.Value))
                ranges.Add(
                    (
                        value.Address,
                        Math.Min(value.Value * (1 - share), value.Value * (1 + share)),
                        Math.Max(value.Value * (1 - share), value.Value * (1 + share))
                    )
                );
        }
        return [.. ranges.Take(40)];
    }
}

/// <summary>What a panel of checks shows.</summary>
/// <param name="Expectations">What each expectation found, in the order of the ledger.</param>
/// <param name="IsStudy">Whether the run is that of the study itself, with no slider moved.</param>
public sealed record ChecksModel(
    StudyRun Run,
    StepCheck? Steps,
    IReadOnlyList<(IReadOnlyList<ExpectationCase> Cases, string? Problem)> Expectations,
    bool IsStudy
);
