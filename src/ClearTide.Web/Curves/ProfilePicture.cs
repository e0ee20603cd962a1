using System.Globalization;
using ClearTide.Core.Inference;
using ClearTide.Formats.Print;
using ClearTide.Web.Words;

namespace ClearTide.Web.Curves;

/// <summary>A profile likelihood as a small picture in a row: how it falls on both sides of the estimate, where it crosses the line, and
/// where a bound cuts it off.</summary>
/// <param name="Curve">Points of the curve.</param>
/// <param name="Line">Where the line of the 95% interval lies, from the top.</param>
/// <param name="Low">Where the interval begins, or the bound.</param>
/// <param name="High">Where it ends.</param>
/// <param name="Ends">Ends of the interval that are none of a bound.</param>
/// <param name="Bounds">Bounds that the profile reaches.</param>
/// <param name="Words">The same, read aloud.</param>
public sealed record ProfilePicture(
    string Curve,
    double Best,
    double Line,
    double Low,
    double High,
    IReadOnlyList<double> Ends,
    IReadOnlyList<double> Bounds,
    string Words
)
{
    public const double Width = 136;
    public const double Height = 38;

    /// <summary>Where the best log-likelihood lies.</summary>
    public const double Top = 6;

    private const double Side = 6;

    /// <summary>The fall that the lower edge shows.</summary>
    private const double Deepest = 3;

    /// <summary>The fall at the ends of a 95% interval.</summary>
    private const double Fall = 1.920729;

    private const int Points = 60;

    /// <returns>Null where the profile has no more than its top.</returns>
    public static ProfilePicture? Of(Estimate estimate, IReadOnlyList<ProfilePoint> profile)
    {
        var best = profile.Select((point, k) => (point, k)).MinBy(one => one.point.Fall).k;
        if (profile.Count < 3 || !(profile[^1].Value > profile[0].Value))
            return null;
        // Many profiles are even on a log scale; one that reaches zero or below is not.
        var onLog = profile[0].Value > 0 && profile[^1].Value > 4 * profile[0].Value;
        double At(double value) => onLog ? Math.Log(value) : value;
        // The root of the fall, with its sign, is almost straight: between points it is taken so, and the curve is round.
        double Root(int k) => (k < best ? -1 : 1) * Math.Sqrt(profile[k].Fall);
        var (first, last) = (Shown(-1), Shown(1));
        // Where the curve leaves the picture on one side, or where the profile ends before that.
        double Shown(int side)
        {
            var edge = Math.Sqrt(Deepest);
            for (var k = best; k + side >= 0 && k + side < profile.Count; k += side)
            {
                var (here, next) = (side * Root(k), side * Root(k + side));
                if (next >= edge)
                    return At(profile[k].Value) + (At(profile[k + side].Value) - At(profile[k].Value)) * (edge - here) / (next - here);
            }
            return At(profile[side < 0 ? 0 : ^1].Value);
        }
        double X(double value) => Side + (Width - 2 * Side) * (At(value) - first) / (last - first);
        double Y(double fall) => Top + (Height - Top - 2) * fall / Deepest;
        var curve = new List<string>();
        for (var (point, k) = (0, 0); point <= Points; point++)
        {
            var place = first + (last - first) * point / Points;
            while (k + 2 < profile.Count && At(profile[k + 1].Value) < place)
                k++;
            var (a, b) = (At(profile[k].Value), At(profile[k + 1].Value));
            var root = b > a ? Root(k) + (Root(k + 1) - Root(k)) * Math.Clamp((place - a) / (b - a), 0, 1) : Root(k);
            var across = Side + (Width - 2 * Side) * point / Points;
            curve.Add(string.Create(CultureInfo.InvariantCulture, $"{across:0.#},{Y(root * root):0.#}"));
        }
        var ends = new[] { estimate.Low, estimate.High }.OfType<double>().ToList();
        var bounds = new List<double>();
        if (estimate.Low is null)
            bounds.Add(Side);
        if (estimate.High is null)
            bounds.Add(Width - Side);
        return new(
            string.Join(' ', curve),
            X(profile[best].Value),
            Y(Fall),
            estimate.Low is { } low ? X(low) : Side,
            estimate.High is { } high ? X(high) : Width - Side,
            [.. ends.Select(X)],
            bounds,
            $"Profile of {estimate.Address}: the log-likelihood is 1.92 below its best "
                + (
                    ends.Count == 0 ? "nowhere between the bounds."
                    : ends.Count == 1 ? $"at {Numbers.Say(ends[0])}, and on the other side not before the bound."
                    : $"at {Numbers.Say(ends[0])} and {Numbers.Say(ends[1])}."
                )
        );
    }
}
