#:project ../src/ClearTide.Formats/ClearTide.Formats.csproj
#:property RestorePackagesWithLockFile=false
#:property TreatWarningsAsErrors=false
#:property PublishAot=false

// Writes the large demo study: marram fever in the four towns of the estuary and on the ferry, twelve states in each. Run with: dotnet run demo/make-ferry.cs

using System.Text;
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
using ClearTide.Formats.Studies;

(string Letter, string Label, int Column, int Row)[] states =
[
    ("S", "Susceptible", 0, 0), ("E", "Exposed", 1, 0), ("I", "Infectious", 2, 0), ("A", "Without signs", 2, 1), ("Q", "At home, ill", 3, 0), ("H", "In clinic", 3, 1),
    ("C", "In intensive care", 4, 1), ("D", "Died", 4, 2), ("R", "Recovered", 3, 2), ("W", "Waned", 1, 2), ("V", "Vaccinated", 0, 1), ("B", "Ill after vaccine", 1, 1),
];
(string Key, string Name, int Column, int Row)[] places = [("v", "Vorrin", 0, 0), ("t", "Tesk", 1, 0), ("a", "Ammelow", 0, 1), ("q", "Quay Ordan", 1, 1), ("f", "On the ferry", 2, 0)];
var lines = new StringBuilder();
for (var p = 0; p < places.Length; p++)
{
    string X(string state) => $"{state}_{places[p].Key}";
    lines.AppendLine($"N_{places[p].Key} = {string.Join(" + ", states.Where(state => state.Letter != "D").Select(state => X(state.Letter)))}");
    lines.AppendLine($"lambda_{places[p].Key} = beta * ({X("I")} + 0.5 * {X("A")}) / N_{places[p].Key}");
    lines.AppendLine($"{X("S")}(0) = {4000 + 500 * p} people; {X("I")}(0) = 3");
    lines.AppendLine($"{X("S")} -> {X("E")} : lambda_{places[p].Key} * {X("S")}");
    lines.AppendLine($"{X("V")} -> {X("B")} : 0.2 * lambda_{places[p].Key} * {X("V")}");
    foreach (var (from, to, rate) in new[]
    {
        ("E", "A", "0.1 per day"), ("E", "I", "0.2 per day"), ("A", "R", "0.2 per day"), ("I", "Q", "0.1 per day"), ("I", "H", "0.02 per day"), ("I", "R", "0.15 per day"),
        ("Q", "R", "0.2 per day"), ("Q", "H", "0.02 per day"), ("H", "C", "0.05 per day"), ("H", "R", "0.1 per day"), ("H", "D", "0.01 per day"), ("C", "R", "0.05 per day"), ("C", "D", "0.03 per day"),
        ("R", "W", "0.01 per day"), ("W", "S", "0.02 per day"), ("S", "V", "vac"), ("V", "W", "0.005 per day"), ("B", "R", "0.2 per day"), ("B", "H", "0.001 per day"),
    })
    {
        lines.AppendLine($"{X(from)} -> {X(to)} at {rate}");
    }
    var next = places[(p + 1) % places.Length].Key;
    foreach (var state in new[] { "S", "E", "A", "I", "R", "W", "V", "B", "Q" }) lines.AppendLine($"{X(state)} -> {state}_{next} at ferry");
}
lines.AppendLine("beta = 0.4 per day; vac = 0.003 per day; ferry = 0.01 per day");
var study = Apply(new StudyDocument
{
    Title = "Marram fever round the estuary",
    Question = "How does the ferry carry the outbreak from town to town?",
    Description = "Twelve states in each of four towns and on the ferry: a study large enough for regions. Fold a town to see the others.",
    Tags = ["epidemic", "large"],
    End = 150,
}, new AddLines(lines.ToString()));
foreach (var (letter, label, _, _) in states)
{
    foreach (var (key, name, _, _) in places) study = Apply(study, new SetField(study.CompartmentBySymbol($"{letter}_{key}")!.Id, PartField.Label, label));
}
foreach (var (symbol, label) in new[] { ("beta", "Contacts that infect"), ("vac", "Vaccinated a day"), ("ferry", "Moving on by ferry") }) study = Apply(study, new SetField(study.DefinitionBySymbol(symbol)!.Id, PartField.Label, label));
const double stepX = 240, stepY = 170, townX = 1420, townY = 680;
study = Apply(study, new MoveOnPaper([.. places.SelectMany(place => states.Select(state => new PaperPlace(study.CompartmentBySymbol($"{state.Letter}_{place.Key}")!.Id, place.Column * townX + state.Column * stepX, place.Row * townY + (place.Key == "f" ? townY / 2 : 0) + state.Row * stepY)))]));
foreach (var (key, name, _, _) in places) study = Apply(study, new AddRegion(name, [.. states.Select(state => study.CompartmentBySymbol($"{state.Letter}_{key}")!.Id)]));
File.WriteAllText(Path.Combine("demo", "round-the-estuary.study.json"), StudyFile.Write(new(study, [])));

static StudyDocument Apply(StudyDocument document, Edit edit)
{
    var result = edit.Apply(document);
    return result.Document ?? throw new InvalidOperationException(result.Refusal);
}
