using System.Collections.Immutable;
using ClearTide.Core.Compilation;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;

namespace ClearTide.Core.Ensembles;

/// <summary>One setting that was tried.</summary>
/// <param name="Setting">The number that was tried.</param>
/// <param name="Outcome">Of a run without chance; not a number where it failed.</param>
/// <param name="Share">The share of runs by chance that stay at or below the limit; not a number without chance.</param>
/// <param name="Effort">How far the measure is from doing nothing, times how long it lasts within the span: what is kept small.</param>
public sealed record TriedSetting(double Setting, double Outcome, double Share, double Effort)
{
    /// <summary>The number that was tried of the second one; not a number where there is none.</summary>
    public double Second { get; init; } = double.NaN;

    /// <summary>What the scenario costs in a run without chance; zero where its measures have no cost.</summary>
    public double Cost { get; init; }
}

/// <summary>
/// The least cost, or where nothing has a cost the least effort, of a measure that keeps an outcome at or below a limit, by trying settings
/// in even steps: those of one, or all pairs of two. All settings meet the same chance: replicate r has the same random numbers at each of
/// them, so that they are compared without the noise of their own.
/// </summary>
/// <param name="Question">What was looked for.</param>
/// <param name="Tried">In order of the setting.</param>
/// <param name="Best">Which of them keeps the limit at the least cost, and among those of one cost with the least effort; null where none
/// does.</param>
public sealed record MeasureSearch(MeasureQuestion Question, ImmutableArray<TriedSetting> Tried, int? Best)
{
    /// <summary>Stretches at whose ends runs by chance are looked at besides their transitions.</summary>
    private const int Times = 300;

    /// <summary>What is the same for all settings.</summary>
    private sealed record Asked(
        LoweredModel Lowered,
        MeasureQuestion Question,
        double Now,
        IReadOnlyDictionary<ValueAddress, double> Estimates,
        CancellationToken Cancel
    );

    /// <param name="lowered">The model, lowered.</param>
    /// <param name="question">What is looked for.</param>
    /// <param name="now">Where the future begins, or negative infinity; before it the scenario is the baseline.</param>
    /// <param name="estimates">Values that are laid over the model's own, by address.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    /// <exception cref="ArgumentException">The question makes no sense, or something it names is gone; the message says what to
    /// do.</exception>
    public static MeasureSearch Of(
        LoweredModel lowered,
        MeasureQuestion question,
        double now,
        IReadOnlyDictionary<ValueAddress, double> estimates,
        CancellationToken cancel = default
    )
    {
        var document = lowered.Study;
        var scenario = document.Scenarios.FirstOrDefault(one => one.Id == question.ScenarioId)
            ?? throw new ArgumentException("This scenario is no longer in the study. Choose another one.");
        foreach (var id in new[] { question.MeasureId, question.Second?.MeasureId ?? question.MeasureId })
        {
            if (scenario.Measures.All(one => one.Id != id))
                throw new ArgumentException("This measure is no longer in the scenario. Choose another one.");
        }
        Require(question);
        var asked = new Asked(lowered, question, now, estimates, cancel);
        var tried = ImmutableArray.CreateBuilder<TriedSetting>();
        foreach (var (setting, second) in Pairs(question))
        {
            if (With(scenario, question.Settings(setting, second)) is not { } other)
                continue;
            var curve = ScenarioRuns.One(lowered, other, question.PartId, now, estimates, cancel);
            var cost = new ScenarioCost(document, document.Whole(other), now);
            var effort = other
                .Measures.Where(one => one.Id == question.MeasureId || one.Id == question.Second?.MeasureId)
                .Select(one => Effort(one, lowered));
            tried.Add(
                new(setting, Outcome(curve, question.Outcome), question.Replicates > 0 ? ByChance(asked, other) : double.NaN, effort.Sum())
                {
                    Second = second,
                    Cost = curve.Outcomes is null ? 0 : cost.Of(curve.Acts),
                }
            );
        }
        if (tried.Count == 0)
            throw new ArgumentException("At none of these settings does the measure end after it begins. Try others.");
        var kept = tried.Index().Where(one => Keeps(question, one.Item)).ToList();
        return new(question, tried.ToImmutable(), kept.Count == 0 ? null : kept.MinBy(one => (one.Item.Cost, one.Item.Effort)).Index)
        {
            HasCosts = !document.Whole(scenario).Costs.IsEmpty,
        };
    }

    /// <summary>Whether what is kept small is a cost, and not how far and how long measures act.</summary>
    public bool HasCosts { get; private init; }

    /// <summary>Whether a setting keeps the limit, in as many runs as was asked for.</summary>
    /// <param name="tried">One of <see cref="Tried"/>.</param>
    public bool Keeps(TriedSetting tried) => Keeps(Question, tried);

    private static bool Keeps(MeasureQuestion question, TriedSetting tried) =>
        question.Replicates > 0 ? tried.Share >= question.Share : tried.Outcome <= question.Limit;

    /// <summary>Whether the answer has the first or the last number that was tried of a setting, so that others beyond may cost less.</summary>
    public bool IsAtEdge =>
        Best is { } best
        && (
            IsEnd(Tried[best].Setting, Tried.Select(one => one.Setting))
            || Question.Second is not null && IsEnd(Tried[best].Second, Tried.Select(one => one.Second))
        );

    private static bool IsEnd(double value, IEnumerable<double> tried) => value == tried.Min() || value == tried.Max();

    private static IEnumerable<(double Setting, double Second)> Pairs(MeasureQuestion question)
    {
        double At(double from, double to, int k) => from + k * (to - from) / (question.Steps - 1);
        for (var k = 0; k < question.Steps; k++)
        {
            var setting = At(question.From, question.To, k);
            if (question.Second is not { } second)
                yield return (setting, double.NaN);
            else
            {
                for (var j = 0; j < question.Steps; j++)
                    yield return (setting, At(second.From, second.To, j));
            }
        }
    }

    /// <summary>The share of runs of the answer, from where to where: null without chance or answer.</summary>
    public (double Low, double High)? Interval
    {
        get
        {
            if (Best is not { } best || Question.Replicates == 0)
                return null;
            var share = Proportion.Of((int)Math.Round(Tried[best].Share * Question.Replicates), Question.Replicates);
            return (share.Low, share.High);
        }
    }

    /// <summary>A scenario with numbers put into its measures, whether it is run or not; null where a measure would end before it begins,
    /// or scale by less than nothing.</summary>
    /// <param name="scenario">It stays as it is.</param>
    /// <param name="settings">Ids of its measures, each with what is set and to what: a time, a length, or a strength.</param>
    internal static Scenario? With(Scenario scenario, IEnumerable<(string MeasureId, MeasureSetting Setting, double Value)> settings)
    {
        var measures = scenario.Measures;
        foreach (var (id, setting, value) in settings)
            measures = [.. measures.Select(one => one.Id == id ? With(one, setting, value) : one)];
        return measures.Any(one => !(one.Until > one.From) || (one.Kind == MeasureKind.Scale && one.Factor < 0))
            ? null
            : scenario with
            {
                Measures = measures,
                IsOff = false,
            };
    }

    private static Measure With(Measure measure, MeasureSetting setting, double value) =>
        setting switch
        {
            MeasureSetting.Strength => measure with { Factor = value },
            MeasureSetting.Start => measure with { From = value },
            MeasureSetting.Time => measure with { From = value, Until = value + measure.Until - measure.From },
            MeasureSetting.Length => measure with { Until = measure.From + value },
            _ => measure with { Until = value },
        };

    private static void Require(MeasureQuestion question)
    {
        if (!double.IsFinite(question.From) || !double.IsFinite(question.To) || !(question.To > question.From))
            throw new ArgumentException("Type from which setting to which is tried, the lower one first, as in 30 and 120.");
        if (question.Second is { } second && !(double.IsFinite(second.From) && second.To > second.From && double.IsFinite(second.To)))
            throw new ArgumentException("Type from which to which the second setting is tried, the lower one first, as in 30 and 120.");
        if (question.Outcome is not (OutcomeKind.Maximum or OutcomeKind.Final or OutcomeKind.Total))
            throw new ArgumentException("A limit is of a peak, of the value at the end, or of a total. Choose one of them.");
        if (!double.IsFinite(question.Limit))
            throw new ArgumentException("Type the limit as a number, as in 40.");
        if (!(question.Share is > 0 and <= 1))
            throw new ArgumentException("The share of runs lies above 0 and is at most 100 %.");
        if (question.Replicates is < 0 or > MeasureQuestion.MostReplicates)
            throw new ArgumentException($"Ask for 0 to {MeasureQuestion.MostReplicates:N0} runs by chance at each setting.");
    }

    private static double Effort(Measure measure, LoweredModel lowered)
    {
        var (document, network) = (lowered.Study, lowered.Network);
        var baseline = network.IndexOf(measure.Address) is var index and >= 0 ? network.Values[index].Value : double.NaN;
        var length = Math.Min(measure.Until, document.End) - Math.Max(measure.From, document.Start);
        var size = measure.Kind switch
        {
            MeasureKind.Scale => Math.Abs(measure.Factor - 1),
            MeasureKind.Set => Math.Abs(measure.Factor - baseline),
            _ => Math.Abs(measure.Factor),
        };
        return size * Math.Max(0, length);
    }

    private static double Outcome(ScenarioCurve curve, OutcomeKind kind) =>
        curve.Outcomes is not { } outcomes ? double.NaN
        : kind == OutcomeKind.Maximum ? outcomes.Maximum
        : kind == OutcomeKind.Final ? outcomes.Final
        : outcomes.Integral;

    private static double ByChance(Asked asked, Scenario scenario)
    {
        var (lowered, question, now, estimates, cancel) = asked;
        if (ChanceRefusal.Of(lowered) is { } refusal)
            throw new ArgumentException(refusal);
        var (network, document) = (lowered.Network, lowered.Document);
        var output = network.OutputOf(question.PartId);
        if (network.IsFlow(output))
            throw new ArgumentException(
                "By chance a flow comes in single units: keep a compartment or a quantity below a limit, or ask without chance, with 0 "
                    + "runs."
            );
        var model = ScenarioModel.Of(lowered, scenario, now);
        // What stands still is looked at where the future begins too.
        double[] times =
        [
            .. Enumerable
                .Range(0, Times + 1)
                .Select(k => document.Start + k * (document.End - document.Start) / Times)
                .Append(Math.Max(now, document.Start))
                .Where(time => time <= document.End)
                .Distinct()
                .Order(),
        ];
        var request = new EnsembleRequest(
            model.Lowered.Compiled,
            model.Parameters(network, network.With(estimates).ValueVector()),
            times,
            question.Replicates,
            document.Seed
        )
        {
            Plan = model.Plan,
        };
        request = request with { Method = Ensemble.Choose(request).Method };
        var outcomes = EachReplicate.Of(
            model.Lowered,
            request,
            [new OutcomeFormula(model.Lowered, output, question.Outcome)],
            null,
            cancel,
            now
        )[0];
        return outcomes.Count(one => one <= question.Limit) / (double)outcomes.Length;
    }
}
