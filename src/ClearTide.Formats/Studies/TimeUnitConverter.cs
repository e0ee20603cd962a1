using System.Text.Json;
using System.Text.Json.Serialization;
using ClearTide.Core.Language;

namespace ClearTide.Formats.Studies;

/// <summary>A time unit is written as its singular.</summary>
internal sealed class TimeUnitConverter : JsonConverter<TimeUnit>
{
    public override TimeUnit Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        var word = reader.GetString() ?? "";
        return TimeUnit.Find(word)
            ?? throw new StudyFileException(
                $"“{word}” is no unit of time. Use one of {string.Join(", ", TimeUnit.All.Select(unit => unit.Singular))}."
            );
    }

    public override void Write(Utf8JsonWriter writer, TimeUnit value, JsonSerializerOptions options) =>
        writer.WriteStringValue(value.Singular);
}
