using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Diagnostics;

/// <summary>Units of what events move, give and set.</summary>
internal sealed partial class UnitCheck
{
    /// <summary>An amount that moves is counted as the compartment it leaves or enters is; a value that is set keeps its unit.</summary>
    private void Actions(EventRule rule)
    {
        if (EventLine.Read(rule.Text).Line is not { } line)
            return;
        foreach (var action in line.Actions)
        {
            if (!_parts.TryGetValue(action.Target.Name, out var part) || part is not (Compartment or Definition or Input))
                continue;
            foreach (var tree in new[] { action.Line, line.Dose?.First }.OfType<Syntax>())
            {
                var walk = Walk(rule, PartField.Text, rule.Text, tree);
                Compare(rule, PartField.Text, tree, walk, walk.OfLine(tree), _units[part.Id], $"{part.Symbol} is", FormulaRank);
            }
        }
    }
}
