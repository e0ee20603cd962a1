using ClearTide.Core.Model;

namespace ClearTide.Bench.WorkPrecision;

/// <summary>A problem with a solution that is known: a closed form, an orbit that closes, or a published reference.</summary>
/// <param name="Lines">The model as it is typed.</param>
/// <param name="Reference">The exact amounts at the end, by symbol.</param>
/// <param name="Size">What an amount counts as being at least: the absolute tolerance is the relative one times this.</param>
internal sealed record Problem(
    string Name,
    string Lines,
    double End,
    IReadOnlyDictionary<string, double> Reference,
    double Size,
    string Source
);

internal static class Problems
{
    private static Dictionary<string, double> At(params (string, double)[] amounts) =>
        amounts.ToDictionary(pair => pair.Item1, pair => pair.Item2);

    private static double Bateman(double a, double b, double t) => 100 * a / (b - a) * (Math.Exp(-a * t) - Math.Exp(-b * t));

    /// <summary>Fourteen doses of 50, one every half day, absorbed at 1.1 and eliminated at 0.17 a day.</summary>
    private static double Tablets(double t) =>
        Enumerable
            .Range(0, 14)
            .Select(k => t - 0.5 * k)
            .Where(since => since > 0)
            .Sum(since => 50 * 1.1 / (1.1 - 0.17) * (Math.Exp(-0.17 * since) - Math.Exp(-1.1 * since)));

    public static readonly IReadOnlyList<Problem> All =
    [
        new(
            "growth to a limit",
            "-> P : 0.5 * P * (1 - P / 1000); P(0) = 10",
            30,
            At(("P", 1000 / (1 + 99 * Math.Exp(-15)))),
            1,
            "closed form"
        ),
        new(
            "Gompertz growth",
            "-> P : 0.1 * P * ln(1000 / P); P(0) = 10",
            40,
            At(("P", 1000 * Math.Exp(Math.Log(0.01) * Math.Exp(-4)))),
            1,
            "closed form"
        ),
        new(
            "decay chain",
            "A -> B at 0.4; B -> C at 0.1; A(0) = 100",
            12,
            At(("A", 100 * Math.Exp(-4.8)), ("B", Bateman(0.4, 0.1, 12))),
            1,
            "Bateman, 1910"
        ),
        new(
            "tablets twice a day",
            "G -> C at 1.1; C -> at 0.17; every 0.5 from 0 until 6.5: -> G : 50",
            20.3,
            At(("C", Tablets(20.3))),
            1,
            "closed form"
        ),
        new(
            "an infection that stays",
            "S -> I : 0.5 * S * I / 1000; I -> S at 0.2; S(0) = the rest of 1000; I(0) = 1",
            40,
            At(("I", 600 / (1 + 599 * Math.Exp(-0.3 * 40)))),
            1,
            "closed form"
        ),
        new("oscillator", "-> x : v; -> v : -x; x(0) = 1", 20 * Math.PI, At(("x", 1), ("v", 0)), 1, "closed orbit"),
        new(
            "Kepler orbit, eccentricity 0.5",
            "-> x : u; -> y : v; r = sqrt(x^2 + y^2); -> u : -x / r^3; -> v : -y / r^3; x(0) = 0.5; v(0) = sqrt(3)",
            10 * Math.PI,
            At(("x", 0.5), ("y", 0), ("u", 0), ("v", Math.Sqrt(3))),
            1,
            "closed orbit"
        ),
        new(
            "Arenstorf orbit",
            "m = 0.012277471; k = 1 - m; D = ((x + m)^2 + y^2)^1.5; F = ((x - k)^2 + y^2)^1.5; -> x : u; -> y : v; -> u : x + 2 * v "
                + "- k * (x + m) / D - m * (x - k) / F; -> v : y - 2 * u - k * y / D - m * y / F; x(0) = 0.994; v(0) = "
                + "-2.00158510637908252240537862224",
            17.0652165601579625588917206249,
            At(("x", 0.994), ("y", 0)),
            1,
            "closed orbit; Hairer, Nørsett, Wanner I, II.0"
        ),
        new(
            "a fast decay towards cos t",
            "-> y : -1e6 * (y - cos(t)) - sin(t); y(0) = 1",
            10,
            At(("y", Math.Cos(10))),
            1,
            "closed form; Prothero and Robinson, 1974"
        ),
        new(
            "Kaps's problem",
            "-> a : -(1e5 + 2) * a + 1e5 * b^2; -> b : a - b * (1 + b); a(0) = 1; b(0) = 1",
            1,
            At(("a", Math.Exp(-2)), ("b", Math.Exp(-1))),
            1,
            "closed form"
        ),
        new(
            "HIRES",
            "-> a : -1.71 * a + 0.43 * b + 8.32 * c + 0.0007; -> b : 1.71 * a - 8.75 * b; -> c : -10.03 * c + 0.43 * d + 0.035 * g; "
                + "-> d : 8.32 * b + 1.71 * c - 1.12 * d; -> g : -1.745 * g + 0.43 * h + 0.43 * k; w = 280 * h * m; -> h : -w + "
                + "0.69 * d + 1.71 * g - 0.43 * h + 0.69 * k; -> k : w - 1.81 * k; -> m : -w + 1.81 * k; a(0) = 1; m(0) = 0.0057",
            321.8122,
            At(("a", 0.7371312573325668e-3), ("d", 0.1175651343283149e-2), ("g", 0.2386356198831331e-2), ("k", 0.2849998395185769e-2)),
            1e-2,
            "Test Set for IVP Solvers, release 2.4"
        ),
        new(
            "Robertson's reactions",
            "A -> B at 0.04; B -> C : 3e7 * B^2; B -> A : 1e4 * B * C; A(0) = 1",
            1e11,
            At(("A", 0.2083340149701255e-7), ("C", 0.9999999791665050)),
            1e-8,
            "Test Set for IVP Solvers, release 2.4"
        ),
    ];
}
