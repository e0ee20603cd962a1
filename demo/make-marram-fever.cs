#:project ../src/ClearTide.Formats/ClearTide.Formats.csproj
#:property RestorePackagesWithLockFile=false
#:property TreatWarningsAsErrors=false
#:property PublishAot=false

// Makes the data of the study "Marram fever in Quay Ordan" and the study file itself: one exact chance run at true values
// that are written down in demo/README.md, each new case reported with a fixed chance. Run with: dotnet run demo/make-marram-fever.cs

using ClearTide.Core.Data;
using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Interventions;
using ClearTide.Core.Inference;
using ClearTide.Core.Conversion;
using ClearTide.Core.Units;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Sampling;
using ClearTide.Core.Simulation;
using ClearTide.Core.Stochastic;
using ClearTide.Formats.Studies;

const long Seed = 20;
const int Weeks = 7;
const double Reporting = 0.4;
const string True = "transmission beta = 0.36 a day, 3 people infectious at the start, reporting fraction rho = 0.4";

string Model(string beta, string infectious, string reporting) => $"""
    S -> E : beta * S * I / N
    E -> I after 3 days
    I -> R : (1 - h) * I / illness
    I -> H : h * I / illness
    H -> R : (1 - m) * H / stay
    H -> D : m * H / stay
    beta = {beta} per day
    illness = 5 days
    h = 6%
    stay = 8 days
    m = 12%
    rho = {reporting}
    N = S + E + I + R + H
    S(0) = the rest of 18400 people
    I(0) = {infectious}
    """;

StudyDocument Apply(StudyDocument document, Edit edit)
{
    var result = edit.Apply(document);
    return result.Document ?? throw new InvalidOperationException(result.Refusal);
}

var truth = Apply(new StudyDocument { Title = "truth", End = 200 }, new AddLines(Model("0.36", "3", "0.4")));
var lowered = Lowering.Lower(truth);
double[] times = [.. Enumerable.Range(0, Weeks + 1).Select(week => 7.0 * week)];
var run = new ExactEngine().Run(StudyRequest.Of(lowered) with { Times = times, Seed = Seed });
var onset = lowered.Network.Processes.ToList().FindIndex(process => process.Name == "E → I");
var reports = new RandomStream(Seed, 0, "demo", "reporting");
var rows = new List<DataRow>();
for (var week = 0; week < Weeks; week++)
{
    var cases = (int)run.Fired(onset, week, week + 1);
    var reported = 0;
    for (var k = 0; k < cases; k++) reported += reports.NextUniform() < Reporting ? 1 : 0;
    rows.Add(new(times[week], times[week + 1], reported));
}
var folder = args.Length > 0 ? args[0] : "demo";
File.WriteAllText(Path.Combine(folder, "marram-fever-cases.csv"), "week_ending_day,reported_cases\n" + string.Concat(rows.Select(row => $"{row.End},{row.Value}\n")));

var study = Apply(new StudyDocument
{
    Title = "Marram fever in Quay Ordan",
    Question = "How far will the outbreak go, and how much does pausing the ferry from Tesk slow it?",
    End = 200,
}, new AddLines(Model("0.4", "5", "0.5")));
(string Symbol, string Label, double X, double Y)[] plates =
[
    ("S", "Susceptible", 40, 180), ("E", "Exposed", 226, 180), ("I", "Infectious", 412, 180),
    ("R", "Recovered", 640, 70), ("H", "In clinic", 640, 210), ("D", "Died", 640, 350),
];
foreach (var (symbol, label, x, y) in plates)
{
    var id = study.CompartmentBySymbol(symbol)!.Id;
    study = Apply(Apply(study, new SetField(id, PartField.Label, label)), new MoveOnPaper(id, x, y));
}
(string Symbol, string Label, string Note)[] definitions =
[
    ("beta", "Contacts that infect", "Contacts a day times the chance that one infects. A guess until it is fitted."),
    ("illness", "Length of illness", "Asked of the first patients in the Quay Ordan clinic."),
    ("h", "Share admitted", "Of the ill, how many are admitted to the clinic."),
    ("stay", "Stay in the clinic", ""), ("m", "Share of the admitted who die", ""),
    ("rho", "Share of cases reported", "Not every ill person sees a doctor."), ("N", "Living", ""),
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
foreach (var (ends, label) in flows) study = Apply(study, new SetField(study.Flows.First(flow => study.Describe(flow) == ends).Id, PartField.Label, label));
var onset = study.Flows.First(flow => flow.Label == "Onset").Id;
study = Apply(study, new TieSeries([new("", "marram-fever-cases", "Reported cases", onset, "rho")]));
study = Apply(study, new SetFit(new(ErrorLaw.Poisson, [new("beta", 0.05, 2), new("I.start", 0.1, 200)])));
study = Apply(study, new AddScenario("Ferry pause"));
study = Apply(study, new SetMeasure(study.Scenarios[0].Id, null, "Ferry pause", "beta", 0.62, 56, 120));
File.WriteAllText(Path.Combine(folder, "marram-fever.study.json"), StudyFile.Write(new(study, [new DataSet("marram-fever-cases", "marram-fever-cases.csv", rows)])));
Console.WriteLine($"Seed {Seed}; {True}.");
Console.WriteLine(string.Join(", ", rows.Select(row => row.Value)));
