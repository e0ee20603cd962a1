using System.Globalization;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;

namespace ClearTide.Cli;

/// <summary>Absolute tolerances as they are typed: <c>1e-9</c> for all, <c>B=1e-14</c> for one compartment.</summary>
internal static class Tolerances
{
    /// <param name="parts">The part of each name that may be given one.</param>
    public static SolverSettings Apply(
        ReactionNetwork form,
        IReadOnlyDictionary<string, string> parts,
        SolverSettings settings,
        string[] typed
    )
    {
        if (typed.Length == 0)
            return settings;
        var states = form.States;
        var each = Enumerable.Repeat(settings.AbsoluteTolerance, states.Count).ToArray();
        // What is said for all comes first, wherever it stands.
        foreach (var word in typed.OrderBy(word => word.Contains('=')))
        {
            var cut = word.IndexOf('=');
            if (TypedNumber.Read(word[(cut + 1)..]) is not { } tolerance || !(tolerance > 0) || !double.IsFinite(tolerance))
            {
                throw new BadInputException($"--atol is a number above zero, or name=number, as in --atol B=1e-14; “{word}” is not.");
            }
            if (cut < 0)
            {
                Array.Fill(each, tolerance);
                settings = settings with { AbsoluteTolerance = tolerance };
                continue;
            }
            var name = word[..cut].Trim();
            if (!parts.TryGetValue(name, out var part))
            {
                var near = Symbols.Nearest(name, parts.Keys);
                throw new BadInputException($"--atol: there is no compartment “{name}”.{(near is null ? "" : $" Did you mean {near}?")}");
            }
            for (var k = 0; k < states.Count; k++)
                if (states[k].PartId == part)
                    each[k] = tolerance;
        }
        // A model in which nothing moves has no amounts to be exact about.
        return states.Count == 0 ? settings : settings with { AbsoluteTolerances = each };
    }
}
