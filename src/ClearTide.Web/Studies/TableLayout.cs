using System.Text.Json;
using ClearTide.Formats.Tables;

namespace ClearTide.Web.Studies;

/// <summary>What is said of the columns of a table and of how its cells are to be understood: kept with the study, for the next table
/// with the same headings.</summary>
public sealed record TableLayout(
    ColumnRole[] Roles,
    TimeMark Marks,
    IntervalRule Rule,
    TimeForm? Times,
    string? Numbers,
    SameTime Same,
    string? Interval,
    string? Missing
)
{
    /// <summary>Nothing is said.</summary>
    public static readonly TableLayout None = new([], default, default, null, null, default, null, null);

    public static TableLayout Of(TableForm form, IEnumerable<ColumnRole> roles) =>
        new([.. roles], form.Marks, form.Rule, form.Times, form.Numbers, form.Same, form.Interval, form.Missing);

    /// <summary>The form with all that is said here.</summary>
    public TableForm On(TableForm form) =>
        form with
        {
            Role = Roles,
            Marks = Marks,
            Rule = Rule,
            Times = Times,
            Numbers = Numbers,
            Same = Same,
            Interval = Interval,
            Missing = Missing,
        };

    public string Write() => JsonSerializer.Serialize(this);

    /// <summary>Null where it was written by another version in a way that cannot be read.</summary>
    public static TableLayout? Read(string? body)
    {
        try
        {
            return body is null ? null : JsonSerializer.Deserialize<TableLayout>(body);
        }
        catch (JsonException)
        {
            return null;
        }
    }
}
