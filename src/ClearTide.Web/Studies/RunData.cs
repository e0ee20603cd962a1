using System.Buffers;
using System.Globalization;
using System.Text;
using System.Text.Json;
using ClearTide.Core.Data;
using ClearTide.Core.Models;
using ClearTide.Formats.Print;

namespace ClearTide.Web.Studies;

/// <summary>
/// A run as the browser's charts read it. Written number by number: a run of many curves is most of what an edit answers with. Nine digits
/// of amounts and six of all else are more than a screen can show, and less than half the bytes of all of them; what is not finite becomes a gap in its curve.
/// </summary>
public static class RunData
{
    /// <summary>The run as JSON that can stand in a page as it is: the writer's own encoder leaves no sign in it that HTML reads.</summary>
    public static string Json(StudyRun run, DataSet? data)
    {
        var buffer = new ArrayBufferWriter<byte>(1 << 16);
        using (var json = new Utf8JsonWriter(buffer))
        {
            var document = run.Lowered.Document;
            json.WriteStartObject();
            json.WriteString("unit", document.TimeUnit.Singular);
            json.WriteNumber("start", document.Start);
            json.WriteNumber("end", document.End);
            json.WriteNumber("seed", document.Seed);
            json.WriteBoolean("random", !document.RandomInputs.IsEmpty);
            Numbers(json, "times", run.Run?.Times ?? []);
            json.WriteStartArray("curves");
            if (run.Run is not null) Curves(json, run);
            json.WriteEndArray();
            json.WriteString("failure", run.Failure);
            json.WritePropertyName("observed");
            if (data is null) json.WriteNullValue();
            else Observed(json, run, data);
            json.WriteEndObject();
        }
        return Encoding.UTF8.GetString(buffer.WrittenSpan);
    }

    private static void Curves(Utf8JsonWriter json, StudyRun run)
    {
        var (document, trajectory) = (run.Lowered.Document, run.Run!);
        for (var k = 0; k < document.Compartments.Length; k++)
        {
            var part = document.Compartments[k];
            Curve(json, run, part.Id, "compartment", MathMl.PlainSymbol(part.Symbol), part.Label, Palette.Of(document, part.Id), trajectory.AmountColumn(k), run.Lowered.Units.Of(part.Id).Unit?.Text() ?? "");
        }
        for (var k = 0; k < document.Flows.Length; k++)
        {
            var part = document.Flows[k];
            Curve(json, run, part.Id, "flow", document.Describe(part), part.Label, Palette.Of(document, part.From ?? part.Target), trajectory.RateColumn(k));
        }
        for (var k = 0; k < run.Lowered.Form.Quantities.Count; k++)
        {
            var quantity = run.Lowered.Form.Quantities[k];
            var part = document.Part(quantity.PartId)!;
            Curve(json, run, part.Id, "quantity", MathMl.PlainSymbol(quantity.Symbol), part.Label, 0, trajectory.QuantityColumn(k));
        }
    }

    private static void Curve(Utf8JsonWriter json, StudyRun run, string id, string kind, string symbol, string label, int colour, double[] values, string unit = "")
    {
        json.WriteStartObject();
        json.WriteString("id", id);
        json.WriteString("kind", kind);
        json.WriteString("symbol", symbol);
        json.WriteString("label", label);
        json.WriteNumber("colour", colour);
        json.WriteString("unit", unit);
        json.WriteBoolean("provisional", run.Lowered.Unfinished.Contains(id));
        Numbers(json, "values", values, kind == "compartment" ? "G9" : "G6");
        json.WriteEndObject();
    }

    private static void Observed(Utf8JsonWriter json, StudyRun run, DataSet data)
    {
        var last = data.Rows[^1];
        json.WriteStartObject();
        json.WriteString("label", run.Lowered.Document.Observations[0].Label);
        json.WriteNumber("interval", last.End - last.Start);
        Numbers(json, "times", run.Observed?.Times ?? []);
        Numbers(json, "expected", run.Observed?.Expected ?? []);
        json.WriteStartArray("points");
        foreach (var row in data.Rows)
        {
            json.WriteStartObject();
            json.WriteNumber("start", row.Start);
            json.WriteNumber("end", row.End);
            json.WriteNumber("value", row.Value);
            json.WriteEndObject();
        }
        json.WriteEndArray();
        json.WriteString("problem", run.ObservedFailure);
        json.WriteEndObject();
    }

    private static void Numbers(Utf8JsonWriter json, string name, IReadOnlyList<double> values, string format = "G9")
    {
        // One raw value for the whole list: a writer that looks at each number costs as much as the digits themselves.
        var room = ArrayPool<byte>.Shared.Rent(26 * values.Count + 2);
        var at = 0;
        room[at++] = (byte)'[';
        for (var k = 0; k < values.Count; k++)
        {
            if (k > 0) room[at++] = (byte)',';
            if (double.IsFinite(values[k]) && values[k].TryFormat(room.AsSpan(at, 25), out var length, format, CultureInfo.InvariantCulture)) at += length;
            else
            {
                "null"u8.CopyTo(room.AsSpan(at));
                at += 4;
            }
        }
        room[at++] = (byte)']';
        json.WritePropertyName(name);
        json.WriteRawValue(room.AsSpan(0, at), skipInputValidation: true);
        ArrayPool<byte>.Shared.Return(room);
    }
}
