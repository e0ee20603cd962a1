#:project ../src/ClearTide.Formats/ClearTide.Formats.csproj
#:property RestorePackagesWithLockFile=false
#:property TreatWarningsAsErrors=false
#:property PublishAot=false

// Makes the study "Marram fever by age" and its data: the cases that three age classes expect at true values
// that are written down in demo/README.md, counted with Poisson errors. Run with: dotnet run demo/make-marram-by-age.cs

using ClearTide.Core.Data;
using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Interventions;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Sampling;
using ClearTide.Core.Simulation;
using ClearTide.Core.Stochastic;
using ClearTide.Formats.Studies;

const long Seed = 26;
const int Weeks = 8;
const double Reporting = 0.4;
string[] ages = ["child", "adult", "old"];

string Model(string q, string infectious) => $"""
    group age = child, adult, old
    S -> E : lambda * S
    E -> I after 3 days
    I -> R : (1 - h) * I / illness
    I -> H : h * I / illness
    H -> R : (1 - m) * H / stay
    H -> D : m * H / stay
    lambda[age] = q * sum(j in age, C[age, j] * I[j] / N[j])
    N[age] = S + E + I + R + H
    C[age, age] = table 7.4 4.9 0.7, 2.079 6.7 1.1, 0.684 2.533 2.0 per day
    q = {q}
    illness = 5 days
    h[age] = 1%
    h[adult] = 4%
    h[old] = 16%
    m[age] = 1%
    m[adult] = 6%
    m[old] = 20%
    stay[age] = 8 days
    stay[old] = 11 days
    rho = 0.4
    S[age](0) = 0 people
    S[child](0) = 4200 people
    S[adult](0) = 9900 people
    S[old](0) = 4300 people
    E[age](0) = 0
    I[age](0) = {infectious}
    R[age](0) = 0
    H[age](0) = 0
    D[age](0) = 0
    """;

StudyDocument Apply(StudyDocument document, Edit edit)
{
    var result = edit.Apply(document);
    return result.Document ?? throw new InvalidOperationException(result.Refusal);
}

var truth = Apply(new StudyDocument { Title = "truth", End = 150 }, new AddLines(Model("0.04", "2")));
var lowered = Lowering.Lower(truth);
double[] times = [.. Enumerable.Range(0, Weeks + 1).Select(week => 7.0 * week)];
var run = Engines.Run(new(lowered.Compiled, lowered.Network.ValueVector(), times));
var reports = new RandomStream(Seed, 0, "demo", "reporting");
var names = lowered.Network.Amounts.Select(amount => amount.Symbol).ToList();
// Everybody who has fallen ill is in one of these by then.
double Ill(string age, int week) => new[] { "I", "R", "H", "D" }.Sum(symbol => run.Amount(week, names.IndexOf($"{symbol}[{age}]")));
int Poisson(double mean)
{
    // Uniform numbers are multiplied until they fall below e^-mean, in parts that stay above the least number.
    var count = 0;
    for (var left = mean; left > 0; left -= 100)
    {
        var least = Math.Exp(-Math.Min(left, 100));
        for (var product = reports.NextUniform(); product > least; product *= reports.NextUniform()) count++;
    }
    return count;
}
var rows = ages.ToDictionary(
    age => age,
    age => Enumerable.Range(0, Weeks)
        .Select(week => new DataRow(times[week], times[week + 1], Poisson(Reporting * (Ill(age, week + 1) - Ill(age, week)))))
        .ToList()
);
var folder = args.Length > 0 ? args[0] : "demo";
File.WriteAllText(
    Path.Combine(folder, "marram-fever-by-age.csv"),
    "week_ending_day,child,adult,old\n"
        + string.Concat(
            Enumerable.Range(0, Weeks).Select(week => $"{times[week + 1]},{string.Join(',', ages.Select(age => rows[age][week].Value))}\n")
        )
);

var study = Apply(new StudyDocument
{
    Title = "Marram fever by age",
    Question = "Whom does the outbreak in Quay Ordan reach, and who should be vaccinated first?",
    Description = "Three age classes that meet by a matrix of contacts. "
        + "Each compartment shows its ages as lanes; a click on one looks at it alone.",
    Tags = ["epidemic", "groups"],
    End = 150,
}, new AddLines(Model("0.05", "4")));
(string Symbol, string Label, double X, double Y)[] plates =
[
    ("S", "Susceptible", 40, 200), ("E", "Exposed", 226, 200), ("I", "Infectious", 412, 200),
    ("R", "Recovered", 640, 40), ("H", "In clinic", 640, 210), ("D", "Died", 640, 380),
];
foreach (var (symbol, label, x, y) in plates)
{
    var id = study.CompartmentBySymbol(symbol)!.Id;
    study = Apply(Apply(study, new SetField(id, PartField.Label, label)), new MoveOnPaper(id, x, y));
}
(string Symbol, string Label, string Note)[] definitions =
[
    ("lambda", "Force of infection", ""), ("q", "Chance per contact", "A guess until it is fitted."),
    ("C", "Contacts a day", "Contacts that one (row) has with each age (column), made mutual."),
    ("illness", "Length of illness", ""), ("h", "Share admitted", ""), ("m", "Share who die", ""), ("stay", "Stay in the clinic", ""),
    ("rho", "Share of cases reported", ""), ("N", "Living", ""),
];
foreach (var (symbol, label, note) in definitions)
{
    var id = study.DefinitionBySymbol(symbol)!.Id;
    study = Apply(study, new SetField(id, PartField.Label, label));
    if (note.Length > 0) study = Apply(study, new SetField(id, PartField.Note, note));
}
(string Ends, string Label)[] flows =
[
    ("S → E", "Infection"), ("E → I", "Onset"), ("I → R", "Recovery at home"),
    ("I → H", "Admission"), ("H → R", "Discharge"), ("H → D", "Death"),
];
foreach (var (ends, label) in flows)
    study = Apply(study, new SetField(study.Flows.First(flow => study.Describe(flow) == ends).Id, PartField.Label, label));
var seen = study.Flows.First(flow => flow.Label == "Onset").Id;
study = Apply(study, new TieSeries([.. ages.Select((age, k) =>
    new Observation("", $"marram-{age}", $"Reported cases, {age}", $"{seen}.{age}", "rho") { Colour = k + 1 })]));
study = Apply(study, new SetFit(new(ErrorLaw.Poisson, 
    [new("q", 0.005, 0.5), .. ages.Select(age => new FitParameter($"I[{age}].start", 0.05, 100))])));
study = Apply(study, new AddScenario("Old first"));
study = Apply(study, new SetRule(study.Scenarios[0].Id, null, "every 1 day from 56 until 86: S -> R : 100 first old then adult"));
study = Apply(study, new AddScenario("Children first"));
study = Apply(study, new SetRule(study.Scenarios[1].Id, null, "every 1 day from 56 until 86: S -> R : 100 first child then adult"));
File.WriteAllText(
    Path.Combine(folder, "marram-fever-by-age.study.json"),
    StudyFile.Write(new(study, [.. ages.Select(age => new DataSet($"marram-{age}", "marram-fever-by-age.csv", rows[age]))]))
);
foreach (var age in ages) Console.WriteLine($"{age}: {string.Join(", ", rows[age].Select(row => row.Value))}");
foreach (var finding in Lowering.Lower(study).Findings) Console.WriteLine(finding.Message);
