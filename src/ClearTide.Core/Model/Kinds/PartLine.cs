namespace ClearTide.Core.Model;

/// <summary>One typed line of a part.</summary>
/// <param name="At">Which of several it is, for the ends of a flow; else 0.</param>
public readonly record struct PartLine(PartField Field, int At, LineForm Form, string Text);
