using System.Collections.Immutable;
using ClearTide.Core.Compilation;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;

namespace ClearTide.Core.Ensembles;

/// <summary>What of a measure is looked for.</summary>
public enum MeasureSetting
{
    /// <summary>The number that it scales by, sets to or shifts by.</summary>
    Strength,

    /// <summary>When it begins.</summary>
    Start,

    /// <summary>When it ends.</summary>
    End,
}

/// <summary>What is looked for.</summary>
/// <param name="ScenarioId">The scenario whose measure it is; its other measures stay as they are.</param>
/// <param name="MeasureId">Which of the scenario's measures.</param>
/// <param name="Setting">What of the measure is tried: its factor, its start, its end.</param>
/// <param name="From">The first setting that is tried.</param>
/// <param name="To">The last one.</param>
/// <param name="PartId">The compartment, flow or quantity that is looked at.</param>
/// <param name="Outcome">Its peak, its value at the end or its total over time.</param>
/// <param name="Limit">What its outcome stays at or below.</param>
/// <param name="Share">In which share of runs by chance it has to; above zero, at most one.</param>
/// <param name="Replicates">Runs by chance at each setting; 0 for one run without chance.</param>
public sealed record MeasureQuestion(
    string ScenarioId,
    string MeasureId,
    MeasureSetting Setting,
    double From,
    double To,
    string PartId,
    OutcomeKind Outcome,
    double Limit,
    double Share,
    int Replicates
)
{
    /// <summary>Runs by chance at each setting at most.</summary>
    public const int MostReplicates = 1000;

    /// <summary>Settings that are tried.</summary>
    public int Steps { get; init; } = 25;
}

/// <summary>One setting that was tried.</summary>
/// <param name="Setting">The number that was tried.</param>
/// <param name="Outcome">Of a run without chance; not a number where it failed.</param>
/// <param name="Share">The share of runs by chance that stay at or below the limit; not a number without chance.</param>
/// <param name="Effort">How far the measure is from doing nothing, times how long it lasts within the span: what is kept small.</param>
public sealed record TriedSetting(double Setting, double Outcome, double Share, double Effort);

/// <summary>
/// The least effort of a measure that keeps an outcome at or below a limit, by trying settings in even steps. All settings meet the same
/// chance: replicate r has the same random numbers at each of them, so that they are compared without the noise of their own.
/// </summary>
/// <param name="Question">What was looked for.</param>
/// <param name="Tried">In order of the setting.</param>
/// <param name="Best">Which of them keeps the limit with the least effort; null where none does.</param>
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
        var measure = scenario.Measures.FirstOrDefault(one => one.Id == question.MeasureId)
            ?? throw new ArgumentException("This measure is no longer in the scenario. Choose another one.");
        Require(question);
        var asked = new Asked(lowered, question, now, estimates, cancel);
        var baseline = lowered.Network.IndexOf(measure.Address) is var index and >= 0 ? lowered.Network.Values[index].Value : double.NaN;
        var tried = ImmutableArray.CreateBuilder<TriedSetting>();
        for (var k = 0; k < question.Steps; k++)
        {
            var setting = question.From + k * (question.To - question.From) / (question.Steps - 1);
            if (With(measure, question.Setting, setting) is not { } changed)
                continue;
            var other = scenario with { Measures = scenario.Measures.Replace(measure, changed), IsOff = false };
            var without = Without(asked, other);
            tried.Add(
                new(setting, without, question.Replicates > 0 ? ByChance(asked, other) : double.NaN, Effort(changed, baseline, document))
            );
        }
        if (tried.Count == 0)
            throw new ArgumentException("At none of these settings does the measure end after it begins. Try others.");
        var kept = tried
            .Index()
            .Where(one => question.Replicates > 0 ? one.Item.Share >= question.Share : one.Item.Outcome <= question.Limit)
            .ToList();
        return new(question, tried.ToImmutable(), kept.Count == 0 ? null : kept.MinBy(one => one.Item.Effort).Index);
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

    /// <summary>A measure with another setting; null where it would end before it begins, or scale by less than nothing.</summary>
    /// <param name="measure">The measure.</param>
    /// <param name="setting">What of the measure is set.</param>
    /// <param name="value">What it is set to: a time, a length, or a strength.</param>
    public static Measure? With(Measure measure, MeasureSetting setting, double value)
    {
        var changed = setting switch
        {
            MeasureSetting.Strength => measure with { Factor = value },
            MeasureSetting.Start => measure with { From = value },
            _ => measure with { Until = value },
        };
        return changed.Until > changed.From && !(changed.Kind == MeasureKind.Scale && changed.Factor < 0) ? changed : null;
    }

    private static void Require(MeasureQuestion question)
    {
        if (!double.IsFinite(question.From) || !double.IsFinite(question.To) || !(question.To > question.From))
            throw new ArgumentException("Type from which setting to which is tried, the lower one first, as in 30 and 120.");
        if (question.Outcome is not (OutcomeKind.Maximum or OutcomeKind.Final or OutcomeKind.Total))
            throw new ArgumentException("A limit is of a peak, of the value at the end, or of a total. Choose one of them.");
        if (!double.IsFinite(question.Limit))
            throw new ArgumentException("Type the limit as a number, as in 40.");
        if (!(question.Share is > 0 and <= 1))
            throw new ArgumentException("The share of runs lies above 0 and is at most 100 %.");
        if (question.Replicates is < 0 or > MeasureQuestion.MostReplicates)
            throw new ArgumentException($"Ask for 0 to {MeasureQuestion.MostReplicates:N0} runs by chance at each setting.");
    }

    private static double Effort(Measure measure, double baseline, StudyDocument document)
    {
        var length = Math.Min(measure.Until, document.End) - Math.Max(measure.From, document.Start);
        var size = measure.Kind switch
        {
            MeasureKind.Scale => Math.Abs(measure.Factor - 1),
            MeasureKind.Set => Math.Abs(measure.Factor - baseline),
            _ => Math.Abs(measure.Factor),
        };
        return size * Math.Max(0, length);
    }

    private static double Without(Asked asked, Scenario scenario)
    {
        var (lowered, question, now, estimates, cancel) = asked;
        var curve = ScenarioRuns.One(lowered, scenario, question.PartId, now, estimates, cancel);
        return curve.Outcomes is not { } outcomes ? double.NaN
            : question.Outcome == OutcomeKind.Maximum ? outcomes.Maximum
            : question.Outcome == OutcomeKind.Final ? outcomes.Final
            : outcomes.Integral;
    }

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
