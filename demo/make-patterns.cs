#:project ../src/ClearTide.Formats/ClearTide.Formats.csproj
#:property RestorePackagesWithLockFile=false
#:property TreatWarningsAsErrors=false
#:property PublishAot=false

// Writes the starting patterns as study files. Run with: dotnet run demo/make-patterns.cs

using ClearTide.Core.Models;
using ClearTide.Formats.Studies;

Write("closed-epidemic", "Closed epidemic", "How large does an outbreak grow when nobody comes or goes and the recovered stay immune?", 150, """
    S -> I : beta * S * I / N
    I -> R after 5 days
    beta = 0.4 per day
    N = S + I + R
    S(0) = the rest of 10000 people
    I(0) = 5
    """, ("S", "Susceptible"), ("I", "Infectious"), ("R", "Recovered"), ("beta", "Contacts that infect"), ("N", "Everybody"));
Write("epidemic-with-latency", "Epidemic with latency", "How does an outbreak run when the infected are not infectious at once?", 200, """
    S -> E : beta * S * I / N
    E -> I after 3 days
    I -> R after 5 days
    beta = 0.4 per day
    N = S + E + I + R
    S(0) = the rest of 10000 people
    I(0) = 5
    """, ("S", "Susceptible"), ("E", "Exposed"), ("I", "Infectious"), ("R", "Recovered"), ("beta", "Contacts that infect"), ("N", "Everybody"));

static void Write(string file, string title, string question, double end, string lines, params (string Symbol, string Label)[] labels)
{
    var document = Apply(new StudyDocument { Title = title, Question = question, End = end }, new AddLines(lines));
    foreach (var (symbol, label) in labels)
    {
        var id = document.CompartmentBySymbol(symbol)?.Id ?? document.DefinitionBySymbol(symbol)!.Id;
        document = Apply(document, new SetField(id, PartField.Label, label));
    }
    File.WriteAllText(Path.Combine("demo", "patterns", file + ".study.json"), StudyFile.Write(new(document, [])));
}

static StudyDocument Apply(StudyDocument document, Edit edit)
{
    var result = edit.Apply(document);
    return result.Document ?? throw new InvalidOperationException(result.Refusal);
}
