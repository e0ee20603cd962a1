using ClearTide.Core.Language;

namespace ClearTide.Core.Editing;

/// <summary>The unit that stands behind the number of a line for all members: a bare number typed for one of them goes on in it.</summary>
public static class MemberUnit
{
    /// <summary>What stands behind the number; empty where the line is no number, or has nothing behind it.</summary>
    /// <param name="line">The line as typed.</param>
    public static string Of(string line)
    {
        var tree = Formula.Read(line).Tree;
        while (tree is PerSyntax per)
            tree = per.Inner;
        // A share may be typed either way, and says itself which it is.
        return tree is NumberSyntax { Percent: false } ? line.Trim()[NumberEnd(line.Trim())..] : "";
    }

    /// <summary>A line in that unit, where it is a bare number; else as it is.</summary>
    /// <param name="line">The line as typed.</param>
    /// <param name="unit">The unit as typed.</param>
    public static string With(string line, string unit) =>
        unit.Length > 0 && Formula.Read(line).Tree is NumberSyntax { Unit: null, Percent: false } ? line.Trim() + unit : line;

    /// <summary>A line without that unit, where it is a number in it; else as it is.</summary>
    /// <param name="line">The line as typed.</param>
    /// <param name="unit">The unit as typed.</param>
    public static string Without(string line, string unit) =>
        unit.Length > 0 && Of(line) == unit ? line.Trim()[..^unit.Length].Trim() : line;

    private static int NumberEnd(string line)
    {
        var at = 0;
        while (at < line.Length && (char.IsAsciiDigit(line[at]) || line[at] is '.' or 'e' or 'E' || IsSignOfExponent(line, at)))
            at++;
        return at;
    }

    private static bool IsSignOfExponent(string line, int at) => line[at] is '-' or '+' && at > 0 && line[at - 1] is 'e' or 'E';
}
