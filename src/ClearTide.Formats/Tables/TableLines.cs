namespace ClearTide.Formats.Tables;

/// <summary>The lines of a table as text, by their number in the file.</summary>
public sealed class TableLines(string text)
{
    private readonly string[] _lines = text.Split('\n');

    /// <summary>A line as it stands; null where the file has none of this number.</summary>
    /// <param name="row">From 1 on.</param>
    public string? this[int row] => row >= 1 && row <= _lines.Length ? _lines[row - 1].TrimEnd('\r') : null;

    /// <summary>The text with some of its lines in other words.</summary>
    /// <param name="mended">By their number; what would be several lines is made one.</param>
    public string With(IEnumerable<(int Row, string Line)> mended)
    {
        var lines = (string[])_lines.Clone();
        foreach (var (row, line) in mended)
        {
            if (row >= 1 && row <= lines.Length && line != this[row])
                lines[row - 1] = line.Replace('\n', ' ').Replace('\r', ' ') + (lines[row - 1].EndsWith('\r') ? "\r" : "");
        }
        return string.Join('\n', lines);
    }
}
