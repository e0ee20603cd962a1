using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

/// <summary>A compartment put on the paper at a place, with a name typed there: a symbol, or a label that gives one.</summary>
/// <param name="Name">A symbol, or a label that gives one.</param>
/// <param name="X">Left edge, in paper units.</param>
/// <param name="Y">Upper edge, in paper units.</param>
public sealed record AddPlate(string Name, double X, double Y) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (!double.IsFinite(X) || !double.IsFinite(Y))
            return EditResult.Refused("A place on the paper is two numbers.");
        var name = Symbols.Normalize(Name);
        if (name.Length == 0)
            return EditResult.Refused("A compartment needs a name, as in S or Susceptible.");
        // One word of a few signs is a symbol as it stands; longer names give one from their first letters.
        var isSymbol = Symbols.Refusal(name) is null && name.Length <= 3;
        var symbol = isSymbol ? name : Symbols.Suggest(name, document.SymbolParts.Select(part => part.Symbol));
        if (symbol is null)
            return EditResult.Refused(Symbols.Refusal(name)!);
        if (document.PartBySymbol(symbol) is { } taken)
            return EditResult.Refused($"{symbol} is already {PartKinds.Noun(taken)} here. Choose another name.");
        if (document.Parts.Count() >= AddLines.MostParts)
            return EditResult.Refused($"A study holds at most {AddLines.MostParts:N0} parts.");
        var made = new Compartment(
            $"c{document.NextId}",
            symbol,
            isSymbol ? symbol : Name.Trim(),
            "0",
            MoveOnPaper.Within(X),
            MoveOnPaper.Within(Y)
        );
        return document with { NextId = document.NextId + 1, Compartments = document.Compartments.Add(made) };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"added {Name.Trim()}";
}

/// <summary>A flow drawn between two plates, or a plate and empty paper; its rate is still to be given.</summary>
/// <param name="From">Id of the compartment it leaves, or null for the outside.</param>
/// <param name="To">Id of the compartment it leads to, or null for the outside.</param>
/// <param name="Open">Where an open end was drawn, from the corner of the plate at the other end.</param>
public sealed record DrawFlow(string? From, string? To, Offset? Open = null) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if ((From is not null && document.Compartment(From) is null) || (To is not null && document.Compartment(To) is null))
            return EditResult.Refused("A plate at one end of this flow is no longer in the study.");
        if (document.Parts.Count() >= AddLines.MostParts)
            return EditResult.Refused($"A study holds at most {AddLines.MostParts:N0} parts.");
        var flow = new Flow($"f{document.NextId}", "", From, [new(To)], From is null ? RateKind.Whole : RateKind.PerHead, "")
        {
            Open = From is null || To is null ? Paper.Checked(Open) : null,
        };
        return FlowEnds.Checked(document with { NextId = document.NextId + 1, Flows = document.Flows.Add(flow) }, flow);
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        $"drew {before.Compartment(From)?.Symbol ?? "outside"} → {before.Compartment(To)?.Symbol ?? "outside"}";
}

/// <summary>How one ribbon of a flow is drawn: bent, its caption moved or sized, its open end placed. Null puts back what the program
/// chooses.</summary>
/// <param name="PartId">Id of the flow.</param>
/// <param name="Leg">Which ribbon of a flow with several ends, from 0.</param>
/// <param name="Shape">What is said of it.</param>
/// <param name="Place">Where it goes, or null for where the program puts it.</param>
/// <param name="Size">Of the caption's type, in paper units; 0 for the usual one.</param>
public sealed record ShapeRibbon(string PartId, int Leg, RibbonShape Shape, Offset? Place, int Size = 0) : Edit
{
    /// <summary>The smallest type of a caption, in paper units.</summary>
    public const int SmallestType = 9;

    /// <summary>The largest type of a caption, in paper units.</summary>
    public const int LargestType = 40;

    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (document.Flow(PartId) is not { } flow || Leg < 0 || Leg >= flow.To.Length)
            return EditResult.Refused("This ribbon is no longer in the study.");
        if (Shape == RibbonShape.Size && Size is not 0 and (< SmallestType or > LargestType))
            return EditResult.Refused($"The type of a caption is from {SmallestType} to {LargestType} high, or 0 for the usual size.");
        var place = Paper.Checked(Place);
        var end = flow.To[Leg];
        return document.With(
            Shape switch
            {
                RibbonShape.Open => flow with { Open = place },
                RibbonShape.Bend => flow with { To = flow.To.SetItem(Leg, end with { Bend = place }) },
                RibbonShape.Caption => flow with { To = flow.To.SetItem(Leg, end with { Caption = place }) },
                _ => flow with { To = flow.To.SetItem(Leg, end with { CaptionSize = Size }) },
            }
        );
    }

    /// <inheritdoc/>
    public override string Topic => $"{PartId} {Leg} {Shape}";

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        before.Flow(PartId) is not { } flow
            ? "ribbon shaped"
            : before.Describe(flow)
                + Shape switch
                {
                    RibbonShape.Open => ": open end moved",
                    RibbonShape.Bend => Place is null ? ": ribbon straightened" : ": ribbon bent",
                    RibbonShape.Caption => Place is null ? ": caption free again" : ": caption moved",
                    _ => ": size of the caption",
                };
}

/// <summary>What of a ribbon has been moved by hand.</summary>
public enum RibbonShape
{
    /// <summary>How far its middle is bent.</summary>
    Bend,

    /// <summary>Where its caption stands.</summary>
    Caption,

    /// <summary>The type size of its caption.</summary>
    Size,

    /// <summary>Where its open end lies.</summary>
    Open,
}

internal static class Paper
{
    /// <summary>An offset within the paper's reach; null for none, or for one that is no two numbers.</summary>
    internal static Offset? Checked(Offset? offset) =>
        offset is null || !double.IsFinite(offset.X) || !double.IsFinite(offset.Y)
            ? null
            : new(MoveOnPaper.Within(offset.X), MoveOnPaper.Within(offset.Y));
}
