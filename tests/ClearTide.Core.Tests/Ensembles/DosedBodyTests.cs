using ClearTide.Core.Compilation;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Ensembles;

/// <summary>What becomes of doses, against closed forms.</summary>
public class DosedBodyTests
{
    private static DosedBody? Of(string lines, double end) =>
        DosedBody.Of(Lowering.Lower(Studies.Of(lines, end) with { TimeUnit = TimeUnit.Hour }));

    [Fact]
    public void By_mouth_the_half_lives_are_those_of_absorption_and_elimination()
    {
        var body = Of("G -> C at ka; C -> at CL / V; G(0) = 0; C(0) = 0; ka = 0.6; CL = 3; V = 60; 100 into G every 12 from 0", 48)!;
        Assert.Equal([Math.Log(2) / 0.05, Math.Log(2) / 0.6], body.HalfLives.ToArray(), (a, b) => Math.Abs(a - b) < 1e-9 * a);
        // Doses at 0, 12, 24, 36, and the one at the end.
        Assert.Equal(500, body.Given, 1e-9);
        // Superposition of x(t) = D ka / (ka − k) (e^(−kt) − e^(−ka t)) in the centre and D e^(−ka t) in the gut.
        var left = Enumerable
            .Range(0, 5)
            .Select(dose => 48.0 - 12 * dose)
            .Sum(t => 100 * (0.6 / 0.55 * (Math.Exp(-0.05 * t) - Math.Exp(-0.6 * t)) + Math.Exp(-0.6 * t)));
        // The solver's tolerance of 1e-8 leaves seven digits.
        Assert.Equal(left, body.InBody, 1e-5);
        Assert.Equal(500 - left, body.Eliminated, 1e-5);
        // Within a twentieth after 4.3 half-lives.
        Assert.Equal(Math.Log(20) / 0.05, body.TimeWithin(0.05), 1e-9);
    }

    [Fact]
    public void Two_compartments_have_the_roots_of_their_quadratic()
    {
        var (k10, k12, k21) = (0.2, 0.3, 0.1);
        var body = Of("C -> P at 0.3; P -> C at 0.1; C -> at 0.2; C(0) = 0; P(0) = 0; 100 into C at 0; X(0) = 7; X -> at 0.001", 10)!;
        var (sum, root) = (k10 + k12 + k21, Math.Sqrt(Math.Pow(k10 + k12 + k21, 2) - 4 * k10 * k21));
        Assert.Equal(Math.Log(2) / ((sum - root) / 2), body.HalfLives[0], 1e-9);
        Assert.Equal(Math.Log(2) / ((sum + root) / 2), body.HalfLives[1], 1e-9);
        // What nothing is given into is no part of the body.
        Assert.Equal(2, body.HalfLives.Length);
    }

    [Fact]
    public void What_is_collected_does_not_decay_and_an_infusion_counts_as_far_as_it_went()
    {
        var body = Of("C -> U at 0.2; C(0) = 3; U(0) = 0; 100 into C at 6 over 8", 10)!;
        Assert.Equal([Math.Log(2) / 0.2], body.HalfLives.ToArray(), (a, b) => Math.Abs(a - b) < 1e-9);
        Assert.Equal(50, body.Given, 1e-9);
        Assert.Equal(0, body.Eliminated, 1e-5);
        Assert.Equal(53, body.InBody, 1e-5);
    }

    [Fact]
    public void Without_doses_there_is_nothing_to_tell() => Assert.Null(Of("C -> at 0.2; C(0) = 3", 10));
}
