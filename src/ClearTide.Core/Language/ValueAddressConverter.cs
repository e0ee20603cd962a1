using System.Text.Json;
using System.Text.Json.Serialization;

namespace ClearTide.Core.Language;

/// <summary>Stores an address as its text, also as the key of a dictionary.</summary>
internal sealed class ValueAddressConverter : JsonConverter<ValueAddress>
{
    public override ValueAddress Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        ValueAddress.Read(reader.GetString());

    public override void Write(Utf8JsonWriter writer, ValueAddress value, JsonSerializerOptions options) =>
        writer.WriteStringValue(value.ToString());

    public override ValueAddress ReadAsPropertyName(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        ValueAddress.Read(reader.GetString());

    public override void WriteAsPropertyName(Utf8JsonWriter writer, ValueAddress value, JsonSerializerOptions options) =>
        writer.WritePropertyName(value.ToString());
}
