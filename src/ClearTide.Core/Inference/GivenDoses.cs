using ClearTide.Core.Data;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Inference;

/// <summary>
/// What was given to subjects, laid over the model: doses at once are added to a compartment, those that take a while are a rate into it
/// that changes at known times. What the model itself says is given there is taken out, since the table says what was.
/// </summary>
internal sealed class GivenDoses
{
    private readonly Dictionary<string, string> _into = [];
    private readonly HashSet<string> _given = [];
    private readonly Dictionary<string, int> _rates = [];
    private readonly double _start;

    /// <param name="network">Over a graph of its own.</param>
    /// <param name="document">The study, for its units.</param>
    /// <param name="series">Those whose subjects are given doses.</param>
    /// <param name="subjects">Those that rows name.</param>
    /// <exception cref="ArgumentException">Doses go into what is no compartment of the model; the message says what to do.</exception>
    public GivenDoses(ReactionNetwork network, StudyDocument document, IReadOnlyList<Series> series, IReadOnlyList<Subject> subjects)
    {
        (Network, _start) = (network, document.Start);
        foreach (var subject in subjects.Where(one => one.Doses.Count > 0))
        {
            var tie = series.First(one => one.Data.Subjects.Any(other => other.Name == subject.Name && other.Doses.Count > 0)).Observation;
            var into = document.Compartment(tie.DosesInto)?.Id;
            if (into is null && subject.Doses.Any(dose => dose.Into is null))
                throw new ArgumentException(
                    $"The table of {tie.Label} says what was given to {subject.Name}, and not into which compartment. Choose one under "
                        + "Data."
                );
            _into[subject.Name] = into ?? "";
            if (subject.Doses.FirstOrDefault(dose => dose.Time < _start) is { Amount: not 0 } early)
                throw new ArgumentException(
                    $"{subject.Name} was given something at {NumberWords.Of(early.Time)}, before the model begins at "
                        + $"{NumberWords.Of(_start)}. Begin the span earlier."
                );
            foreach (var dose in subject.Doses)
            {
                _given.Add(Into(subject, dose));
                if (dose.Duration > 0)
                    AddRate(Into(subject, dose));
            }
        }
        var replaced = Network.Doses.Where(dose => _given.Contains(dose.CompartmentId)).Select(dose => dose.PartId).ToHashSet();
        if (replaced.Count > 0)
            Network = Network with { Events = [.. Network.Events.Where(one => !replaced.Contains(one.PartId))] };
    }

    /// <summary>The model with a rate into each compartment that something goes into for a while.</summary>
    public ReactionNetwork Network { get; private set; }

    /// <summary>The compartment that a dose goes into.</summary>
    private string Into(Subject subject, Dose dose) => dose.Into ?? _into[subject.Name];

    private void AddRate(string compartment)
    {
        if (_rates.ContainsKey(compartment))
            return;
        var slot = Network.ParameterCount;
        _rates[compartment] = slot;
        var given = new Process($"given {compartment}", "given", Network.Graph.Parameter(slot), [new(State(compartment), 1)])
        {
            IsPlanned = true,
        };
        Network = Network with { Slots = [.. Network.Slots, 0], Processes = [.. Network.Processes, given] };
    }

    private int State(string compartment)
    {
        for (var k = 0; k < Network.States.Count; k++)
        {
            if (Network.States[k].PartId == compartment)
                return k;
        }
        throw new ArgumentException("The doses go into a compartment that the model does not have any more. Choose one under Data.");
    }

    /// <summary>All parameters of a subject: what is known of it stands in the place of the model's own values.</summary>
    /// <param name="subject">Null for rows that name nobody.</param>
    /// <param name="values">The model's own parameters; not changed.</param>
    /// <param name="chosen">Positions of the values that are estimated.</param>
    /// <exception cref="ArgumentException">A value is both known for each subject and to be estimated.</exception>
    public double[] ValuesOf(Subject? subject, double[] values, IReadOnlyList<int> chosen)
    {
        var own = (double[])values.Clone();
        foreach (var (symbol, value) in subject?.Covariates ?? new Dictionary<string, double>())
        {
            var index = Network.IndexOf(symbol);
            if (index < 0)
                continue;
            if (chosen.Contains(index))
                throw new ArgumentException($"{symbol} is known of each subject, and cannot be estimated as well. Take it out of the fit.");
            own[index] = value;
        }
        return own;
    }

    /// <summary>What was given to a subject; null for nothing.</summary>
    public Plan? PlanOf(Subject? subject)
    {
        if (subject is null || subject.Doses.Count == 0)
            return null;
        List<GivenAmount> once =
        [
            .. subject
                .Doses.Where(dose => dose.Duration <= 0)
                .Select(dose => new GivenAmount(dose.Time, State(Into(subject, dose)), dose.Amount)),
        ];
        List<Dose> lasting = [.. subject.Doses.Where(dose => dose.Duration > 0)];
        var changes = lasting
            .SelectMany(dose => new[] { dose.Time, dose.Time + dose.Duration })
            .Distinct()
            .Order()
            .Select(time => new PlannedChange(
                time,
                [
                    .. lasting
                        .GroupBy(dose => Into(subject, dose))
                        .Select(given => new ValueChange(
                            _rates[given.Key],
                            0,
                            given
                                .Where(dose => dose.Time <= time && time < dose.Time + dose.Duration)
                                .Sum(dose => dose.Amount / dose.Duration)
                        )),
                ]
            ));
        return new([.. lasting.Count == 0 ? [] : changes]) { Given = once };
    }
}
