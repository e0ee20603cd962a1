using System.Collections.Immutable;
using ClearTide.Core.Language;

namespace ClearTide.Core.Model;

/// <summary>What a panel of Explore shows.</summary>
public enum PanelKind
{
    /// <summary>Curves over time.</summary>
    Curves,

    /// <summary>What was observed, and what the model expects.</summary>
    Observed,

    /// <summary>What enters and leaves a compartment.</summary>
    Budget,

    /// <summary>Two curves against each other.</summary>
    Phase,

    /// <summary>An outcome over one value, or two.</summary>
    Sweep,

    /// <summary>What an outcome depends on.</summary>
    Sensitivity,

    /// <summary>Numbers.</summary>
    Table,

    /// <summary>Outcomes in words.</summary>
    Outcomes,

    /// <summary>The step of calculation and the expectations.</summary>
    Checks,

    /// <summary>An outcome over many runs by chance.</summary>
    Chance,
}

/// <summary>How the curves of a panel stand to each other.</summary>
public enum PanelShape
{
    /// <summary>Each from zero.</summary>
    Lines,

    /// <summary>One upon the other.</summary>
    Stacked,

    /// <summary>As shares of their sum.</summary>
    Shares,

    /// <summary>As one curve, their sum.</summary>
    Sum,
}

/// <summary>How a panel looks for what matters.</summary>
public enum SensitivityMethod
{
    /// <summary>One value at a time, from one end of its range to the other.</summary>
    Tornado,

    /// <summary>Shares of the variance, first order and total.</summary>
    Sobol,

    /// <summary>Partial rank correlation over a Latin hypercube.</summary>
    Ranks,
}

/// <summary>A panel of Explore, kept with the study. Fields that its kind does not use stay at rest.</summary>
/// <param name="Id">Names it within its study, never changed.</param>
/// <param name="Kind">What it shows.</param>
public sealed record Panel(string Id, PanelKind Kind) : Stored
{
    /// <summary>Panels of one study at most.</summary>
    public const int Most = 24;

    /// <summary>Its title as typed; empty for the one that it gives itself.</summary>
    public string Title { get; init; } = "";

    /// <summary>Whether it takes the whole width.</summary>
    public bool Wide { get; init; }

    /// <summary>How high its picture is, in pixels; 0 for the usual height.</summary>
    public int Height { get; init; }

    /// <summary>The least and greatest height of a picture, in pixels.</summary>
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

    /// <summary>Whether the upright axis is logarithmic.</summary>
    public bool Log { get; init; }

    /// <summary>How its curves stand to each other.</summary>
    public PanelShape Shape { get; init; }

    /// <summary>The least and greatest value shown, as typed; empty for what the curves need.</summary>
    public string Minimum { get; init; } = "";

    /// <summary>The greatest value shown, as typed; empty for what the curves need.</summary>
    public string Maximum { get; init; } = "";

    /// <summary>Id of the part it is about: a budget's compartment, the level axis of a phase plane, the curve of an outcome.</summary>
    public string Of { get; init; } = "";

    /// <summary>Id of the upright axis of a phase plane.</summary>
    public string Against { get; init; } = "";

    /// <summary>Starts in a phase plane, as typed: two numbers each, separated by commas or lines.</summary>
    public string Starts { get; init; } = "";

    /// <summary>Address of the value that a sweep or a phase plane varies.</summary>
    public ValueAddress Address { get; init; } = ValueAddress.None;

    /// <summary>How the values of a sweep are spaced.</summary>
    public Spacing Spacing { get; init; }

    /// <summary>Where the values of a sweep begin, as typed.</summary>
    public string From { get; init; } = "";

    /// <summary>Where the values of a sweep end, as typed.</summary>
    public string To { get; init; } = "";

    /// <summary>How many values a sweep takes, as typed.</summary>
    public string Count { get; init; } = "21";

    /// <summary>The values of a sweep themselves, as typed.</summary>
    public string List { get; init; } = "";

    /// <summary>Address of the second value that a sweep varies; empty for none.</summary>
    public ValueAddress SecondAddress { get; init; } = ValueAddress.None;

    /// <summary>Where the second value begins, as typed.</summary>
    public string SecondFrom { get; init; } = "";

    /// <summary>Where the second value ends, as typed.</summary>
    public string SecondTo { get; init; } = "";

    /// <summary>How many values the second one takes, as typed.</summary>
    public string SecondCount { get; init; } = "15";

    /// <summary>Which outcome a sweep or a sensitivity asks for.</summary>
    public OutcomeKind Outcome { get; init; }

    /// <summary>The level of an outcome, as typed.</summary>
    public string Level { get; init; } = "";

    /// <summary>A formula over each run by chance, as typed, in place of one outcome of one curve; empty for none.</summary>
    public string Statement { get; init; } = "";

    /// <summary>What an outcome by chance is held against, as typed; empty for nothing.</summary>
    public string Limit { get; init; } = "";

    /// <summary>How a sensitivity is found.</summary>
    public SensitivityMethod Method { get; init; }

    /// <summary>By how many percent values without bounds are changed.</summary>
    public string Spread { get; init; } = "20";

    /// <summary>How many runs a sensitivity takes, as typed.</summary>
    public string Runs { get; init; } = "8192";

    /// <summary>Spacing of a table's rows, as typed; empty for that of the curves.</summary>
    public string Every { get; init; } = "";

    /// <summary>Digits of a table, as typed.</summary>
    public string Digits { get; init; } = "6";

    /// <summary>What Explore begins with where nobody has made panels.</summary>
    /// <param name="document">The study; not changed.</param>
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
/// <param name="Address">The value that it moves.</param>
/// <param name="Low">Its lower end, in the unit of the study.</param>
/// <param name="High">Its upper end, above the lower.</param>
public sealed record Slider(ValueAddress Address, double Low, double High) : Stored
{
    /// <summary>Sliders of one study at most.</summary>
    public const int Most = 16;

    /// <summary>Whether equal ways are equal ratios.</summary>
    public bool Log { get; init; }

    /// <summary>By how much it goes at least; 0 for as fine as the hand does.</summary>
    public double Step { get; init; }
}
