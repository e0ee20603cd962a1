using System.Collections.Immutable;
using System.Text.RegularExpressions;
using ClearTide.Core.Conversion;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Modules;

/// <summary>The parts of a module.</summary>
public static class ModuleParts
{
    /// <summary>All modules of a study that have a part, also those that symbols alone speak of, in the order of their names. Modules in
    /// modules stand behind them.</summary>
    /// <param name="document">The study; not changed.</param>
    public static ImmutableArray<Module> Of(StudyDocument document)
    {
        var names = new SortedSet<string>(StringComparer.Ordinal);
        foreach (var part in document.SymbolParts)
        {
            for (var name = ModuleName.Of(part.Symbol); name.Length > 0; name = ModuleName.Of(name))
                names.Add(name);
        }
        return [.. names.Select(name => document.Modules.FirstOrDefault(module => module.Symbol == name) ?? new("", name, ""))];
    }

    /// <summary>The parts whose symbols are of a module.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="module">The symbol of the module; empty for the study itself.</param>
    public static IEnumerable<ISymbolPart> Named(StudyDocument document, string module) =>
        document.SymbolParts.Where(part => Is(module, part.Symbol));

    /// <summary>The quantities of a module: what it offers to look at, and to lines outside.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="module">The symbol of the module; empty for the study itself.</param>
    public static IEnumerable<ISymbolPart> Offers(StudyDocument document, string module) =>
        Named(document, module).Where(part => part is Definition one && Formula.Read(one.Text).HasNames);

    /// <summary>The ids of all that is inside: parts by their symbols, events that change nothing else, and expectations of nothing
    /// else.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="module">The symbol of the module; empty for the study itself.</param>
    public static IReadOnlySet<string> Inside(StudyDocument document, string module)
    {
        var inside = Named(document, module).Select(part => part.Id).ToHashSet();
        inside.UnionWith(
            document
                .Events.Where(rule =>
                    EventLine.Read(rule.Text).Line is { } line
                    && line.Actions.All(action =>
                        Is(module, action.Target.Base) && (action.MoveTo is null || Is(module, action.MoveTo.Base))
                    )
                )
                .Select(rule => rule.Id)
        );
        inside.UnionWith(
            document
                .Expectations.Where(part =>
                    LineNames.Of(part).ToList() is { Count: > 0 } names && names.TrueForAll(name => Is(module, name.Base))
                )
                .Select(part => part.Id)
        );
        return inside;
    }

    /// <summary>Whether a symbol is of a module, or of one inside it; all are of the empty name, which is a study by itself.</summary>
    /// <param name="module">The symbol of the module; empty for the study itself.</param>
    /// <param name="symbol">The name in formulas.</param>
    public static bool Is(string module, string symbol) => module.Length == 0 || symbol.StartsWith(module + ".", StringComparison.Ordinal);

    /// <summary>The parts of a module as they can be put into a study again.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="module">The symbol of the module; empty for the study itself.</param>
    public static PartSelection Selection(StudyDocument document, string module) =>
        PartSelection.Of(document, [.. Inside(document, module)]);

    /// <summary>The same parts under another name of the module.</summary>
    /// <param name="document">The study.</param>
    /// <param name="from">The name that they have; empty for parts of a study that is no module yet.</param>
    /// <param name="to">The name that they get.</param>
    /// <param name="symbols">Of the parts that are renamed; null for all that the module has.</param>
    /// <exception cref="ModuleRefusedException">A part cannot have its name inside a module.</exception>
    internal static StudyDocument Renamed(StudyDocument document, string from, string to, IEnumerable<string>? symbols = null)
    {
        string To(string symbol) =>
            from.Length == 0 ? $"{to}.{symbol}"
            : to.Length == 0 ? symbol[(from.Length + 1)..]
            : to + symbol[from.Length..];
        foreach (
            var symbol in symbols ?? [.. document.SymbolParts.Select(part => part.Symbol).Where(one => from.Length == 0 || Is(from, one))]
        )
        {
            if (document.PartBySymbol(symbol) is not { } part)
                continue;
            if (part is Compartment && ValueAddress.Read($"x.{ModuleName.Inner(symbol)}").Field != ValueField.Own)
                throw new ModuleRefusedException(
                    $"“{symbol}” is also the word for one of a compartment’s numbers, and in a module it could not be told from it. "
                        + "Rename it first."
                );
            var result = new SetField(part.Id, PartField.Symbol, To(symbol)).Apply(document);
            document = result.Document ?? throw new ModuleRefusedException($"{symbol}: {result.Refusal}");
        }
        return document;
    }

    /// <summary>The lines of a module by what they are of, without its name: two modules of one make have the same, and the study that
    /// they are made of.</summary>
    /// <param name="document">The study that the module is in.</param>
    /// <param name="module">Its name; empty for all of a study.</param>
    public static ImmutableArray<SourceLine> Lines(StudyDocument document, string module) =>
        [.. Keys(document, module).Select(pair => new SourceLine(pair.Key, pair.Text))];

    /// <summary>The parts of a module, each with its line and with what it is called without the name of the module.</summary>
    internal static IEnumerable<(string Key, string Text, IPart Part)> Keys(StudyDocument document, string module)
    {
        var selection = Selection(document, module).Parts;
        var name = new Regex($@"(?<![\p{{L}}\p{{Nd}}_.]){Regex.Escape(module)}\.");
        string Neutral(string text) => module.Length == 0 ? text : name.Replace(text, "");
        foreach (var part in selection.Parts.Where(part => part is not (Flow or Model.Group)))
        {
            var text = Neutral(LineText.Of(selection, part));
            // A part without a symbol is what its line says.
            yield return (part is ISymbolPart named ? Neutral(named.Symbol) : text, text, part);
        }
        foreach (var twins in selection.Flows.GroupBy(flow => Neutral(selection.Describe(flow))))
        {
            foreach (var (flow, k) in twins.Select((flow, k) => (flow, k)))
                yield return (k == 0 ? twins.Key : $"{twins.Key} ({k + 1})", Neutral(LineText.Of(selection, flow)), flow);
        }
    }
}

/// <summary>Parts cannot be a module as asked; the message says why.</summary>
/// <param name="message">What to do, in one sentence.</param>
public sealed class ModuleRefusedException(string message) : Exception(message);
