using ClearTide.Core.Language;
using ClearTide.Core.Units;

namespace ClearTide.Core.Tests.Units;

public class UnitTests
{
    private static readonly UnitTable Days = UnitTable.Of(TimeUnit.Day);

    private static Unit Of(string text) => Days.ReadAlone(text).Unit!.Value.Unit;

    [Theory]
    [InlineData("mg/L", "g/m^3", true)]
    [InlineData("L", "dm", false)]
    [InlineData("mL", "cm^3", true)]
    [InlineData("people/day", "people per day", true)]
    [InlineData("person", "people", true)]
    [InlineData("week", "7 days", false)]
    [InlineData("mg", "g", false)]
    [InlineData("people", "animals", false)]
    [InlineData("1/day", "per", false)]
    [InlineData("ug/mL", "mcg/mL", true)]
    [InlineData("µg", "ug", true)]
    public void Units_agree_by_dimension_and_size(string a, string b, bool agree)
    {
        var other = Days.ReadAlone(b).Unit;
        Assert.Equal(agree, other is { } read && Of(a).Agrees(read.Unit));
    }

    [Fact]
    public void Times_are_read_in_the_study_s_own_unit()
    {
        var read = Days.ReadAlone("L/h").Unit!.Value;
        Assert.Equal(24, read.Scale, 1e-12);
        Assert.Equal("L/day", read.Unit.Text());
        // A month is a twelfth of 365.25 days, and a year 365.25 days.
        Assert.Equal(12, UnitTable.Of(TimeUnit.Month).ReadAlone("year").Unit!.Value.Scale, 1e-12);
    }

    [Theory]
    [InlineData("people", "people")]
    [InlineData("mg/L/day", "mg/L/day")]
    [InlineData("1/day", "1/day")]
    [InlineData("people^2/day", "people^2/day")]
    public void A_unit_is_written_as_it_is_typed(string typed, string written) => Assert.Equal(written, Of(typed).Text());

    [Fact]
    public void The_algebra_cancels_what_it_can()
    {
        var rate = Of("people/day").Per(Of("people"));
        Assert.Equal("1/day", rate.Text());
        Assert.True(rate.Times(Of("day")).IsPure);
        Assert.Equal("L", Of("L").ToPower(2).ToPower(0.5).Text());
        Assert.Equal(-1, rate.TimePower);
    }

    [Fact]
    public void A_study_adds_nouns_derived_units_and_spellings()
    {
        var table = new UnitTable(
            TimeUnit.Day,
            [new("villager", ""), new("tablet", "200 mg"), new("strip", "10 tablets"), new("ppl", "people")]
        );
        Assert.Empty(table.Problems);
        Assert.Equal("villagers", table.ReadAlone("villagers").Unit!.Value.Unit.Text());
        var strips = table.ReadAlone("strips").Unit!.Value;
        Assert.Equal(2000, strips.Scale, 1e-9);
        Assert.Equal("mg", strips.Unit.Text());
        Assert.True(table.ReadAlone("ppl").Unit!.Value.Unit.Agrees(Of("people")));
    }

    [Theory]
    [InlineData("tablet", "200 grumble", "no unit “grumble”")]
    [InlineData("day", "", "is a unit already")]
    [InlineData("x2", "", "letters only")]
    [InlineData("per", "", "meaning of its own")]
    [InlineData("tablet", "-3 mg", "written like")]
    public void Rules_that_cannot_be_are_told(string word, string meaning, string words) =>
        Assert.Contains(words, Assert.Single(new UnitTable(TimeUnit.Day, [new(word, meaning)]).Problems).Message);

    [Theory]
    [InlineData("peple", "people")]
    [InlineData("weks", "weeks")]
    public void An_unknown_unit_gets_the_nearest(string typed, string near)
    {
        var problem = Days.ReadAlone(typed).Problem!;
        Assert.Contains($"“{near}”", problem.Message);
        Assert.Equal(near, Assert.Single(problem.Fixes).Replacement);
    }

    [Theory]
    [InlineData("colony", "colonies")]
    [InlineData("day", "days")]
    [InlineData("box", "boxes")]
    [InlineData("bush", "bushes")]
    [InlineData("toy", "toys")]
    public void Plurals_are_regular(string one, string many) => Assert.Equal(many, Plurals.Of(one));

    [Fact]
    public void Equations_between_units_are_solved_one_by_one()
    {
        var solver = new UnitSolver();
        var (a, b) = (solver.NewUnknown(0), solver.NewUnknown(1));
        Assert.Equal(Agreement.Agree, solver.Equate(a.Times(b), UnitTerm.Of(Of("mg/day"))));
        Assert.Equal(Agreement.Agree, solver.Equate(b, UnitTerm.Of(Of("mg"))));
        Assert.Equal("1/day", solver.Resolve(a).Known.Text());
        Assert.Equal(Agreement.Disagree, solver.Equate(a, UnitTerm.Of(Of("day"))));
        Assert.Equal(Agreement.OtherSize, solver.Equate(b, UnitTerm.Of(Of("g"))));
    }

    [Fact]
    public void A_square_root_gives_half_powers()
    {
        var solver = new UnitSolver();
        var side = solver.NewUnknown(0);
        solver.Equate(side.Times(side), UnitTerm.Of(Of("m^2")));
        Assert.Equal("m", solver.Resolve(side).Known.Text());
    }
}
