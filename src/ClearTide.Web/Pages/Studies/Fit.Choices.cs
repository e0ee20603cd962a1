using ClearTide.Core.Compilation;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Web.Words;

namespace ClearTide.Web.Pages.Studies;

/// <summary>What a fit can estimate: the values of the model, the points of its inputs, and the day it starts on.</summary>
public sealed partial class FitModel
{
    /// <summary>One value that may be ticked. Bounds are as typed, so that a refused one stays on the screen.</summary>
    public sealed record Choice(
        ValueAddress Address,
        string Label,
        double Value,
        bool Ticked,
        string Lower,
        string Upper,
        string Prior,
        FitGroup Group,
        bool Own,
        string Tie
    )
    {
        /// <summary>Whether it takes part in the fit.</summary>
        public bool Takes => Ticked || Tie.Length > 0;
    }

    /// <summary>Points of one input that are offered; a longer table is a curve, and not a list of values.</summary>
    private const int MostPoints = 60;

    private IReadOnlyList<Choice>? _choices;

    public IReadOnlyList<Choice> Choices =>
        _choices ??= [.. Values(), .. Points(), .. Subjects == 0 ? [StartDay()] : Array.Empty<Choice>()];

    /// <summary>What a value is, in words.</summary>
    public string LabelOf(ValueAddress address) => Choices.FirstOrDefault(choice => choice.Address == address)?.Label ?? "";

    private IEnumerable<Choice> Values()
    {
        var seen = Document
            .Observations.SelectMany(one => one.Lines)
            .SelectMany(line => Formula.Read(line).Tree?.Names() ?? [])
            .Select(name => name.Name)
            .ToHashSet();
        return Lowering
            .Lower(Document)
            .Network.Values.Select(value =>
            {
                var bounds = ValueBounds.Of(Document, Document.Part(value.PartId));
                return Offered(
                    value.Address,
                    ValueWords.Of(Document, value),
                    value.Value,
                    bounds.Lower ?? Suggest(value.Value, 0.1),
                    bounds.Upper ?? Suggest(value.Value, 10),
                    seen.Contains(value.Address.Symbol) ? FitGroup.Observation
                        : value.Address.Field is ValueField.Start or ValueField.Total or ValueField.Next ? FitGroup.Start
                        : FitGroup.Rate
                );
            });
    }

    /// <summary>The points of inputs in lines or steps.</summary>
    private IEnumerable<Choice> Points()
    {
        var (units, chosen) = (Document.UnitTable(), Chosen);
        foreach (var input in Document.Inputs.Where(one => one.Between != Between.Smooth))
        {
            var table = InputTables.Of(input, units).Points;
            for (var k = 0; k < table.Count; k++)
            {
                var address = FreedValues.Point(input, k);
                if (table.Count > MostPoints && !chosen.ContainsKey(address))
                    continue;
                yield return Offered(
                    address,
                    $"{(input.Label.Length > 0 ? input.Label : input.Symbol)} at {Document.TimeUnit.Singular} {Numbers.Say(table[k].X)}",
                    table[k].Y,
                    Suggest(table[k].Y, 0.1),
                    Suggest(table[k].Y, 10),
                    FitGroup.Point
                );
            }
        }
    }

    /// <summary>The day that the model starts on: up to the first row of the data, which none can come before.</summary>
    private Choice StartDay()
    {
        var first = Series
            .SelectMany(one => one.Data.Used.Select(row => one.Observation.Seen.HasInterval() ? row.Start : row.End))
            .DefaultIfEmpty(Document.Start)
            .Min();
        return Offered(
            FreedValues.StartDay,
            $"the {Document.TimeUnit.Singular} that the model starts on",
            Document.Start,
            Document.Start - 0.25 * (Document.End - Document.Start),
            Math.Max(first, Document.Start),
            FitGroup.Start
        );
    }

    private Dictionary<ValueAddress, FitParameter> Chosen =>
        _chosen ??= (_typed ?? Document.Fit.Parameters).ToDictionary(parameter => parameter.Address);

    private Dictionary<ValueAddress, FitParameter>? _chosen;

    /// <param name="low">The lower bound where nobody has typed one.</param>
    private Choice Offered(ValueAddress address, string label, double value, double low, double high, FitGroup group)
    {
        var ticked = Chosen.TryGetValue(address, out var parameter);
        var (lower, upper, prior) = _typedBounds.GetValueOrDefault(
            address,
            (Text(parameter?.Lower ?? low), Text(parameter?.Upper ?? high), parameter?.Prior?.ToString() ?? "")
        );
        return new(
            address,
            label,
            value,
            ticked,
            lower,
            upper,
            prior,
            group,
            parameter?.Own ?? false,
            _typedTies.GetValueOrDefault(address, Document.Fit.Ties.FirstOrDefault(tie => tie.Address == address)?.Formula ?? "")
        );
    }

    private static string Text(double value) => TypedNumber.Short(value);

    /// <summary>Bounds that nobody typed: a factor of ten either way, shares within one.</summary>
    private static double Suggest(double value, double factor) =>
        value > 0 ? (value <= 1 && factor > 1 ? Math.Max(1, value) : value * factor)
        : factor > 1 ? 1
        : 0;
}
