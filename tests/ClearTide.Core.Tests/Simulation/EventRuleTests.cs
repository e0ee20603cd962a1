using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Simulation;

/// <summary>
/// What the reaction network says of events beyond what lines can: order by priority, values as they were at the trigger, triggers that
/// are true at the
/// start, delayed actions that are dropped. Worked by hand, along the cases that the SBML specification describes (Level 3 Version 2
/// core, 4.11).
/// </summary>
public class EventRuleTests
{
    private readonly ExpressionGraph _graph = new();

    private int Number(double value) => _graph.Constant(value);

    private int State(int index) => _graph.State(index);

    /// <summary>States that flows do not move but for the last, which grows by one a day.</summary>
    private Trajectory Run(double[] starts, double end, params ModelEvent[] events)
    {
        var clock = starts.Length;
        var form = new ReactionNetwork
        {
            Graph = _graph,
            States = [.. Enumerable.Range(0, clock + 1).Select(k => new StateVariable($"x{k}", $"x{k}"))],
            Values = [],
            Initial = [.. starts.Select(Number), Number(0)],
            Processes = [new("tick", "tick", Number(1), [new(clock, 1)])],
            Amounts = [.. Enumerable.Range(0, clock + 1).Select(k => new NamedExpression($"x{k}", $"x{k}", State(k)))],
            Flows = [],
            Quantities = [],
            Events = events,
        };
        // What is compiled is no longer written to, and a test may run several.
        return Runs.Run(new(form with { Graph = _graph.Fork() }), [0, end]);
    }

    private ModelEvent At(double time, params Assignment[] assignments) => new("e", Number(time), -1, -1, 0, [assignments]);

    private ModelEvent When(int condition, params Assignment[] assignments) => new("e", -1, -1, condition, 0, [assignments]);

    private int Above(int state, double level) => _graph.Binary(Operation.Less, Number(level), State(state));

    private static Assignment Set(int state, int node) => new(true, state, node);

    [Fact]
    public void At_an_output_time_that_a_condition_meets_the_row_is_the_one_after()
    {
        // x reaches 1 at time 1 but for the rounding of a few steps, to either side.
        var run = Runs.OfLines("-> X : 1; a = 0; when X >= 1 once: a = 5; X(0) = 0", 0, 0.5, 1, 2);
        Assert.Equal([0, 0.5, 1, 2], run.Times);
        Assert.Equal([0.0, 0, 5, 5], run.QuantityColumn(0));
        // A decay reaches half at ln 2, within what its tolerance leaves of it.
        var decay = Runs.OfLines("X -> at 1; a = 0; when X < 0.5 once: a = 5; X(0) = 1", 0, Math.Log(2) - 1e-6, Math.Log(2) + 1e-6);
        Assert.Equal([0.0, 0, 5], decay.QuantityColumn(0));
    }

    [Fact]
    public void The_highest_priority_acts_first_whatever_the_stored_order()
    {
        var run = Run(
            [1],
            5,
            At(2, Set(0, _graph.Add(State(0), Number(10)))) with
            {
                Priority = Number(1),
            },
            At(2, Set(0, _graph.Multiply(State(0), Number(3)))) with
            {
                Priority = Number(2),
            }
        );
        Assert.Equal(13, run.Amount(1, 0));
    }

    [Fact]
    public void Those_of_one_priority_and_those_without_act_in_stored_order()
    {
        ModelEvent Twice(int priority) => At(2, Set(0, _graph.Multiply(State(0), Number(2)))) with { Priority = priority };
        ModelEvent Plus(int priority) => At(2, Set(0, _graph.Add(State(0), Number(1)))) with { Priority = priority };
        Assert.Equal(4, Run([1], 5, Plus(-1), Twice(-1)).Amount(1, 0));
        Assert.Equal(3, Run([1], 5, Twice(-1), Plus(-1)).Amount(1, 0));
        Assert.Equal(4, Run([1], 5, Twice(-1), Plus(Number(-5))).Amount(1, 0));
    }

    [Fact]
    public void A_priority_may_change_while_others_act()
    {
        // The first lifts x1, by which the third goes before the second.
        var run = Run(
            [1, 0],
            5,
            At(2, Set(1, Number(10))) with
            {
                Priority = Number(5),
            },
            At(2, Set(0, _graph.Add(State(0), Number(10)))) with
            {
                Priority = Number(3),
            },
            At(2, Set(0, _graph.Multiply(State(0), Number(3)))) with
            {
                Priority = State(1),
            }
        );
        Assert.Equal(13, run.Amount(1, 0));
    }

    [Fact]
    public void An_event_set_off_by_another_takes_its_turn_by_priority()
    {
        // At day 2 x1 becomes 1, which sets off the third before the waiting second.
        var run = Run(
            [1, 0],
            5,
            At(2, Set(1, Number(1))) with
            {
                Priority = Number(9),
            },
            At(2, Set(0, _graph.Add(State(0), Number(10)))) with
            {
                Priority = Number(1),
            },
            When(Above(1, 0.5), Set(0, _graph.Multiply(State(0), Number(3)))) with
            {
                Priority = Number(5),
            }
        );
        Assert.Equal(13, run.Amount(1, 0));
    }

    [Theory]
    [InlineData(true, 3)]
    [InlineData(false, 5)]
    public void Values_are_those_of_the_trigger_or_of_the_action(bool atTrigger, double expected)
    {
        // The clock shows 3 at the trigger and 5 two days later.
        var run = Run([0], 9, At(3, Set(0, State(1))) with { Delay = Number(2), ValuesAtTrigger = atTrigger });
        Assert.Equal(expected, run.Amount(1, 0), 1e-9);
    }

    [Theory]
    [InlineData(true, 7)]
    [InlineData(false, 1)]
    public void A_trigger_true_at_the_start_acts_there_where_it_counts(bool acts, double expected)
    {
        var run = Run([1], 5, When(Above(0, 0.5), Set(0, Number(7))) with { ActsAtStart = acts });
        Assert.Equal(expected, run.Amount(1, 0));
        Assert.Equal(expected, run.Amount(0, 0));
    }

    [Theory]
    [InlineData(true, 0)]
    [InlineData(false, 1)]
    public void A_delayed_action_is_dropped_when_its_condition_ends_where_that_is_asked_for(bool dropped, double expected)
    {
        // True from day 1 to day 2; the action is due at day 4.
        var within = _graph.Binary(
            Operation.And,
            _graph.Binary(Operation.Less, Number(1), State(1)),
            _graph.Binary(Operation.Less, State(1), Number(2))
        );
        var run = Run([0], 9, When(within, Set(0, Number(1))) with { Delay = Number(3), IsDroppedWhenFalse = dropped });
        Assert.Equal(expected, run.Amount(1, 0));
    }

    [Fact]
    public void A_delay_may_depend_on_the_state_at_the_trigger_and_several_may_wait_at_once()
    {
        // Every day from day 1 on the action is due as much later as the clock shows: 1 + 1, 2 + 2, 3 + 3, 4 + 4.
        var run = Run(
            [0],
            8.5,
            new ModelEvent(
                "e",
                Number(1),
                Number(1),
                -1,
                0,
                [
                    [new(true, 0, Number(1)) { Adds = true }],
                ]
            )
            {
                Delay = State(1),
            }
        );
        Assert.Equal(4, run.Amount(1, 0));
    }

    [Fact]
    public void A_repeated_event_ends_with_its_last_whole_interval()
    {
        var run = Run(
            [0],
            9,
            new ModelEvent(
                "e",
                Number(0.1),
                Number(0.1),
                -1,
                0,
                [
                    [new(true, 0, Number(1)) { Adds = true }],
                ]
            )
            {
                Until = Number(0.7),
            }
        );
        Assert.Equal(7, run.Amount(1, 0));
    }

    [Fact]
    public void A_condition_on_time_follows_a_number_that_events_move()
    {
        // “Next” begins at 10 and each act moves it on by 12: at 10, 22, 34 and 46 the first state gains one. What the number was at the
        // start says nothing.
        var next = _graph.Parameter(0);
        var form = new ReactionNetwork
        {
            Graph = _graph,
            States = [new("x0", "x0")],
            Values = [new("next", 10, "next")],
            Initial = [Number(0)],
            Processes = [],
            Amounts = [new("x0", "x0", State(0))],
            Flows = [],
            Quantities = [],
            Events =
            [
                new(
                    "e",
                    -1,
                    -1,
                    _graph.Binary(Operation.LessOrEqual, next, _graph.Time()),
                    0,
                    [
                        [Set(0, _graph.Add(State(0), Number(1))), new(false, 0, _graph.Add(next, Number(12)))],
                    ]
                ),
            ],
        };
        var model = new CompiledModel(form);
        var values = form.ValueVector();
        var run = Engines.Run(new(model, values, [0, 9.999, 10, 21.999, 22, 50]));
        Assert.Equal([0, 0, 1, 1, 2, 4], run.AmountColumn(0));
    }
}
