using System.Collections.Immutable;
using ClearTide.Core.Compilation;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using MathNet.Numerics.LinearAlgebra;

namespace ClearTide.Core.Ensembles;

/// <summary>
/// What becomes of the doses in a typical body: all compartments that what is given can get to. What was given is in the body or was
/// eliminated; how fast it goes is in the eigenvalues of the rates, taken at the end of the span, which are the same at any time where
/// rates are in proportion to amounts.
/// </summary>
/// <param name="Given">What is given within the span, as far as it has gone in by its end, in the unit of the compartments.</param>
/// <param name="Initial">What is in the body at the start.</param>
/// <param name="InBody">What is in it at the end.</param>
/// <param name="HalfLives">ln 2 over the rate of each decay, in units of time, the slowest first; that of the slowest is the terminal
/// half-life (Rowland and Tozer, Clinical Pharmacokinetics, 4th ed., chapter 19).</param>
/// <param name="Unit">The unit of what is given; empty where compartments have none in common.</param>
public sealed record DosedBody(double Given, double Initial, double InBody, ImmutableArray<double> HalfLives, string Unit)
{
    /// <summary>A decay that is slower than the fastest one by more is none: amounts that are collected stay.</summary>
    private const double Slowest = 1e-10;

    /// <summary>States of a body whose eigenvalues are looked for at most.</summary>
    private const int MostStates = 200;

    /// <summary>What has left it; not a number where amounts depend on the state.</summary>
    public double Eliminated => Initial + Given - InBody;

    /// <summary>How long after the first dose levels are within a share of those that they go to; not a number without a
    /// half-life.</summary>
    /// <param name="share">Of the level that is reached in the end, above 0 and below 1.</param>
    public double TimeWithin(double share) => HalfLives.IsEmpty ? double.NaN : HalfLives[0] * Math.Log2(1 / share);

    /// <summary>The body of a model's own doses; null where it gives none within its span, or cannot be run.</summary>
    /// <param name="lowered">The compiled model.</param>
    public static DosedBody? Of(LoweredModel lowered)
    {
        var (network, document) = (lowered.Network, lowered.Document);
        if (lowered.IsProvisional || network.DiscreteStep > 0)
            return null;
        var values = network.ValueVector();
        var doses = network.Doses.SelectMany(series => series.Within(network.Graph, values, document.Start, document.End)).ToList();
        if (doses.Count == 0)
            return null;
        var body = Reached(document, network.Doses.Select(series => series.CompartmentId));
        Trajectory run;
        try
        {
            run = Engines.Run(new(lowered.Compiled, values, [document.Start, document.End]) { Settings = StudyRequest.Settings(document) });
        }
        catch (SimulationException)
        {
            return null;
        }
        var states = Enumerable.Range(0, network.States.Count).Where(k => body.Contains(network.States[k].PartId)).ToArray();
        double Sum(int row) => states.Sum(state => run.State(row, state));
        var last = run.Times.Count - 1;
        double[] end = [.. Enumerable.Range(0, network.States.Count).Select(state => run.State(last, state))];
        var units = body.Select(id => lowered.Units.Of(id).Unit?.Text() ?? "").Distinct().ToList();
        return new(
            doses.Sum(dose => dose.Amount * (dose.Duration > 0 ? Math.Min(1, (document.End - dose.Time) / dose.Duration) : 1)),
            // The first row is after what is given at the start.
            Sum(0) - doses.Where(dose => dose.Time == document.Start && dose.Duration == 0).Sum(dose => dose.Amount),
            Sum(last),
            states.Length > MostStates ? [] : Decays(lowered.Compiled, values, document.End, end, states),
            units.Count == 1 ? units[0] : ""
        );
    }

    /// <summary>The compartments that what goes into some of them can get to by flows and reactions.</summary>
    private static HashSet<string> Reached(StudyDocument document, IEnumerable<string> from)
    {
        var reached = from.ToHashSet();
        for (var grew = true; grew; )
        {
            grew = false;
            foreach (var flow in document.Flows.Where(flow => flow.From is not null && reached.Contains(flow.From)))
            {
                foreach (var target in flow.To)
                    grew |= target.Id is not null && reached.Add(target.Id);
            }
        }
        return reached;
    }

    private static unsafe ImmutableArray<double> Decays(CompiledModel model, double[] values, double time, double[] state, int[] states)
    {
        var jacobian = model.Jacobian();
        var entries = jacobian.Entries;
        double[] numbers = new double[entries.Count],
            slope = new double[state.Length],
            byTime = new double[state.Length];
        fixed (
            double* y = state,
                p = values,
                f = slope,
                into = numbers,
                t = byTime
        )
            jacobian.Evaluate(time, y, p, f, into, t);
        var places = states.Select((one, k) => (one, k)).ToDictionary(pair => pair.one, pair => pair.k);
        var matrix = Matrix<double>.Build.Dense(states.Length, states.Length);
        for (var k = 0; k < numbers.Length; k++)
        {
            if (places.TryGetValue(entries[k].Row, out var row) && places.TryGetValue(entries[k].Column, out var column))
                matrix[row, column] = numbers[k];
        }
        if (matrix.Enumerate().Any(number => !double.IsFinite(number)))
            return [];
        double[] rates = [.. matrix.Evd().EigenValues.Select(value => -value.Real)];
        var fastest = rates.Max();
        return fastest > 0 ? [.. rates.Where(rate => rate > Slowest * fastest).Select(rate => Math.Log(2) / rate).OrderDescending()] : [];
    }
}
