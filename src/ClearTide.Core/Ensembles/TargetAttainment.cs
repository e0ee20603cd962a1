using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Ensembles;

/// <summary>What share of subjects stays inside the target, against one value of the model: a dose, an interval.</summary>
/// <param name="Values">Of the value, even steps.</param>
/// <param name="Shares">For each of them the share of subjects that are inside the target all the time of the last interval between doses;
/// not a number where none could be run.</param>
public sealed record TargetAttainment(IReadOnlyList<double> Values, IReadOnlyList<double> Shares)
{
    /// <summary>Steps of the value at most.</summary>
    public const int MostSteps = 81;

    /// <param name="lowered">The model, lowered.</param>
    /// <param name="group">Which values vary, with the target.</param>
    /// <param name="partId">The compartment, flow or quantity that is looked at.</param>
    /// <param name="address">The value that is changed; what varies between subjects varies about it as before.</param>
    /// <param name="from">The first value that is tried, in the model's units.</param>
    /// <param name="to">The last one.</param>
    /// <param name="steps">How many values are tried, evenly spaced; at least two.</param>
    /// <param name="count">How many subjects, the same ones at each step.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    /// <exception cref="ArgumentException">There is no target, no such value, or the group cannot be drawn; the message says
    /// so.</exception>
    public static TargetAttainment Of(
        LoweredModel lowered,
        SubjectGroup group,
        string partId,
        ValueAddress address,
        double from,
        double to,
        int steps,
        int count,
        CancellationToken cancel = default
    )
    {
        if (group.TargetLow is null && group.TargetHigh is null)
            throw new ArgumentException("There is no target yet. Type from where to where levels should lie.");
        if (lowered.Network.IndexOf(address) < 0)
            throw new ArgumentException($"There is no value “{address}” in the model. Choose another one.");
        if (!(to > from) || !double.IsFinite(to - from))
            throw new ArgumentException($"The ends of {address} cross. Type an upper one above the lower one.");
        if (steps is < 2 or > MostSteps)
            throw new ArgumentException($"A value goes in 2 to {MostSteps} steps.");
        var place = lowered.Network.IndexOf(address);
        double[] values = [.. Enumerable.Range(0, steps).Select(k => from + k * (to - from) / (steps - 1))];
        return new(
            values,
            [
                .. values.Select(value =>
                {
                    var all = lowered.Network.ValueVector();
                    all[place] = value;
                    var plan = SubjectRuns.Of(lowered, group, partId, count, all, false, 2, cancel).Plans[0];
                    var exposures = plan.Exposures.OfType<Exposure>().ToList();
                    return exposures.Count == 0 ? double.NaN : (double)exposures.Count(one => one.IsInside) / exposures.Count;
                }),
            ]
        );
    }

    /// <summary>The stretches of the value in which at least a share of subjects is inside, by straight lines between the steps.</summary>
    /// <param name="share">From 0 to 1.</param>
    public IReadOnlyList<(double From, double To)> AtLeast(double share)
    {
        var found = new List<(double From, double To)>();
        double? open = Shares[0] >= share ? Values[0] : null;
        for (var k = 1; k < Values.Count; k++)
        {
            var (before, now) = (Shares[k - 1] >= share, Shares[k] >= share);
            if (before == now)
                continue;
            var place =
                double.IsNaN(Shares[k - 1]) || double.IsNaN(Shares[k]) ? 0.5 : (share - Shares[k - 1]) / (Shares[k] - Shares[k - 1]);
            var at = Values[k - 1] + place * (Values[k] - Values[k - 1]);
            if (now)
                open = at;
            else
                found.Add((open!.Value, at));
        }
        if (Shares[^1] >= share)
            found.Add((open!.Value, Values[^1]));
        return found;
    }
}
