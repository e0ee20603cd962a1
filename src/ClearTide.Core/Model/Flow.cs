using System.Collections.Immutable;
using System.Text.Json.Serialization;
using ClearTide.Core.Language;

namespace ClearTide.Core.Model;

/// <summary>In which of the three ways a flow's rate is given.</summary>
public enum RateKind
{
    /// <summary>The formula is the amount per unit of time.</summary>
    Whole,

    /// <summary>The formula is a rate per unit of the from-compartment.</summary>
    PerHead,

    /// <summary>The formula is the mean stay in the from-compartment.</summary>
    MeanStay,
}

/// <summary>One end that a flow leads to.</summary>
/// <param name="Id">Id of the compartment, or null for the outside.</param>
/// <param name="Share">The share of the flow that goes there, as typed; empty for what the others leave.</param>
public sealed record Target(string? Id, string Share = "")
{
    /// <summary>The members of a split compartment that it leads to, as <c>child</c>; empty for those that it comes from.</summary>
    public string Member { get; init; } = "";

    /// <summary>How far the middle of its ribbon is bent from its natural course; null where it is not.</summary>
    public Offset? Bend { get; init; }

    /// <summary>How far its caption stands from the middle of the ribbon; null where the program chooses.</summary>
    public Offset? Caption { get; init; }

    /// <summary>Type size of its caption in paper units, or 0 for the usual one.</summary>
    public int CaptionSize { get; init; }

    /// <summary>Where it leads and in what share, and nothing of how it is drawn.</summary>
    internal bool LeadsAs(Target other) => (Id, Share, Member) == (other.Id, other.Share, other.Member);
}

/// <summary>What moves per unit of time from one compartment to others; null is the outside.</summary>
/// <param name="Id">Stays with it for good; never shown.</param>
/// <param name="Label">What people call it; may be empty.</param>
/// <param name="From">Id of the compartment it leaves, or null.</param>
/// <param name="To">Where it leads, at least one end; with several the flow fans out.</param>
/// <param name="Kind">How the rate is given.</param>
/// <param name="Rate">The rate's line as typed.</param>
/// <param name="Note">What somebody wrote about it; may be empty.</param>
public sealed record Flow(string Id, string Label, string? From, ImmutableArray<Target> To, RateKind Kind, string Rate, string Note = "")
    : Stored,
        IPart
{
    /// <summary>Stages of one flow at most.</summary>
    public const int MostStages = 100;

    /// <summary>Ends that one flow leads to at most.</summary>
    public const int MostTargets = 20;

    /// <inheritdoc/>
    public string Name => Label;

    /// <summary>The first end it leads to, or null for the outside.</summary>
    public string? Target => To[0].Id;

    /// <summary>Whether it leads to several ends.</summary>
    public bool FansOut => To.Length > 1;

    /// <summary>Stages in which the stay before this exit is passed; 1 is an exponential stay.</summary>
    public int Stages { get; init; } = 1;

    /// <summary>Whether the initial amount is spread evenly over the stages instead of entering the first.</summary>
    public bool SpreadStart { get; init; }

    /// <summary>Whether the flow is one-way and takes no more from an empty compartment than flows in.</summary>
    public bool Limited { get; init; }

    /// <summary>How much its rate varies by chance from moment to moment, as a number typed: the noise that it is multiplied by adds up
    /// over a time t to a mean of t and a variance of the square of this times t. Empty for none. Only runs by chance in steps have
    /// it.</summary>
    public string Noise { get; init; } = "";

    /// <summary>What is typed for noise, in its number; 0 for none.</summary>
    [JsonIgnore]
    public double NoiseIntensity => TypedNumber.Read(Noise) is > 0 and var number ? number : 0;

    /// <summary>Where its rate comes from, if it is a plain value.</summary>
    public Origin Origin { get; init; }

    /// <summary>Where its open end lies, from the corner of the plate at its other end; null where the program chooses.</summary>
    public Offset? Open { get; init; }

    /// <summary>The members of a split compartment that it leaves, as <c>old</c>; empty for all of them.</summary>
    public string FromMember { get; init; } = "";

    /// <summary>Whether it starts or ends at this compartment.</summary>
    internal bool Touches(string compartmentId) => From == compartmentId || To.Any(target => target.Id == compartmentId);
}
