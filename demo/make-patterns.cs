#:project ../src/ClearTide.Formats/ClearTide.Formats.csproj
#:property RestorePackagesWithLockFile=false
#:property TreatWarningsAsErrors=false
#:property PublishAot=false

// Writes the starting patterns as study files. Run with: dotnet run demo/make-patterns.cs

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

// What is worth knowing about a part, where it stands.
Dictionary<string, (string Symbol, string Note)[]> notes = new()
{
    ["steady-inflow"] = [("inflow", "Counted at the gate, averaged over a month.")],
    ["growth-in-proportion"] = [("r", "The time to double is 0.69 divided by this rate.")],
    ["approach-to-a-target"] = [("k", "Two thirds of the way to the target take 1/k.")],
    ["growth-to-a-limit"] = [("K", "Growth is fastest when half of this is reached.")],
    ["closed-epidemic"] = [("beta", "Contacts a day times the chance that one infects.")],
    ["epidemic-with-latency"] = [("beta", "Contacts a day times the chance that one infects."), ("E", "Infected, and not yet infectious.")],
    ["epidemic-with-deaths"] = [("D", "The share that dies is that of the flow out of I, not of all people.")],
    ["epidemic-with-waning"] = [("R", "Immune for half a year on average, some much shorter.")],
    ["epidemic-with-vaccination"] = [("effect", "Of infections that an unvaccinated person would have had, the share that is prevented.")],
    ["seasonal-epidemic"] = [("season", "One in the mean of the year; the table repeats every 365 days.")],
    ["predator-and-prey"] = [("gain", "Well below the catch: most of what is eaten keeps the owl alive.")],
    ["stages-of-life"] = [("room", "One with no grubs about, a half when there are K of them.")],
    ["one-compartment-medicine"] = [("Vd", "What the dose seems to be dissolved in; seldom the size of a part of the body.")],
    ["two-compartment-medicine"] = [("Q", "The same both ways: what passes depends on the level on each side.")],
    ["medicine-by-mouth"] = [("F", "What is lost in gut and liver before it reaches the blood is left out of it.")],
    ["saturable-elimination"] = [("Km", "At this level half of the most that can be cleared is cleared.")],
    ["infusion"] = [("CL", "At the same clearance a longer infusion is lower at its height and higher before the next one.")],
    ["tablets-by-weight"] = [("weight", "Let it differ between subjects to see whom one dose does not suit.")],
    ["lagging-effect"] = [("S", "Follows the level in the blood; two hours is the mean lag.")],
    ["parent-and-metabolite"] = [("f", "The rest leaves the body unchanged.")],
    ["decay-chain"] = [("N12", "Where everything ends.")],
};

Write("steady-inflow", "Steady inflow", "first steps", "What becomes of an amount to which the same is added every day?",
    "Not for stores that overflow or wells that run dry: nothing here stops the inflow.", 30, """
    unit crate
    -> W : inflow
    inflow = 12 crates per day
    W(0) = 40 crates
    assume: the inflow does not depend on what is there
    expect: W never falls
    """, ("W", "In the store"), ("inflow", "Brought every day"));
Write("growth-in-proportion", "Growth in proportion", "first steps", "How does something grow that makes more of itself the more there is?",
    "Not for long spans: nothing grows in proportion for ever. Use growth to a limit where food, room or light runs short.", 60, """
    unit reed
    -> M : r * M
    r = 5% per day
    M(0) = 200 reeds
    assume: every reed makes new ones at the same rate, however many there are
    expect: M never falls
    """, ("M", "Reeds on the bank"), ("r", "New reeds for each"));
WriteIn("approach-to-a-target", "Approach to a target", "first steps", "How does a level settle where inflow and loss meet?",
    "Not where losses stop below a threshold: here some is lost at any level.", 48, """
    -> B : inflow
    B -> at k
    inflow = 6 L/hour
    k = 0.1 per hour
    B(0) = 5 L
    target = inflow / k
    assume: the loss is in proportion to what is there
    expect: B <= target
    """, [("B", "In the basin"), ("inflow", "Pumped in"), ("k", "Share lost in an hour"), ("target", "Level it settles at")], "hour");
Write("growth-to-a-limit", "Growth to a limit", "populations", "How does a population grow that its surroundings can feed only so far?",
    "Not where a population overshoots and starves, or dies out below a least number: this one always settles at its limit.", 120, """
    unit heron
    -> P : r * P * (1 - P / K)
    r = 0.12 per day
    K = 900 herons
    P(0) = 30 herons
    assume: growth slows in proportion to how full the place is
    expect: P <= K
    """, ("P", "Herons"), ("r", "Growth of a small population"), ("K", "As many as can live here"));
Write("closed-epidemic", "Closed epidemic", "epidemics",
    "How large does an outbreak grow when nobody comes or goes and the recovered stay immune?",
    "Not for illnesses that last over years, or where immunity fades: births, deaths and waning are left out.", 150, """
    S -> I : beta * S * I / N
    I -> R after 5 days
    beta = 0.4 per day
    N = S + I + R
    S(0) = the rest of 10000 people
    I(0) = 5
    assume: everybody meets everybody
    assume: the recovered stay immune
    expect: the total stays
    expect: R never falls
    """, ("S", "Susceptible"), ("I", "Infectious"), ("R", "Recovered"), ("beta", "Contacts that infect"), ("N", "Everybody"));
Write("epidemic-with-latency", "Epidemic with latency", "epidemics",
    "How does an outbreak run when the infected are not infectious at once?",
    "Not where people infect others before they are ill and stay away afterwards: let the exposed infect too.", 200, """
    S -> E : beta * S * I / N
    E -> I after 3 days
    I -> R after 5 days
    beta = 0.4 per day
    N = S + E + I + R
    S(0) = the rest of 10000 people
    I(0) = 5
    assume: the exposed infect nobody
    assume: the recovered stay immune
    expect: the total stays
    expect: with beta = 0: S stays
    """,
    ("S", "Susceptible"), ("E", "Exposed"), ("I", "Infectious"), ("R", "Recovered"), ("beta", "Contacts that infect"), ("N", "Everybody"));
Write("epidemic-with-deaths", "Epidemic with deaths", "epidemics", "How many die of an illness, and what share of the ill is that?",
    "Not for illnesses whose victims die long after they were ill: everybody leaves illness at the same rate.", 200, """
    S -> I : beta * S * I / N
    I -> R 98%, D the rest after 6 days
    beta = 0.35 per day
    N = S + I + R
    S(0) = the rest of 10000 people
    I(0) = 5
    assume: the dead meet nobody
    expect: D never falls
    expect: D <= 10000 people
    """, ("S", "Susceptible"), ("I", "Infectious"), ("R", "Recovered"), ("D", "Died"), ("beta", "Contacts that infect"), ("N", "Living"));
Write("epidemic-with-waning", "Epidemic with waning immunity", "epidemics", "Does an illness stay when immunity fades?",
    "Not where immunity fades in steps or boosters renew it: here it is lost at one rate.", 900, """
    S -> I : beta * S * I / N
    I -> R after 7 days
    R -> S after 180 days
    beta = 0.3 per day
    N = S + I + R
    S(0) = the rest of 10000 people
    I(0) = 5
    assume: the recovered become susceptible again, all at one rate
    expect: the total stays
    """, ("S", "Susceptible"), ("I", "Infectious"), ("R", "Immune for now"), ("beta", "Contacts that infect"), ("N", "Everybody"));
Write("epidemic-with-vaccination", "Epidemic with vaccination", "epidemics",
    "How many cases does a vaccination from a certain day on prevent?",
    "Not where doses are scarce or given to some groups first: everybody susceptible is reached at one rate.", 240, """
    S -> I : beta * S * I / N
    S -> V at vaccinated
    V -> I : (1 - effect) * beta * V * I / N
    I -> R after 6 days
    beta = 0.3 per day
    vaccinated = 0 per day
    at 30: vaccinated = 0.01 per day
    effect = 80%
    N = S + V + I + R
    S(0) = the rest of 10000 people
    I(0) = 5
    assume: the vaccine works at once, and equally in everybody
    expect: the total stays
    """,
    ("S", "Susceptible"), ("V", "Vaccinated"), ("I", "Infectious"), ("R", "Recovered"), ("beta", "Contacts that infect"),
    ("vaccinated", "Share vaccinated a day"), ("effect", "Infections it prevents"), ("N", "Everybody"));
Write("seasonal-epidemic", "Seasonal epidemic", "epidemics", "Does an illness come back every winter when contacts follow the season?",
    "Not for single outbreaks of some weeks: the season does not matter there.", 1095, """
    S -> I : beta * season(t) * S * I / N
    I -> R after 8 days
    R -> S after 200 days
    beta = 0.25 per day
    season = points 0 1.25, 91 1, 182 0.75, 273 1, 365 1.25 smooth then repeat 365 days
    N = S + I + R
    S(0) = the rest of 10000 people
    I(0) = 20
    assume: the season acts on contacts alone
    expect: the total stays
    """,
    ("S", "Susceptible"), ("I", "Infectious"), ("R", "Immune for now"), ("beta", "Contacts that infect, over the year"),
    ("season", "Contacts by season"), ("N", "Everybody"));
Write("predator-and-prey", "Predator and prey", "populations", "Why do the numbers of hunters and hunted go up and down by turns?",
    "Not for forecasts: the swings keep the size they begin with, which no real population does.", 200, """
    unit vole; unit owl
    -> V : birth * V
    V -> : catch * V * O
    -> O : gain * V * O
    O -> at death
    birth = 0.1 per day
    catch = 0.005 per owl per day
    gain = 0.0004 per vole per day
    death = 0.08 per day
    V(0) = 150 voles
    O(0) = 12 owls
    assume: owls eat nothing but voles, and never have enough
    expect: V >= 0 voles
    """,
    ("V", "Voles"), ("O", "Owls"), ("birth", "Growth of the voles alone"), ("catch", "Caught by an owl, of each vole"),
    ("gain", "Owls raised on a vole"), ("death", "Owls dying"));
Write("stages-of-life", "Stages of life", "populations", "How does a population move through egg, grub, pupa and adult?",
    "Not where stages take a fixed time: each is passed in a few steps, so that stays spread around their mean.", 160, """
    unit moth
    -> E : eggs * A * room
    E -> L after 6 days in 4 stages
    L -> P 40%, outside the rest after 20 days in 4 stages
    P -> A after 10 days in 4 stages
    A -> after 12 days
    eggs = 0.9 per day
    room = 1 / (1 + L / K)
    K = 2000 moths
    A(0) = 50 moths
    assume: grubs compete for leaves, and nobody else does
    expect: A >= 0 moths
    """,
    ("E", "Eggs"), ("L", "Grubs"), ("P", "Pupae"), ("A", "Adults"), ("eggs", "Eggs of an adult a day"),
    ("room", "Leaves left for new grubs"), ("K", "Grubs that halve it"));
WriteIn("one-compartment-medicine", "One compartment medicine, by vein", "medicines",
    "How long does a medicine stay above the level that works, after one injection?",
    "Not for medicines that pass slowly into tissue: the level would fall fast at first and slowly later. Use two compartments.", 36, """
    A -> at CL / Vd
    CL = 4 L/hour
    Vd = 30 L
    C = A / Vd
    A(0) = 0 mg
    300 mg into A
    assume: the dose mixes with all of the body at once
    expect: A >= 0 mg
    """, [("A", "In the body"), ("CL", "Clearance"), ("Vd", "Volume of distribution"), ("C", "Concentration")], "hour");
WriteIn("two-compartment-medicine", "Two compartment medicine, by vein", "medicines",
    "Why does a level fall fast at first and slowly later?",
    "Not from a handful of samples: they seldom tell four values apart. Begin with one compartment.", 48, """
    A -> at CL / Vd
    A -> T at Q / Vd
    T -> A at Q / Vt
    CL = 4 L/hour
    Q = 8 L/hour
    Vd = 15 L
    Vt = 40 L
    C = A / Vd
    A(0) = 0 mg
    300 mg into A
    assume: only what is in the blood is cleared
    expect: A >= 0 mg
    """,
    [("A", "In the blood"), ("T", "In tissue"), ("CL", "Clearance"), ("Q", "Exchange with tissue"), ("Vd", "Volume of the blood"),
     ("Vt", "Volume of tissue"), ("C", "Concentration in blood")], "hour");
WriteIn("medicine-by-mouth", "Medicine by mouth", "medicines", "When does a tablet reach its highest level, and how high is that?",
    "Not for tablets that release slowly by design: the stay in the gut is one stage here.", 24, """
    G -> A F, outside the rest at ka
    A -> at CL / Vd
    ka = 1.2 per hour
    F = 70%
    CL = 5 L/hour
    Vd = 35 L
    C = A / Vd
    G(0) = 0 mg
    500 mg into G
    assume: the share that is taken up does not depend on the dose
    expect: A >= 0 mg
    """,
    [("G", "In the gut"), ("A", "In the body"), ("ka", "Uptake"), ("F", "Share taken up"), ("CL", "Clearance"),
     ("Vd", "Volume of distribution"), ("C", "Concentration")], "hour");
WriteIn("saturable-elimination", "Saturable elimination", "medicines", "What happens when the body can clear only so much in an hour?",
    "Not where levels stay far below the half-point: there it is the same as a constant clearance, and data cannot tell the two values apart.", 72, """
    A -> : Vmax * C / (Km + C)
    Vmax = 20 mg/hour
    Km = 2 mg/L
    Vd = 30 L
    C = A / Vd
    A(0) = 0 mg
    600 mg into A
    assume: one enzyme clears it, and nothing else
    expect: A >= 0 mg
    """,
    [("A", "In the body"), ("Vmax", "Most that is cleared"), ("Km", "Level of half of that"), ("Vd", "Volume of distribution"),
     ("C", "Concentration")], "hour");
WriteIn("infusion", "Infusion again and again", "medicines",
    "How high does a level get that is given slowly, and how low before the next time?",
    "Not for infusions that are stopped early by what they do: let a condition end them.", 72, """
    A -> at CL / Vd
    CL = 4 L/hour
    Vd = 30 L
    C = A / Vd
    A(0) = 0 mg
    300 mg into A every 12 hours over 1 hour 6 times
    assume: it goes in evenly while it lasts
    expect: A >= 0 mg
    """, [("A", "In the body"), ("CL", "Clearance"), ("Vd", "Volume of distribution"), ("C", "Concentration")], "hour");
WriteIn("tablets-by-weight", "Tablets twice a day, by weight", "medicines",
    "Does a dose that is right for a body of 70 kg do for a lighter one?",
    "Not for children: clearance grows up with age besides weight.", 168, """
    G -> A at ka
    A -> at CL / V
    CL = CL70 * (weight / 70 kg)^0.75
    V = V70 * weight / 70 kg
    C = A / V
    ka = 0.8 per hour
    CL70 = 3 L per hour
    V70 = 50 L
    weight = 70 kg
    G(0) = 0 mg
    A(0) = 0 mg
    200 mg into G every 12 hours for 7 days, first dose doubled
    assume: clearance goes with weight to the power of three quarters, volume in proportion
    expect: A >= 0 mg
    """,
    [("G", "In the gut"), ("A", "In the body"), ("ka", "Uptake"), ("CL70", "Clearance of 70 kg"), ("V70", "Volume of 70 kg"),
     ("weight", "Body weight"), ("CL", "Clearance"), ("V", "Volume of distribution"), ("C", "Concentration")], "hour");
WriteIn("lagging-effect", "An effect that lags behind", "medicines", "Why is the effect greatest when the level falls already?",
    "Not for effects that use something up: they need a compartment for what is used.", 24, """
    A -> at CL / Vd
    CL = 5 L/hour
    Vd = 35 L
    C = A / Vd
    S = smooth(C, 2 hours)
    E = Emax * S / (S50 + S)
    Emax = 100
    S50 = 4 mg/L
    A(0) = 0 mg
    400 mg into A
    assume: what acts follows the level with a lag of its own, and takes nothing out of the blood
    expect: E >= 0
    """,
    [("A", "In the body"), ("CL", "Clearance"), ("Vd", "Volume of distribution"), ("C", "Concentration"), ("S", "Level where it acts"),
     ("E", "Effect"), ("Emax", "Greatest effect"), ("S50", "Level of half of it")], "hour");
WriteIn("parent-and-metabolite", "A medicine and what it becomes", "medicines",
    "How long does a metabolite stay when the medicine is gone?",
    "Not where the metabolite turns back: let a flow lead back then.", 48, """
    P -> M f, outside the rest at CL / V
    M -> at CLM / VM
    CL = 6 L/hour
    CLM = 2 L/hour
    V = 30 L
    VM = 20 L
    f = 60%
    C = P / V
    CM = M / VM
    P(0) = 0 mg
    M(0) = 0 mg
    500 mg into P
    assume: a milligram of the medicine makes a milligram of the metabolite
    expect: M >= 0 mg
    """,
    [("P", "Medicine"), ("M", "Metabolite"), ("f", "Share that becomes it"), ("CL", "Clearance"), ("CLM", "Clearance of the metabolite"),
     ("V", "Volume of the medicine"), ("VM", "Volume of the metabolite"), ("C", "Level of the medicine"),
     ("CM", "Level of the metabolite")], "hour");
Write("decay-chain", "Decay chain", "decay", "In which order do the members of a chain of decays rise and fall?",
    "Not for chains with a branch: let a flow lead to two ends with shares there.", 120, """
    unit atom
    N1 -> N2 after 2 days; N2 -> N3 after 3 days; N3 -> N4 after 4 days; N4 -> N5 after 5 days
    N5 -> N6 after 6 days; N6 -> N7 after 7 days; N7 -> N8 after 8 days; N8 -> N9 after 9 days
    N9 -> N10 after 10 days; N10 -> N11 after 11 days; N11 -> N12 after 12 days
    N1(0) = 1000000 atoms
    assume: each member decays into the next alone
    expect: the total stays
    expect: N12 never falls
    """, [.. Enumerable.Range(1, 12).Select(k => ($"N{k}", k == 12 ? "Stable end" : $"Member {k}"))]);

void Write(string file, string title, string tag, string question, string description, double end, string lines, params (string Symbol, string Label)[] labels) => WriteIn(file, title, tag, question, description, end, lines, labels, "day");

void WriteIn(string file, string title, string tag, string question, string description, double end, string lines, (string Symbol, string Label)[] labels, string unit)
{
    var document = Apply(new StudyDocument { Title = title, Question = question, Description = description, Tags = [tag], End = end, TimeUnit = TimeUnit.Find(unit)! }, new AddLines(lines));
    foreach (var (symbol, label) in labels) document = Apply(document, new SetField(document.PartBySymbol(symbol)!.Id, PartField.Label, label));
    foreach (var (symbol, note) in notes[file]) document = Apply(document, new SetField(document.PartBySymbol(symbol)!.Id, PartField.Note, note));
    foreach (var finding in Lowering.Lower(document).Findings) Console.Error.WriteLine($"{file}: {finding.Message}");
    foreach (var note in StudyRun.Of(document).Notes) Console.Error.WriteLine($"{file}: {note.Message}");
    File.WriteAllText(Path.Combine("demo", "patterns", file + ".study.json"), StudyFile.Write(new(document, [])));
}

static StudyDocument Apply(StudyDocument document, Edit edit)
{
    var result = edit.Apply(document);
    return result.Document ?? throw new InvalidOperationException($"{document.Title}: {result.Refusal}");
}
