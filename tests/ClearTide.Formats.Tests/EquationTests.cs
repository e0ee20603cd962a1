using ClearTide.Core.Conversion;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Formats.Print;
using ClearTide.Formats.Studies;

namespace ClearTide.Formats.Tests;

public class EquationTests
{
    private static StudyDocument Of(string lines) => new AddLines(lines).Apply(new StudyDocument { Title = "Estuary" }).Document!;

    private static string Balance(string lines, string symbol) =>
        Equations.Of(Of(lines)).First(equation => equation.Text.StartsWith($"d{symbol}/dt")).Text;

    [Theory]
    [InlineData("S -> I : beta * S * I / N; -> S : 3", "S", "dS/dt = -beta * S * I / N + 3")]
    [InlineData("I -> R at gamma", "R", "dR/dt = gamma * I")]
    [InlineData("I -> R after 5 days", "I", "dI/dt = -I / 5 days")]
    [InlineData("I -> R 98%, D the rest after 5 days", "D", "dD/dt = (1 - 98%) * (I / 5 days)")]
    [InlineData("A -> B : a - b", "A", "dA/dt = -(a - b)")]
    [InlineData("A -> B at 1/7 per day", "B", "dB/dt = (1 / 7 per day) * A")]
    [InlineData("A -> : 0 * A; B -> at 1", "A", "dA/dt = -0 * A")]
    public void A_balance_is_put_together_from_the_flows(string lines, string symbol, string balance) =>
        Assert.Equal(balance, Balance(lines, symbol));

    [Theory]
    [InlineData("beta * S * I / N", @"\frac{\beta \, S \, I}{N}")]
    [InlineData("(a + b) * c", @"\left(a + b\right) \, c")]
    [InlineData("a ^ (b + 1)", "a^{b + 1}")]
    [InlineData("sqrt(x) + exp(-k * t)", @"\sqrt{x} + e^{-k \, t}")]
    [InlineData("k_on * 5 mg/L", @"k_{\mathrm{on}} \, 5\ \text{mg/L}")]
    [InlineData("rate_ * 2%", @"\mathrm{rate\_} \, 2\%")]
    [InlineData("max(a, b) per day", @"\operatorname{max}\left(a, b\right)\ \text{per day}")]
    [InlineData(
        "if(a <= b and not c > 1, 1.5e-3, pi)",
        @"\operatorname{if}\left(a \le b \ \text{and}\ \text{not }c > 1, 1.5 \cdot 10^{-3}, \pi\right)"
    )]
    [InlineData("crowding(N / K)", @"\mathrm{crowding}\left(\frac{N}{K}\right)")]
    public void Formulas_print_as_latex(string text, string latex) => Assert.Equal(latex, Latex.Of(Formula.Read(text).Tree!));

    [Fact]
    public void Words_cannot_become_commands_of_latex_or_markup()
    {
        var study = Of("A -> B at 0.1; at 3: A = 5");
        study = study.With(study.Compartments[0] with { Label = "<b>&\\input{x}" });
        study = study.With(study.Compartments[0] with { Start = "\\evil{1} & <script>" });
        Assert.DoesNotContain("\\evil", Equations.Latex(study));
        Assert.Contains("\\textbackslash{}evil", Equations.Latex(study));
        Assert.DoesNotContain("<script>", Equations.MathMlPage(study));
    }

    [Fact]
    public void Every_kind_of_part_has_its_equation()
    {
        var study = Of(
            "S -> I : beta * S * season(t) * noise; I -> R after 5 days in 3 stages; S -> V : 3 limited; beta = 0.4; q = "
                + "crowding(S); season = points 0 1, 9 2; crowding(x) = hill(1, 0, 0.5, 4); noise = normal(1, 0.1) every 7 days; "
                + "at 3: S = 5"
        );
        var groups = Equations.Of(study).Select(equation => equation.Group).Distinct();
        Assert.Equal(
            ["Balances", "Initial amounts", "Parameters", "Quantities", "Response curves", "Inputs", "Random inputs", "Events"],
            groups
        );
        Assert.Contains(Equations.Of(study), equation => equation.IsWords && equation.Text.Contains("Erlang-distributed"));
        Assert.Contains(Equations.Of(study), equation => equation.IsWords && equation.Text.Contains("no more than flows in"));
    }

    [Fact]
    public void Noise_of_a_rate_is_said_with_its_variance()
    {
        var study = Of("A -> B at 0.3, noise 0.2; A(0) = 40");
        var said = Assert.Single(Equations.Of(study), equation => equation.IsWords && equation.Text.Contains("noisy"));
        Assert.Contains("variance 0.04 h", said.Text);
        Assert.Contains("A → B", said.Text);
    }

    [Fact]
    public void Parts_travel_as_text_and_come_back_whole()
    {
        var study = Of(
            "unit tablet = 200 mg; A -> B 60%, C the rest after 3 days in 2 stages; A(0) = 2 tablets; f = points 0 1, 9 2 smooth; k "
                + "= 3; at 3: A = 5"
        );
        var selection = PartSelection.Of(study, [.. study.Parts.Select(part => part.Id)]);
        var back = PartsFile.Read(PartsFile.Write(selection));
        Assert.Equal(LineText.Of(selection.Parts), LineText.Of(back.Parts));
        Assert.Equal(selection.Units, back.Units);
    }

    [Theory]
    [InlineData("")]
    [InlineData("hello")]
    [InlineData("{\"format\":\"clear-tide-study\",\"study\":{}}")]
    [InlineData(
        "{\"format\":\"clear-tide-parts\",\"version\":1,\"study\":{\"title\":\"x\",\"flows\":[{\"id\":\"f1\",\"label\":\"\",\"from\":\"c9\",\"to\":\"c8\",\"kind\":\"whole\",\"rate\":\"1\"}]}}"
    )]
    public void What_is_no_parts_is_refused_in_words(string text) => Assert.Throws<StudyFileException>(() => PartsFile.Read(text));

    [Fact]
    public void A_study_of_all_kinds_is_written_and_read_unchanged()
    {
        var study = Of(
            "unit tablet = 200 mg; A -> B 60%, C the rest after 3 days in 2 stages; B -> : 3 limited; A(0) = 2 tablets; f = points 0 "
                + "1, 9 2 smooth then zero; g(x) = hill(0, 1, 2, 3) from 0 until 9; n = gamma(1, 0.2) every 3 days; k = 3; at 3: A "
                + "= 5; assume: nobody comes; expect: C never falls"
        );
        study = study with { Tags = ["birds"], Description = "Words", Origin = new DateOnly(2031, 3, 1), Seed = 7 };
        var text = StudyFile.Write(new(study, []));
        var back = StudyFile.Read(text);
        Assert.Equal(text, StudyFile.Write(back));
        Assert.Equal(LineText.Of(study), LineText.Of(back.Document));
        Assert.Equal((study.Origin, study.Seed, study.Tags[0]), (back.Document.Origin, back.Document.Seed, back.Document.Tags[0]));
    }
}
