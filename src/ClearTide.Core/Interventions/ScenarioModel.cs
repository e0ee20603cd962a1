using System.Collections.Immutable;
using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Interventions;

/// <summary>
/// A scenario as it is run: values that change over time are a plan laid over the model, and what is done at times or on conditions are
/// events behind the model's own, so that the same queue does both, with chance and without. Values, flows and outputs of the
/// baseline keep their places; states and what a run fills in by itself are found by name.
/// </summary>
/// <param name="Lowered">The model that is run; the baseline's own where the scenario has no rules.</param>
/// <param name="Plan">What its measures change.</param>
public sealed record ScenarioModel(LoweredModel Lowered, Plan Plan)
{
    /// <param name="baseline">The model without measures.</param>
    /// <param name="scenario">With its measures and rules.</param>
    /// <param name="now">Where the future begins, or negative infinity; before it the scenario is the baseline.</param>
    /// <exception cref="ArgumentException">A measure or a rule names what is no longer in the model; the message says so.</exception>
    public static ScenarioModel Of(LoweredModel baseline, Scenario scenario, double now)
    {
        scenario = baseline.Document.Whole(scenario);
        var plan = MeasurePlan.Of(scenario, baseline.Network, now);
        if (scenario.Rules.IsEmpty)
            return new(baseline, plan);
        var (study, replaced) = (baseline.Study, new List<EventRule>());
        // Of two that begin before now the later one holds from there on.
        var inOrder = scenario
            .Rules.Where(rule => Replacement.Begins(rule.Text))
            .OrderBy(rule => Replacement.Begin(baseline.Study, rule.Text));
        foreach (var rule in inOrder)
        {
            var (made, problem) = Replacement.In(study, rule.Text, now);
            study = made ?? throw new ArgumentException($"The measure “{rule.Name}” cannot act: {problem}");
            replaced.Add(rule);
        }
        var lowered = Lowering.Lower(With(study, scenario.Rules, now));
        foreach (var rule in scenario.Rules)
        {
            if (Problem(lowered, rule.Id) is { } problem)
                throw new ArgumentException($"The measure “{rule.Name}” cannot act: {problem}");
        }
        var document = baseline.Study;
        return new(lowered, plan)
        {
            BeginsAnew =
            [
                .. study
                    .Compartments.Where(one => !ReferenceEquals(one, document.Compartment(one.Id)) || study.Splits != document.Splits)
                    .Select(one => one.Id),
            ],
            Standing = [.. replaced.Select(rule => Replacement.Act(document, rule, now)).OfType<EventAct>()],
        };
    }

    /// <summary>Ids of the compartments that begin with other amounts than those of the baseline.</summary>
    private ImmutableHashSet<string> BeginsAnew { get; init; } = [];

    /// <summary>From when on what stands in the place of parts of the model does so: acts of the run like those of events.</summary>
    private IReadOnlyList<EventAct> Standing { get; init; } = [];

    /// <summary>What was done in a run of it, and when: by events, and by what takes the place of parts of the model.</summary>
    /// <param name="run">A run of <see cref="Lowered"/>.</param>
    public IReadOnlyList<EventAct> Acts(Trajectory run) => Standing.Count == 0 ? run.Acts : [.. Standing, .. run.Acts];

    /// <summary>The document with rules behind its own events.</summary>
    internal static StudyDocument With(StudyDocument document, ImmutableArray<EventRule> rules, double now) =>
        document with
        {
            // A condition that holds already when the future begins has come true for the scenario there.
            Events =
            [
                .. Replaced(document, rules, now),
                .. rules
                    .Where(rule => !Replacement.Begins(rule.Text))
                    .Select(rule => rule with { NotBefore = now, ActsAtStart = true, IsWatched = true }),
            ],
        };

    /// <summary>The document's own events. Doses of a scenario take the place of those that the model gives into the same compartment, from
    /// where the future begins.</summary>
    private static IEnumerable<EventRule> Replaced(StudyDocument document, ImmutableArray<EventRule> rules, double now)
    {
        string? Into(EventRule rule) =>
            DoseLine.Begins(rule.Text) && EventLine.Read(rule.Text).Line is { } line ? line.Actions[0].Target.Name : null;
        var into = rules.Select(Into).OfType<string>().ToHashSet();
        return into.Count == 0
            ? document.Events
            : document.Events.Select(rule => Into(rule) is { } name && into.Contains(name) ? rule with { NotAfter = now } : rule);
    }

    /// <summary>When a rule acted in a run: moments, or stretches of time in which it held or went on.</summary>
    /// <param name="rule">The rule whose activity is wanted.</param>
    /// <param name="acts">What events did in the run.</param>
    /// <param name="end">Where the run ends.</param>
    /// <param name="resolution">What lies no further apart than this is one stretch; zero for each by itself.</param>
    public static IReadOnlyList<(double From, double Until)> Activity(
        EventRule rule,
        IReadOnlyList<EventAct> acts,
        double end,
        double resolution = 0
    )
    {
        var line = EventLine.Read(rule.Text).Line;
        var lasts =
            Replacement.Lasts(rule.Text) || line?.Kind == TriggerKind.While || line?.Actions.Any(action => action.Over is not null) == true;
        var stretches = new List<(double From, double Until)>();
        var open = 0;
        foreach (var act in acts.Where(act => act.PartId == rule.Id))
        {
            if (!act.Ends)
            {
                stretches.Add((act.Time, lasts ? double.PositiveInfinity : act.Time));
                continue;
            }
            // What began first ends first.
            while (open < stretches.Count && double.IsFinite(stretches[open].Until))
                open++;
            if (open < stretches.Count)
                stretches[open] = stretches[open] with { Until = act.Time };
        }
        // More is not recorded: it goes on as it did.
        if (acts.Count >= EventAct.Most && stretches.Count > 0)
            stretches[^1] = stretches[^1] with { Until = end };
        return Merged(stretches, end, resolution);
    }

    private static List<(double From, double Until)> Merged(List<(double From, double Until)> stretches, double end, double resolution)
    {
        var merged = new List<(double From, double Until)>();
        foreach (var (from, until) in stretches)
        {
            var stop = Math.Min(until, end);
            if (merged.Count > 0 && resolution > 0 && from - merged[^1].Until <= resolution)
                merged[^1] = merged[^1] with { Until = Math.Max(merged[^1].Until, stop) };
            else
                merged.Add((from, stop));
        }
        return merged;
    }

    /// <summary>What keeps a rule from acting, in a sentence, or null.</summary>
    internal static string? Problem(LoweredModel lowered, string ruleId) =>
        lowered.Findings.FirstOrDefault(finding => finding.PartId == ruleId && finding.Severity == Severity.Unfinished)?.Message;

    /// <summary>All parameters of its network: those of the baseline in their places, and what its rules need of their own.</summary>
    /// <param name="baseline">The network of the baseline.</param>
    /// <param name="parameters">Its parameters.</param>
    public double[] Parameters(ReactionNetwork baseline, double[] parameters)
    {
        var network = Lowered.Network;
        if (ReferenceEquals(network, baseline))
            return parameters;
        var all = network.ValueVector();
        for (var k = 0; k < baseline.Values.Count; k++)
        {
            var value = baseline.Values[k];
            if (!(value.Address.IsInitial && IsBegunAnew(value.PartId)))
                all[network.IndexOf(value.Address)] = parameters[k];
        }
        var places = Places(baseline.SlotNames, network.SlotNames);
        for (var k = 0; k < places.Length; k++)
            all[network.Values.Count + places[k]] = parameters[baseline.Values.Count + k];
        return all;
    }

    /// <summary>A state of the baseline as one of its own; what its rules smooth begins at the model's own start.</summary>
    /// <param name="baseline">The network of the baseline.</param>
    /// <param name="state">Amounts in the order of the baseline.</param>
    /// <param name="time">When the state is reached.</param>
    /// <param name="parameters">What holds then, as <see cref="Parameters"/> gives it.</param>
    public double[] State(ReactionNetwork baseline, double[] state, double time, double[] parameters)
    {
        if (ReferenceEquals(Lowered.Network, baseline))
            return state;
        var all = Lowered.Compiled.InitialState(parameters, time);
        if (HasOwnStart)
            return all;
        var places = Places([.. baseline.States.Select(one => one.PartId)], [.. Lowered.Network.States.Select(one => one.PartId)]);
        for (var k = 0; k < places.Length; k++)
            all[places[k]] = state[k];
        return all;
    }

    /// <summary>Whether it begins with other amounts than the baseline.</summary>
    internal bool HasOwnStart => BeginsAnew.Count > 0;

    private bool IsBegunAnew(string partId) => HasOwnStart && BeginsAnew.Contains(Lowered.Written.BaseOf(partId));

    /// <summary>Where in a longer list of names those of a shorter one stand; several of one name in their order.</summary>
    private static int[] Places(IReadOnlyList<string> few, IReadOnlyList<string> many)
    {
        var places = new int[few.Count];
        var last = new Dictionary<string, int>();
        for (var k = 0; k < few.Count; k++)
        {
            var at = last.GetValueOrDefault(few[k], -1) + 1;
            while (many[at] != few[k])
                at++;
            places[k] = last[few[k]] = at;
        }
        return places;
    }
}
