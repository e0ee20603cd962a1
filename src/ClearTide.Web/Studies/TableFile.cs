using System.Globalization;
using System.Text;
using ClearTide.Formats.Tables;
using Microsoft.AspNetCore.Mvc;

namespace ClearTide.Web.Studies;

/// <summary>Numbers as a file to take away: CSV, a workbook, or cells for the clipboard.</summary>
public static class TableFile
{
    /// <param name="title">What the file is named after.</param>
    /// <param name="form"><c>xlsx</c>, <c>tabs</c>, or anything else for CSV.</param>
    /// <param name="first">Head of the first column.</param>
    public static FileContentResult Of(
        string title,
        string form,
        string first,
        IReadOnlyList<double> rows,
        IReadOnlyList<TableColumn> columns
    )
    {
        if (form == "xlsx")
            return Sheet(title, ResultSheet.Write(first, rows, columns));
        using var text = new StringWriter(CultureInfo.InvariantCulture);
        ResultTable.Write(text, rows, columns, first, form == "tabs" ? "\t" : ",");
        var bytes = Encoding.UTF8.GetBytes(text.ToString());
        return form == "tabs"
            ? new(bytes, "text/tab-separated-values; charset=utf-8")
            : new(bytes, "text/csv; charset=utf-8") { FileDownloadName = FileNames.Of(title, "csv") };
    }

    /// <summary>A table that is written as CSV, which has words beside numbers.</summary>
    /// <param name="title">What the file is named after.</param>
    /// <param name="form"><c>xlsx</c>, or anything else for CSV.</param>
    /// <param name="write">Writes it.</param>
    public static FileContentResult Of(string title, string? form, Action<TextWriter> write)
    {
        using var text = new StringWriter(CultureInfo.InvariantCulture);
        write(text);
        return form == "xlsx"
            ? Sheet(title, ResultSheet.OfCsv(text.ToString()))
            : new(Encoding.UTF8.GetBytes(text.ToString()), "text/csv; charset=utf-8") { FileDownloadName = FileNames.Of(title, "csv") };
    }

    private static FileContentResult Sheet(string title, byte[] workbook) =>
        new(workbook, "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet")
        {
            FileDownloadName = FileNames.Of(title, "xlsx"),
        };
}
