using System.Collections.Immutable;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Model;

/// <summary>What a panel of Explore shows.</summary>
public enum PanelKind
{
    Curves,
    Observed,
    Budget,
    Phase,
    Sweep,
    Sensitivity,
    Table,
    Outcomes,
    Checks,
}

/// <summary>How the curves of a panel stand to each other.</summary>
public enum PanelShape
{
    Lines,
    Stacked,
    Shares,
    Sum,
}

/// <summary>How a panel looks for what matters.</summary>
public enum SensitivityMethod
{
    Tornado,
    Sobol,
    Ranks,
}

/// <summary>A panel of Explore, kept with the study. Fields that its kind does not use stay at rest.</summary>
public sealed record Panel(string Id, PanelKind Kind) : Stored
{
    public const int Most = 24;

    /// <summary>Its title as typed; empty for the one that it gives itself.</summary>
    public string Title { get; init; } = "";

    /// <summary>Whether it takes the whole width.</summary>
    public bool Wide { get; init; }

    /// <summary>How high its picture is, in pixels; 0 for the usual height.</summary>
    public int Height { get; init; }

    public const int LeastHeight = 140,
        MostHeight = 1200;

    /// <summary>Whether data on the model are left out below its curves.</summary>
    public bool WithoutData { get; init; }

    /// <summary>Whether the family of a sweep is shown as bands.</summary>
    public bool Bands { get; init; }

    /// <summary>Ids of the curves shown; empty for all compartments.</summary>
    public ImmutableArray<string> Curves { get; init; } = [];

    /// <summary>Ids of those of them that stand on the second axis.</summary>
    public ImmutableArray<string> Second { get; init; } = [];

    /// <summary>Formulas over results, one a line as typed.</summary>
    public string Formulas { get; init; } = "";

    public bool Log { get; init; }

    public PanelShape Shape { get; init; }

    /// <summary>The least and greatest value shown, as typed; empty for what the curves need.</summary>
    public string Minimum { get; init; } = "";

    public string Maximum { get; init; } = "";

    /// <summary>Id of the part it is about: a budget's compartment, the level axis of a phase plane, the curve of an outcome.</summary>
    public string Of { get; init; } = "";

    /// <summary>Id of the upright axis of a phase plane.</summary>
    public string Against { get; init; } = "";

    /// <summary>Starts in a phase plane, as typed: two numbers each, separated by commas or lines.</summary>
    public string Starts { get; init; } = "";

    /// <summary>Address of the value that a sweep or a phase plane varies.</summary>
    public ValueAddress Address { get; init; } = ValueAddress.None;

    public Spacing Spacing { get; init; }

    public string From { get; init; } = "";

    public string To { get; init; } = "";

    public string Count { get; init; } = "21";

    public string List { get; init; } = "";

    /// <summary>Address of the second value that a sweep varies; empty for none.</summary>
    public ValueAddress SecondAddress { get; init; } = ValueAddress.None;

    public string SecondFrom { get; init; } = "";

    public string SecondTo { get; init; } = "";

    public string SecondCount { get; init; } = "15";

    public OutcomeKind Outcome { get; init; }

    public string Level { get; init; } = "";

    public SensitivityMethod Method { get; init; }

    /// <summary>By how many percent values without bounds are changed.</summary>
    public string Spread { get; init; } = "20";

    public string Runs { get; init; } = "8192";

    /// <summary>Spacing of a table's rows, as typed; empty for that of the curves.</summary>
    public string Every { get; init; } = "";

    public string Digits { get; init; } = "6";

    /// <summary>What Explore begins with where nobody has made panels.</summary>
    public static ImmutableArray<Panel> Usual(StudyDocument document) =>
        document.Compartments.IsEmpty
            ? []
            :
            [
                new("x1", PanelKind.Curves) { Wide = true },
                new("x2", PanelKind.Budget) { Of = Passing(document) },
                new("x3", PanelKind.Outcomes),
            ];

    /// <summary>The compartment that most can be asked of: the last one that is both entered and left, else the first.</summary>
    internal static string Passing(StudyDocument document) =>
        (
            document.Compartments.LastOrDefault(part =>
                document.Flows.Any(flow => flow.From == part.Id && flow.To.Any(target => target.Id is not null))
                && document.Flows.Any(flow => flow.To.Any(target => target.Id == part.Id))
            ) ?? document.Compartments.FirstOrDefault()
        )?.Id
        ?? "";
}

/// <summary>A slider of Explore: the value it moves and between which ends.</summary>
public sealed record Slider(ValueAddress Address, double Low, double High) : Stored
{
    public const int Most = 16;

    /// <summary>Whether equal ways are equal ratios.</summary>
    public bool Log { get; init; }

    /// <summary>By how much it goes at least; 0 for as fine as the hand does.</summary>
    public double Step { get; init; }
}
