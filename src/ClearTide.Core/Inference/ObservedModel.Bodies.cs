using ClearTide.Core.Data;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Inference;

/// <summary>The bodies that are solved one by one: each subject, and what is of none.</summary>
internal sealed partial class ObservedModel
{
    /// <summary>What is solved at once.</summary>
    /// <param name="Subject">Its name; null for rows that are of no subject.</param>
    /// <param name="Values">All parameters before the chosen ones are laid over them.</param>
    /// <param name="Plan">What was given to it; null for nothing.</param>
    /// <param name="Times">Where its rows begin and end.</param>
    /// <param name="Rows">Which rows are its.</param>
    /// <param name="Places">For each chosen value its place among those that solves are differentiated by; -1 where it is another
    /// subject's own.</param>
    private sealed record Body(string? Subject, double[] Values, Plan? Plan, double[] Times, int[] Rows, int[] Places)
    {
        /// <summary>Where the first of its rows begins.</summary>
        public double FirstRow { get; init; }
    }

    private readonly List<string?> _names = [];

    /// <summary>Whether rows are of subjects.</summary>
    public bool HasSubjects => _names.Exists(name => name is not null);

    /// <summary>Which body a row is of; one that is not known yet is added.</summary>
    private int BodyOf(string? subject)
    {
        var at = _names.IndexOf(subject);
        if (at >= 0)
            return at;
        _names.Add(subject);
        return _names.Count - 1;
    }

    private void MakeBodies(GivenDoses given, IReadOnlyList<Subject> subjects)
    {
        for (var body = 0; body < _names.Count; body++)
        {
            var name = _names[body];
            var subject = subjects.FirstOrDefault(one => one.Name == name);
            int[] rows = [.. Enumerable.Range(0, _rows.Count).Where(k => _rows[k].Body == body)];
            double[] times =
            [
                .. rows.SelectMany(k => new[] { From(_rows[k].Reader, _rows[k].Row), _rows[k].Row.End })
                    .Concat(_startsAt < 0 ? [_start] : [])
                    .Distinct()
                    .Order(),
            ];
            int[] places = [.. _owners.Select((owner, j) => owner is null || owner == name ? Array.IndexOf(_moved, _chosen[j]) : -1)];
            _bodies.Add(
                new(name, given.ValuesOf(subject, _values, _chosen), given.PlanOf(subject), times, rows, places) { FirstRow = times[0] }
            );
        }
    }

    /// <summary>All parameters of a body's run.</summary>
    private double[] ValuesOf(int body, double[] chosen)
    {
        var values = (double[])_bodies[body].Values.Clone();
        for (var j = 0; j < chosen.Length; j++)
        {
            if (_bodies[body].Places[j] >= 0)
                values[_chosen[j]] = chosen[j];
        }
        return values;
    }
}
