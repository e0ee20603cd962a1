namespace ClearTide.Core.Language;

/// <summary>The regular plural of an English noun, so that both forms of a count noun are one unit.</summary>
internal static class Plurals
{
    public static string Of(string noun)
    {
        if (noun.Length < 2)
            return noun;
        var last = noun[^1];
        if (last == 'y' && !"aeiou".Contains(noun[^2], StringComparison.Ordinal))
            return noun[..^1] + "ies";
        if (last is 's' or 'x' or 'z' || noun.EndsWith("ch", StringComparison.Ordinal) || noun.EndsWith("sh", StringComparison.Ordinal))
            return last == 's' ? noun : noun + "es";
        return noun + "s";
    }
}
