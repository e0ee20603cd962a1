#:project ../src/ClearTide.Formats/ClearTide.Formats.csproj
#:property RestorePackagesWithLockFile=false
#:property TreatWarningsAsErrors=false
#:property PublishAot=false

// Makes the frame counts of the study "The Vorrin apiary" and the study file itself: the model at true values that are written down in
// demo/README.md, read about every three weeks over two seasons with normal errors. Run with: dotnet run demo/make-vorrin-apiary.cs

using System.Globalization;
using System.Text;
using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Editing;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Modules;
using ClearTide.Core.Sampling;
using ClearTide.Formats.Studies;

const long Seed = 31;
const string True = "laying at its height L = 1600 eggs a day, foragers lost in summer m = 0.14 a day, hive bees in spring H.start = 8000";

string Model(string laying, string loss, string hive) => $"""
    -> B : L * season(t) * H / (H + w)
    B -> H after 21 days in 5 stages
    H -> F at recruit * (0.03 + season(t))
    H -> at wear
    F -> at winter + m * season(t)
    season = points 0 0, 40 0.05, 70 0.35, 105 0.85, 150 1, 195 0.9, 235 0.5, 275 0.15, 305 0.02, 330 0, 364 0 smooth then repeat 365
    L = {laying} bees per day
    w = 2500 bees
    recruit = 0.05 per day
    wear = 0.0045 per day
    winter = 0.006 per day
    m = {loss} per day
    frame = 2000 bees
    comb = 3400 bees
    B(0) = 0 bees
    H(0) = {hive} bees
    F(0) = 2000 bees
    """;

StudyDocument Apply(StudyDocument document, Edit edit)
{
    var result = edit.Apply(document);
    return result.Document ?? throw new InvalidOperationException($"{edit}: {result.Refusal}");
}

var empty = new StudyDocument { Title = "The Vorrin apiary", End = 730, Origin = new DateOnly(2031, 1, 1) };
var folder = AppContext.GetData("EntryPointFileDirectoryPath") as string ?? Directory.GetCurrentDirectory();

// About every three weeks while bees fly, the second season a little more seldom.
int[] days = [66, 87, 109, 129, 151, 172, 193, 214, 236, 257, 279, 300, 434, 459, 480, 508, 529, 557, 578, 606, 634, 662];
Series Empty(string name, string formula) =>
    new(
        new("", name, name, "", "1") { Seen = ObservedAs.Standing, Formula = formula },
        new(name, name, [.. days.Select(day => new DataRow(day, day, 0))])
    );
var truth = Apply(empty, new AddLines(Model("1600", "0.14", "8000")));
var mean = new ObservedModel(Lowering.Lower(truth), [Empty("adults", "(H + F) / frame"), Empty("brood", "B / comb")], []).Predict([]).Mean;
double[] errors = [0.6, 0.35];
var seen = new List<DataRow>[] { [], [] };
for (var k = 0; k < days.Length; k++)
    for (var series = 0; series < 2; series++)
    {
        // A normal number from two uniform ones (Box and Muller, Ann. Math. Statist. 29, 1958).
        var stream = new RandomStream(Seed, k, "frames", series == 0 ? "adults" : "brood");
        var normal = Math.Sqrt(-2 * Math.Log(1 - stream.NextUniform())) * Math.Cos(2 * Math.PI * stream.NextUniform());
        var value = Math.Max(0, Math.Round(2 * (mean[series * days.Length + k] + errors[series] * normal)) / 2);
        seen[series].Add(new(days[k], days[k], value) { Error = errors[series] });
    }
var zero = new DateOnly(2031, 1, 1);
var clean = new StringBuilder("date,frames of bees,se,frames of brood,se\n");
// As people send it: a title, semicolons, decimal commas, days first, a note, an empty reading, a total below.
var messy = new StringBuilder("Vorrin apiary, hive 3;;;;;\ndate;frames of bees;se;frames of brood;se;remark\n");
for (var k = 0; k < days.Length; k++)
{
    var (date, bees, brood) = (zero.AddDays(days[k]), seen[0][k].Value, seen[1][k].Value);
    clean.Append(CultureInfo.InvariantCulture, $"{date:yyyy-MM-dd},{bees},{errors[0]},{brood},{errors[1]}\n");
    string Comma(double number) => number.ToString(CultureInfo.InvariantCulture).Replace('.', ',');
    var remark = k == 4 ? "swarm cells cut" : "";
    messy.Append(CultureInfo.InvariantCulture, $"{date:dd.MM.yyyy};{Comma(bees)};{Comma(errors[0])};");
    messy.Append(CultureInfo.InvariantCulture, $"{Comma(brood)};{Comma(errors[1])};{remark}\n");
}
messy.Append("14.11.2032;NA;;NA;;closed for winter\nsum;").Append("n/a;;n/a;;\ncounted by two people at noon;;;;;\n");
File.WriteAllText(Path.Combine(folder, "vorrin-apiary.csv"), clean.ToString());
File.WriteAllText(Path.Combine(folder, "vorrin-apiary-as-sent.csv"), messy.ToString());

var study = Apply(
    empty with
    {
        Question = "Does the colony outlast a second winter, and what would halve the summer loss of foragers?",
    },
    new AddLines(Model("1400", "0.1", "6000"))
);
(string Symbol, string Label, double X, double Y)[] plates =
[
    ("B", "Brood", 70, 150), ("H", "Hive bees", 320, 150), ("F", "Foragers", 570, 150),
];
foreach (var (symbol, label, x, y) in plates)
{
    var id = study.CompartmentBySymbol(symbol)!.Id;
    study = Apply(Apply(study, new SetField(id, PartField.Label, label)), new MoveOnPaper(id, x, y));
}
(string Symbol, string Label, string Note)[] definitions =
[
    ("L", "Eggs laid at the height of the season", "What a queen lays on her best days."),
    ("w", "Hive bees that rear half of it", "Fewer hive bees rear less of what is laid."),
    ("recruit", "Hive bees that begin to forage", ""), ("wear", "Loss in the hive", ""),
    ("winter", "Foragers lost in winter", ""), ("m", "Foragers lost in summer, on top", "A guess until it is fitted."),
    ("frame", "Bees on a full frame", ""), ("comb", "Brood on a full frame", ""),
];
foreach (var (symbol, label, note) in definitions)
{
    var id = study.DefinitionBySymbol(symbol)!.Id;
    study = Apply(study, new SetField(id, PartField.Label, label));
    if (note.Length > 0)
        study = Apply(study, new SetField(id, PartField.Note, note));
}
Observation Seen(string data, string label, string formula, string column) =>
    new("", data, label, "", "1") { Seen = ObservedAs.Standing, Formula = formula, Column = column };
study = Apply(
    study,
    new TieSeries(
        [
            Seen("vorrin-frames-of-bees", "Frames of bees", "(H + F) / frame", "frames of bees"),
            Seen("vorrin-frames-of-brood", "Frames of brood", "B / comb", "frames of brood"),
        ]
    )
);
study = Apply(study, new SetFit(new(ErrorLaw.Poisson, [new("L", 200, 5000), new("m", 0.01, 0.6), new("H.start", 1000, 30000)])));
// A hive is a model of its own, which another study can use again; the season is what all hives live in.
study = Apply(study, new MakeModule("hive", "Hive 3", [.. study.Compartments.Select(part => part.Id)]));
File.WriteAllText(
    Path.Combine(folder, "vorrin-apiary.study.json"),
    StudyFile.Write(
        new(
            study,
            [
                new DataSet("vorrin-frames-of-bees", "vorrin-apiary.csv, Frames of bees", seen[0]),
                new DataSet("vorrin-frames-of-brood", "vorrin-apiary.csv, Frames of brood", seen[1]),
            ]
        )
    )
);
Console.WriteLine($"Seed {Seed}; {True}.");
Console.WriteLine(string.Join(", ", seen[0].Select(row => row.Value)));
Console.WriteLine(string.Join(", ", seen[1].Select(row => row.Value)));
