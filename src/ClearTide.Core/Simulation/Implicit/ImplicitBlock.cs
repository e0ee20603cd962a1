namespace ClearTide.Core.Simulation;

/// <summary>
/// Equations 0 = g(t, y, p, u) that determine as many numbers u at every time, as the algebraic part of a differential-algebraic system
/// of index 1
/// (Hairer and Wanner, Solving Ordinary Differential Equations II, 2nd rev. ed., VI.1). A run keeps u in parameters and solves for it
/// wherever it is read.
/// </summary>
/// <param name="Names">What the numbers are called, in the order of the slots.</param>
/// <param name="Slots">Indices of the parameters that hold them.</param>
/// <param name="Equations">Nodes of g, as many as slots.</param>
/// <param name="Guesses">Nodes, over parameters alone, from which the first search begins.</param>
public sealed record ImplicitBlock(
    IReadOnlyList<string> Names,
    IReadOnlyList<int> Slots,
    IReadOnlyList<int> Equations,
    IReadOnlyList<int> Guesses
);
