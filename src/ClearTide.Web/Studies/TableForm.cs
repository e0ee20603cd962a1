using System.Globalization;
using ClearTide.Formats.Tables;
using ClearTide.Web.Words;

namespace ClearTide.Web.Studies;

/// <summary>A table that is being brought in and what is said of it, as posted; empty where the page was not asked yet.</summary>
public sealed record TableForm
{
    public string? Text { get; set; }

    /// <summary>What was pasted while a table is kept that is too long to be shown.</summary>
    public string? Pasted { get; set; }

    /// <summary>The name of a long table that is kept.</summary>
    public string? Kept { get; set; }

    /// <summary>Lines of the table that were mended: their numbers in the file, and what they are now.</summary>
    public int[] MendRow { get; set; } = [];

    public string?[] MendLine { get; set; } = [];

    public string? Name { get; set; }

    /// <summary>Key of the file that the table comes from.</summary>
    public string? FileKey { get; set; }

    /// <summary>The sheets of a workbook, the one that is shown, and the one that is asked for.</summary>
    public List<string> Sheets { get; set; } = [];

    public string? SheetShown { get; set; }

    public string? Sheet { get; set; }

    /// <summary>The encoding in which a text file is shown, and the one that is asked for.</summary>
    public string? EncodingShown { get; set; }

    public string? Encoding { get; set; }

    /// <summary>The cells that are the table.</summary>
    public string? Cells { get; set; }

    /// <summary>The row that holds the headings; 0 for none.</summary>
    public string? Heading { get; set; }

    /// <summary>What stands where nothing was seen.</summary>
    public string? Missing { get; set; }

    public string? Separator { get; set; }

    /// <summary>The headings of the table that was shown, and what each column of it is.</summary>
    public string[] Column { get; set; } = [];

    public ColumnRole[] Role { get; set; } = [];

    public TimeMark Marks { get; set; }

    public IntervalRule Rule { get; set; }

    public TimeForm? Times { get; set; }

    public string? Numbers { get; set; }

    public SameTime Same { get; set; }

    public string? Interval { get; set; }

    /// <summary>Whether what was said of a table with the same headings is to be passed over.</summary>
    public bool Afresh { get; set; }

    /// <summary>How each series is tied, in the order of the table.</summary>
    public List<SeriesForm> Series { get; set; } = [];

    /// <summary>How cells are found in the text.</summary>
    /// <exception cref="TableException">What was typed is no block of cells or no row.</exception>
    public TableReading Reading()
    {
        int? heading = null;
        if (!string.IsNullOrWhiteSpace(Heading))
        {
            heading = int.TryParse(Heading.Trim(), NumberStyles.None, CultureInfo.InvariantCulture, out var row)
                ? row
                : throw new TableException($"“{Heading.Trim()}” is no row of the file. Choose the row that holds the headings.");
        }
        return new(
            TableWords.Separators.TryGetValue(Separator ?? "", out var mark) ? mark : null,
            heading,
            CellRange.Read(Cells),
            Missing?.Trim() ?? ""
        );
    }
}
