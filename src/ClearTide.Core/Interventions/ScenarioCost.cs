using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Interventions;

/// <summary>What a scenario costs in one run, by the costs of its measures. Read once, it is worked out for any number of runs.</summary>
public sealed class ScenarioCost
{
    private readonly double _windows;
    private readonly List<(EventRule Rule, CostLine Cost)> _rules = [];
    private readonly double _now,
        _end;

    /// <param name="document">The study, for its span and unit of time.</param>
    /// <param name="scenario">With its costs.</param>
    /// <param name="now">What lies before is not counted; negative infinity where the span begins.</param>
    public ScenarioCost(StudyDocument document, Scenario scenario, double now)
    {
        (_now, _end) = (Math.Max(now, document.Start), document.End);
        foreach (var measure in scenario.Measures)
        {
            var (cost, length) = (
                Of(scenario, measure.Id, document.TimeUnit),
                Math.Min(measure.Until, _end) - Math.Max(measure.From, _now)
            );
            // A window that lies outside is no measure, and costs nothing.
            if (length > 0)
                _windows += cost.Once + cost.EachTime + cost.PerTime * length;
        }
        foreach (var rule in scenario.Rules)
        {
            if (Of(scenario, rule.Id, document.TimeUnit) is { } cost && cost != CostLine.None)
                _rules.Add((rule, cost));
        }
    }

    /// <summary>Whether any scenario of a study has a cost.</summary>
    /// <param name="document">The study; not changed.</param>
    public static bool IsIn(StudyDocument document) => document.ActiveScenarios.Any(scenario => !scenario.Costs.IsEmpty);

    /// <summary>The cost of one of its measures or rules.</summary>
    private static CostLine Of(Scenario scenario, string measureId, TimeUnit unit) =>
        CostLine.Read(scenario.CostOf(measureId), unit).Line ?? CostLine.None;

    /// <summary>What a run costs.</summary>
    /// <param name="acts">What the scenario's rules did in it.</param>
    public double Of(IReadOnlyList<EventAct> acts)
    {
        var sum = _windows;
        foreach (var (rule, cost) in _rules)
        {
            var stretches = ScenarioModel.Activity(rule, acts, _end).Where(one => one.From >= _now && one.From <= _end).ToList();
            if (stretches.Count == 0)
                continue;
            sum += cost.Once + cost.EachTime * stretches.Count + cost.PerTime * stretches.Sum(one => one.Until - one.From);
            if (cost.EachUnit != 0)
                sum += cost.EachUnit * acts.Where(act => act.PartId == rule.Id && act.Time >= _now).Sum(act => act.Moved);
        }
        return sum;
    }
}
