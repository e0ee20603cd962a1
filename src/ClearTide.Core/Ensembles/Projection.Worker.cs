using System.Collections.Concurrent;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Sampling;
using ClearTide.Core.Simulation;
using ClearTide.Core.Stochastic;

namespace ClearTide.Core.Ensembles;

public sealed partial class Projection
{
    /// <summary>Replicates that are counted together before they join the others in order: the same for any number of threads, so that sums
    /// round in the same way.</summary>
    private const int Block = 4;

    /// <summary>Makes all replicates of all scenarios and counts them. Results do not depend on how the work is cut: each replicate is a
    /// function of its number.</summary>
    /// <param name="threads">How many work at once.</param>
    /// <param name="watch">Who looks on, and what an interrupted projection had come to; null for nobody and nothing.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    /// <exception cref="SimulationException">A run could not go on.</exception>
    public ProjectionTally Run(int threads, ProjectionWatch? watch = null, CancellationToken cancel = default)
    {
        var all = new ProjectionTally(this);
        if (watch?.From is { Length: > 0 } packed)
            all.Unpack(packed);
        var (first, workers, waiting) = (all.Replicates, new ConcurrentBag<Worker>(), new Dictionary<int, ProjectionTally>());
        var next = 0;
        Workers.For((_request.Replicates - first + Block - 1) / Block, threads, cancel, block =>
        {
            var worker = workers.TryTake(out var free) ? free : CreateWorker();
            var counted = new ProjectionTally(this);
            for (var r = first + block * Block; r < Math.Min(first + (block + 1) * Block, _request.Replicates); r++)
                counted.Add([.. _scenarios.Select((_, scenario) => worker.Run(scenario, r, cancel))]);
            workers.Add(worker);
            lock (waiting)
            {
                waiting[block] = counted;
                for (; waiting.Remove(next, out var joined); next++)
                    all.Add(joined);
                watch?.Told(this, all);
            }
        });
        return all;
    }

    /// <summary>One that makes runs; each thread has its own.</summary>
    internal Worker CreateWorker() => new(this);

    /// <summary>One thread's share of the work: replicates of any scenario, each a pure function of its number.</summary>
    public sealed class Worker
    {
        private readonly Projection _projection;

        /// <summary>One for each scenario: those that go in steps are made for one model.</summary>
        private readonly IEngine?[] _engines;

        internal Worker(Projection projection) => (_projection, _engines) = (projection, new IEngine?[projection._scenarios.Length]);

        /// <summary>One replicate of one scenario, with all sources of spread drawn for it.</summary>
        /// <param name="scenario">Number of the scenario, 0 for the baseline.</param>
        /// <param name="replicate">Counted from 0.</param>
        /// <param name="cancel">Stops the computation with an <see cref="OperationCanceledException"/>.</param>
        /// <exception cref="SimulationException">The chance run could not go on.</exception>
        public ReplicateCounts Run(int scenario, int replicate, CancellationToken cancel) => Run(scenario, DrawnBy.All(replicate), cancel);

        internal ReplicateCounts Run(int scenario, DrawnBy by, CancellationToken cancel)
        {
            var p = _projection;
            var beginning = p.Of(by);
            var engine = _engines[scenario] ??= p.Engine(scenario);
            var changed = p._scenarios[scenario];
            var values = changed.Parameters(p._model.Network, beginning.Values);
            var start = (double[])beginning.State.Clone();
            // Without chance a run goes from its start to the end, and what lies before now is not looked at.
            double[] times = p.Method == ProjectionChance.None && beginning.Start < p.Now ? [beginning.Start, .. p.Times] : p.Times;
            void Round(ReactionNetwork network, double[] amounts)
            {
                if (p.Method != ProjectionChance.None)
                    WholeUnits.Round(network, amounts, new RandomStream(p._request.Seed, by.Chance, "rounding", "start").NextUniform());
            }
            Round(p._model.Network, start);
            start = changed.State(p._model.Network, start, times[0], values);
            if (changed.HasOwnStart)
                Round(changed.Lowered.Network, start);
            var request = new RunRequest(changed.Lowered.Compiled, values, times)
            {
                Start = start,
                After = beginning.End,
                Plan = changed.Plan,
                Seed = p._request.Seed,
                Replicate = by.Chance,
            };
            var since = times.Length - p.Times.Length;
            var path =
                engine is IStochasticEngine && p._formulas[scenario].Length > 0
                    ? new FollowedOutcomes(p._formulas[scenario], values, times[since])
                    : null;
            var run = engine is IStochasticEngine byChance
                ? byChance.Run(request, path?.Path, cancel)
                : engine.Run(request, cancel: cancel);
            var rules = p.Rules(scenario);
            var followed = beginning.Followed.Read(run)[since..];
            if (p._request is { Error: { } error, Of.Length: 0 })
                followed = error.Seen(
                    followed,
                    p.Method != ProjectionChance.None && beginning.Followed.IsOfUnits ? beginning.Followed.Shares(p.Times) : null,
                    p._request.Seed,
                    by.Observation
                );
            return new(followed)
            {
                Formulas = [.. p._formulas[scenario].Select((formula, k) => path?.Of(k, run, since) ?? formula.Of(run, values, since))],
                Acts = [.. changed.Acts(run).Where(act => rules.Any(rule => rule.Id == act.PartId))],
            };
        }
    }
}
