using System.Globalization;
using System.Text.RegularExpressions;
using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Interventions;

/// <summary>
/// A measure as it is typed and said: <c>beta x 0.6, days 55 to 90</c>, <c>beta = 0.2 per day, day 30 on</c>, <c>births + 3, days 10 to
/// 20</c>.
/// </summary>
/// <param name="Address">Of the value that it changes.</param>
/// <param name="Kind">Multiplied, set or shifted.</param>
/// <param name="Number">In the model's units.</param>
/// <param name="From">Where it begins, in the model's unit of time.</param>
/// <param name="Until">Not later than the end of the span where nothing is said.</param>
public sealed partial record MeasureLine(ValueAddress Address, MeasureKind Kind, double Number, double From, double Until)
{
    /// <summary>Characters of a line at most.</summary>
    public const int Longest = 200;

    [GeneratedRegex(
        @"^\s*(?<value>(?:[^\s=×*+−\[]|\[[^\]]*\])+?)\s*(?<sign>×|\*|=|\+|−|-|(?<=\s)x(?=[\s\d.]))\s*"
            + @"(?<number>[^,;\s][^,;]*?)\s*(?:[,;]\s*(?<when>.*?))?\s*$"
    )]
    private static partial Regex Shape();

    [GeneratedRegex(@"^(?:from\s+)?(?:[\p{L}]+\s+)?(?<from>[^\s]+)\s*(?:(?:to|until|–)\s*(?<until>[^\s]+)|(?<on>on))\s*(?:[\p{L}]+)?$")]
    private static partial Regex Window();

    /// <summary>Reads a line; null and a sentence that says what to do where it is none.</summary>
    /// <param name="text">The text as typed.</param>
    /// <param name="document">The study; not changed.</param>
    public static (MeasureLine? Line, string? Problem) Read(string text, StudyDocument document)
    {
        if (text.Length > Longest)
            return (null, $"A measure has at most {Longest} characters. Name it apart, and keep the line to what it does.");
        var unit = document.TimeUnit;
        var example = Example(document);
        var match = Shape().Match(text);
        if (!match.Success)
            return (null, $"A measure is a value, what becomes of it, and when, as in “{example}”.");
        var address = ValueAddress.Read(Symbols.Normalize(match.Groups["value"].Value));
        if (Lowering.Lower(document).Network.IndexOf(address) < 0)
            return (null, $"There is no value “{address}” in the model. Choose one from the list.");
        var sign = match.Groups["sign"].Value;
        var kind = sign switch
        {
            "=" => MeasureKind.Set,
            "+" or "-" or "−" => MeasureKind.Shift,
            _ => MeasureKind.Scale,
        };
        var formula = Formula.Read(match.Groups["number"].Value);
        if (formula.Tree is not { } tree || formula.HasNames)
            return (null, $"“{match.Groups["number"].Value}” is no number. Type one, as in “{example}”.");
        // As for bounds: a bare number that a parameter is set to is in the parameter's own unit.
        var unitOf =
            kind != MeasureKind.Scale
            && document.DefinitionBySymbol(MemberName.BaseOf(address.Symbol)) is { } part
            && address.Field == ValueField.Own
                ? part.Unit
                : "";
        var number = ValueReader.NumberOf(tree, unitOf, document.UnitTable());
        var (from, until) = (document.Start, document.End);
        if (match.Groups["when"].Success)
        {
            var when = Window().Match(match.Groups["when"].Value);
            if (
                !when.Success
                || TypedNumber.Read(when.Groups["from"].Value) is not { } begin
                || (when.Groups["on"].Success ? document.End : TypedNumber.Read(when.Groups["until"].Value)) is not { } end
            )
                return (null, $"When? Type two times behind the comma, as in “{unit.Plural} 55 to 90”, or “{unit.Singular} 55 on”.");
            (from, until) = (begin, end);
        }
        return (new(address, kind, sign is "-" or "−" ? -number : number, from, until), null);
    }

    /// <summary>The first value that looks like a rate, or null.</summary>
    internal static ValueAddress? Scaled(StudyDocument document) =>
        Lowering
            .Lower(document)
            .Network.Values.FirstOrDefault(value =>
                !value.Address.IsInitial
                && value.Address.Field == ValueField.Own
                && value.Value is > 0 and < 10
                // One entry of a matrix is seldom what is asked about.
                && MemberName.IndicesOf(value.Address.Symbol).Count < 2
            )
            ?.Address;

    /// <summary>A line that can be typed as it stands: the first rate of the model halved over the middle of the span.</summary>
    /// <param name="document">The study; not changed.</param>
    public static string Example(StudyDocument document)
    {
        var values = Lowering.Lower(document).Network.Values;
        var first = Scaled(document) ?? values.FirstOrDefault(value => !value.Address.IsInitial)?.Address;
        var span = document.End - document.Start;
        double Rounded(double share) =>
            document.Start + double.Parse((share * span).ToString("G1", CultureInfo.InvariantCulture), CultureInfo.InvariantCulture);
        var (from, until) = (NumberWords.Of(Rounded(0.2)), NumberWords.Of(Rounded(0.4)));
        return $"{MemberName.Print(first?.ToString() ?? "beta")} x 0.5, {document.TimeUnit.Plural} {from} to {until}";
    }

    /// <summary>What a measure does, as print says it: “beta × 0.6”.</summary>
    /// <param name="measure">The measure.</param>
    public static string Change(Measure measure) =>
        measure.Kind switch
        {
            MeasureKind.Set => $"{measure.Address} = {NumberWords.Of(measure.Factor)}",
            MeasureKind.Shift => $"{measure.Address} {(measure.Factor < 0 ? "−" : "+")} {NumberWords.Of(Math.Abs(measure.Factor))}",
            _ => $"{measure.Address} × {NumberWords.Of(measure.Factor)}",
        };

    /// <summary>A measure as it can be typed again: “beta × 0.6, days 55 to 90”.</summary>
    /// <param name="measure">The measure.</param>
    /// <param name="unit">The unit of time that it is said in.</param>
    public static string Of(Measure measure, TimeUnit unit) =>
        $"{Change(measure)}, {unit.Plural} {NumberWords.Of(measure.From)} to {NumberWords.Of(measure.Until)}";
}
