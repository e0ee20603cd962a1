using System.Collections.Immutable;
using ClearTide.Core.Editing;
using ClearTide.Core.Groups;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Core.Conversion;

/// <summary>Parts taken out of a study to be put into another, or into the same one again.</summary>
/// <param name="Parts">The parts, in the order of the ledger.</param>
/// <param name="Units">The units they were typed with, where the study had added any.</param>
public sealed record PartSelection(StudyDocument Parts, ImmutableArray<UnitRule> Units)
{
    /// <summary>The chosen parts with the flows that run between chosen compartments, or between them and the outside.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="ids">Ids of the chosen parts.</param>
    public static PartSelection Of(StudyDocument document, IReadOnlyCollection<string> ids)
    {
        var chosen = ids.ToHashSet();
        bool Inner(Flow flow) =>
            (flow.From is null || chosen.Contains(flow.From)) && flow.To.All(target => target.Id is null || chosen.Contains(target.Id));
        var parts = new StudyDocument
        {
            Title = document.Title,
            TimeUnit = document.TimeUnit,
            Compartments = document.Compartments.RemoveAll(part => !chosen.Contains(part.Id)),
            Flows = document.Flows.RemoveAll(flow => !Inner(flow)),
            Reactions = document.Reactions.RemoveAll(part => !chosen.Contains(part.Id)),
            Definitions = document.Definitions.RemoveAll(part => !chosen.Contains(part.Id)),
            Inputs = document.Inputs.RemoveAll(part => !chosen.Contains(part.Id)),
            Curves = document.Curves.RemoveAll(part => !chosen.Contains(part.Id)),
            RandomInputs = document.RandomInputs.RemoveAll(part => !chosen.Contains(part.Id)),
            Events = document.Events.RemoveAll(part => !chosen.Contains(part.Id)),
            Assumptions = document.Assumptions.RemoveAll(part => !chosen.Contains(part.Id)),
            Expectations = document.Expectations.RemoveAll(part => !chosen.Contains(part.Id)),
        };
        // What is split comes with what it is split by.
        var splits = document.Splits.RemoveAll(split => parts.Part(split.PartId) is null);
        parts = parts with
        {
            Splits = splits,
            Groups = document.Groups.RemoveAll(group => !splits.Any(split => split.Groups.Contains(group.Id))),
        };
        return new(parts, document.Units);
    }

    /// <summary>All parts of a study, with its times counted in another unit.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="unit">The unit that its times are counted in from here on.</param>
    public static PartSelection Whole(StudyDocument document, TimeUnit unit)
    {
        var counted =
            document.TimeUnit == unit ? document : new SetTimeUnit(unit, Convert: true, null).Apply(document).Document ?? document;
        return Of(counted, [.. counted.Parts.Select(part => part.Id)]);
    }
}

/// <summary>
/// Puts copies of parts into a study. Symbols that are taken get a number behind them, and the copies' formulas follow; names that are not
/// among the copies mean the parts of the study they come into.
/// </summary>
/// <param name="Selection">What is copied.</param>
/// <param name="ShiftX">How far the copied plates stand from where the originals stood.</param>
/// <param name="ShiftY">How far down they stand from there, in paper units.</param>
public sealed record AddCopies(PartSelection Selection, double ShiftX = 0, double ShiftY = 160) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        var copies = Selection.Parts;
        if (!copies.Parts.Any())
            return EditResult.Refused("Nothing is selected that could be copied. Choose compartments or other parts first.");
        if (document.Parts.Count() + copies.Parts.Count() > AddLines.MostParts)
            return EditResult.Refused($"A study holds at most {AddLines.MostParts:N0} parts.");
        if (copies.Flows.Any(flow => flow.To.IsEmpty || copies.Parts.Count(part => part.Id == flow.Id) > 1))
            return EditResult.Refused("The copied parts are damaged. Copy them again.");
        copies = GroupCopies.Named(document, Renamed(document, copies));
        var next = document.NextId;
        var ids = copies.Parts.Where(part => part is not Group).ToDictionary(part => part.Id, part => part.Id[..1] + next++);
        string? Id(string? id) => id is null ? null : ids.GetValueOrDefault(id);
        var shift = FreeShift(document, copies);
        var (groups, splits) = GroupCopies.Of(document, copies, ids, ref next);
        var made = document with
        {
            NextId = next,
            Groups = groups,
            Splits = splits,
            Units = [.. document.Units, .. Selection.Units.Where(rule => document.Units.All(known => known.Word != rule.Word))],
            Compartments = document.Compartments.AddRange(
                copies.Compartments.Select(part => part with { Id = ids[part.Id], X = part.X + shift.X, Y = part.Y + shift.Y })
            ),
            Flows = document.Flows.AddRange(
                copies.Flows.Select(part =>
                    part with
                    {
                        Id = ids[part.Id],
                        From = Id(part.From),
                        To = [.. part.To.Select(target => target with { Id = Id(target.Id) })],
                    }
                )
            ),
            Reactions = document.Reactions.AddRange(copies.Reactions.Select(part => part with { Id = ids[part.Id] })),
            Definitions = document.Definitions.AddRange(copies.Definitions.Select(part => part with { Id = ids[part.Id] })),
            Inputs = document.Inputs.AddRange(copies.Inputs.Select(part => part with { Id = ids[part.Id] })),
            Curves = document.Curves.AddRange(copies.Curves.Select(part => part with { Id = ids[part.Id] })),
            RandomInputs = document.RandomInputs.AddRange(copies.RandomInputs.Select(part => part with { Id = ids[part.Id] })),
            Events = document.Events.AddRange(copies.Events.Select(part => part with { Id = ids[part.Id] })),
            Assumptions = document.Assumptions.AddRange(
                copies.Assumptions.Select(part => part with { Id = ids[part.Id], Parts = [.. part.Parts.Select(Id).OfType<string>()] })
            ),
            Expectations = document.Expectations.AddRange(copies.Expectations.Select(part => part with { Id = ids[part.Id] })),
        };
        return WrittenSize.Refusal(made) is { } large ? EditResult.Refused(large) : made;
    }

    private static StudyDocument Renamed(StudyDocument document, StudyDocument copies)
    {
        var taken = document.SymbolParts.Select(part => part.Symbol).Concat(copies.SymbolParts.Select(part => part.Symbol)).ToHashSet();
        foreach (var symbol in copies.SymbolParts.Select(part => part.Symbol).ToList())
        {
            if (document.PartBySymbol(symbol) is null)
                continue;
            var stem = symbol.TrimEnd('0', '1', '2', '3', '4', '5', '6', '7', '8', '9');
            if (stem.Length == 0 || Symbols.Refusal(stem) is not null)
                stem = symbol + "_";
            var number = 2;
            while (!taken.Add(stem + number))
                number++;
            var part = copies.PartBySymbol(symbol)!;
            copies = new SetField(part.Id, PartField.Symbol, stem + number).Apply(copies).Document!;
        }
        return copies;
    }

    /// <summary>The shift, made longer until no copied plate covers one that is there.</summary>
    private (double X, double Y) FreeShift(StudyDocument document, StudyDocument copies)
    {
        var (x, y) = (ShiftX, ShiftY);
        bool Covers(Compartment copy) =>
            document.Compartments.Any(plate =>
                Math.Abs(plate.X - copy.X - x) < PlatePlacing.Width && Math.Abs(plate.Y - copy.Y - y) < PlatePlacing.Height
            );
        for (var tries = 0; tries < 200 && copies.Compartments.Any(Covers); tries++)
            y += 40;
        return (x, y);
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        "copies of " + string.Join(", ", Selection.Parts.Parts.Where(part => part is not Flow).Take(6).Select(Selection.Parts.Describe));
}
