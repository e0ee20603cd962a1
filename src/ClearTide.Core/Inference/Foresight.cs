using System.Globalization;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Inference;

/// <summary>
/// What data can tell before anything is fitted: by the expected information at the model's own values, as if these were right (Raue
/// et al., Bioinformatics 25, 2009, pp. 1923–1929). The data's values count for nothing here, but their times, their number and their errors do.
/// </summary>
public static class Foresight
{
    /// <summary>Most values that a sentence is given for.</summary>
    private const int Most = 8;

    /// <summary>What the data can tell of the values that a fit would estimate, before it is done.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="series">The observations with their rows.</param>
    /// <param name="cancel">Stops the computation with an <see cref="OperationCanceledException"/>.</param>
    /// <returns>A sentence for each value or combination; empty where the model cannot be run at its own values.</returns>
    /// <exception cref="FitRefusedException">The fit makes no sense as asked.</exception>
    public static IReadOnlyList<string> Of(StudyDocument document, IReadOnlyList<Series> series, CancellationToken cancel = default)
    {
        var (_, setup, _, model) = PreparedFit.Of(document, series, cancel);
        var search = new LikelihoodSearch(model, setup);
        SearchPoint here;
        try
        {
            double[] own = [.. Enumerable.Range(0, search.Dimension).Select(j => search.FromValue(j, model.Values[model.Chosen[j]]))];
            here = search.Evaluate(own, null, cancel);
        }
        catch (SimulationException)
        {
            return [];
        }
        var onLog = Enumerable.Range(0, search.Dimension).Select(search.OnLogScale).ToArray();
        var covariance = Covariances.WithinBounds(search, here.Information);
        var flat = Identifiability.FlatDirections(here.Information, onLog);
        string Name(int j) => setup.Parameters[j].Name;
        var told = new List<string>();
        foreach (var direction in flat)
        {
            told.Add(
                direction.Members.Length == 1 ? $"{Name(direction.Members[0])} hardly at all"
                : Identifiability.Combination(direction) is { } pair
                    ? $"{Name(pair.Members[0])} and {Name(pair.Members[1])} only together, as "
                        + Identifiability.Write([.. pair.Members.Select(j => setup.Parameters[j].Address)], pair.Powers)
                : $"{string.Join(", ", direction.Members.Select(Name))} only together"
            );
        }
        for (var j = 0; j < search.Dimension; j++)
        {
            if (flat.All(direction => !direction.Members.Contains(j)))
                told.Add($"{Name(j)} to within {Within(search, j, Neighbourhood.Quantile975 * Math.Sqrt(covariance[j, j]))}");
        }
        return [.. told.Take(Most), .. told.Count > Most ? [$"{told.Count - Most} more"] : (string[])[]];
    }

    private static string Within(LikelihoodSearch search, int j, double half)
    {
        if (!search.OnLogScale(j))
            return $"±{half.ToString("G2", CultureInfo.InvariantCulture)}";
        var factor = Math.Exp(half);
        return factor < 2
            ? $"{Math.Max(1, Math.Round(100 * (factor - 1))):0} %"
            : $"a factor of {factor.ToString("0.#", CultureInfo.InvariantCulture)}";
    }
}
