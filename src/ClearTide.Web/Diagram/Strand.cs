using ClearTide.Core.Model;

namespace ClearTide.Web.Diagram;

/// <summary>One flow of those that a ribbon stands for.</summary>
/// <param name="Leg">Which of the flow's ends it leads to.</param>
/// <param name="Share">The share of the flow that goes there, where it is a plain number; else 1.</param>
public sealed record Strand(Flow Flow, int Leg, double Share);
