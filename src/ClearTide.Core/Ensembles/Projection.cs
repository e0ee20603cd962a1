using ClearTide.Core.Compilation;
using ClearTide.Core.Inference;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Ensembles;

/// <summary>
/// Chance replicates of the baseline and of each scenario, from the fitted state where the data end; without data, or where that is
/// asked for, from the start of the span. The mean-field model is solved to the moment, its amounts are rounded to whole units so that
/// totals hold, and chance takes over. Replicate r uses the same random streams in every scenario, so that differences come from the
/// measures as far as they can. Chance before now is not included.
/// An instance is immutable and may be shared by threads; each thread asks for a <see cref="Worker"/>.
/// </summary>
/// <example>
/// <code>
/// var request = new ProjectionRequest(Replicates: 200, Seed: 1, Estimates: ImmutableDictionary&lt;ValueAddress, double>.Empty)
/// {
///     Of = study.Compartments[0].Id,
/// };
/// var projection = new Projection(study, series: null, request);
/// Projection.Worker worker = projection.CreateWorker();
/// var runs = Enumerable.Range(0, 200).Select(replicate => worker.Run(scenario: 0, replicate, CancellationToken.None));
/// Band last = Band.Of(runs.Select(run => run.Observed[^1]));
/// </code>
/// </example>
public sealed partial class Projection
{
    /// <summary>A projection covers at most this many intervals.</summary>
    public const int MostIntervals = 2000;

    /// <summary>Where replicates go on from.</summary>
    /// <param name="Values">All parameters, as events have left them.</param>
    /// <param name="State">The amounts there, in the order of the network.</param>
    /// <param name="End">What is still to happen; null where nothing has run before.</param>
    /// <param name="Followed">What is counted or measured of each interval.</param>
    private sealed record Beginning(double[] Values, double[] State, RunEnd? End, Followed Followed)
    {
        /// <summary>When the state is the one of a run that has not begun.</summary>
        public double Start { get; init; }
    }

    private readonly LoweredModel _lowered;
    private readonly CompiledModel _model;
    private readonly Series? _series;
    private readonly double _start;

    /// <summary>The value that says when the model starts; -1 where that is not estimated.</summary>
    private readonly int _startsAt;
    private readonly double[] _estimates;
    private readonly int[] _drawn;
    private readonly Beginning _beginning;
    private readonly ScenarioModel[] _scenarios;
    private readonly ProjectionRequest _request;

    /// <summary>For each scenario the formulas over its runs.</summary>
    private readonly OutcomeFormula[][] _formulas;

    /// <summary>What each scenario costs; nulls where none of them costs anything.</summary>
    private readonly ScenarioCost?[] _costs;
    private readonly double _steps;
    private readonly SubjectDraws? _subjects;

    /// <param name="document">The study.</param>
    /// <param name="series">The counts that it goes on from; null for a study without any.</param>
    /// <param name="request">How many replicates, from which seed, with which values.</param>
    /// <exception cref="ProjectionRefusedException">The study cannot be projected as it is.</exception>
    public Projection(StudyDocument document, Series? series, ProjectionRequest request)
    {
        if (request.Replicates is < 1 or > ProjectionRequest.MostReplicates)
            throw new ProjectionRefusedException($"Ask for 1 to {ProjectionRequest.MostReplicates:N0} replicates.");
        _request = request;
        // Values that follow from those that are drawn are drawn with them, but for one that a measure sets: it is a value of its own then.
        if (
            request.Spread is not null
            && !document.ActiveScenarios.SelectMany(one => one.Measures).Any(one => IsTied(document, one.Address))
        )
            document = TiedModel.Of(document);
        document = FreedValues.With(document, request.Estimates.Keys.Concat(request.Spread?.Values.Select(value => value.Address) ?? []));
        var lowered = Lowering.Lower(document);
        if (lowered.IsProvisional)
            throw new ProjectionRefusedException("The model has unfinished parts. Finish what Build lists before projecting.");
        if (series is null && request.Of.Length == 0)
            throw new ProjectionRefusedException(
                "There are no counts to go on from. Choose a curve to follow, or bring counts under Data."
            );
        StartsWithSpan = series is null || request.FromStart;
        Now = StartsWithSpan ? document.Start : series!.Data.Now;
        if (Now >= document.End)
            throw new ProjectionRefusedException(
                $"The data end at {Now:0.###} and the model's span at {document.End:0.###}, so there is no future to project. "
                    + "Lengthen the span in Build."
            );
        var network = lowered.Network;
        var byChance = request.Chance != ProjectionChance.None;
        if (byChance && ChanceRefusal.Of(lowered) is { } refused)
            throw new ProjectionRefusedException(refused);
        if (!byChance && network.DiscreteStep > 0)
            throw new ProjectionRefusedException(
                "This model goes in discrete steps, which projections cannot follow yet. Choose another method under the curves of Build."
            );
        if (!byChance && request is { Spread: null, Subjects: null, Error: null } && request.Replicates > 1)
            request = _request = request with { Replicates = 1 };
        if (request.Level is { } level && !double.IsFinite(level))
            throw new ProjectionRefusedException("A level is a number, as in 40. Empty the field for none.");
        var values = network.ValueVector();
        foreach (var (address, value) in request.Estimates)
        {
            if (network.IndexOf(address) is var index && index < 0)
                throw new ProjectionRefusedException($"The fit estimated {address}, which is no longer in the model. Fit again.");
            values[index] = value;
        }
        // What data count is counted on in their intervals.
        Interval = series?.Data.Rows[^1] is { } last && request.Of.Length == 0 ? last.End - last.Start : StudyRequest.Spacing(document);
        Times = Grid(document.End);
        (_lowered, _model, _series, _start, _estimates) = (lowered, lowered.Compiled, series, document.Start, values);
        _startsAt = network.IndexOf(FreedValues.StartDay);
        _drawn = [.. request.Spread?.Values.Select(value => network.IndexOf(value.Address)) ?? []];
        if (_drawn.Any(index => index < 0))
            throw new ProjectionRefusedException("The fit estimated a value that is no longer in the model. Fit again.");
        try
        {
            _subjects = request.Subjects is { Varying.IsEmpty: false } group ? new(lowered, group, values) : null;
            _beginning = Begin(values);
            var since = StartsWithSpan ? double.NegativeInfinity : Now;
            _scenarios =
            [
                new(lowered, new([])),
                .. document.ActiveScenarios.Select(scenario => ScenarioModel.Of(lowered, scenario, since)),
            ];
        }
        catch (ArgumentException refusal)
        {
            throw new ProjectionRefusedException(refusal.Message);
        }
        if (request.Formulas.Count > ProjectionRequest.MostFormulas)
            throw new ProjectionRefusedException($"There are at most {ProjectionRequest.MostFormulas} formulas over each run.");
        try
        {
            _formulas = [.. _scenarios.Select(one => request.Formulas.Select(text => OutcomeFormula.Read(one.Lowered, text)).ToArray())];
        }
        catch (ArgumentException unreadable)
        {
            throw new ProjectionRefusedException(unreadable.Message);
        }
        foreach (var (scenario, changed) in document.ActiveScenarios.Zip(_scenarios.Skip(1)))
        {
            if (byChance && ChanceRefusal.Of(changed.Lowered) is { } why)
                throw new ProjectionRefusedException($"The scenario “{scenario.Name}” cannot be run by chance. {why}");
        }
        _costs =
        [
            null,
            .. document.ActiveScenarios.Select(scenario => ScenarioCost.IsIn(document) ? new ScenarioCost(document, scenario, Now) : null),
        ];
        (Method, Why) = Chosen();
        _steps = request.Step;
        Names = ["Baseline", .. document.ActiveScenarios.Select(scenario => scenario.Name)];
        Label = _beginning.Followed.Label;
    }

    /// <summary>The state at now with these values, by the model without chance.</summary>
    private Beginning Begin(double[] values)
    {
        var followed = _request.Of.Length > 0 ? Followed.Of(_request.Of, _lowered) : Followed.Of(_series!, _lowered, Now, values);
        var start = _startsAt < 0 || StartsWithSpan ? _start : values[_startsAt];
        var initial = _model.InitialState(values, start);
        // Without chance a run goes through to the end by itself.
        if (StartsWithSpan || _request.Chance == ProjectionChance.None)
            return new(values, initial, null, followed) { Start = start };
        var path = Engines.Run(new(_model, values, [start, Now]) { Start = initial });
        // What events have set and set off before goes on.
        double[] state = [.. Enumerable.Range(0, _model.Network.States.Count).Select(k => path.State(1, k))];
        return new(path.End!.Parameters, state, path.End, followed);
    }

    /// <summary>Where one replicate goes on from.</summary>
    private Beginning Of(DrawnBy by)
    {
        if (_request.Spread is null && _subjects is null)
            return _beginning;
        var values = (double[])_estimates.Clone();
        var draw = _request.Spread?.Draw(_request.Seed, by.Fit) ?? [];
        for (var k = 0; k < draw.Length; k++)
            values[_drawn[k]] = draw[k];
        _subjects?.LayOver(by.Subjects + 1, values);
        return Begin(values);
    }

    /// <summary>Whether all of the span is the future: it does not go on from data.</summary>
    public bool StartsWithSpan { get; }

    /// <summary>Whether it follows how much there is at the end of each interval, and not what is counted in it.</summary>
    public bool IsAmount => _beginning.Followed.IsAmount;

    /// <summary>Where the data end and the future begins.</summary>
    public double Now { get; }

    /// <summary>Length of one interval of counting.</summary>
    public double Interval { get; }

    /// <summary>Ends of the intervals of the future, after <see cref="Now"/> as the first entry.</summary>
    public double[] Times { get; }

    /// <summary>The baseline, then each scenario.</summary>
    public IReadOnlyList<string> Names { get; }

    /// <summary>What the scenario does at times or on conditions; nothing for the baseline, which is the first.</summary>
    /// <param name="scenario">Number of the scenario, 0 for the baseline.</param>
    public IReadOnlyList<EventRule> Rules(int scenario) =>
        scenario == 0 ? [] : _lowered.Document.ActiveScenarios.ElementAt(scenario - 1).Rules;

    /// <summary>What is counted, as its data say.</summary>
    public string Label { get; }

    /// <summary>Id of what is followed; empty for what the data count.</summary>
    public string Follows => _request.Of;

    /// <summary>Whether replicates differ by what the fit left uncertain.</summary>
    public bool HasSpread => _request.Spread is not null;

    /// <summary>Whether each replicate is another subject.</summary>
    public bool HasSubjects => _subjects is not null;

    /// <summary>Whether the error of observation is in it.</summary>
    public bool HasError => _request is { Error: not null, Of.Length: 0 };

    /// <summary>The method by which units move.</summary>
    public ProjectionChance Method { get; }

    /// <summary>Why it was taken, in a sentence; empty where it was asked for by name.</summary>
    public string Why { get; }

    /// <summary>The level whose share of runs above it is reported over time; null for none.</summary>
    public double? Level => _request.Level;

    /// <summary>What the measures of a scenario cost in a run, by what its rules did.</summary>
    internal double Cost(int scenario, IReadOnlyList<EventAct> acts) => _costs[scenario]?.Of(acts) ?? 0;

    /// <summary>What each run comes to.</summary>
    public IReadOnlyList<ProjectedOutcome> Outcomes =>
        [.. ByCurve, .. _costs.All(one => one is null) ? [] : (ProjectedOutcome[])[ProjectedOutcome.Cost]];

    private IEnumerable<ProjectedOutcome> ByCurve =>
        Level is null
            ? [ProjectedOutcome.Peak, ProjectedOutcome.PeakInterval, ProjectedOutcome.Total]
            : Enum.GetValues<ProjectedOutcome>().Where(kind => kind < ProjectedOutcome.Cost);

    /// <summary>The formulas over each run as typed, and whether each says something that is true or false of a run.</summary>
    public IReadOnlyList<(string Text, bool IsStatement)> Formulas =>
        [.. _request.Formulas.Zip(_formulas[0], (text, read) => (text, read.IsStatement))];

    /// <summary>How many runs by chance it makes for each scenario.</summary>
    public int Replicates => _request.Replicates;

    private double[] Grid(double end)
    {
        var count = Math.Max(1, (int)Math.Floor((end - Now) / Interval + 1e-9));
        if (count > MostIntervals)
            throw new ProjectionRefusedException(
                $"The span holds {count:N0} intervals of counting; {MostIntervals:N0} is the limit. Shorten the span in Build."
            );
        return [.. Enumerable.Range(0, count + 1).Select(k => Now + k * Interval)];
    }

    private static bool IsTied(StudyDocument document, ValueAddress address) => document.Fit.Ties.Any(tie => tie.Address == address);
}
