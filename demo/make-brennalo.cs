#:project ../src/ClearTide.Formats/ClearTide.Formats.csproj
#:property RestorePackagesWithLockFile=false
#:property TreatWarningsAsErrors=false
#:property PublishAot=false

// Makes the concentrations of the study "Brennalo" and the study file itself: twelve volunteers drawn from laws that are written down in
// demo/README.md, each sampled over 48 hours with log-normal errors. Run with: dotnet run demo/make-brennalo.cs

using System.Globalization;
using System.Text;
using ClearTide.Core.Data;
using ClearTide.Core.Editing;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Inference;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Sampling;
using ClearTide.Formats.Studies;

const long Seed = 12;
const double Limit = 1,
    Error = 0.1;
double[] hours = [0, 0.25, 0.5, 1, 2, 4, 8, 12, 14, 24, 26, 36, 48];
(double Hour, double Amount)[] doses = [(0, 400), (12, 200), (24, 200), (36, 200)];

// A normal number from two uniform ones (Box and Muller, Ann. Math. Statist. 29, 1958).
double Normal(ref RandomStream stream) =>
    Math.Sqrt(-2 * Math.Log(1 - stream.NextUniform())) * Math.Cos(2 * Math.PI * stream.NextUniform());
double Log(double cv) => Math.Sqrt(Math.Log(1 + cv * cv));

string Model(double clearance, double volume, double absorption) => string.Create(
    CultureInfo.InvariantCulture,
    $"""
    G -> C at ka
    C -> at CL / V
    CL = CL70 * (weight / 70 kg)^0.75
    V = V70 * weight / 70 kg
    conc = C / V
    ka = {absorption} per hour
    CL70 = {clearance} L per hour
    V70 = {volume} L
    weight = 70 kg
    G(0) = 0 mg
    C(0) = 0 mg
    dose = 200 mg
    dose into G every 12 hours for 48 hours, first dose doubled
    """
);

StudyDocument Apply(StudyDocument document, Edit edit)
{
    var result = edit.Apply(document);
    return result.Document ?? throw new InvalidOperationException($"{edit}: {result.Refusal}");
}

var empty = new StudyDocument { Title = "Brennalo", End = 48, TimeUnit = TimeUnit.Hour };
var folder = AppContext.GetData("EntryPointFileDirectoryPath") as string ?? Directory.GetCurrentDirectory();

var rows = new List<DataRow>();
var subjects = new List<Subject>();
var clean = new StringBuilder("volunteer,hours,concentration,dose,weight\n");
// As people send it: a title, semicolons, decimal commas, capitals, a unit in each heading, a note and a mean below.
var messy = new StringBuilder("Brennalo, concentrations in plasma;;;;;\nSubject;Time (h);Conc (mg/L);Dose (mg);Weight (kg);Remark\n");
string Comma(double number) => number.ToString(CultureInfo.InvariantCulture).Replace('.', ',');
for (var who = 1; who <= 12; who++)
{
    var stream = new RandomStream(Seed, who, "volunteers", "values");
    var (a, b, c) = (Normal(ref stream), Normal(ref stream), Normal(ref stream));
    // The logarithms of clearance and volume have a correlation of 0.45.
    var clearance = 3.15 * Math.Exp(Log(0.24) * a);
    var volume = 60 * Math.Exp(Log(0.15) * (0.45 * a + Math.Sqrt(1 - 0.45 * 0.45) * b));
    var absorption = 0.6 * Math.Exp(Log(0.45) * c);
    var weight = Math.Round(Math.Clamp(72 + 13 * Normal(ref stream), 45, 115));
    var (cl, v) = (clearance * Math.Pow(weight / 70, 0.75), volume * weight / 70);
    double Level(double hour) =>
        doses
            .Where(dose => dose.Hour < hour)
            .Sum(dose =>
                dose.Amount * absorption / (v * (absorption - cl / v))
                * (Math.Exp(-cl / v * (hour - dose.Hour)) - Math.Exp(-absorption * (hour - dose.Hour)))
            );
    subjects.Add(
        new(who.ToString(CultureInfo.InvariantCulture))
        {
            Doses = [.. doses.Select(dose => new Dose(dose.Hour, dose.Amount))],
            Covariates = new Dictionary<string, double> { ["weight"] = weight },
        }
    );
    foreach (var hour in hours)
    {
        var given = doses.FirstOrDefault(dose => dose.Hour == hour).Amount;
        var level = Math.Round(Level(hour) * Math.Exp(Error * Normal(ref stream)), 2);
        var below = level < Limit;
        rows.Add(new(hour, hour, below ? Limit : level) { Below = below, Subject = subjects[^1].Name });
        var seen = below ? $"<{Limit.ToString(CultureInfo.InvariantCulture)}" : level.ToString(CultureInfo.InvariantCulture);
        var dose = given > 0 ? $"{given}" : "";
        var remark = who == 7 && hour == 8 ? "sample late by minutes" : "";
        clean.Append(CultureInfo.InvariantCulture, $"{who},{hour},{seen},{dose},{weight}\n");
        messy.Append($"{who};{Comma(hour)};{seen.Replace('.', ',')};{dose};{weight};{remark}\n");
    }
}
messy.Append("mean;;;;72;\nMade by two people in the harbour clinic.;;;;;\n");
File.WriteAllText(Path.Combine(folder, "brennalo.csv"), clean.ToString());
File.WriteAllText(Path.Combine(folder, "brennalo-as-sent.csv"), messy.ToString());

var study = Apply(
    empty with
    {
        Question = "Which dose keeps most people between 2 and 8 mg/L, and does it have to follow weight?",
    },
    new AddLines(Model(2.5, 50, 1))
);
foreach (var (symbol, label, x, y) in new[] { ("G", "In the gut", 110.0, 160.0), ("C", "In the body", 410.0, 160.0) })
{
    var id = study.CompartmentBySymbol(symbol)!.Id;
    study = Apply(Apply(study, new SetField(id, PartField.Label, label)), new MoveOnPaper(id, x, y));
}
foreach (
    var (symbol, label, note) in new[]
    {
        ("ka", "Absorption", "A guess until it is fitted."), ("CL70", "Clearance of 70 kg", "A guess until it is fitted."),
        ("V70", "Volume of 70 kg", "A guess until it is fitted."), ("weight", "Body weight", "Each volunteer has one of their own."),
        ("CL", "Clearance", "Grows more slowly than weight."), ("V", "Volume", "In proportion to weight."),
        ("conc", "Concentration in plasma", ""), ("dose", "Tablets at a time", "The first dose is twice as much."),
    }
)
{
    var id = study.DefinitionBySymbol(symbol)!.Id;
    study = Apply(study, new SetField(id, PartField.Label, label));
    if (note.Length > 0)
        study = Apply(study, new SetField(id, PartField.Note, note));
}
study = Apply(study, new SetField(study.Events[0].Id, PartField.Label, "Tablets, twice a day"));
var ordered = rows.OrderBy(row => row.End).ToList();
var data = new DataSet("brennalo-concentration", "brennalo.csv, Concentration", ordered) { Subjects = subjects };
study = Apply(
    study,
    new TieSeries([
        new("", data.Id, "Concentration", "", "1")
        {
            Seen = ObservedAs.Standing,
            Formula = "conc",
            Law = ErrorLaw.LogNormal,
            DosesInto = study.CompartmentBySymbol("G")!.Id,
            Column = "concentration",
        },
    ])
);
study = Apply(study, new SetFit(new(ErrorLaw.Poisson, [new("ka", 0.05, 5), new("CL70", 0.5, 20), new("V70", 10, 300)])));
study = Apply(
    study,
    new SetSubjects(
        new(
            500,
            [
                new("CL70", VariationLaw.LogNormal, 0.24), new("V70", VariationLaw.LogNormal, 0.15),
                new("ka", VariationLaw.LogNormal, 0.45), new("weight", VariationLaw.Normal, 13) { Low = 45, High = 115 },
            ],
            [new("CL70", "V70", 0.45)]
        )
        {
            TargetLow = 2,
            TargetHigh = 8,
            Of = study.DefinitionBySymbol("conc")!.Id,
        }
    )
);
study = Apply(study, new AddScenario("By weight"));
var byWeight = study.Scenarios[0].Id;
study = Apply(study, new AddMeasureLine(byWeight, "2.8 mg/kg * weight into G every 12 hours for 48 hours, first dose doubled"));
File.WriteAllText(Path.Combine(folder, "brennalo.study.json"), StudyFile.Write(new(study, [data])));
Console.WriteLine($"Seed {Seed}; {subjects.Count} volunteers, {rows.Count} samples, {rows.Count(row => row.Below)} below {Limit} mg/L.");
Console.WriteLine(string.Join(", ", subjects.Select(subject => subject.Covariates["weight"])));
