using ClearTide.Core.Language;

namespace ClearTide.Formats.Sbml;

/// <summary>Gives each id of a file a symbol that formulas of a study can hold: the id itself wherever it can be one.</summary>
internal sealed class SbmlSymbols
{
    private const int Longest = 36;

    private readonly Dictionary<string, string> _known = [];
    private readonly HashSet<string> _taken = [];
    private readonly Dictionary<string, string> _wanted;

    public SbmlSymbols(SbmlModel model)
    {
        _wanted = model
            .Species.Select(part => (part.Id, part.Symbol))
            .Concat(model.Parameters.Select(part => (part.Id, part.Symbol)))
            .Where(pair => pair.Symbol.Length > 0)
            .ToDictionary();
        var ids = model
            .Species.Select(part => part.Id)
            .Concat(model.Parameters.Select(part => part.Id))
            .Concat(model.Compartments.Select(part => part.Id))
            .Concat(model.Reactions.Select(part => part.Id))
            .ToList();
        // Ids that are symbols as they are come first, so that none is taken by what has to be called otherwise.
        foreach (var id in ids.Where(id => Symbols.Refusal(_wanted.GetValueOrDefault(id, id)) is null))
            Of(id);
    }

    public string Of(string id)
    {
        if (_known.TryGetValue(id, out var known))
            return known;
        // Local parameters are known by their reaction's name and their own: their own is enough where nothing else has it.
        var plain = _wanted.GetValueOrDefault(id) ?? SbmlText.Id(id[(id.IndexOf('.', StringComparison.Ordinal) + 1)..]);
        var symbol = Fit(plain);
        if (_taken.Contains(symbol) && id.Contains('.', StringComparison.Ordinal))
            symbol = Fit(id.Replace('.', '_'));
        var first = symbol;
        for (var twin = 2; !_taken.Add(symbol); twin++)
            symbol = $"{first}_{twin}";
        return _known[id] = symbol;
    }

    private static string Fit(string id)
    {
        // An annotation may hold anything: only what symbols are made of is taken.
        var symbol = string.Concat(Symbols.Normalize(id.TrimStart('_')).Where(sign => char.IsLetterOrDigit(sign) || sign == '_'));
        if (symbol.Length == 0 || !char.IsLetter(symbol[0]))
            symbol = "x" + symbol;
        if (symbol.Length > Longest)
            symbol = symbol[..Longest];
        return Symbols.Refusal(symbol) is null ? symbol : symbol + "_";
    }
}
