using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Groups;

/// <summary>Writes out lines that are more than a formula: what changes is put into the text, and all else stays as it was typed.</summary>
internal sealed class IndexedLine(IndexTable table)
{
    private readonly IndexedFormula _formulas = new(table);

    /// <summary>The line with nothing of groups left in it; one that cannot be read stays as it is.</summary>
    /// <exception cref="IndexException">An index names nothing, or is missing where it could be any.</exception>
    public string Write(LineForm form, string text, Coordinates at) =>
        text.Length == 0 || LineNames.Trees(form, text) is not { } trees ? text : Put(text, trees, at);

    /// <summary>A text with what these trees of it say written out.</summary>
    public string Put(string text, IEnumerable<Syntax> trees, Coordinates at)
    {
        var changes = new List<(TextSpan Span, string With)>();
        foreach (var tree in trees)
            Gather(tree, at, changes);
        foreach (var (span, with) in changes.DistinctBy(change => change.Span.Start).OrderByDescending(change => change.Span.Start))
            text = text[..span.Start] + with + text[span.End..];
        return text;
    }

    /// <summary>A formula, which keeps the tree that it was made from: sums over large groups are longer than what may be typed.</summary>
    public string Formula(string text, Coordinates at)
    {
        if (Language.Formula.Read(text).Tree is not { } tree)
            return text;
        var written = _formulas.Write(tree, at);
        return ReferenceEquals(written, tree) ? text : Language.Formula.Made(written).Text;
    }

    private void Gather(Syntax node, Coordinates at, List<(TextSpan, string)> changes)
    {
        if (node is NameSyntax or SumSyntax or UserCallSyntax { Callee.Name: IndexedFormula.Total })
        {
            var written = _formulas.Write(node, at);
            if (!ReferenceEquals(written, node))
                changes.Add((node.Span, written is NameSyntax name ? name.Name : $"({FormulaText.Of(written)})"));
            return;
        }
        foreach (var child in node is UserCallSyntax call ? call.Arguments : node.Children)
            Gather(child, at, changes);
    }
}
