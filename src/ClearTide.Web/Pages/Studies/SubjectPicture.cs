using System.Globalization;
using System.Text.Json;
using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Web.Words;

namespace ClearTide.Web.Pages.Studies;

/// <summary>Runs of subjects as the page shows them: bands, single lines, doses, and a table of exposures.</summary>
/// <param name="Runs">Null where they could not be made.</param>
/// <param name="Count">How many subjects these are.</param>
/// <param name="All">How many there are to be.</param>
/// <param name="Problem">Why there are no runs; empty where there are.</param>
public sealed record SubjectPicture(SubjectsModel Page, SubjectRuns? Runs, int Count, int All, string Problem)
{
    /// <summary>Single subjects that are drawn.</summary>
    private const int Lines = 5;

    /// <summary>Doses that are listed at most.</summary>
    public const int MostDoses = 500;

    /// <summary>Dots of a picture of exposures against a value at most.</summary>
    private const int MostDots = 400;

    /// <summary>How many could not be run, under any plan.</summary>
    public int Failed => Runs?.Plans.Max(plan => plan.Failed) ?? 0;

    /// <summary>What is told of each subject, with its name.</summary>
    public static IReadOnlyList<(string Name, Func<Exposure, double> Of)> Numbers(TimeUnit unit) =>
        [
            ("maximum", one => one.Maximum),
            ($"time of maximum ({unit.Plural})", one => one.MaximumTime),
            ("trough", one => one.Trough),
            ("average", one => one.Average),
            ("area under the curve", one => one.Area),
            ("fluctuation", one => one.Fluctuation),
            ("accumulation", one => one.Accumulation),
        ];

    /// <summary>How an exposure spreads over the subjects of a plan; null where none has one.</summary>
    public static ExposureSummary? Summary(PlanRuns plan, Func<Exposure, double> of)
    {
        double[] values = [.. plan.Exposures.OfType<Exposure>().Select(of).Where(double.IsFinite)];
        return values.Length == 0 ? null : ExposureSummary.Of(values);
    }

    /// <summary>The share of subjects that are within the target all the time.</summary>
    public static double Inside(PlanRuns plan)
    {
        var exposures = plan.Exposures.OfType<Exposure>().ToList();
        return exposures.Count == 0 ? double.NaN : (double)exposures.Count(one => one.IsInside) / exposures.Count;
    }

    /// <summary>What becomes of the doses in a typical body; null where there are none.</summary>
    public DosedBody? Body => _body ??= DosedBody.Of(Lowering.Lower(Page.Document));

    private DosedBody? _body;

    /// <summary>All doses within the span, each with what it goes into.</summary>
    public IReadOnlyList<(Dose Dose, string Into)> Doses
    {
        get
        {
            var lowered = Lowering.Lower(Page.Document);
            return
            [
                .. lowered
                    .Network.Doses.SelectMany(series =>
                        series
                            .Within(lowered.Network.Graph, lowered.Network.ValueVector(), Page.Document.Start, Page.Document.End)
                            .Select(dose => (dose, Page.Document.Compartment(series.CompartmentId)?.Symbol ?? ""))
                    )
                    .OrderBy(one => one.dose.Time),
            ];
        }
    }

    /// <summary>The place of the value that single subjects are coloured and ordered by: the one that was chosen; else the first of another
    /// law than the log-normal, as weights are; else the first.</summary>
    public int Sorted =>
        Page.Group.Varying.ToList().FindIndex(one => one.Address.ToString() == Page.By) is var chosen and >= 0 ? chosen
        : Page.Group.Varying.ToList().FindIndex(one => one.Law != VariationLaw.LogNormal) is var place and >= 0 ? place
        : 0;

    public string Json
    {
        get
        {
            if (Runs is not { } runs)
                return "{}";
            var (document, group, lowered) = (Page.Document, Page.Group, Lowering.Lower(Page.Document));
            var part = document.Part(Page.Of);
            var varies = group.Varying.Length > 0;
            var order = Enumerable
                .Range(0, runs.Own.Count)
                .Where(k => runs.Plans[0].Curves[k].Length > 0)
                .OrderBy(k => varies ? runs.Own[k][Sorted] : 0)
                .ToList();
            // Evenly through the order, and not its very ends.
            var shown =
                order.Count <= Lines ? order : [.. Enumerable.Range(0, Lines).Select(k => order[(int)((k + 0.5) / Lines * order.Count)])];
            var unit = lowered.Units.Of(Page.Of)?.Unit is { } measured ? $", {measured.Text()}" : "";
            return JsonSerializer.Serialize(
                new
                {
                    unit = document.TimeUnit.Singular,
                    label = part is null ? "" : part.Name,
                    yTitle = $"{(part as ISymbolPart)?.Label ?? part?.Name}{unit}",
                    times = runs.Times,
                    window = new[] { runs.Window.From, runs.Window.Until },
                    low = group.TargetLow,
                    high = group.TargetHigh,
                    by = varies ? group.Varying[Sorted].Address.ToString() : null,
                    plans = runs.Plans.Select(plan => new
                    {
                        name = plan.Name,
                        exposures = Numbers(document.TimeUnit)
                            .ToDictionary(
                                number => number.Name,
                                number => plan.Exposures.OfType<Exposure>().Select(number.Of).Where(double.IsFinite).Select(Rounded)
                            ),
                        bands = Bands(plan, runs.Times.Length),
                        dots = varies
                            ? runs
                                .Own.Zip(plan.Exposures)
                                .Where(one => one.Second is not null)
                                .Take(MostDots)
                                .Select(one => new[] { one.First[Sorted], one.Second!.Value.Trough })
                            : null,
                    }),
                    lines = shown.Select(
                        (k, place) =>
                            new
                            {
                                values = runs.Plans[0].Curves[k],
                                shade = place,
                                name = $"subject {k + 1}",
                                words = string.Join(
                                    ", ",
                                    group.Varying.Select((one, j) => $"{one.Address} {NumberWords.Of(runs.Own[k][j])}")
                                ),
                                end = varies ? NumberWords.Of(runs.Own[k][Sorted], 3) : "",
                            }
                    ),
                    points = Page
                        .Series.SelectMany(series => SeenOnCurve.Of(lowered, series, Page.Of))
                        .Select(row => new
                        {
                            time = row.End,
                            value = row.Value,
                            below = row.Below,
                            @out = row.LeftOut,
                        }),
                    doses = document
                        .Events.SelectMany(rule => DoseWords.Of(lowered, rule))
                        .Select(dose => new[] { dose.Time, double.IsFinite(dose.Amount) ? dose.Amount : 0, dose.Duration }),
                }
            );
        }
    }

    /// <summary>Digits enough for a picture.</summary>
    private static double Rounded(double number) =>
        double.Parse(number.ToString("G5", CultureInfo.InvariantCulture), CultureInfo.InvariantCulture);

    private static double[][] Bands(PlanRuns plan, int times)
    {
        var curves = plan.Curves.Where(curve => curve.Length > 0).ToList();
        var bands = new[] { new double[times], new double[times], new double[times] };
        var column = new double[curves.Count];
        for (var row = 0; row < times; row++)
        {
            if (curves.Count == 0)
                break;
            for (var k = 0; k < column.Length; k++)
                column[k] = curves[k][row];
            Array.Sort(column);
            foreach (var (k, share) in new[] { 0.05, 0.5, 0.95 }.Index())
            {
                var place = (column.Length - 1) * share;
                var below = (int)place;
                bands[k][row] = column[below] + (place - below) * (column[Math.Min(below + 1, column.Length - 1)] - column[below]);
            }
        }
        return bands;
    }
}
