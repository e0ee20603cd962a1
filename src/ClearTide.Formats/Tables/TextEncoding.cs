using System.Text;

namespace ClearTide.Formats.Tables;

/// <summary>How the characters of a text file are written as bytes.</summary>
public static class TextEncoding
{
    /// <summary>Encodings that spreadsheets and instruments write, by the names they are registered under with IANA.</summary>
    public static readonly IReadOnlyList<string> Known =
    [
        "utf-8",
        "utf-16",
        "utf-16BE",
        "windows-1252",
        "windows-1250",
        "windows-1251",
        "windows-1253",
        "windows-1254",
        "iso-8859-15",
        "macintosh",
        "IBM850",
        "shift_jis",
        "GB18030",
    ];

    /// <summary>Bytes looked at for a guess of two bytes a character.</summary>
    private const int Sample = 4096;

    /// <summary>By its byte order mark; where every other byte of plain text is nought, two bytes a character; else UTF-8 where all of it
    /// is valid; else what western spreadsheets write by default.</summary>
    public static string Guess(ReadOnlySpan<byte> file) =>
        file is [0xFF, 0xFE, ..] || HasNoughts(file, 1) ? "utf-16"
        : file is [0xFE, 0xFF, ..] || HasNoughts(file, 0) ? "utf-16BE"
        : System.Text.Unicode.Utf8.IsValid(file) ? "utf-8"
        : "windows-1252";

    /// <summary>Whether the encoding makes a difference: text of plain letters reads alike in most of them.</summary>
    public static bool Matters(ReadOnlySpan<byte> file) => file.ContainsAnyInRange((byte)0x80, (byte)0xFF) || file.Contains((byte)0);

    /// <summary>The text of a file.</summary>
    /// <param name="name">One of <see cref="Known"/>; null for the guess.</param>
    /// <exception cref="TableException">The name is none of them.</exception>
    public static string Decode(byte[] file, string? name)
    {
        if (name is not null && !Known.Contains(name))
            throw new TableException($"“{name}” is no encoding that is read here. Choose one of the list.");
        // Those beside Unicode are a provider of their own on this platform.
        var encoding = (name ?? Guess(file)) switch
        {
            "utf-8" => Encoding.UTF8,
            "utf-16" => Encoding.Unicode,
            "utf-16BE" => Encoding.BigEndianUnicode,
            var other => CodePagesEncodingProvider.Instance.GetEncoding(other)!,
        };
        return encoding.GetString(file).TrimStart('\uFEFF');
    }

    private static bool HasNoughts(ReadOnlySpan<byte> file, int place)
    {
        var pairs = Math.Min(file.Length, Sample) / 2;
        var (noughts, others) = (0, 0);
        for (var k = 0; k < pairs; k++)
        {
            noughts += file[(2 * k) + place] == 0 ? 1 : 0;
            others += file[(2 * k) + 1 - place] == 0 ? 1 : 0;
        }
        return pairs > 0 && others == 0 && noughts > pairs / 2;
    }
}
