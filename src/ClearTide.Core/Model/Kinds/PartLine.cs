namespace ClearTide.Core.Model;

/// <summary>One typed line of a part.</summary>
/// <param name="Field">Which field it stands in.</param>
/// <param name="At">Which of several it is, for the ends of a flow; else 0.</param>
/// <param name="Form">By which rules it is read.</param>
/// <param name="Text">The line as typed.</param>
public readonly record struct PartLine(PartField Field, int At, LineForm Form, string Text);
