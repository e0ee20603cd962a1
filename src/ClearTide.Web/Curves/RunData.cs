using System.Buffers;
using System.Buffers.Text;
using System.Runtime.InteropServices;
using System.Text.Json;
using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;
using ClearTide.Formats.Print;
using ClearTide.Web.Words;
using CommunityToolkit.HighPerformance.Buffers;

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
    /// <summary>About how many bytes a run takes as JSON.</summary>
    public static int Size(StudyRun run) =>
        (int)Math.Min(1 << 28, 11 * (run.Run?.NumberCount ?? 0) + 200 * run.Lowered.Network.Flows.Count + (1 << 14));

    /// <summary>Writes the run as one value.</summary>
    public static void Write(Utf8JsonWriter json, StudyRun run)
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
        // What a run without chance knows nothing of, so that bands of runs by chance are asked for anew when it changes.
        json.WriteString(
            "byChance",
            $"{string.Join(' ', document.Flows.Where(flow => flow.NoiseIntensity > 0).Select(flow => $"{flow.Id}:{flow.Noise}"))} "
                + string.Join(' ', document.Compartments.Where(part => !part.WholeUnits).Select(part => part.Id))
        );
        Groups(json, run.Lowered.Study);
        using (var numbers = new Numbers(run))
        {
            json.WriteNumber("count", numbers.Count);
            json.WriteStartArray("curves");
            if (run.Run is not null)
                Curves(json, run, numbers);
            json.WriteEndArray();
            json.WritePropertyName("numbers");
            Quoted(json, numbers.Bytes);
        }
        json.WriteString("failure", run.Failure);
        json.WriteString("remark", CurveRemark.Of(run));
        json.WriteStartArray("observed");
        foreach (var curve in run.Observed)
            Observed(json, run, curve);
        json.WriteEndArray();
        Doses(json, run.Lowered);
        json.WriteEndObject();
    }

    /// <summary>
    /// Bytes in base64 between quotation marks. No sign of base64 needs an escape; the writer would give each plus one, and look at
    /// each sign for it.
    /// </summary>
    private static void Quoted(Utf8JsonWriter json, ReadOnlySpan<byte> bytes)
    {
        using var text = SpanOwner<byte>.Allocate(Base64.GetMaxEncodedToUtf8Length(bytes.Length) + 2);
        Base64.EncodeToUtf8(bytes, text.Span[1..], out _, out var written);
        text.Span[0] = text.Span[written + 1] = (byte)'"';
        json.WriteRawValue(text.Span[..(written + 2)], skipInputValidation: true);
    }

    /// <summary>Doses that are marked at most; more would be a line.</summary>
    private const int MostDoses = 500;

    private static void Doses(Utf8JsonWriter json, LoweredModel lowered)
    {
        var (network, document) = (lowered.Network, lowered.Document);
        json.WriteStartArray("doses");
        foreach (var series in network.Doses)
        {
            var colour = Palette.Of(lowered.Study, lowered.Written.BaseOf(series.CompartmentId));
            var into = MathMl.PlainSymbol(document.Compartment(series.CompartmentId)?.Symbol ?? "");
            foreach (var dose in series.Within(network.Graph, network.ValueVector(), document.Start, document.End).Take(MostDoses))
            {
                json.WriteStartArray();
                json.WriteNumberValue(dose.Time);
                if (double.IsFinite(dose.Amount))
                    json.WriteNumberValue(dose.Amount);
                else
                    json.WriteNullValue();
                json.WriteNumberValue(dose.Duration);
                json.WriteNumberValue(colour);
                json.WriteStringValue(into);
                json.WriteEndArray();
            }
        }
        json.WriteEndArray();
    }

    private static void Groups(Utf8JsonWriter json, StudyDocument study)
    {
        json.WriteStartArray("groups");
        foreach (var group in study.Groups)
        {
            json.WriteStartObject();
            json.WriteString("symbol", group.Symbol);
            json.WriteStartArray("members");
            foreach (var member in group.Members)
            {
                json.WriteStartArray();
                json.WriteStringValue(member.Symbol);
                json.WriteStringValue(member.Name);
                json.WriteEndArray();
            }
            json.WriteEndArray();
            json.WriteEndObject();
        }
        json.WriteEndArray();
    }

    private static void Curves(Utf8JsonWriter json, StudyRun run, Numbers numbers)
    {
        var (document, study) = (run.Lowered.Document, run.Lowered.Study);
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
                Palette.Of(study, run.Lowered.Written.BaseOf(part.Id)),
                k,
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
                Palette.Of(study, BaseOf(part.From ?? part.Target)),
                run.Run!.Network.Amounts.Count + k
            );
        }
        for (var k = 0; k < run.Lowered.Network.Quantities.Count; k++)
        {
            var quantity = run.Lowered.Network.Quantities[k];
            // What is split stands as its total under its own name.
            var part = study.Part(quantity.PartId) ?? document.Part(quantity.PartId)!;
            Curve(
                json,
                numbers,
                run,
                part.Id,
                part switch
                {
                    Compartment => "compartment",
                    Reaction or Flow => "flow",
                    _ => "quantity",
                },
                MathMl.PlainSymbol(quantity.Symbol),
                part.Label,
                part switch
                {
                    Compartment => Palette.Of(study, part.Id),
                    Flow flow => Palette.Of(study, flow.From ?? flow.Target),
                    _ => 0,
                },
                run.Run!.Network.Amounts.Count + run.Run.Network.Flows.Count + k,
                part is Compartment ? run.Lowered.Units.Of(part.Id).Unit?.Text() ?? "" : ""
            );
        }
        string? BaseOf(string? id) => id is null ? null : run.Lowered.Written.BaseOf(id);
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
        int output,
        string unit = ""
    )
    {
        json.WriteStartObject();
        json.WriteString("id", id);
        json.WriteString("kind", kind);
        if (run.Lowered.Written.Member(id) is { } member)
        {
            json.WriteString("of", member.BaseId);
            json.WriteStartArray("members");
            foreach (var one in member.Members)
                json.WriteStringValue(one);
            json.WriteEndArray();
        }
        json.WriteString("symbol", symbol);
        json.WriteString("label", label);
        json.WriteNumber("colour", colour);
        json.WriteString("unit", unit);
        json.WriteBoolean("provisional", run.Lowered.Unfinished.Contains(id));
        json.WriteBoolean("single", numbers.Add(output, mayBeSingle: kind != "compartment"));
        json.WriteEndObject();
    }

    /// <summary>The parts whose curves have to do with what was observed.</summary>
    private static IEnumerable<string> About(StudyDocument document, Observation observation) =>
        observation.Seen.HasFormula()
            ? (Formula.Read(observation.Formula).Tree?.Names() ?? []).Select(name => Named(document, name.Name)).OfType<string>()
            : observation.OtherFlows.Prepend(observation.FlowId).SelectMany(id => AboutFlow(document, id)).Distinct();

    private static IEnumerable<string> AboutFlow(StudyDocument document, string id) =>
        document.Part(id) switch
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
        json.WriteNumber("colour", observation.Colour);
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
        json.WriteString("axis", TableWords.Axis(curve.Series, document.TimeUnit));
        json.WriteBoolean("counted", observation.Seen == ObservedAs.Flowed);
        json.WriteString("seenIn", CurveUnit.Of(run.Lowered, observation));
        List(json, "times", curve.Times);
        List(json, "expected", curve.Expected);
        json.WriteStartArray("points");
        foreach (var place in ShownRows.Of(data.Rows))
        {
            var row = data.Rows[place];
            json.WriteStartObject();
            json.WriteNumber("row", place);
            json.WriteNumber("start", row.Start);
            json.WriteNumber("end", row.End);
            json.WriteNumber("value", row.Value);
            if (row.Error is { } error)
                json.WriteNumber("error", error);
            if (row.Below)
                json.WriteBoolean("below", true);
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
    private sealed class Numbers : IDisposable
    {
        private readonly Trajectory? _run;
        private readonly ArrayPoolBufferWriter<byte> _bytes;
        private readonly double[] _values;

        public Numbers(StudyRun run)
        {
            _run = run.Run;
            Count = _run?.Times.Count ?? 0;
            _values = new double[Count];
            _bytes = new(Math.Max(256, (int)Math.Min(1 << 28, 8 * (_run?.NumberCount ?? 0))));
            for (var k = 0; k < Count; k++)
                _values[k] = _run!.Times[k];
            if (Count > 0)
                _bytes.Write(MemoryMarshal.AsBytes<double>(_values));
        }

        /// <summary>How many numbers each of them has.</summary>
        public int Count { get; }

        public ReadOnlySpan<byte> Bytes => _bytes.WrittenSpan;

        public void Dispose() => _bytes.Dispose();

        /// <summary>Whether single precision holds the sizes of all of them.</summary>
        private static bool FitSingle(ReadOnlySpan<double> values)
        {
            foreach (var value in values)
            {
                var size = Math.Abs(value);
                if (size is > 1e37 and < double.PositiveInfinity or > 0 and < 1e-30)
                    return false;
            }
            return true;
        }

        /// <summary>Adds an output of the model. Each begins at a multiple of eight bytes, where the browser can read doubles.</summary>
        /// <returns>Whether it was added in single precision.</returns>
        public bool Add(int output, bool mayBeSingle)
        {
            _run!.CopyOutput(output, _values);
            if (!(mayBeSingle && FitSingle(_values)))
            {
                var room = MemoryMarshal.Cast<byte, double>(_bytes.GetSpan(8 * Count));
                for (var k = 0; k < Count; k++)
                    room[k] = double.IsFinite(_values[k]) ? _values[k] : double.NaN;
                _bytes.Advance(8 * Count);
                return false;
            }
            var padded = (Count + 1) & ~1;
            var half = MemoryMarshal.Cast<byte, float>(_bytes.GetSpan(4 * padded));
            for (var k = 0; k < Count; k++)
                half[k] = double.IsFinite(_values[k]) ? (float)_values[k] : float.NaN;
            if (padded > Count)
                half[Count] = 0;
            _bytes.Advance(4 * padded);
            return true;
        }
    }
}
