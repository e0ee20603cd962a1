using System.Buffers;
using System.Buffers.Text;
using System.Runtime.InteropServices;
using System.Text;
using System.Text.Json;
using ClearTide.Core.Data;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;
using ClearTide.Formats.Print;
using ClearTide.Web.Words;

namespace ClearTide.Web.Curves;

/// <summary>
/// A run as the browser's charts read it. The numbers of all its curves stand in one block, little-endian in base64: a run of many curves
/// is most
/// of what an edit answers with, and digits cost ten times as much to write and to read. Amounts are doubles; flows and quantities, which
/// are
/// looked at but not compared to the last digit, single precision, half the size. What is not finite becomes a gap.
/// </summary>
public static class RunData
{
    /// <summary>The run as JSON that can stand in a page as it is: the writer's own encoder leaves no sign in it that HTML reads.</summary>
    public static string Json(StudyRun run)
    {
        var buffer = new ArrayBufferWriter<byte>(1 << 16);
        using (var json = new Utf8JsonWriter(buffer))
        {
            var document = run.Lowered.Document;
            json.WriteStartObject();
            json.WriteString("unit", document.TimeUnit.Singular);
            json.WriteString("units", document.TimeUnit.Plural);
            json.WriteString("per", document.Solver.IsDiscrete ? "step" : document.TimeUnit.Singular);
            json.WriteNumber("start", document.Start);
            json.WriteNumber("end", document.End);
            json.WriteString("method", document.Solver.Method.ToString());
            json.WriteNumber("step", document.Solver.Step);
            json.WriteNumber("tolerance", document.Solver.Tolerance);
            json.WriteNumber("seed", document.Seed);
            json.WriteBoolean("random", !document.RandomInputs.IsEmpty);
            var numbers = new Numbers(run.Run?.Times ?? []);
            json.WriteNumber("count", numbers.Count);
            json.WriteStartArray("curves");
            if (run.Run is not null)
                Curves(json, run, numbers);
            json.WriteEndArray();
            json.WritePropertyName("numbers");
            json.WriteRawValue(Quoted(numbers.Bytes), skipInputValidation: true);
            json.WriteString("failure", run.Failure);
            json.WriteString("remark", CurveRemark.Of(run));
            json.WriteStartArray("observed");
            foreach (var curve in run.Observed)
                Observed(json, run, curve);
            json.WriteEndArray();
            json.WriteEndObject();
        }
        return Encoding.UTF8.GetString(buffer.WrittenSpan);
    }

    /// <summary>
    /// Bytes in base64 between quotation marks. No sign of base64 needs an escape; the writer would give each plus one, and look at
    /// each sign for it.
    /// </summary>
    private static ReadOnlySpan<byte> Quoted(ReadOnlySpan<byte> bytes)
    {
        var text = new byte[Base64.GetMaxEncodedToUtf8Length(bytes.Length) + 2];
        Base64.EncodeToUtf8(bytes, text.AsSpan(1), out _, out var written);
        text[0] = text[written + 1] = (byte)'"';
        return text.AsSpan(0, written + 2);
    }

    private static void Curves(Utf8JsonWriter json, StudyRun run, Numbers numbers)
    {
        var (document, trajectory) = (run.Lowered.Document, run.Run!);
        for (var k = 0; k < document.Compartments.Length; k++)
        {
            var part = document.Compartments[k];
            Curve(
                json,
                numbers,
                run,
                part.Id,
                "compartment",
                MathMl.PlainSymbol(part.Symbol),
                part.Label,
                Palette.Of(document, part.Id),
                trajectory.AmountColumn(k),
                run.Lowered.Units.Of(part.Id).Unit?.Text() ?? ""
            );
        }
        for (var k = 0; k < document.Flows.Length; k++)
        {
            var part = document.Flows[k];
            Curve(
                json,
                numbers,
                run,
                part.Id,
                "flow",
                document.Describe(part),
                part.Label,
                Palette.Of(document, part.From ?? part.Target),
                trajectory.RateColumn(k)
            );
        }
        for (var k = 0; k < run.Lowered.Network.Quantities.Count; k++)
        {
            var quantity = run.Lowered.Network.Quantities[k];
            var part = document.Part(quantity.PartId)!;
            Curve(
                json,
                numbers,
                run,
                part.Id,
                part is Reaction ? "flow" : "quantity",
                MathMl.PlainSymbol(quantity.Symbol),
                part.Label,
                0,
                trajectory.QuantityColumn(k)
            );
        }
    }

    private static void Curve(
        Utf8JsonWriter json,
        Numbers numbers,
        StudyRun run,
        string id,
        string kind,
        string symbol,
        string label,
        int colour,
        double[] values,
        string unit = ""
    )
    {
        json.WriteStartObject();
        json.WriteString("id", id);
        json.WriteString("kind", kind);
        json.WriteString("symbol", symbol);
        json.WriteString("label", label);
        json.WriteNumber("colour", colour);
        json.WriteString("unit", unit);
        json.WriteBoolean("provisional", run.Lowered.Unfinished.Contains(id));
        var single = kind != "compartment" && Numbers.FitSingle(values);
        json.WriteBoolean("single", single);
        json.WriteEndObject();
        numbers.Add(values, single);
    }

    /// <summary>The parts whose curves have to do with what was observed.</summary>
    private static IEnumerable<string> About(StudyDocument document, Observation observation) =>
        observation.Seen == ObservedAs.Standing
            ? (Formula.Read(observation.Formula).Tree?.Names() ?? []).Select(name => Named(document, name.Name)).OfType<string>()
            : document.Part(observation.FlowId) switch
            {
                Flow flow => flow.To.Select(target => target.Id).Append(flow.From).Append(flow.Id).OfType<string>(),
                Reaction reaction => (ReactionLine.Read(reaction.Text).Line?.Ends ?? [])
                    .Select(end => document.CompartmentBySymbol(end.Name.Name)?.Id)
                    .OfType<string>()
                    .Append(reaction.Id),
                _ => [],
            };

    private static string? Named(StudyDocument document, string symbol) =>
        document.SymbolParts.FirstOrDefault(part => Symbols.Normalize(part.Symbol) == Symbols.Normalize(symbol))?.Id;

    private static void Observed(Utf8JsonWriter json, StudyRun run, ObservedCurve curve)
    {
        var (observation, data) = curve.Series;
        var document = run.Lowered.Document;
        json.WriteStartObject();
        json.WriteString("id", observation.Id);
        json.WriteString("label", observation.Label);
        // What was seen of one curve itself lies on it.
        json.WriteString(
            "curve",
            observation.Seen == ObservedAs.Standing && observation.Reporting.Trim() == "1"
                ? Named(document, observation.Formula.Trim())
                : null
        );
        json.WriteStartArray("about");
        foreach (var id in About(document, observation))
            json.WriteStringValue(id);
        json.WriteEndArray();
        json.WriteNumber("interval", observation.Seen == ObservedAs.Flowed ? data.Rows[^1].End - data.Rows[^1].Start : 0);
        List(json, "times", curve.Times);
        List(json, "expected", curve.Expected);
        json.WriteStartArray("points");
        foreach (var row in data.Rows)
        {
            json.WriteStartObject();
            json.WriteNumber("start", row.Start);
            json.WriteNumber("end", row.End);
            json.WriteNumber("value", row.Value);
            if (row.Error is { } error)
                json.WriteNumber("error", error);
            if (row.LeftOut)
                json.WriteBoolean("out", true);
            json.WriteEndObject();
        }
        json.WriteEndArray();
        json.WriteString("problem", curve.Problem);
        json.WriteEndObject();
    }

    private static void List(Utf8JsonWriter json, string name, IReadOnlyList<double> values)
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

    /// <summary>The times and then every curve, one after the other.</summary>
    private sealed class Numbers(IReadOnlyList<double> times)
    {
        private readonly ArrayBufferWriter<byte> _bytes = Begun(times);

        /// <summary>How many numbers each of them has.</summary>
        public int Count => times.Count;

        public ReadOnlySpan<byte> Bytes => _bytes.WrittenSpan;

        /// <summary>Whether single precision holds the sizes of all of them.</summary>
        public static bool FitSingle(double[] values)
        {
            foreach (var value in values)
            {
                var size = Math.Abs(value);
                if (size is > 1e37 and < double.PositiveInfinity or > 0 and < 1e-30)
                    return false;
            }
            return true;
        }

        /// <summary>Each curve begins at a multiple of eight bytes, where the browser can read doubles.</summary>
        public void Add(double[] values, bool single)
        {
            if (!single)
            {
                var room = MemoryMarshal.Cast<byte, double>(_bytes.GetSpan(8 * values.Length));
                for (var k = 0; k < values.Length; k++)
                    room[k] = double.IsFinite(values[k]) ? values[k] : double.NaN;
                _bytes.Advance(8 * values.Length);
                return;
            }
            var padded = (values.Length + 1) & ~1;
            var half = MemoryMarshal.Cast<byte, float>(_bytes.GetSpan(4 * padded));
            for (var k = 0; k < values.Length; k++)
                half[k] = double.IsFinite(values[k]) ? (float)values[k] : float.NaN;
            if (padded > values.Length)
                half[values.Length] = 0;
            _bytes.Advance(4 * padded);
        }

        private static ArrayBufferWriter<byte> Begun(IReadOnlyList<double> times)
        {
            var bytes = new ArrayBufferWriter<byte>(1 << 16);
            foreach (var time in times)
                bytes.Write(MemoryMarshal.AsBytes(new ReadOnlySpan<double>(in time)));
            return bytes;
        }
    }
}
