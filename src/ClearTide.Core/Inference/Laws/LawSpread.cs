using System.Text.Json;
using System.Text.Json.Serialization;

namespace ClearTide.Core.Inference.Laws;

/// <summary>The numbers of its own that a law of errors has. Written as a number, or as an array where there are two.</summary>
/// <param name="Main">k of the negative binomial, the standard deviation of the normal law or of the logarithm, the coefficient of
/// variation.</param>
/// <param name="Added">The standard deviation that is there where nothing is expected, of the law that has both; else 0.</param>
[JsonConverter(typeof(Converter))]
public readonly record struct LawSpread(double Main, double Added = 0)
{
    /// <summary>The spread of a law that has one number.</summary>
    /// <param name="main">The number.</param>
    public static implicit operator LawSpread(double main) => new(main);

    private sealed class Converter : JsonConverter<LawSpread>
    {
        public override LawSpread Read(ref Utf8JsonReader reader, Type type, JsonSerializerOptions options)
        {
            if (reader.TokenType == JsonTokenType.Number)
                return reader.GetDouble();
            var both = JsonSerializer.Deserialize<double[]>(ref reader, options);
            return both is [var main, var added] ? new(main, added) : throw new JsonException("A spread is a number, or two.");
        }

        public override void Write(Utf8JsonWriter writer, LawSpread spread, JsonSerializerOptions options)
        {
            if (spread.Added == 0)
                JsonSerializer.Serialize(writer, spread.Main, options);
            else
                JsonSerializer.Serialize(writer, new[] { spread.Main, spread.Added }, options);
        }
    }
}
