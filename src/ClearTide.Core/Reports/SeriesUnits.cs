using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Core.Reports;

/// <summary>The unit of a series against that of what it has seen of the model.</summary>
/// <param name="Unit">Of what it has seen; null where the model does not tell it.</param>
/// <param name="Factor">What values are multiplied with to be in that unit; 1 where they are.</param>
/// <param name="Problem">Why both cannot be the same, in a sentence; null where they can.</param>
public sealed record SeriesUnits(Unit? Unit, double Factor, string? Problem)
{
    /// <param name="document">The study.</param>
    /// <param name="observation">Its unit is that of its rows; empty where nobody has said it.</param>
    public static SeriesUnits Of(StudyDocument document, Observation observation)
    {
        var seen = Seen(document, observation);
        if (observation.Unit.Length == 0)
            return new(seen, 1, null);
        var (read, problem) = document.UnitTable().ReadAlone(observation.Unit);
        if (read is not { } rows)
            return new(seen, 1, $"The unit of {observation.Label} cannot be read. {problem!.Message}");
        if (seen is null)
            return new(null, 1, null);
        if (!rows.Unit.HasDimensionOf(seen))
            return new(
                seen,
                1,
                $"{observation.Label} are in {observation.Unit}, and what they have seen is in {Words(seen)}: one cannot be the other. Tie "
                    + "them to something else, or mend a unit."
            );
        var factor = rows.Scale * rows.Unit.Size / seen.Size;
        return new(seen, Math.Abs(factor - 1) < 1e-12 ? 1 : factor, null);
    }

    /// <summary>A unit as a line; of a pure number the word for it.</summary>
    /// <param name="unit">The unit of time that it is said in.</param>
    public static string Words(Unit unit) => unit.IsPure ? "no unit" : unit.Text();

    /// <summary>The unit of what an observation has seen of the model.</summary>
    private static Unit? Seen(StudyDocument document, Observation observation)
    {
        var time = document.UnitTable().TimeMeasure;
        if (!observation.Seen.HasFormula())
            return OfFlow(document, observation.FlowId, time);
        if (Formula.Read(observation.Formula).Tree is not { } tree)
            return null;
        var unit = tree is NameSyntax name ? OfName(document, name.Name) : OfFormula(document, observation.Formula);
        return observation.Seen == ObservedAs.Integral ? unit?.Times(time) : unit;
    }

    /// <summary>What flows is what there is in the compartments at its ends.</summary>
    private static Unit? OfFlow(StudyDocument document, string id, Unit time)
    {
        var units = Lowering.Lower(document).Units;
        var ends = document.Flow(id) is { } flow ? flow.To.Select(end => end.Id).Prepend(flow.From) : [];
        return ends.OfType<string>().Select(end => units.Of(end).Unit).FirstOrDefault(unit => unit is not null)
            ?? units.Of(id).Unit?.Times(time);
    }

    private static Unit? OfName(StudyDocument document, string symbol) =>
        document.PartBySymbol(symbol) is { } part ? Lowering.Lower(document).Units.Of(part.Id).Unit : null;

    /// <summary>As that of a quantity with this formula would be.</summary>
    private static Unit? OfFormula(StudyDocument document, string formula)
    {
        var symbol = "seen";
        while (document.PartBySymbol(symbol) is not null)
            symbol += "_";
        return new AddLines($"{symbol} = {formula}").Apply(document).Document is { } with ? OfName(with, symbol) : null;
    }
}
