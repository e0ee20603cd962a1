using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Formats.Studies;

/// <summary>Where a flow leads: a plain flow's end is written as its id alone (null for the outside), a fan-out or an end that is drawn
/// in a way of its own as a list.</summary>
internal sealed class FlowEndsConverter : JsonConverter<ImmutableArray<Target>>
{
    public override bool HandleNull => true;

    public override ImmutableArray<Target> Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        if (reader.TokenType == JsonTokenType.Null)
            return [new(null)];
        if (reader.TokenType == JsonTokenType.String)
            return [new(reader.GetString())];
        var ends = JsonSerializer.Deserialize<List<Target>>(ref reader, options);
        return ends is { Count: > 0 } && ends.TrueForAll(end => end is not null)
            ? [.. ends.Select(end => end with { Share = end.Share ?? "" })]
            : throw new StudyFileException("A flow leads nowhere in this file. Export it again where it came from.");
    }

    public override void Write(Utf8JsonWriter writer, ImmutableArray<Target> value, JsonSerializerOptions options)
    {
        if (value.Length == 1 && value[0] == new Target(value[0].Id))
            writer.WriteStringValue(value[0].Id);
        else
            JsonSerializer.Serialize(writer, value.ToList(), options);
    }
}
