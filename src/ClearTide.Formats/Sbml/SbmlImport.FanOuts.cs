using ClearTide.Core.Language;
using ClearTide.Core.Simulation;

namespace ClearTide.Formats.Sbml;

/// <content>Reactions that lead one thing to several ends by shares.</content>
public sealed partial class SbmlImport
{
    /// <param name="To">The ends with their shares; null for what the others leave.</param>
    private sealed record Fan(string From, IReadOnlyList<(string Id, Syntax? Share)> To);

    /// <summary>Shares that are numbers come to one but for the rounding of their last digits.</summary>
    private const double Rounding = 1e-12;

    private readonly Dictionary<string, Fan> _fans = [];

    /// <summary>Ids under which shares stand as symbols of their own, and need not.</summary>
    private readonly HashSet<string> _shares = [];

    private void FindFans()
    {
        foreach (var reaction in _model.Reactions.Where(reaction => reaction.Rate is not null))
        {
            var moved = Moved(reaction);
            if (moved.Count < 3 || moved.Where(pair => pair.Net is NumberSyntax { Value: -1 }).ToList() is not [var from])
                continue;
            var ends = moved.Where(pair => pair.Id != from.Id).Select(pair => (pair.Id, Share: Known(pair.Net!))).ToList();
            if (Shares(ends) is not { } shares)
                continue;
            _fans[reaction.Id] = new(from.Id, shares);
            foreach (var reference in reaction.Products.Where(reference => reference.Id is not null && !IsNamed(reference.Id)))
                _shares.Add(reference.Id!);
        }
    }

    private Syntax Known(Syntax net) => net is NameSyntax name && _assigned.TryGetValue(name.Name, out var rule) ? rule : net;

    /// <summary>The shares where they make up one for sure: numbers that come to it, or one that is what the others leave.</summary>
    private static List<(string Id, Syntax? Share)>? Shares(List<(string Id, Syntax Share)> ends)
    {
        if (ends.All(end => end.Share is NumberSyntax { Value: > 0 and < 1 }))
        {
            if (Math.Abs(ends.Sum(end => ((NumberSyntax)end.Share).Value) - 1) > Rounding)
                return null;
            return [.. ends.Select((end, k) => (end.Id, k == ends.Count - 1 ? null : (Syntax?)end.Share))];
        }
        for (var rest = ends.Count - 1; rest >= 0; rest--)
        {
            Syntax left = MathReader.Of(1);
            for (var k = 0; k < ends.Count; k++)
            {
                if (k != rest)
                    left = new BinarySyntax(default, BinaryOperator.Subtract, left, ends[k].Share);
            }
            if (FormulaText.Of(left) == FormulaText.Of(ends[rest].Share))
                return [.. ends.Select((end, k) => (end.Id, k == rest ? null : (Syntax?)end.Share))];
        }
        return null;
    }
}
