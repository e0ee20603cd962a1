using ClearTide.Core.Model;

namespace ClearTide.Core.Inference;

/// <summary>Says of each value what the data could tell of it.</summary>
/// <param name="setup">What was estimated.</param>
/// <param name="flat">Directions that profiles have confirmed to be flat.</param>
/// <param name="combinations">Products that the data tell although they do not tell their factors.</param>
internal sealed class EstimateSentences(FitSetup setup, IReadOnlyList<FlatDirection> flat, IReadOnlyList<KnownCombination> combinations)
{
    /// <param name="j">Place of the value in the setup.</param>
    /// <param name="value">The estimate, in the model's units.</param>
    /// <param name="error">The standard error.</param>
    /// <param name="low">The lower end of the interval; null where there is none within the bounds.</param>
    /// <param name="high">The upper end.</param>
    public Estimate Judge(int j, double value, double error, double? low, double? high)
    {
        var address = setup.Parameters[j].Address;
        Estimate Say(Knowledge knowledge, string sentence) => new(address, value, error, low, high, knowledge, sentence);
        var mine = flat.FirstOrDefault(direction => direction.Members.Contains(j));
        if (mine is not null && mine.Members.Length > 1)
        {
            var others = string.Join(" and ", mine.Members.Where(m => m != j).Select(m => setup.Parameters[m].Name));
            var together = combinations.FirstOrDefault(combination => combination.Addresses.Contains(address));
            return Say(
                Knowledge.OnlyTogether,
                together is null
                    ? $"The data cannot tell {address} apart from {others}. Fix one of them to know the rest."
                    : $"Known only together with {others}, as the {(together.Powers[1] > 0 ? "product" : "ratio")} "
                        + $"{together.Expression} = {Identifiability.Number(together.Value)} "
                        + $"({Identifiability.Number(together.Low)} to {Identifiability.Number(together.High)}). Fix one of them to "
                        + "know the other."
            );
        }
        if (low is { } l && high is { } h)
        {
            if (mine is not null)
                return Say(
                    Knowledge.Unknown,
                    $"The data hardly tell {address}: anything from {Identifiability.Number(l)} to {Identifiability.Number(h)} fits."
                );
            return Say(Knowledge.Known, $"The data tell {address} to within {Within(value, l, h)}.");
        }
        if (low is null && high is null)
            return Say(
                Knowledge.Unknown,
                $"The data cannot tell {address} within its bounds. Fix it from another source, or widen the bounds."
            );
        return low is null
            ? Say(
                Knowledge.OneSided,
                $"The data only say that {address} is at most {Identifiability.Number(high!.Value)}; its lower bound is yours."
            )
            : Say(
                Knowledge.OneSided,
                $"The data only say that {address} is at least {Identifiability.Number(low.Value)}; its upper bound is yours."
            );
    }

    private static string Within(double value, double low, double high)
    {
        var share = Math.Max(high - value, value - low) / Math.Abs(value);
        return share < 0.995
            ? $"{Math.Max(1, Math.Round(100 * share)):0} %"
            : $"a factor of {Math.Max(high / value, value / low).ToString("0.#", System.Globalization.CultureInfo.InvariantCulture)}";
    }
}
