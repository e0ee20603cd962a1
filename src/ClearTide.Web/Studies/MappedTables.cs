using ClearTide.Formats.Tables;
using ClearTide.Storage;

namespace ClearTide.Web.Studies;

/// <summary>Series that were read from tables a moment ago: a change of a choice on the page leaves most of them as they are.</summary>
public sealed class MappedTables()
    : SizedCache<(CountTable Table, CountMapping Mapping, TableCalendar Calendar), MappedCounts>(MostRows, mapped =>
        mapped.Rows.Length + mapped.Bad.Length + 1
    )
{
    /// <summary>Rows of all that are kept.</summary>
    private const long MostRows = 800_000;

    /// <exception cref="TableException">The mapping does not fit the table, or no row can be used.</exception>
    public MappedCounts Map(CountTable table, CountMapping mapping, TableCalendar calendar) =>
        GetOrRead((table, mapping, calendar), () => CountMapper.Map(table, mapping, calendar));
}
