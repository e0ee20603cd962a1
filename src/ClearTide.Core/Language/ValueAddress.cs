using System.Diagnostics.CodeAnalysis;
using System.Globalization;
using System.Text.Json.Serialization;

namespace ClearTide.Core.Language;

/// <summary>Which number of a part a value is.</summary>
public enum ValueField
{
    /// <summary>The number of a part that has one alone; it is not written: <c>beta</c>.</summary>
    Own,

    /// <summary>The initial amount of a compartment.</summary>
    Start,

    /// <summary>The total that a compartment starts with the rest of.</summary>
    Total,

    /// <summary>The next value of a compartment in discrete steps.</summary>
    Next,

    /// <summary>The mean residence time before a flow leaves a compartment.</summary>
    Stay,

    /// <summary>The rate of a flow that leaves a compartment, per capita or whole.</summary>
    Rate,

    /// <summary>The rate of a flow that enters a compartment from outside.</summary>
    Inflow,

    /// <summary>The share of one end of a flow.</summary>
    Share,

    /// <summary>The numbers of a named response curve.</summary>
    Low,

    /// <summary>The value of a response curve at the high end.</summary>
    High,

    /// <summary>Where a response curve is half way.</summary>
    Half,

    /// <summary>How steep a response curve is.</summary>
    Slope,

    /// <summary>The value of an input at one of its points: <c>season.point</c> at the first, <c>season.point_2</c> at the
    /// second.</summary>
    Point,
}

/// <summary>
/// Names one number of a model: <c>beta</c>, <c>I.start</c>, <c>E.stay</c>, <c>I.share.R</c>. Values, fits, measures, sliders and sweeps
/// all name numbers this way. Reading never fails: a text that names nothing becomes an address that no model has.
/// </summary>
/// <param name="Symbol">The symbol of the part; for a flow, of the compartment it leaves or else enters.</param>
/// <param name="Field">Which number of that part.</param>
/// <param name="End">The symbol of the compartment that a flow leads to, <c>out</c> for the outside, where <paramref name="Symbol"/> and
/// <paramref name="Field"/> do not tell flows apart; else empty.</param>
/// <param name="Twin">Which of several that all else is the same of, counted from 1: two flows from outside into S are <c>S.inflow</c> and
/// <c>S.inflow_2</c>.</param>
[JsonConverter(typeof(ValueAddressConverter))]
public sealed record ValueAddress(string Symbol, ValueField Field = ValueField.Own, string End = "", int Twin = 1) : IParsable<ValueAddress>
{
    /// <summary>The address of nothing; it is written as the empty text.</summary>
    public static readonly ValueAddress None = new("");

    /// <summary>The word for the outside of the model in <see cref="End"/>.</summary>
    public const string Outside = "out";

    /// <summary>Reads what <see cref="ToString"/> writes.</summary>
    /// <param name="text">What is to be read, or null.</param>
    public static ValueAddress Read(string? text)
    {
        if (string.IsNullOrWhiteSpace(text))
            return None;
        // Members stand in brackets, with or without spaces.
        if (text.Contains('[', StringComparison.Ordinal))
            text = string.Concat(text.Where(letter => !char.IsWhiteSpace(letter)));
        return OfWords(text.Trim().Split('.')) ?? new(text.Trim());
    }

    /// <summary>The word behind a symbol of a module that ends like a field: <c>ward.stay.own</c> is the value <c>stay</c> of the module
    /// <c>ward</c>.</summary>
    private const string OwnWord = "own";

    private static ValueAddress? OfWords(string[] words)
    {
        string Joined(int from, int until) => string.Join('.', words[from..until]);
        if (words.Length > 2 && words[^1] == OwnWord)
            return new(Joined(0, words.Length - 1));
        // I.share.R, where the end is a plain name; else the field stands last, or before the end.
        if (words is [_, var middle, { Length: > 0 } end] && Known(middle) is (var one, var which))
            return new(words[0], one, end, which);
        if (words.Length > 1 && Known(words[^1]) is (var field, var twin))
            return new(Joined(0, words.Length - 1), field, "", twin);
        for (var k = 1; k < words.Length - 1; k++)
        {
            if (Known(words[k]) is (var inner, var number) && Joined(k + 1, words.Length) is { Length: > 0 } to)
                return new(Joined(0, k), inner, to, number);
        }
        return null;
    }

    /// <summary>An address may be given as its text.</summary>
    /// <param name="text">The address as it is written.</param>
    public static implicit operator ValueAddress(string text) => Read(text);

    private static (ValueField Field, int Twin)? Known(string word)
    {
        var twin = 1;
        if (word.IndexOf('_') is var cut and > 0)
        {
            if (!int.TryParse(word.AsSpan(cut + 1), NumberStyles.None, CultureInfo.InvariantCulture, out twin) || twin < 2)
                return null;
            word = word[..cut];
        }
        foreach (var field in Enum.GetValues<ValueField>())
        {
            if (field != ValueField.Own && Word(field) == word)
                return (field, twin);
        }
        return null;
    }

    /// <summary>A field as it is written behind the point.</summary>
    /// <param name="field">The field.</param>
    public static string Word(ValueField field) => field.ToString().ToLowerInvariant();

    /// <summary>Whether it says where a run starts, which nothing can change while it runs.</summary>
    public bool IsInitial => Field is ValueField.Start or ValueField.Total;

    /// <summary>The address of the same number after a part got another symbol.</summary>
    internal ValueAddress Renamed(string from, string to) =>
        Symbol == from || End == from ? this with { Symbol = Symbol == from ? to : Symbol, End = End == from ? to : End } : this;

    /// <summary>The address as it is typed and stored.</summary>
    public override string ToString() => $"{Symbol}{FieldWord}{(Twin == 1 ? "" : $"_{Twin}")}{(End.Length == 0 ? "" : "." + End)}";

    /// <summary>The field behind the symbol, with its point.</summary>
    private string FieldWord =>
        Field != ValueField.Own ? "." + Word(Field)
        : EndsLikeField ? "." + OwnWord
        : "";

    private bool EndsLikeField => ModuleName.Of(Symbol).Length > 0 && Known(ModuleName.Inner(Symbol)) is not null;

    static ValueAddress IParsable<ValueAddress>.Parse(string s, IFormatProvider? provider) => Read(s);

    static bool IParsable<ValueAddress>.TryParse(
        [NotNullWhen(true)] string? s,
        IFormatProvider? provider,
        [MaybeNullWhen(false)] out ValueAddress result
    )
    {
        result = Read(s);
        return true;
    }
}
