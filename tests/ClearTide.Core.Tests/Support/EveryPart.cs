using ClearTide.Core.Compilation;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Core.Tests;

/// <summary>A study that holds one of every kind of part, and of every way to give a number.</summary>
internal static class EveryPart
{
    public const string Lines = """
        unit tablet = 200 mg
        S -> E : beta * season(t) * crowding(I / N) * S * I / N
        E -> I after 3 days in 2 stages
        I -> R 98%, D the rest at gamma
        R -> S at 19 per 1000 per year
        I -> at 1 per week
        -> S : 3
        S -> : rain limited
        reaction meet: A + 2 B -> C + W : 0.001 * A * B
        C -> W : 0.02 * C
        C -> A at release(C)
        beta = 0.36 per day
        gamma = 1/5 per day
        N = S + E + I + R
        past = delay(I, 5 days)
        calm = smooth(I, 4 days)
        S(0) = the rest of 18400 people
        I(0) = 3 people
        A(0) = 50
        B(0) = 80
        C(0) = 0
        W(0) = A / 2
        D(0) = 0
        dose = 2 tablets
        rho = 40%
        season = points 0 1, 30 1.2, 60 0.8 smooth then repeat
        crowding(x) = points 0 1, 0.5 0.7, 1 0.2
        rain = normal(4, 1) every 7 days
        at 30: S -> R : 400
        every 10 days from 5 until 40: -> A : 2 over 12 hours
        when I > 400 once: beta = 0.2
        while I > 300: gamma = 0.3
        group side = left, right
        U[side](0) = 40
        U[left](0) = 60
        U -> at fade
        fade[side] = 0.02 per day
        fade[right] = 0.03 per day
        along side after 30 days
        assume: people mix evenly
        expect: N + D <= 20000
        """;

    /// <summary>It, with response curves by plain numbers, bounds, labels and notes besides.</summary>
    public static StudyDocument Study()
    {
        var document = Studies.Of(Lines.Replace("C -> A at release(C)", "C -> A at 0.01", StringComparison.Ordinal), 90);
        document = document.With(
            new ResponseCurve("law1", "release", "Release", CurveLaw.Hill, [])
            {
                Low = "0.01",
                High = "0.2",
                Half = "30",
                Slope = "2",
            }
        );
        var leaving = document.Flows.First(flow => document.Describe(flow) == "C → A");
        document = document.With(leaving with { Rate = "release(C)" });
        document = document.With(document.DefinitionBySymbol("dose")! with { Text = "2", Unit = "tablet" });
        document = document with
        {
            Modules = [new("m1", "pond", "Village pond") { Source = new("pattern decay-chain", "Decay chain", [new("A", "A(0) = 10")]) }],
        };
        var beta = document.DefinitionBySymbol("beta")!;
        return document.With(beta with { Lower = "0.1", Upper = "0.9", Note = "a guess", Label = "Transmission" });
    }

    public static LoweredModel Lowered() => Lowering.Lower(Study());
}
