using ClearTide.Core.Model;
using ClearTide.Core.Reports;

namespace ClearTide.Core.Tests.Reports;

public class InfluenceTests
{
    private static string Id(StudyDocument document, string symbol) => document.PartBySymbol(symbol)!.Id;

    private static Dictionary<string, InfluenceSign> Moves(StudyDocument document, string symbol) =>
        Influences
            .Of(StudyRun.Of(document), Id(document, symbol))
            .Where(one => one.From == Id(document, symbol))
            .ToDictionary(one => document.Describe(document.Part(one.To)!), one => one.Sign);

    private static Dictionary<string, InfluenceSign> MovedBy(StudyDocument document, IPart part) =>
        Influences
            .Of(StudyRun.Of(document), part.Id)
            .Where(one => one.To == part.Id)
            .ToDictionary(one => document.Describe(document.Part(one.From)!), one => one.Sign);

    [Fact]
    public void Signs_are_those_of_the_derivative_through_all_quantities_between()
    {
        var document = Studies.Of(
            "S -> I : lambda * S; I -> R at gamma; lambda = beta * I / N; N = S + I + R; beta = 0.4; gamma = 0.2; S(0) = 990; I(0) = 10"
        );
        Assert.Equal(new() { ["lambda"] = InfluenceSign.More, ["S → I"] = InfluenceSign.More }, Moves(document, "beta"));
        Assert.Equal(InfluenceSign.Less, Moves(document, "N")["S → I"]);
        // Of the infection only, since recovery is what I gives by itself and is moved by it too.
        Assert.Equal(InfluenceSign.More, Moves(document, "I")["S → I"]);
        Assert.Equal(InfluenceSign.More, Moves(document, "I")["I → R"]);
        // d(beta I S / N)/dR = -beta I S / N² is below zero throughout.
        Assert.Equal(InfluenceSign.Less, Moves(document, "R")["S → I"]);
    }

    [Fact]
    public void A_flow_moves_its_ends_and_is_moved_by_what_its_formula_names()
    {
        var document = Studies.Of("A -> B at k; k = 0.1; A(0) = 5");
        Assert.Equal(new() { ["A"] = InfluenceSign.More, ["k"] = InfluenceSign.More }, MovedBy(document, document.Flows[0]));
        Assert.Equal(InfluenceSign.Less, MovedBy(document, document.CompartmentBySymbol("A")!)["A → B"]);
        Assert.Equal(InfluenceSign.More, MovedBy(document, document.CompartmentBySymbol("B")!)["A → B"]);
    }

    [Fact]
    public void Where_the_sign_changes_along_the_run_it_is_both()
    {
        // d(A (10 - A))/dA = 10 - 2 A changes its sign as A falls from 9 through 5.
        var document = Studies.Of("A -> B : 0.1 * q; q = A * (10 - A); A(0) = 9", end: 60);
        Assert.Equal(InfluenceSign.Both, Moves(document, "A")["q"]);
    }

    [Fact]
    public void What_moves_nothing_along_the_run_is_left_out()
    {
        var document = Studies.Of("A -> B : 0 * k * A + 0.1 * A; k = 3; A(0) = 5");
        Assert.Empty(Moves(document, "k"));
    }

    [Fact]
    public void A_longer_stay_makes_less_flow() =>
        Assert.Equal(InfluenceSign.Less, Moves(Studies.Of("A -> B after stay; stay = 4 days; A(0) = 5"), "stay")["A → B"]);

    [Fact]
    public void A_delayed_quantity_moves_as_what_it_is_delayed_from() =>
        Assert.Equal(InfluenceSign.More, Moves(Studies.Of("-> B : 0.1 * delay(A, 5 days); A -> at 0.1; A(0) = 5"), "A")["outside → B"]);

    [Fact]
    public void All_plates_that_move_flows_of_others_are_listed_at_once()
    {
        var document = Studies.Of("S -> I : 0.001 * S * I; I -> R at 0.2; S(0) = 990; I(0) = 10");
        var all = Influences.OnFlows(StudyRun.Of(document));
        Assert.Equal(
            (Id(document, "I"), document.Flows[0].Id, InfluenceSign.More),
            Assert.Single(all.Select(one => (one.From, one.To, one.Sign)))
        );
    }

    [Fact]
    public void A_run_that_could_not_be_made_has_no_influences() =>
        Assert.Empty(Influences.OnFlows(StudyRun.Of(Studies.Of("A -> B : A / 0; A(0) = 1"))));
}
