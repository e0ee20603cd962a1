using System.Text.Json;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Language;

namespace ClearTide.Web.Pages.Studies;

/// <summary>The share of subjects inside the target against a value, and where it is as high as wanted.</summary>
/// <param name="Found">Null where it could not be worked out.</param>
/// <param name="Wanted">The share that is asked for.</param>
/// <param name="Count">How many subjects it is of.</param>
/// <param name="Problem">Why there is nothing; empty where there is.</param>
public sealed record AttainmentPicture(TargetAttainment? Found, ValueAddress Address, double Wanted, int Count, string Problem)
{
    public string Json =>
        JsonSerializer.Serialize(
            new
            {
                values = Found?.Values,
                shares = Found?.Shares.Select(share => double.IsNaN(share) ? (double?)null : share),
                wanted = Wanted,
                name = Address?.ToString(),
            }
        );

    /// <summary>Where the share is as high as wanted, in a sentence.</summary>
    public string Words
    {
        get
        {
            if (Found is null)
                return Problem;
            var stretches = Found.AtLeast(Wanted);
            var best = Found.Shares.Index().Where(one => !double.IsNaN(one.Item)).MaxBy(one => one.Item);
            var ways = stretches.Select(one => $"{NumberWords.Grouped(one.From, 3)} to {NumberWords.Grouped(one.To, 3)}");
            return stretches.Count > 0
                ? $"{Address} from {string.Join(", and from ", ways)} "
                    + $"keeps {100 * Wanted:0.#} % of {Count} subjects inside throughout."
                : $"No {Address} between {NumberWords.Grouped(Found.Values[0], 5)} and {NumberWords.Grouped(Found.Values[^1], 5)} keeps "
                    + $"{100 * Wanted:0.#} % of {Count} subjects inside throughout: at most {100 * best.Item:0} %, "
                    + $"at {NumberWords.Grouped(Found.Values[best.Index], 3)}.";
        }
    }
}
