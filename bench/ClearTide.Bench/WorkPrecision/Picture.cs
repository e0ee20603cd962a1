using System.Globalization;
using System.Text;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;

namespace ClearTide.Bench.WorkPrecision;

/// <summary>Achieved against requested error as a picture: both by powers of ten, a line for each problem, and the diagonal where both
/// are the same.</summary>
internal static class Picture
{
    private const double Width = 900,
        Height = 560,
        Left = 70,
        Right = 270,
        Top = 30,
        Bottom = 50;

    private static readonly string[] Colours =
    [
        "#14534e",
        "#c2543a",
        "#2f6d9e",
        "#8a6a10",
        "#6b3f7c",
        "#3f7d4a",
        "#555555",
        "#b0407a",
        "#1d7f8c",
        "#7a4a2b",
        "#4953a8",
        "#98801f",
    ];

    public static string Of(IReadOnlyList<(string Name, IReadOnlyList<double> Errors)> problems, IReadOnlyList<int> digits)
    {
        var (least, most) = (-13.0, 1.0);
        string Number(double value) => value.ToString("0.#", CultureInfo.InvariantCulture);
        double X(double power) => Left + (Width - Left - Right) * (-power - digits[0]) / (digits[^1] - digits[0]);
        double Y(double power) => Top + (Height - Top - Bottom) * (most - Math.Clamp(power, least, most)) / (most - least);
        var svg = new StringBuilder(
            $"<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 {Width} {Height}\" font-family=\"sans-serif\" "
                + $"font-size=\"12\"><rect width=\"{Width}\" height=\"{Height}\" fill=\"#fbf8f1\"/>"
        );
        for (var power = (int)least; power <= most; power += 2)
            svg.Append(
                $"<line x1=\"{Number(Left)}\" x2=\"{Number(Width - Right)}\" y1=\"{Number(Y(power))}\" y2=\"{Number(Y(power))}\" "
                    + $"stroke=\"#e2dccb\"/><text x=\"{Number(Left - 8)}\" y=\"{Number(Y(power) + 4)}\" "
                    + $"text-anchor=\"end\">1e{power}</text>"
            );
        foreach (var digit in digits)
            svg.Append($"<text x=\"{Number(X(-digit))}\" y=\"{Number(Height - Bottom + 20)}\" text-anchor=\"middle\">1e-{digit}</text>");
        svg.Append(
            $"<text x=\"{Number((Left + Width - Right) / 2)}\" y=\"{Number(Height - 8)}\" text-anchor=\"middle\">tolerance asked "
                + $"for</text><text x=\"{Number(Left)}\" y=\"16\">error at the end</text>"
        );
        svg.Append(
            $"<line x1=\"{Number(X(-digits[0]))}\" y1=\"{Number(Y(-digits[0]))}\" x2=\"{Number(X(-digits[^1]))}\" "
                + $"y2=\"{Number(Y(-digits[^1]))}\" stroke=\"#888\" stroke-dasharray=\"5 4\"/>"
        );
        // Names stand where their lines end, apart from each other.
        var ends = problems.Select((problem, k) => (k, At: Y(Power(problem.Errors[^1])))).OrderBy(end => end.At).ToList();
        var places = new double[problems.Count];
        var below = double.NegativeInfinity;
        foreach (var (k, at) in ends)
            below = places[k] = Math.Max(at, below + 15);
        var over = Math.Max(0, below - (Height - Bottom));
        for (var k = 0; k < problems.Count; k++)
        {
            var line = string.Join(
                ' ',
                problems[k].Errors.Select((error, place) => $"{Number(X(-digits[place]))},{Number(Y(Power(error)))}")
            );
            var name = Number(places[k] - over);
            svg.Append(
                $"<polyline points=\"{line}\" fill=\"none\" stroke=\"{Colours[k % Colours.Length]}\" stroke-width=\"1.8\"/><line "
                    + $"x1=\"{Number(Width - Right)}\" y1=\"{Number(Y(Power(problems[k].Errors[^1])))}\" "
                    + $"x2=\"{Number(Width - Right + 14)}\" y2=\"{name}\" stroke=\"{Colours[k % Colours.Length]}\" "
                    + $"stroke-width=\"0.7\"/><text x=\"{Number(Width - Right + 18)}\" y=\"{Number(places[k] - over + 4)}\" "
                    + $"fill=\"{Colours[k % Colours.Length]}\">{problems[k].Name}</text>"
            );
        }
        return svg.Append("</svg>\n").ToString();
    }

    /// <summary>No error at all is shown as one of rounding.</summary>
    private static double Power(double error) => Math.Log10(Math.Max(error, 1e-16));
}
