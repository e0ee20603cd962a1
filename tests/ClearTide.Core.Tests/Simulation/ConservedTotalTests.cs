using System.Numerics;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;
using CsCheck;

namespace ClearTide.Core.Tests.Simulation;

public class ConservedTotalTests
{
    private static string[] Totals(string lines)
    {
        var form = Runs.Compile(lines).Network;
        return
        [
            .. ConservedTotal
                .Of(form)
                .Select(total =>
                    string.Join(
                        " + ",
                        total.Weights.Select(pair => $"{(pair.Weight == 1 ? "" : pair.Weight)}{form.States[pair.State].Symbol}")
                    )
                ),
        ];
    }

    [Fact]
    public void A_closed_epidemic_keeps_all_its_people() =>
        Assert.Equal(
            ["S + E + I + R"],
            Totals("S -> E : 0.3 * S * I / 100; E -> I after 3 days; I -> R after 5 days; S(0) = 99; I(0) = 1")
        );

    [Fact]
    public void What_leads_outside_keeps_nothing() => Assert.Empty(Totals("S -> I : 0.1 * S; I -> : 0.2 * I; S(0) = 5"));

    [Fact]
    public void Unconnected_parts_have_totals_of_their_own() =>
        Assert.Equal(["A + B", "C + D"], Totals("A -> B at 0.1; C -> D at 0.2; D -> C at 0.1; A(0) = 1; C(0) = 2"));

    [Fact]
    public void Shares_of_a_fan_out_and_stages_count_whole() =>
        Assert.Equal(["I stage 1 + I stage 2 + R + D"], Totals("I -> R 98%, D after 4 days in 2 stages; I(0) = 10"));

    [Fact]
    public void A_fan_out_that_leads_outside_in_part_keeps_nothing() => Assert.Empty(Totals("I -> R 98%, outside at 0.2; I(0) = 10"));

    [Fact]
    public void What_follows_smoothly_takes_no_part() => Assert.Equal(["A + B"], Totals("A -> B : 0.1 * smooth(A, 3 days); A(0) = 9"));

    [Fact]
    public void Reactions_with_other_numbers_than_one_give_weighted_totals()
    {
        // 2 M <-> D (dimers): M + 2 D stays. E + S <-> C -> E + P: E + C and S + C + P stay.
        var graph = new ExpressionGraph();
        var rate = graph.Constant(1);
        ReactionNetwork Network(string[] states, params (int, int)[][] changes) =>
            new()
            {
                Graph = graph,
                States = [.. states.Select(symbol => new StateVariable(symbol, symbol))],
                Values = [],
                Initial = [.. states.Select(_ => rate)],
                Processes =
                [
                    .. changes.Select(
                        (change, k) =>
                            new Process($"{k}", $"{k}", rate, [.. change.Select(pair => new StateChange(pair.Item1, pair.Item2))])
                    ),
                ],
                Amounts = [],
                Flows = [],
                Quantities = [],
            };
        Assert.Equal([(0, 1.0), (1, 2.0)], Assert.Single(ConservedTotal.Of(Network(["M", "D"], [(0, -2), (1, 1)]))).Weights);
        var enzyme = ConservedTotal.Of(
            Network(["E", "S", "C", "P"], [(0, -1), (1, -1), (2, 1)], [(0, 1), (1, 1), (2, -1)], [(2, -1), (0, 1), (3, 1)])
        );
        Assert.Equal(2, enzyme.Count);
        foreach (var total in enzyme)
        {
            double W(int state) => total.Weights.Where(pair => pair.State == state).Sum(pair => pair.Weight);
            Assert.Equal(0, -W(0) - W(1) + W(2));
            Assert.Equal(0, -W(2) + W(0) + W(3));
        }
    }

    [Fact]
    public void Generated_matrices_get_a_whole_basis_of_their_left_null_space()
    {
        var entries = Gen.Int[-2, 2];
        Gen.Select(Gen.Int[1, 7], Gen.Int[0, 7])
            .SelectMany((rows, columns) => entries.Array[rows].Array[columns].Select(matrix => (rows, matrix)))
            .Sample(
                made =>
                {
                    var columns = made
                        .matrix.Select(column =>
                            (IReadOnlyList<(int, int)>)[.. column.Select((entry, row) => (row, entry)).Where(pair => pair.entry != 0)]
                        )
                        .ToList();
                    var basis = LeftNullSpace.Of(made.rows, columns);
                    foreach (var vector in basis)
                    {
                        foreach (var column in made.matrix)
                            Assert.Equal(
                                BigInteger.Zero,
                                vector.Aggregate(BigInteger.Zero, (sum, pair) => sum + pair.Weight * column[pair.Row])
                            );
                    }
                    // By the theorem of rank and nullity there are as many as the rank leaves; each has a row that no other has, so they
                    // are independent.
                    var rank =
                        made.matrix.Length == 0
                            ? 0
                            : MathNet
                                .Numerics.LinearAlgebra.Matrix<double>.Build.Dense(made.rows, made.matrix.Length, (row, column) =>
                                    made.matrix[column][row]
                                )
                                .Rank();
                    Assert.Equal(made.rows - rank, basis.Count);
                },
                iter: 500,
                seed: "0000KtidesA1"
            );
    }

    [Theory]
    [InlineData(Method.Adaptive)]
    [InlineData(Method.Stiff)]
    [InlineData(Method.Automatic)]
    [InlineData(Method.RungeKutta4)]
    [InlineData(Method.Midpoint)]
    [InlineData(Method.Euler)]
    public void Every_method_keeps_a_total_to_rounding(Method method)
    {
        var model = Runs.Compile(Studies.Latent);
        var run = Runs.Run(model, OutputTimes.Every(0, 150, 1), SolverSettings.Default with { Method = method });
        var (drift, changed) = Assert.Single(ConservedTotal.Of(model.Network)).Drift(run);
        // A few hundred steps, each rounding four sums of size 1e4: some 1e-13 of the total; linear solves of the stiff method add a digit.
        Assert.InRange(drift, 0, 1e-11);
        Assert.Null(changed);
    }

    [Fact]
    public void An_event_that_adds_is_told_with_its_time()
    {
        var model = Runs.Compile("A -> B at 0.1; A(0) = 10; at 4: A = A + 1");
        var (_, changed) = Assert.Single(ConservedTotal.Of(model.Network)).Drift(Runs.Run(model, OutputTimes.Every(0, 10, 0.5)));
        Assert.Equal(4, changed);
    }
}
