using System.Collections.Immutable;
using ClearTide.Core.Groups;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Core.Editing;

/// <summary>Ties series of data to the model. One with the name of an observation that is there takes its place: it is the next version
/// of it.</summary>
/// <param name="Observations">Their ids are given by the edit.</param>
/// <param name="Origin">The date of time zero that the data were read against; a study that has none takes it.</param>
public sealed record TieSeries(ImmutableArray<Observation> Observations, DateOnly? Origin = null) : Edit
{
    /// <summary>Series on one model at most.</summary>
    public const int Most = 40;

    /// <summary>Characters of the name of a series at most.</summary>
    public const int LongestLabel = 80;

    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        var all = document.Observations;
        var next = document.NextId;
        foreach (var one in Observations)
        {
            var tied = one with
            {
                Label = one.Label.Trim(),
                Reporting = one.Reporting.Trim(),
                Formula = one.Formula.Trim(),
                Delay = one.Delay.Trim(),
                Unit = one.Unit.Trim(),
            };
            if (ObservationChecks.Refusal(document, tied) is { } refusal)
                return EditResult.Refused(refusal);
            if (Observations.Count(other => Same(other, tied)) > 1)
                return EditResult.Refused($"Two series are called “{tied.Label}”. Give each a name of its own.");
            tied = tied with { Id = "o" + next++ };
            var place = all.ToList().FindIndex(other => Same(other, tied));
            all = place < 0 ? all.Add(tied) : all.SetItem(place, tied);
        }
        return all.Length > Most
            ? EditResult.Refused($"A model carries up to {Most} series. Take some off first.")
            : document with
            {
                Observations = all,
                NextId = next,
                Origin = document.Origin ?? Origin,
            };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"data: {string.Join(", ", Observations.Select(one => one.Label.Trim()))}";

    private static bool Same(Observation one, Observation other) =>
        string.Equals(one.Label.Trim(), other.Label.Trim(), StringComparison.OrdinalIgnoreCase);
}

/// <summary>Takes a series off the model; the data themselves are kept.</summary>
/// <param name="ObservationId">Id of the observation.</param>
public sealed record RemoveSeries(string ObservationId) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document) =>
        document.Observations.Any(one => one.Id == ObservationId)
            ? document with
            {
                Observations = document.Observations.RemoveAll(one => one.Id == ObservationId),
            }
            : EditResult.Refused("These data are no longer on the model.");

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        $"{before.Observations.FirstOrDefault(one => one.Id == ObservationId)?.Label ?? "data"} taken off the model";
}

/// <summary>How a series on the model is seen, or another version of its data.</summary>
/// <param name="Observation">As it is to be; its id says which one.</param>
/// <param name="What">What changed, in words.</param>
public sealed record ChangeSeries(Observation Observation, string What) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        var place = document.Observations.ToList().FindIndex(one => one.Id == Observation.Id);
        if (place < 0)
            return EditResult.Refused("These data are no longer on the model.");
        return ObservationChecks.Refusal(document, Observation) is { } refusal
            ? EditResult.Refused(refusal)
            : document with
            {
                Observations = document.Observations.SetItem(place, Observation),
            };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"{Observation.Label}: {What}";
}

/// <summary>What is wrong with how a series is tied to a model.</summary>
internal static class ObservationChecks
{
    /// <returns>A sentence that says what to do; null where nothing is wrong.</returns>
    public static string? Refusal(StudyDocument document, Observation one)
    {
        if (one.Label.Trim().Length is 0 or > TieSeries.LongestLabel)
            return $"Say in up to {TieSeries.LongestLabel} characters what was counted or measured, as in “Reported cases”.";
        if (
            !one.Seen.HasFormula()
            && one.OtherFlows.Prepend(one.FlowId).Any(id => WrittenOut.Of(document).Moving.All(part => part.Id != id))
        )
            return "Choose the flow that was counted.";
        if (one.Seen.HasFormula() && Seen(document, one) is { } seen)
            return seen;
        if (Formula.Read(one.Reporting).Problem is { } problem)
            return $"The reporting fraction cannot be read. {problem.Message}";
        if (Missing(document, one.Reporting) is { } name)
            return $"The reporting fraction uses {name}, which the model does not have. Type a number, or the symbol of a value.";
        if (one.Note.Length > Observation.LongestNote)
            return $"A note has up to {Observation.LongestNote} characters; this one has {one.Note.Length}.";
        if (one.Colour is < 0 or > 10)
            return "There are ten colours: choose one of them, or none.";
        if (one.Spread is { } spread && Spread(document, one, spread) is { } wide)
            return wide;
        if (one.IsTimed && Timed(document, one) is { } timed)
            return timed;
        if (one.Unit.Length > 0 && document.UnitTable().ReadAlone(one.Unit).Problem is { } unit)
            return $"The unit of {one.Label} cannot be read. {unit.Message}";
        if (one.DosesInto.Length > 0 && document.Compartment(one.DosesInto) is null)
            return $"The doses of {one.Label} go into a compartment that the model does not have. Choose another one.";
        return null;
    }

    /// <summary>The first name in a line that is no value of the model; null where there is none.</summary>
    private static string? Missing(StudyDocument document, string line) =>
        Formula
            .Read(line)
            .Tree?.Names()
            .Select(name => name.Name)
            .FirstOrDefault(name => WrittenOut.Of(document).Document.DefinitionBySymbol(name) is null);

    /// <summary>What is wrong with a spread that is known.</summary>
    private static string? Spread(StudyDocument document, Observation one, double spread) =>
        one.LawIn(document.Fit) switch
        {
            ErrorLaw.Poisson or ErrorLaw.Binomial =>
                $"The law of {one.Label} has no spread of its own to be known. Empty the known spread, or " + "choose another law.",
            ErrorLaw.AdditiveProportional =>
                $"The law of {one.Label} has two spreads, which are estimated together. Empty the known spread, or "
                    + "choose another law.",
            _ when spread > 0 && double.IsFinite(spread) => null,
            _ => "A known spread is a number above zero. Empty the field where the spread is to be estimated.",
        };

    /// <summary>What is wrong with weekdays and delays.</summary>
    private static string? Timed(StudyDocument document, Observation one)
    {
        if (one.Seen != ObservedAs.Flowed)
            return $"Only what flowed comes in late or by weekdays, and {one.Label} has seen a formula. Empty these fields.";
        if (one.Weekdays.Length > 0 && Weekdays.Refusal(document) is { } refusal)
            return refusal;
        if (one.Weekdays.Length is not (0 or 7))
            return "A week has seven days: say of each, or of none, how much of it comes in.";
        for (var day = 0; day < one.Weekdays.Length; day++)
        {
            if (Formula.Read(one.Weekdays[day]).Problem is { } problem)
                return $"{Weekdays.Names[day]} cannot be read. {problem.Message}";
            if (Missing(document, one.Weekdays[day]) is { } name)
                return $"{Weekdays.Names[day]} uses {name}, which the model does not have. Type a number, or the symbol of a value.";
            if (
                Formula.Read(one.Weekdays[day]) is { HasNames: false, Tree: { } tree }
                && !(FormulaBinder.ValueOf(tree, document.UnitTable()) >= 0)
            )
                return $"{Weekdays.Names[day]} is a number from zero on.";
        }
        if (one.Delay.Length == 0)
            return null;
        if (Formula.Read(one.Delay).Problem is { } wrong)
            return $"The delay cannot be read. {wrong.Message}";
        if (Missing(document, one.Delay) is { } missing)
            return $"The delay uses {missing}, which the model does not have. Type a number, or the symbol of a value.";
        if (Formula.Read(one.Delay) is { HasNames: false, Tree: { } delay } && !(FormulaBinder.ValueOf(delay, document.UnitTable()) > 0))
            return "A delay is a time above zero. Empty the field where there is none.";
        return one.DelayStages is >= 1 and <= Observation.MostStages
            ? null
            : $"A delay goes through 1 to {Observation.MostStages} stages; {one.DelayStages} were asked for.";
    }

    private static string? Seen(StudyDocument document, Observation one)
    {
        if (one.Formula.Trim().Length == 0)
            return $"Say what of the model {one.Label} has seen: the symbol of a compartment, or a formula like central / V.";
        var read = Formula.Read(one.Formula);
        if (read.Problem is { } problem)
            return $"What {one.Label} has seen cannot be read. {problem.Message}";
        var written = WrittenOut.Of(document);
        foreach (var name in written.Spell(read.Tree!).Names())
        {
            if (
                name.Name != "t"
                && written.Document.SymbolParts.All(part => Symbols.Normalize(part.Symbol) != Symbols.Normalize(name.Name))
            )
                return $"{one.Label} has seen {name.Name}, which the model does not have. Use symbols of the model.";
        }
        return null;
    }
}
