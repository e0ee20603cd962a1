using System.Collections.Concurrent;
using System.Runtime.CompilerServices;

namespace ClearTide.Core.Language;

/// <summary>A line as typed, with its tree or with what is wrong with it. Reading never throws.</summary>
/// <param name="Text">The text as typed.</param>
/// <param name="Tree">The formula, or null where it cannot be read.</param>
/// <param name="Problem">What is wrong with it, or null.</param>
public sealed record Formula(string Text, Syntax? Tree, FormulaProblem? Problem)
{
    /// <summary>Formulas read before, by their text: an edit changes one line of a model, and each line is looked at by several
    /// readers.</summary>
    private static readonly ConcurrentDictionary<string, Formula> Known = new(StringComparer.Ordinal);

    private const int MostKnown = 4096;

    private const int LongestKnown = 400;

    // By the text as an object: who holds it holds what it was made from, and a text that was typed is read as it always was.
    private static readonly ConditionalWeakTable<string, Formula> MadeFrom = [];

    /// <summary>A formula that was made and not typed. Its text keeps its tree, which may be longer than what people may type.</summary>
    internal static Formula Made(Syntax tree)
    {
        var text = FormulaText.Of(tree);
        var made = new Formula(text, tree, null);
        MadeFrom.AddOrUpdate(text, made);
        return made;
    }

    /// <summary>A text read as if it had been typed, so that its tree tells where in it everything stands.</summary>
    internal static Formula Typed(string text) => ReadAnew(text);

    /// <summary>Reads one line of the grammar.</summary>
    /// <param name="text">The text as typed.</param>
    public static Formula Read(string text)
    {
        if (MadeFrom.TryGetValue(text, out var made))
            return made;
        if (Known.TryGetValue(text, out var known))
            return known;
        var read = ReadAnew(text);
        if (text.Length > LongestKnown)
            return read;
        // Emptied rather than aged: what is in use comes back with the next reading.
        if (Known.Count >= MostKnown)
            Known.Clear();
        Known[text] = read;
        return read;
    }

    private static Formula ReadAnew(string text)
    {
        var (tree, problem) = Parser.Whole(text, parser => parser.Line());
        return new(text, tree, problem);
    }

    /// <summary>Whether the line holds names, so that it is a quantity and not a plain number.</summary>
    public bool HasNames => Tree is not null && Tree.Names().Any();

    /// <summary>The text with each use of one symbol replaced by another; a text that cannot be cut into tokens stays as it is.</summary>
    internal static string RenameWords(string text, string from, string to)
    {
        List<Token> tokens;
        try
        {
            tokens = Lexer.Read(text);
        }
        catch (FormulaException)
        {
            return text;
        }
        for (var k = tokens.Count - 1; k >= 0; k--)
        {
            // A word behind a number or behind "per" is a unit, never a symbol.
            if (!tokens[k].IsWord(from) || (k > 0 && (tokens[k - 1].Kind == TokenKind.Number || tokens[k - 1].IsWord("per"))))
                continue;
            text = text[..tokens[k].Span.Start] + to + text[tokens[k].Span.End..];
        }
        return text;
    }
}
