using ClearTide.Core.Model;
using static ClearTide.Formats.Tests.Sbml.SbmlFiles;

namespace ClearTide.Formats.Tests.Sbml;

/// <summary>Events as the standard has them, worked by hand.</summary>
public class SbmlEventTests
{
    // Tolerance 1e-8 a step, some tens of steps.
    private const double Close = 1e-6;

    [Fact]
    public void Events_set_concentrations_and_parameters_together()
    {
        var file = WithEvents(Event(Apply("geq", Ci("x"), Cn(1)), Set("A", Ci("p")) + Set("p", Apply("plus", Ci("A"), Cn(4)))));
        Assert.Equal((1.0, 5.0), (End(file, "A"), End(file, "p")));
        Assert.Equal(2, End(file, "A", amounts: true));
    }

    [Theory]
    [InlineData("true", 1)]
    [InlineData("false", 1.5)]
    public void Delayed_events_use_the_values_they_say(string atTrigger, double expected)
    {
        var file = WithEvents(
            Event(
                Apply("geq", Ci("x"), Cn(1)),
                Set("p", Ci("x")),
                $"<delay>{Math(Cn(0.5))}</delay>",
                $"useValuesFromTriggerTime=\"{atTrigger}\""
            )
        );
        Assert.Equal(expected, End(file, "p"), Close);
    }

    [Theory]
    [InlineData("false", 9)]
    [InlineData("true", 1)]
    public void A_trigger_true_at_the_start_fires_where_its_initial_value_was_false(string initial, double expected)
    {
        var file = WithEvents(Event("<true/>", Set("p", Cn(9)), triggerAttributes: $"initialValue=\"{initial}\" persistent=\"true\""));
        Assert.Equal(expected, End(file, "p"));
    }

    [Fact]
    public void Priorities_order_events_of_one_instant()
    {
        string One(double priority, string math) =>
            Event(
                Apply("geq", Ci("x"), Cn(1)),
                Set("p", math),
                $"<priority>{Math(Cn(priority))}</priority>",
                "useValuesFromTriggerTime=\"false\""
            );
        Assert.Equal(30, End(WithEvents(One(1, Apply("times", Ci("p"), Cn(3))) + One(2, Apply("plus", Ci("p"), Cn(9)))), "p"));
    }

    [Fact]
    public void What_has_no_value_may_be_given_one_by_an_event()
    {
        var file = WithEvents(Event(Apply("geq", Ci("x"), Cn(1)), Set("q", Cn(3))))
            .Replace("</listOfParameters>", "<parameter id=\"q\" constant=\"false\"/></listOfParameters>");
        Assert.Equal(double.NaN, End(file, "q", 0.5));
        Assert.Equal(3, End(file, "q"));
    }

    [Fact]
    public void What_was_worked_out_at_the_start_stays_when_an_event_changes_what_it_came_from()
    {
        var file = WithEvents(
                Event(Apply("geq", Ci("x"), Cn(1)), Set("p", Cn(3))),
                "<listOfInitialAssignments><initialAssignment "
                    + $"symbol=\"k\">{Math(Apply("plus", Ci("p"), Cn(4)))}</initialAssignment></listOfInitialAssignments>"
            )
            .Replace("</listOfParameters>", "<parameter id=\"k\" constant=\"true\"/></listOfParameters>");
        Assert.Equal((3.0, 5.0), (End(file, "p"), End(file, "k")));
    }

    [Fact]
    public void An_amount_stays_when_an_event_changes_the_size_it_is_in()
    {
        // [A] grows by one a day under a rate rule; from size 1 to 4 at day 1 it is 2 before and a quarter of that after.
        var file = File(
            Compartment(1, "constant=\"false\"")
                + $"<listOfSpecies>{Species("A", "initialConcentration=\"1\"")}{Species("B", "initialConcentration=\"8\"")}</listOfSpecies>"
                + "<listOfRules><rateRule "
                + $"variable=\"A\">{Math(Cn(1))}</rateRule></listOfRules><listOfEvents>{Event(Apply("geq", Time, Cn(1)), Set("C", Cn(4)))}</listOfEvents>"
        );
        Assert.Equal(1.5, End(file, "A"), Close);
        Assert.Equal(2, End(file, "B"), Close);
    }

    [Theory]
    [InlineData("hasOnlySubstanceUnits=\"true\" boundaryCondition=\"true\" constant=\"false\"", "initialConcentration=\"1\"", 6, 6)]
    [InlineData("hasOnlySubstanceUnits=\"false\" boundaryCondition=\"true\" constant=\"false\"", "initialAmount=\"1\"", 6, 12)]
    [InlineData("hasOnlySubstanceUnits=\"false\" boundaryCondition=\"true\" constant=\"false\"", "initialConcentration=\"1\"", 6, 12)]
    public void A_species_that_nothing_moves_is_set_in_the_units_that_formulas_read_it_in(
        string flags,
        string initial,
        double read,
        double amount
    )
    {
        var file = WithEvents(Event(Apply("geq", Ci("x"), Cn(1)), Set("B", Cn(6))))
            .Replace("</listOfSpecies>", Species("B", initial, flags) + "</listOfSpecies>");
        Assert.Equal((read, amount), (End(file, "B"), End(file, "B", amounts: true)));
    }

    [Theory]
    [InlineData("true", 1)]
    [InlineData("false", 2)]
    public void An_event_that_another_takes_the_ground_from_is_dropped_where_it_does_not_persist(string persistent, double expected)
    {
        string One(double priority, string trigger, string variable, double value, string persists) =>
            Event(
                trigger,
                Set(variable, Cn(value)),
                $"<priority>{Math(Cn(priority))}</priority>",
                triggerAttributes: $"initialValue=\"true\" persistent=\"{persists}\""
            );
        var file = WithEvents(
                One(2, Apply("geq", Ci("x"), Cn(1)), "q", 0, "true")
                    + One(
                        1,
                        Apply("and", Apply("geq", Ci("x"), Cn(1)), Apply("gt", Ci("q"), Cn(0))),
                        "p",
                        2,
                        persistent == "true" ? "false" : "true"
                    )
            )
            .Replace("</listOfParameters>", "<parameter id=\"q\" value=\"1\" constant=\"false\"/></listOfParameters>");
        Assert.Equal(expected, End(file, "p"));
    }

    [Fact]
    public void The_rate_of_a_reaction_may_be_how_long_an_event_waits()
    {
        // r is 0.75 at all times: the event that is triggered at 1 sets p at 1.75.
        var flow = $"<reaction id=\"r\" reversible=\"false\"><kineticLaw>{Math(Apply("times", Cn(0.5), Cn(1.5)))}</kineticLaw></reaction>";
        var file = WithEvents(
            Event(Apply("geq", Time, Cn(1)), Set("p", Cn(9)), $"<delay>{Math(Ci("r"))}</delay>"),
            $"<listOfReactions>{flow}</listOfReactions>"
        );
        Assert.Equal(1, End(file, "p", end: 1.7));
        Assert.Equal(9, End(file, "p", end: 1.8));
    }
}
