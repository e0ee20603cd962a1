using System.Globalization;
using System.Text;

namespace ClearTide.Core.Language;

/// <summary>
/// Normal form KC of the Unicode standard (Annex 15): characters that look or mean the same become one, so that symbols typed on different
/// keyboards are the same symbol. The platform's own works only where its language data are installed, and differs by their version; this
/// one is the same everywhere. Texts of ASCII are in normal form; of others each call walks the text once or twice.
/// </summary>
internal static class NormalForm
{
    // Hangul syllables are composed by arithmetic: The Unicode Standard, section 3.12.
    private const int SyllableBase = 0xAC00,
        LeadBase = 0x1100,
        VowelBase = 0x1161,
        TailBase = 0x11A7,
        Leads = 19,
        Vowels = 21,
        Tails = 28;

    private sealed record Tables(
        Dictionary<int, int[]> Decompositions,
        Dictionary<int, byte> Classes,
        Dictionary<(int First, int Second), int> Compositions
    );

    private static readonly Lazy<Tables> Known = new(Read);

    /// <summary>A text in normal form KC.</summary>
    public static string Of(string text)
    {
        if (Ascii.IsValid(text))
            return text;
        var tables = Known.Value;
        var points = new List<int>(text.Length);
        foreach (var rune in text.EnumerateRunes())
            Decompose(rune.Value, tables, points);
        Order(points, tables);
        Compose(points, tables);
        var made = new StringBuilder(text.Length);
        foreach (var point in points)
            made.Append(new Rune(point));
        return made.ToString();
    }

    private static void Decompose(int point, Tables tables, List<int> points)
    {
        var syllable = point - SyllableBase;
        if (syllable is >= 0 and < Leads * Vowels * Tails)
        {
            points.Add(LeadBase + syllable / (Vowels * Tails));
            points.Add(VowelBase + syllable % (Vowels * Tails) / Tails);
            if (syllable % Tails > 0)
                points.Add(TailBase + syllable % Tails);
        }
        else if (tables.Decompositions.TryGetValue(point, out var parts))
            points.AddRange(parts);
        else
            points.Add(point);
    }

    /// <summary>Marks behind a letter stand in the order of their classes; those of one class keep theirs.</summary>
    private static void Order(List<int> points, Tables tables)
    {
        for (var k = 1; k < points.Count; k++)
        {
            var (moved, own) = (points[k], tables.Classes.GetValueOrDefault(points[k]));
            var at = k;
            while (own > 0 && at > 0 && tables.Classes.GetValueOrDefault(points[at - 1]) > own)
            {
                points[at] = points[at - 1];
                at--;
            }
            points[at] = moved;
        }
    }

    private static void Compose(List<int> points, Tables tables)
    {
        var (starter, written, last) = (-1, 0, -1);
        for (var k = 0; k < points.Count; k++)
        {
            var (point, own) = (points[k], (int)tables.Classes.GetValueOrDefault(points[k]));
            // A mark of the same or a higher class between the letter and this one keeps them apart.
            if (starter >= 0 && last < own && Pair(points[starter], point, tables) is { } whole)
            {
                points[starter] = whole;
                continue;
            }
            if (own == 0)
                (starter, last) = (written, -1);
            else
                last = own;
            points[written++] = point;
        }
        points.RemoveRange(written, points.Count - written);
    }

    private static int? Pair(int first, int second, Tables tables)
    {
        var (lead, vowel) = (first - LeadBase, second - VowelBase);
        if (lead is >= 0 and < Leads && vowel is >= 0 and < Vowels)
            return SyllableBase + (lead * Vowels + vowel) * Tails;
        var (syllable, tail) = (first - SyllableBase, second - TailBase);
        if (syllable is >= 0 and < Leads * Vowels * Tails && syllable % Tails == 0 && tail is > 0 and < Tails)
            return first + tail;
        return tables.Compositions.TryGetValue((first, second), out var whole) ? whole : null;
    }

    private static Tables Read()
    {
        var (decompositions, classes, compositions) = (
            new Dictionary<int, int[]>(),
            new Dictionary<int, byte>(),
            new Dictionary<(int, int), int>()
        );
        using var stream = typeof(NormalForm).Assembly.GetManifestResourceStream("NormalForms.txt")!;
        using var reader = new StreamReader(stream, Encoding.ASCII);
        while (reader.ReadLine() is { } line)
        {
            if (line[0] == '#')
                continue;
            var words = line.Split(' ');
            int Point(int word) => int.Parse(words[word], NumberStyles.HexNumber, CultureInfo.InvariantCulture);
            if (line[0] == 'd')
                decompositions[Point(1)] = [.. Enumerable.Range(2, words.Length - 2).Select(Point)];
            else if (line[0] == 'c')
                classes[Point(1)] = byte.Parse(words[2], CultureInfo.InvariantCulture);
            else
                compositions[(Point(2), Point(3))] = Point(1);
        }
        return new(decompositions, classes, compositions);
    }
}
