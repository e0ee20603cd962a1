namespace ClearTide.Core.Language;

/// <summary>One word of a typed unit with its power.</summary>
/// <param name="Word">As typed.</param>
/// <param name="Power">Below zero behind a stroke.</param>
/// <param name="Span">Where it stands in the text.</param>
public sealed record UnitWord(string Word, int Power, TextSpan Span);

/// <summary>A unit as typed behind a number or after <c>per</c>, its words not looked up yet: <c>mg/L</c>, <c>people</c>.</summary>
/// <param name="Text">The unit as typed, in normal spelling.</param>
/// <param name="Words">Each with its power.</param>
public sealed record UnitText(string Text, IReadOnlyList<UnitWord> Words)
{
    /// <summary>Units are the same where they are written the same.</summary>
    /// <param name="other">What it is compared with.</param>
    public bool Equals(UnitText? other) => other is not null && Text == other.Text;

    /// <inheritdoc/>
    public override int GetHashCode() => Text.GetHashCode(StringComparison.Ordinal);
}
