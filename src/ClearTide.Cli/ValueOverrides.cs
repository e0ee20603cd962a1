using ClearTide.Core.Language;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;

namespace ClearTide.Cli;

/// <summary>Other values for one run, as they are typed: <c>beta=0.4</c>, <c>E.stay=1 week</c>.</summary>
internal static class ValueOverrides
{
    public static void Apply(ReactionNetwork form, UnitTable units, double[] values, string[] typed)
    {
        foreach (var change in typed)
        {
            var cut = change.IndexOf('=');
            if (cut <= 0)
                throw new BadInputException($"--set is written name=value, as in --set beta=0.4; “{change}” is not.");
            var (address, text) = (change[..cut].Trim(), change[(cut + 1)..]);
            if (form.IndexOf(ValueAddress.Read(address)) is var index && index < 0)
            {
                var near = Symbols.Nearest(address, form.Values.Select(value => value.Address.ToString()));
                throw new BadInputException(
                    $"There is no value “{address}” in the model."
                        + (
                            near is null
                                ? $" It has {string.Join(", ", form.Values.Select(value => value.Address))}."
                                : $" Did you mean {near}?"
                        )
                );
            }
            var formula = Formula.Read(text);
            if (formula.Tree is null || formula.HasNames)
                throw new BadInputException($"--set {address}: {formula.Problem?.Message ?? "type a plain number."}");
            values[index] = FormulaBinder.ValueOf(formula.Tree, units);
        }
    }
}
