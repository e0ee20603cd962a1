namespace ClearTide.Core.Model;

/// <summary>One field of a kind of part: how its text is read from a part, and how it is put in.</summary>
/// <param name="Field">Which field it is.</param>
/// <param name="Read">The text as typed, of the one at a place where there are several.</param>
/// <param name="Write">The part with another text in it.</param>
/// <param name="Form">By which rules it is read, for lines that can name other parts; null for all else.</param>
internal sealed record KindField<T>(PartField Field, Func<T, int, string> Read, Func<T, int, string, T> Write, LineForm? Form = null)
    where T : class, IPart
{
    /// <summary>How many a part has of it, where that is not one.</summary>
    public Func<T, int> Count { get; init; } = static _ => 1;
}

/// <summary>The ordinary fields.</summary>
internal static class KindField
{
    /// <summary>Words or a unit: what is typed is what is kept.</summary>
    public static KindField<T> Text<T>(PartField field, Func<T, string> read, Func<T, string, T> write)
        where T : class, IPart => new(field, (part, _) => read(part), (part, _, value) => write(part, value));

    /// <summary>A line that can name other parts.</summary>
    public static KindField<T> Line<T>(PartField field, LineForm form, Func<T, string> read, Func<T, string, T> write)
        where T : class, IPart => Text(field, read, write) with { Form = form };

    /// <summary>On or off.</summary>
    public static KindField<T> Switch<T>(PartField field, Func<T, bool> read, Func<T, bool, T> write)
        where T : class, IPart =>
        Text<T>(field, part => read(part) ? "true" : "false", (part, value) => write(part, value is "true" or "on" or "yes"));

    /// <summary>One of several choices, by its name.</summary>
    public static KindField<T> Choice<T, TChoice>(PartField field, Func<T, TChoice> read, Func<T, TChoice, T> write)
        where T : class, IPart
        where TChoice : struct, Enum => Text<T>(field, part => read(part).ToString(), (part, value) => write(part, Choose<TChoice>(value)));

    /// <summary>One of several choices by its name.</summary>
    /// <exception cref="FieldRefusedException">It is the name of none; the message lists them.</exception>
    public static TChoice Choose<TChoice>(string value)
        where TChoice : struct, Enum =>
        Enum.TryParse<TChoice>(value, ignoreCase: true, out var choice) && Enum.IsDefined(choice)
            ? choice
            : throw new FieldRefusedException($"“{value}” is none of {string.Join(", ", Enum.GetNames<TChoice>()).ToLowerInvariant()}.");
}
