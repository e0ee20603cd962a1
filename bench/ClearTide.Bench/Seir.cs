using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Bench;

/// <summary>The epidemic that all comparisons run: four compartments, three flows, a year.</summary>
internal static class Seir
{
    public const double Beta = 0.4,
        Sigma = 1.0 / 3,
        Gamma = 0.2,
        Days = 365;

    public static CompiledModel Compile(double population = 18400) => new(Lowering.Lower(Study(population)).Network);

    public static StudyDocument Study(double population = 18400) => new AddLines(
            $"""
            S -> E : beta * S * I / N
            E -> I at sigma
            I -> R at gamma
            beta = 0.4 per day
            sigma = 1/3 per day
            gamma = 0.2 per day
            N = S + E + I + R
            S(0) = the rest of {population}
            I(0) = 12
            """
        ).Apply(new StudyDocument { Title = "SEIR", End = Days }).Document!;
}
