using System.Buffers;
using System.Globalization;
using System.Text;

namespace ClearTide.Formats.Tables;

/// <summary>How numbers are written in a table.</summary>
/// <param name="Decimal">The mark before decimals, a point or a comma.</param>
/// <param name="Thousands">The mark between thousands, or null where there is none; blanks of any kind are read between digits too.</param>
public sealed record NumberForm(char Decimal, char? Thousands)
{
    /// <summary>A decimal point and nothing between thousands.</summary>
    public static readonly NumberForm Plain = new('.', null);

    /// <summary>The forms that are told apart, the plainest first.</summary>
    public static readonly IReadOnlyList<NumberForm> Known = [Plain, new(',', null), new(',', '.'), new('.', ','), new('.', '\'')];

    /// <summary>Cells that say that nothing was counted.</summary>
    private static readonly HashSet<string> Missing = new(StringComparer.OrdinalIgnoreCase)
    {
        "",
        "-",
        "–",
        "—",
        ".",
        "?",
        "na",
        "n/a",
        "nan",
        "null",
        "none",
        "missing",
    };

    private static readonly SearchValues<char> Marks = SearchValues.Create(".,'");

    /// <summary>Whether a cell says that there is no value.</summary>
    public static bool IsMissing(string cell) => Missing.Contains(cell.Trim());

    /// <summary>The form that reads most of these cells. Where several read as many, a mark that always stands before three digits, and
    /// does so twice, stands between thousands; else the plainest.</summary>
    public static NumberForm Guess(IEnumerable<string> cells)
    {
        // What holds none of the marks is read alike in all forms, and cells that differ by their digits alone by each form alike.
        var shapes = cells.Where(cell => cell.AsSpan().ContainsAny(Marks) && !IsMissing(cell)).CountBy(Shape).ToList();
        var read = Known.Select(form => (Form: form, Count: shapes.Sum(shape => form.IsValue(shape.Key) ? shape.Value : 0))).ToList();
        var most = read.Max(one => one.Count);
        var best = read.Where(one => one.Count == most).Select(one => one.Form).ToList();
        return best.Find(form => form.Thousands is { } mark && AlwaysGroups(form, shapes, mark)) ?? best[0];
    }

    /// <summary>A cell with every digit but a nought at its head as a one; with an exponent, which may be too large, the cell
    /// itself.</summary>
    private static string Shape(string cell)
    {
        if (cell.AsSpan().ContainsAny('e', 'E'))
            return cell;
        var first = cell.AsSpan().IndexOfAnyInRange('0', '9');
        return string.Create(cell.Length, (cell, first), static (shape, from) =>
        {
            for (var k = 0; k < shape.Length; k++)
                shape[k] = char.IsAsciiDigit(from.cell[k]) && (k > from.first || from.cell[k] != '0') ? '1' : from.cell[k];
        });
    }

    private static bool AlwaysGroups(NumberForm form, List<KeyValuePair<string, int>> shapes, char mark)
    {
        var marked = shapes.Where(shape => shape.Key.Contains(mark) && form.IsValue(shape.Key)).ToList();
        return marked.Sum(shape => shape.Value) > 1
            && marked.TrueForAll(shape => shape.Key.TrimStart('<', '≤', ' ', '-', '+', '−') is [not '0', ..]);
    }

    /// <summary>The limit that a cell says its value is below, as in <c>&lt;0.05</c>; null where it says nothing of the kind.</summary>
    public double? ReadLimit(string cell) => cell.Trim() is ['<' or '≤', .. var rest] ? Read(rest) : null;

    /// <summary>Whether a cell is a number, or a limit that its value is below.</summary>
    public bool IsValue(string cell) => Read(cell) is not null || ReadLimit(cell) is not null;

    /// <summary>A cell as a number, or null. A percent sign divides by a hundred.</summary>
    public double? Read(string cell)
    {
        if (ReadPlain(cell) is { } quick)
            return quick;
        var text = cell.Trim();
        var percent = text.EndsWith('%');
        if (percent)
            text = text[..^1].TrimEnd();
        if (Thousands is { } mark && !GroupsOfThree(text, mark))
            return null;
        var plain = new StringBuilder(text.Length);
        for (var k = 0; k < text.Length; k++)
        {
            var c = text[k];
            if (c == Thousands)
                continue;
            if (char.IsWhiteSpace(c))
            {
                if (k == 0 || k == text.Length - 1 || !char.IsAsciiDigit(text[k - 1]) || !char.IsAsciiDigit(text[k + 1]))
                    return null;
                continue;
            }
            if (c is '.' or ',' && c != Decimal)
                return null;
            plain.Append(
                c == Decimal ? '.'
                : c == '−' ? '-'
                : c
            );
        }
        const NumberStyles Styles = NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint | NumberStyles.AllowExponent;
        return double.TryParse(plain.ToString(), Styles, CultureInfo.InvariantCulture, out var number) && double.IsFinite(number)
            ? percent
                ? number / 100
                : number
            : null;
    }

    /// <summary>What consists of digits, signs and the decimal mark alone, as most cells of a long table do; null for all else.</summary>
    private double? ReadPlain(string cell)
    {
        const int longest = 32;
        if (cell.Length is 0 or > longest)
            return null;
        Span<char> plain = stackalloc char[cell.Length];
        for (var k = 0; k < cell.Length; k++)
        {
            var c = cell[k];
            if (c == Decimal)
                plain[k] = '.';
            else if (char.IsAsciiDigit(c) || (k == 0 && c is '-' or '+'))
                plain[k] = c;
            else
                return null;
        }
        const NumberStyles Styles = NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint;
        return double.TryParse(plain, Styles, CultureInfo.InvariantCulture, out var number) ? number : null;
    }

    /// <summary>Whether each mark between thousands has three digits behind it, and at least one digit before.</summary>
    private bool GroupsOfThree(string text, char mark)
    {
        var whole = text.Split(Decimal, 'e', 'E')[0];
        var groups = whole.TrimStart('-', '+', '−').Split(mark);
        return !text[whole.Length..].Contains(mark)
            && (
                groups.Length == 1
                || groups[0].Length is >= 1 and <= 3 && groups.Skip(1).All(group => group.Length == 3 && group.All(char.IsAsciiDigit))
            );
    }

    /// <summary>The form in words.</summary>
    public override string ToString() =>
        Thousands switch
        {
            null => Decimal == '.' ? "1234.5" : "1234,5",
            var mark => Decimal == '.' ? $"1{mark}234.5" : $"1{mark}234,5",
        };
}
