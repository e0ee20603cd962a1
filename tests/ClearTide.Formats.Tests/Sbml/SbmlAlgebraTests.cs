using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Sbml;
using static ClearTide.Formats.Tests.Sbml.SbmlFiles;

namespace ClearTide.Formats.Tests.Sbml;

/// <summary>Algebraic rules, solved by hand.</summary>
public class SbmlAlgebraTests
{
    // Tolerance 1e-8 a step, some tens of steps.
    private const double Close = 1e-6;

    [Fact]
    public void Algebraic_rules_determine_what_nothing_else_says()
    {
        // A + B = 10 with A decaying, and 3 p - B = 0: B = 10 - A, p = B / 3.
        var file = File(
            Compartment()
                + $"<listOfSpecies>{Species("A", "initialAmount=\"6\"")}{Species("B", "initialAmount=\"4\"", "hasOnlySubstanceUnits=\"false\" boundaryCondition=\"true\" constant=\"false\"")}</listOfSpecies><listOfParameters><parameter "
                + "id=\"p\" constant=\"false\"/></listOfParameters>"
                + $"<listOfRules><algebraicRule>{Math(Apply("minus", Apply("times", Cn(3), Ci("p")), Ci("B")))}</algebraicRule><algebraicRule>{Math(Apply("minus", Apply("plus", Ci("A"), Ci("B")), Cn(10)))}</algebraicRule></listOfRules>"
                + $"<listOfReactions>{Reaction("r", Of("A"), "", Apply("times", Cn(0.5), Ci("A")))}</listOfReactions>"
        );
        var b = 10 - 6 * System.Math.Exp(-1);
        Assert.Equal(b, End(file, "B"), Close);
        Assert.Equal(b / 3, End(file, "p"), Close);
    }

    [Theory]
    [InlineData("<cn>1</cn>", "does not determine a symbol")]
    [InlineData("<apply><minus/><ci>p</ci><ci>p</ci></apply>", "cannot be solved")]
    [InlineData("<apply><plus/><ci>p</ci><ci>q</ci></apply>", "does not determine one symbol")]
    public void Algebraic_rules_that_cannot_be_solved_are_told(string math, string why)
    {
        var file = File(
            "<listOfParameters><parameter id=\"p\" constant=\"false\"/><parameter id=\"q\" "
                + $"constant=\"false\"/></listOfParameters><listOfRules><algebraicRule>{Math(math)}</algebraicRule></listOfRules>"
        );
        Assert.Contains(
            why,
            Assert.Throws<SbmlException>(() => SbmlLowering.Lower(SbmlReader.Read(file))).Message,
            StringComparison.Ordinal
        );
    }

    /// <summary>Symbols x, y, z that rules determine beside a that grows by one a day from 1, and y2 that is twice y.</summary>
    private static string Growing(params string[] rules) =>
        File(
            "<listOfParameters><parameter id=\"a\" value=\"1\" constant=\"false\"/><parameter id=\"x\" value=\"1\" "
                + "constant=\"false\"/><parameter id=\"y\" value=\"2\" constant=\"false\"/><parameter id=\"y2\" "
                + "constant=\"false\"/></listOfParameters>"
                + $"<listOfRules><rateRule variable=\"a\">{Math(Cn(1))}</rateRule><assignmentRule "
                + $"variable=\"y2\">{Math(Apply("times", Cn(2), Ci("y")))}</assignmentRule>{string.Concat(rules.Select(rule => $"<algebraicRule>{Math(rule)}</algebraicRule>"))}</listOfRules>"
        );

    [Fact]
    public void Rules_that_hang_together_are_solved_together()
    {
        // x + 2 y = a and x - y = 1: y = (a - 1) / 3, x = y + 1.
        var file = Growing(
            Apply("minus", Apply("plus", Ci("x"), Ci("y2")), Ci("a")),
            Apply("minus", Apply("minus", Ci("x"), Ci("y")), Cn(1))
        );
        Assert.Equal(2.0 / 3, End(file, "y"), Close);
        Assert.Equal(5.0 / 3, End(file, "x"), Close);
        Assert.Equal(4.0 / 3, End(file, "y2"), Close);
        Assert.Empty(
            SbmlImport.Read(SbmlReader.Read(file), "m").FileNotes.Where(note => note.Contains("lgebraic", StringComparison.Ordinal))
        );
    }

    [Fact]
    public void A_rule_that_is_not_linear_is_solved_from_the_value_given()
    {
        // x^2 = a, near 1: the positive root.
        Assert.Equal(System.Math.Sqrt(3), End(Growing(Apply("minus", Apply("power", Ci("x"), Cn(2)), Ci("a"))), "x"), Close);
        // x y = a and x + y = a + 2, near (1, 2): the roots of z^2 - (a + 2) z + a, x the lower.
        var two = Growing(
            Apply("minus", Apply("times", Ci("x"), Ci("y")), Ci("a")),
            Apply("minus", Apply("plus", Ci("x"), Ci("y")), Apply("plus", Ci("a"), Cn(2)))
        );
        Assert.Equal((5 - System.Math.Sqrt(13)) / 2, End(two, "x"), Close);
        Assert.Equal((5 + System.Math.Sqrt(13)) / 2, End(two, "y"), Close);
    }

    /// <summary>A symbol along a run of a hundred units of time, from a file in which a = 1 + t.</summary>
    private static void Follows(string file, string id, Func<double, double> exact)
    {
        var model = SbmlLowering.Lower(SbmlReader.Read(file));
        var compiled = new CompiledModel(model.Network);
        var values = model.Network.ValueVector();
        var times = OutputTimes.Every(0, 100, 0.5);
        foreach (var method in new[] { Method.Automatic, Method.Stiff, Method.RungeKutta4 })
        {
            var run = Engines.Run(new(compiled, values, times) { Settings = SolverSettings.Default with { Method = method } });
            var column = run.QuantityColumn(model.Columns.First(column => column.Id == id).Concentration);
            // a is exact, and each solution is sought to rounding.
            for (var row = 0; row < times.Length; row++)
                Assert.Equal(exact(1 + times[row]), column[row], 1e-9 * (1 + System.Math.Abs(column[row])));
        }
    }

    [Fact]
    public void Rules_that_are_not_linear_follow_their_closed_forms()
    {
        string Is(string math, string other) => Apply("minus", math, other);
        // x^3 + x = b has one real root (Cardano).
        static double Cardano(double b)
        {
            var root = System.Math.Sqrt(b * b / 4 + 1.0 / 27);
            return System.Math.Cbrt(b / 2 + root) + System.Math.Cbrt(b / 2 - root);
        }
        var cubic = Apply("plus", Apply("power", Ci("x"), Cn(3)), Ci("x"));
        Follows(Growing(Is(cubic, Ci("a"))), "x", Cardano);
        Follows(Growing(Is(Apply("exp", Ci("x")), Ci("a"))), "x", System.Math.Log);
        // From 1, Newton's method runs away on this without damping: atan(x - 9 a) = 0.
        Follows(Growing(Apply("arctan", Is(Ci("x"), Apply("times", Cn(9), Ci("a"))))), "x", a => 9 * a);
        // A root at zero, and one that passes through it.
        Follows(Growing(Is(cubic, Is(Ci("a"), Ci("a")))), "x", _ => 0);
        Follows(Growing(Is(cubic, Is(Ci("a"), Cn(50)))), "x", a => Cardano(a - 50));
    }

    [Fact]
    public void Three_rules_that_are_not_linear_are_solved_together()
    {
        // x y = a, y z = 2, z x = 3: x = sqrt(3 a / 2).
        var file = File(
            "<listOfParameters><parameter id=\"a\" value=\"1\" constant=\"false\"/><parameter id=\"x\" value=\"1\" "
                + "constant=\"false\"/><parameter id=\"y\" constant=\"false\"/><parameter id=\"z\" "
                + "constant=\"false\"/></listOfParameters>"
                + "<listOfRules><rateRule "
                + $"variable=\"a\">{Math(Cn(1))}</rateRule>{string.Concat(new[] { ("x", "y", Ci("a")), ("y", "z", Cn(2)), ("z", "x", Cn(3)) }.Select(rule => $"<algebraicRule>{Math(Apply("minus", Apply("times", Ci(rule.Item1), Ci(rule.Item2)), rule.Item3))}</algebraicRule>"))}</listOfRules>"
        );
        Follows(file, "x", a => System.Math.Sqrt(1.5 * a));
        Follows(file, "z", a => 3 / System.Math.Sqrt(1.5 * a));
    }

    [Theory]
    [InlineData(5.0, 4.0)]
    [InlineData(-1.0, 0.0)]
    public void Where_no_solution_is_left_the_run_stops_and_says_so(double edge, double stops)
    {
        // x^2 = edge - a has no root once a is past it.
        var form = SbmlLowering
            .Lower(SbmlReader.Read(Growing(Apply("plus", Apply("power", Ci("x"), Cn(2)), Apply("minus", Ci("a"), Cn(edge))))))
            .Network;
        foreach (var method in new[] { Method.Automatic, Method.Stiff, Method.RungeKutta4 })
        {
            var failure = Assert.Throws<SimulationException>(() =>
            {
                var compiled = new CompiledModel(form);
                Engines.Run(new(compiled, form.ValueVector(), [0, 10]) { Settings = SolverSettings.Default with { Method = method } });
            });
            Assert.Equal(FailureReason.NoSolution, failure.Reason);
            Assert.Equal("x", failure.PartId);
            // Fixed steps end at multiples of a quarter.
            Assert.Equal(stops, failure.Time, method == Method.RungeKutta4 ? 0.25 : 1e-3);
        }
    }

    [Fact]
    public void A_rule_moves_what_it_is_read_by_and_holds_behind_a_jump()
    {
        // Binding in balance: B^2 - (E + S + K) B + E S = 0 with E = 2, K = 1, the lower root; S is used up at 0.3 B, and put to 40 at
        // time 20.
        string Rules(string kind, string math) => $"<listOfRules><{kind}>{Math(math)}</{kind.Split(' ')[0]}></listOfRules>";
        string Model(string rules) =>
            File(
                Compartment()
                    + $"<listOfSpecies>{Species("S", "initialAmount=\"10\"")}</listOfSpecies><listOfParameters><parameter id=\"B\" "
                    + $"constant=\"false\"/></listOfParameters>{rules}"
                    + $"<listOfReactions>{Reaction("r", Of("S"), "", Apply("times", Cn(0.3), Ci("B")))}</listOfReactions>"
                    + "<listOfEvents><event useValuesFromTriggerTime=\"true\"><trigger initialValue=\"true\" "
                    + $"persistent=\"true\">{Math(Apply("geq", SbmlFiles.Time, Cn(20)))}</trigger><listOfEventAssignments><eventAssignment "
                    + $"variable=\"S\">{Math(Cn(40))}</eventAssignment></listOfEventAssignments></event></listOfEvents>"
            );
        var sum = Apply("plus", Ci("S"), Cn(3));
        var implied = Model(
            Rules(
                "algebraicRule",
                Apply("plus", Apply("minus", Apply("power", Ci("B"), Cn(2)), Apply("times", sum, Ci("B"))), Apply("times", Cn(2), Ci("S")))
            )
        );
        var given = Model(
            Rules(
                "assignmentRule variable=\"B\"",
                Apply(
                    "divide",
                    Apply("minus", sum, Apply("root", Apply("minus", Apply("power", sum, Cn(2)), Apply("times", Cn(8), Ci("S"))))),
                    Cn(2)
                )
            )
        );
        foreach (var end in new[] { 5.0, 19, 21, 60 })
            Assert.Equal(End(given, "S", end), End(implied, "S", end), 1e-7);
        Assert.Equal(End(given, "B", 30), End(implied, "B", 30), 1e-7);
    }

    [Fact]
    public void The_past_of_what_a_rule_determines_can_be_read()
    {
        // x^2 = a, and b grows by x as it was one unit of time ago: before the start x is 1.
        string Delay(string of) =>
            "<apply><csymbol encoding=\"text\" "
            + $"definitionURL=\"http://www.sbml.org/sbml/symbols/delay\">d</csymbol><ci>{of}</ci>{Cn(1)}</apply>";
        var file = File(
            "<listOfParameters><parameter id=\"a\" value=\"1\" constant=\"false\"/><parameter id=\"b\" value=\"0\" "
                + "constant=\"false\"/><parameter id=\"x\" value=\"1\" constant=\"false\"/></listOfParameters>"
                + $"<listOfRules><rateRule variable=\"a\">{Math(Cn(1))}</rateRule><rateRule "
                + $"variable=\"b\">{Math(Delay("x"))}</rateRule><algebraicRule>{Math(Apply("minus", Apply("power", Ci("x"), Cn(2)), Ci("a")))}</algebraicRule></listOfRules>"
        );
        Assert.Equal(1 + 2.0 / 3 * (System.Math.Pow(4, 1.5) - 1), End(file, "b", 4), Close);
    }

    [Fact]
    public void Many_rules_that_hang_together_are_solved_together()
    {
        // A ring of six: x0 + x1 / 2 = a, x1 + x2 / 2 = a, ... back to x0, with each x in a cube as well: all are the root of x + x^3 + x
        // / 2 = a.
        string[] names = ["u0", "u1", "u2", "u3", "u4", "u5"];
        var rules = names.Select(
            (name, k) =>
                $"<algebraicRule>{Math(Apply("minus", Apply("plus", Ci(name), Apply("power", Ci(name), Cn(3)), Apply("times", Cn(0.5), Ci(names[(k + 1) % 6]))), Ci("a")))}</algebraicRule>"
        );
        var file = File(
            "<listOfParameters><parameter id=\"a\" value=\"1\" "
                + $"constant=\"false\"/>{string.Concat(names.Select(name => $"<parameter id=\"{name}\" constant=\"false\"/>"))}</listOfParameters><listOfRules><rateRule "
                + $"variable=\"a\">{Math(Cn(1))}</rateRule>{string.Concat(rules)}</listOfRules>"
        );
        // x^3 + p x = a with p = 3 / 2 (Cardano).
        Follows(file, "u4", a =>
        {
            var root = System.Math.Sqrt(a * a / 4 + 1.0 / 8);
            return System.Math.Cbrt(a / 2 + root) + System.Math.Cbrt(a / 2 - root);
        });
    }
}
