namespace ClearTide.Web.Diagram;

/// <summary>How wide a line of type is at most, by classes of letters: enough to keep captions apart without a browser.</summary>
public static class TypeWidth
{
    /// <summary>Width in paper units of a text set at a type size.</summary>
    public static double Of(string text, double size)
    {
        var ems = 0.0;
        foreach (var letter in text)
            ems += Ems(letter);
        return ems * size;
    }

    // Measured on the fonts that ship, upright and italic, and rounded up.
    private static double Ems(char letter) =>
        letter switch
        {
            'i' or 'j' or 'l' or 't' or 'f' or 'r' or 'I' or '\'' or '.' or ',' or ':' or ';' or '|' or '(' or ')' or '[' or ']' or '·' =>
                0.42,
            ' ' or '\u2009' or '\u200a' => 0.3,
            '\u2004' => 0.36,
            'm' or 'w' or 'M' or 'W' or '→' or '…' or '—' or '%' or 'Ω' or 'ω' => 1.0,
            '+' or '−' or '=' or '<' or '>' or '÷' or '×' or '≤' or '≥' => 0.72,
            >= 'A' and <= 'Z' => 0.74,
            _ => 0.6,
        };
}
