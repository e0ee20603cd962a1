using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Formats.Tables;
using NodaTime;

namespace ClearTide.Web.Studies;

/// <summary>A series of a table that is being brought in: how it is tied, and its rows.</summary>
/// <param name="Observation">As it will be on the model; without id and data yet.</param>
/// <param name="Mapped">Null where the table cannot be read this way.</param>
/// <param name="Problem">Why not; null where it can.</param>
public sealed record BroughtSeries(Observation Observation, bool RunningTotals, MappedCounts? Mapped, string? Problem)
{
    public string Label => Observation.Label;

    /// <summary>The unit of its values against that of what they have seen.</summary>
    public SeriesUnits? Units { get; private init; }

    /// <summary>As it goes onto the model: its rows are in the unit of what they have seen.</summary>
    public Observation Tied =>
        Units is { Problem: null, Unit: { } unit } && Observation.Unit.Length > 0 && Units.Factor != 1
            ? Observation with
            {
                Unit = SeriesUnits.Words(unit),
                TableUnit = Observation.Unit,
            }
            : Observation;

    /// <summary>Values in the unit of what they have seen.</summary>
    private static MappedCounts In(SeriesUnits units, MappedCounts mapped, Observation observation) =>
        units.Factor == 1
            ? mapped
            : mapped with
            {
                Rows = [.. mapped.Rows.Select(row => row.Times(units.Factor))],
                Notes = mapped.Notes.Add(
                    $"Converted from {observation.Unit} to {SeriesUnits.Words(units.Unit!)}, times {NumberWords.Of(units.Factor, 6)}."
                ),
            };

    /// <summary>As posted where it was; else as the series of the same column is tied already; else as it looks.</summary>
    /// <param name="known">What was read of tables before.</param>
    /// <param name="mapping">How the table is read; may refuse.</param>
    /// <param name="alone">Whether it is the only series of the table.</param>
    public static BroughtSeries Of(
        StudyDocument document,
        CountTable table,
        MappedTables known,
        TableSeries series,
        Func<CountMapping> mapping,
        SeriesForm? form,
        bool alone
    )
    {
        var typed = form?.Heading == series.Heading ? form : null;
        var observation = typed is null ? Guess(document, table, series, alone) : typed.Observation(series.Heading);
        if (series.OutOf is not null)
            observation = observation with { Law = observation.Law ?? ErrorLaw.Binomial };
        var running = typed?.RunningTotals ?? false;
        try
        {
            var mapped = known.Map(
                table,
                mapping() with
                {
                    RunningTotals = running,
                    AtOneTime = !observation.Seen.HasInterval(),
                },
                new(document.Origin is { } zero ? LocalDate.FromDateOnly(zero) : null, document.TimeUnit)
            );
            var units = SeriesUnits.Of(document, observation);
            return new(observation, running, In(units, mapped, observation), null) { Units = units };
        }
        catch (TableException wrong)
        {
            return new(observation, running, null, wrong.Message);
        }
    }

    private static Observation Guess(StudyDocument document, CountTable table, TableSeries series, bool alone)
    {
        bool Same(string one) => string.Equals(one, series.Heading, StringComparison.OrdinalIgnoreCase);
        // The only series of a table is the next version of the only one on the model, unless it is told otherwise.
        var known = document.Observations.FirstOrDefault(one => Same(one.Column) || Same(one.Label));
        if (alone && document.Observations.Length == 1 && series.OutOf is null)
            known ??= document.Observations[0];
        if (known is not null)
            return known with
            {
                Id = "",
                DataSet = "pending",
                Column = series.Heading,
                // As the table says, or as the one before was: not as its rows are by now.
                Unit =
                    UnitOf(document, series.Heading) is { Length: > 0 } unit ? unit
                    : known.TableUnit.Length > 0 ? known.TableUnit
                    : known.Unit,
                TableUnit = "",
            };
        var named = document.SymbolParts.FirstOrDefault(part =>
            part is not Definition { } && (Same(part.Symbol) || Same(part.Label)) || part is Definition && Same(part.Symbol)
        );
        var flow = document.Moving.FirstOrDefault();
        var member = MemberColumn.Of(document, series.Heading);
        bool IsWhole(double number, int row) =>
            double.IsNaN(number)
                ? series.Value >= table.Rows[row].Length
                    || table.Numbers.ReadLimit(table.Rows[row][series.Value]) is not { } limit
                    || IsWhole(limit, row)
                : number == Math.Floor(number) && number >= 0;
        var whole = table.NumbersOf(series.Value, table.Numbers).Index().All(one => IsWhole(one.Item, one.Index));
        // A heading that is a unit stays as it is.
        var label = document.UnitTable().ReadAlone(series.Heading).Unit is null
            ? char.ToUpperInvariant(series.Heading[0]) + series.Heading[1..]
            : series.Heading;
        if (label.Length > TieSeries.LongestLabel)
            label = label[..TieSeries.LongestLabel];
        var standing = named is not null || flow is null || !whole || series.OutOf is not null || series.Below is not null;
        var seen = named?.Symbol ?? document.Compartments.FirstOrDefault()?.Symbol ?? "";
        // So many out of a number are a share, and so is what they have seen.
        if (series.OutOf is not null && named is null or Compartment && document.DefinitionBySymbol("N") is not null)
            seen += " / N";
        return new(
            "",
            "pending",
            label,
            standing ? "" : (member is null ? null : MemberColumn.Flow(document, member)) ?? flow!.Id,
            !standing && document.DefinitionBySymbol("rho") is not null ? "rho" : "1"
        )
        {
            Seen = standing ? ObservedAs.Standing : ObservedAs.Flowed,
            Formula = standing ? seen : "",
            Unit = UnitOf(document, series.Heading),
            DosesInto = FirstEntry(document),
            Column = series.Heading,
        };
    }

    /// <summary>The unit that a heading says, in brackets, behind a comma, or alone; empty where it says none.</summary>
    private static string UnitOf(StudyDocument document, string heading)
    {
        var open = heading.LastIndexOfAny(['(', '[', ',']);
        var text = (open < 0 ? heading : heading[(open + 1)..]).Trim(' ', ')', ']');
        var table = document.UnitTable();
        // A heading of one word that could be a unit is more often a name.
        return text.Length > 0 && (open >= 0 || text.Contains('/')) && table.ReadAlone(text).Unit is not null ? text : "";
    }

    /// <summary>Where doses go as a rule: what the model's own doses go into, else the compartment that no flow enters, else the
    /// first.</summary>
    private static string FirstEntry(StudyDocument document) =>
        (
            document
                .Events.Select(rule =>
                    EventLine.Read(rule.Text).Line is { Dose: not null } line
                        ? document.CompartmentBySymbol(line.Actions[0].Target.Name)
                        : null
                )
                .FirstOrDefault(part => part is not null)
            ?? document.Compartments.FirstOrDefault(part => document.Flows.All(flow => flow.To.All(end => end.Id != part.Id)))
            ?? document.Compartments.FirstOrDefault()
        )?.Id
        ?? "";
}
