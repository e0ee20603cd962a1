using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Units;
using ClearTide.Web.Curves;
using ClearTide.Web.Studies;

namespace ClearTide.Web.Ledger;

/// <summary>Which view of the ledger is shown.</summary>
public enum LedgerView
{
    Parts,
    Equations,
    Units,
    Run,
}

/// <summary>What the open line of the ledger is edited with.</summary>
public sealed record LineFormModel(StudyRun Run, LedgerLine Line)
{
    public StudyDocument Document => Run.Lowered.Study;

    public string Id => Line.Id;

    /// <summary>The unit that is inferred where none is typed, for the empty unit field.</summary>
    public string? InferredUnit => Line is { UnitIsInferred: true, Unit.Length: > 0 } ? $"{Line.Unit} (inferred)" : null;

    /// <summary>Where a value comes from, in words.</summary>
    public static readonly IReadOnlyList<(string, string)> Origins =
    [
        ("Guess", "a guess"),
        ("Source", "from a source"),
        ("Measured", "measured"),
        ("Fitted", "fitted"),
    ];

    public static readonly IReadOnlyList<(string, string)> Betweens = [("Line", "straight lines"), ("Step", "steps"), ("Smooth", "smooth")];

    public static readonly IReadOnlyList<(string, string)> Beyonds =
    [
        ("Hold", "hold the value"),
        ("Trend", "continue the trend"),
        ("Repeat", "repeat"),
        ("Zero", "zero"),
    ];

    public static readonly IReadOnlyList<(string, string)> Laws =
    [
        ("Points", "points"),
        ("Linear", "linear"),
        ("Exponential", "exponential"),
        ("Hill", "Hill"),
        ("Logistic", "logistic"),
    ];

    /// <summary>The ways of giving a flow's rate, with the words that stand before it where it is typed.</summary>
    public static readonly IReadOnlyList<(string, string)> Kinds =
    [
        ("PerHead", "at, per head"),
        ("MeanStay", "after a stay"),
        ("Whole", "whole flow"),
    ];

    /// <summary>Colours of the palette by number.</summary>
    public static readonly IReadOnlyList<(string, string)> Colours =
    [
        ("0", "by place"),
        .. Enumerable
            .Range(1, Palette.Colours)
            .Select(number => (number.ToString(System.Globalization.CultureInfo.InvariantCulture), $"colour {number}")),
    ];

    /// <summary>The compartments a flow's end can be, and the outside.</summary>
    public IReadOnlyList<(string, string)> Ends =>
        [.. Document.Compartments.Select(part => (part.Symbol, part.Symbol)), ("outside", "outside")];

    public string EndName(string? id) => Document.Compartment(id)?.Symbol ?? "outside";
}
