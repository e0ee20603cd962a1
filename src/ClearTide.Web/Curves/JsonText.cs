using System.Buffers;
using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using CommunityToolkit.HighPerformance.Buffers;
using Microsoft.AspNetCore.Html;
using Microsoft.AspNetCore.Mvc;

namespace ClearTide.Web.Curves;

/// <summary>
/// JSON in a borrowed buffer, sent once: in a page as it is, or as an answer of its own. The writer's own encoder leaves no sign in it that
/// HTML reads and none beyond ASCII. A run of many curves is a third of a megabyte at each edit; as a string it would be twice that, to be
/// collected again.
/// </summary>
public sealed class JsonText : IHtmlContent, IActionResult
{
    private const int Usual = 1 << 16;

    private readonly ArrayPoolBufferWriter<byte> _bytes;

    /// <param name="write">Writes one JSON value.</param>
    /// <param name="size">About how many bytes it will be.</param>
    public JsonText(Action<Utf8JsonWriter> write, int size = Usual)
    {
        _bytes = new(Math.Max(Usual, size));
        using var json = new Utf8JsonWriter(_bytes);
        write(json);
    }

    /// <summary>The text as a string; nothing is left to be sent.</summary>
    public static string Read(Action<Utf8JsonWriter> write)
    {
        var text = new JsonText(write);
        using (text._bytes)
            return Encoding.ASCII.GetString(text._bytes.WrittenSpan);
    }

    public void WriteTo(TextWriter writer, HtmlEncoder encoder)
    {
        var signs = ArrayPool<char>.Shared.Rent(Usual);
        using (_bytes)
        {
            for (var rest = _bytes.WrittenSpan; !rest.IsEmpty; )
            {
                var count = Encoding.ASCII.GetChars(rest[..Math.Min(rest.Length, signs.Length)], signs);
                writer.Write(signs, 0, count);
                rest = rest[count..];
            }
        }
        ArrayPool<char>.Shared.Return(signs);
    }

    public async Task ExecuteResultAsync(ActionContext context)
    {
        using (_bytes)
        {
            context.HttpContext.Response.ContentType = "application/json; charset=utf-8";
            context.HttpContext.Response.ContentLength = _bytes.WrittenCount;
            await context.HttpContext.Response.Body.WriteAsync(_bytes.WrittenMemory, context.HttpContext.RequestAborted);
        }
    }
}
