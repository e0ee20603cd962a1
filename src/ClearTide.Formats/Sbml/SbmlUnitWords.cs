using System.Collections.Immutable;
using System.Globalization;
using ClearTide.Core.Language;
using ClearTide.Core.Units;

namespace ClearTide.Formats.Sbml;

/// <summary>Reads SBML's units as words of a study: built-in ones where they are the same, none where they are not.</summary>
internal sealed class SbmlUnitWords
{
    private readonly SbmlModel _model;
    private readonly Dictionary<string, SbmlUnitDefinition> _definitions;
    private readonly List<UnitRule> _rules = [];

    public SbmlUnitWords(SbmlModel model)
    {
        _model = model;
        _definitions = model.UnitDefinitions.GroupBy(definition => definition.Id).ToDictionary(group => group.Key, group => group.First());
        Time = TimeOf() ?? TimeUnit.Second;
        foreach (var definition in model.UnitDefinitions.Where(definition => definition.Text.Length > 0))
            AddNouns(definition.Text);
    }

    public TimeUnit Time { get; }

    /// <summary>Whether the file leaves open what time is counted in.</summary>
    public bool TimeIsOpen => TimeOf() is null;

    /// <summary>Count nouns that the file's own spellings use.</summary>
    public ImmutableArray<UnitRule> Rules => [.. _rules];

    /// <summary>A unit as it is typed; empty where there is none, or none that a study has.</summary>
    public string Text(string id)
    {
        if (_definitions.TryGetValue(id, out var definition) && definition.Text.Length > 0)
            return Table().ReadAlone(definition.Text).Unit is null ? "" : definition.Text;
        var (above, below) = (new List<string>(), new List<string>());
        foreach (var factor in Factors(id))
        {
            if (factor.Kind is "dimensionless" or "radian" or "item" && factor.Scale == 0 && factor.Multiplier == 1)
                continue;
            if (Word(factor) is not { } word || factor.Exponent != Math.Floor(factor.Exponent))
                return "";
            var power = Math.Abs(factor.Exponent);
            (factor.Exponent > 0 ? above : below).Add(power == 1 ? word : $"{word}^{TypedNumber.Exact(power)}");
        }
        if (above.Count + below.Count == 0)
            return "";
        return (above.Count == 0 ? "1" : string.Join("·", above)) + string.Concat(below.Select(word => "/" + word));
    }

    /// <summary>Whether a unit says something that no words of a study do.</summary>
    public bool IsLost(string id) =>
        Text(id).Length == 0
        && Factors(id)
            .Any(factor => factor.Kind is not ("dimensionless" or "radian" or "item") || factor.Multiplier != 1 || factor.Scale != 0);

    /// <summary>Whether a unit counts things one by one.</summary>
    public bool IsCount(string id) => Factors(id).ToList() is [{ Kind: "item", Exponent: 1, Scale: 0, Multiplier: 1 }];

    private UnitTable Table() => new(Time, _rules);

    private void AddNouns(string text)
    {
        if (Table().ReadAlone(text).Unit is not null)
            return;
        foreach (
            var word in text.Split(['·', '/', '^', '*', ' '], StringSplitOptions.RemoveEmptyEntries)
                .Where(word => word.All(char.IsLetter) && !Table().Knows(word) && UnitTable.Refusal(word) is null)
        )
            _rules.Add(new(word, ""));
    }

    private IEnumerable<SbmlUnit> Factors(string id) =>
        _definitions.TryGetValue(id, out var definition)
            ? definition.Factors
            : id switch
            {
                "" => [],
                "time" => [new("second", 1, 0, 1)],
                "substance" => [new("mole", 1, 0, 1)],
                "volume" => [new("litre", 1, 0, 1)],
                _ => [new(id, 1, 0, 1)],
            };

    private TimeUnit? TimeOf() =>
        Factors(_model.TimeUnits).ToList() is [{ Kind: "second", Exponent: 1 } second]
            ? TimeUnit.All.FirstOrDefault(unit => Same(unit.Seconds, Size(second)))
            : null;

    private static double Size(SbmlUnit factor) => factor.Multiplier * Math.Pow(10, factor.Scale);

    private static bool Same(double a, double b) => Math.Abs(a / b - 1) < 1e-9;

    private static readonly Dictionary<string, (string Word, double Size)[]> Words = new()
    {
        ["gram"] = [("g", 1), ("mg", 1e-3), ("ug", 1e-6), ("ng", 1e-9), ("kg", 1e3)],
        ["kilogram"] = [("kg", 1), ("g", 1e-3), ("mg", 1e-6)],
        ["mole"] = [("mol", 1), ("mmol", 1e-3), ("umol", 1e-6), ("nmol", 1e-9)],
        ["litre"] = [("L", 1), ("dL", 0.1), ("mL", 1e-3), ("uL", 1e-6)],
        ["liter"] = [("L", 1), ("mL", 1e-3)],
        ["metre"] = [("m", 1), ("cm", 1e-2), ("mm", 1e-3), ("km", 1e3)],
        ["meter"] = [("m", 1), ("cm", 1e-2), ("mm", 1e-3), ("km", 1e3)],
        ["second"] = [.. TimeUnit.All.Select(unit => (unit.Singular, unit.Seconds))],
    };

    private static string? Word(SbmlUnit factor) =>
        Words.GetValueOrDefault(factor.Kind)?.FirstOrDefault(word => Same(word.Size, Size(factor))).Word;
}
