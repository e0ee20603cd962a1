using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Compilation;

/// <summary>Where a flow leads: one end or several, with the shares that go to each.</summary>
internal sealed partial class FlowLowering
{
    private static bool SharesSum(Flow flow) => flow.To.All(target => target.Id is not null);

    private IReadOnlyList<StateChange> Ends(Flow flow)
    {
        if (!flow.FansOut)
            return flow.Target is { } only && Document.Compartment(only) is not null ? [new(build.FirstState(only), 1)] : [];
        var shares = new int[flow.To.Length];
        var rest = Graph.Constant(1);
        var (rests, plain) = (0, 0.0);
        var allPlain = true;
        for (var k = 0; k < flow.To.Length; k++)
        {
            shares[k] = Share(flow, k);
            if (flow.To[k].Share.Length == 0)
            {
                rests++;
                continue;
            }
            rest = Graph.Subtract(rest, shares[k]);
            if (values.Value(flow.Id, PartField.Share, k) is var own && own >= 0)
                plain += CheckShare(flow, k, build.Values[Graph[own].A].Value);
            else
                allPlain = false;
        }
        CheckSum(flow, rests, plain, allPlain);
        var changes = new List<StateChange>();
        for (var k = 0; k < flow.To.Length; k++)
        {
            var share = flow.To[k].Share.Length == 0 ? rest : shares[k];
            if (!Graph.IsConstant(share, out _))
                build.Ranges.Add(new(flow.Id, share, 0, 1) { Stops = true });
            if (flow.To[k].Id is { } id && Document.Compartment(id) is not null)
                changes.Add(new(build.FirstState(id), 1, share));
        }
        return changes;
    }

    private int Share(Flow flow, int k)
    {
        if (flow.To[k].Share.Length == 0)
            return -1;
        if (values.Value(flow.Id, PartField.Share, k) is var own && own >= 0)
            return own;
        return values.Formula(flow.Id, PartField.Share, k).Tree is { } tree
            ? scope.Bind(tree, flow.Id, PartField.Share, flow.To[k].Share, k)
            : Graph.Constant(0);
    }

    private double CheckShare(Flow flow, int k, double share)
    {
        if (share is >= 0 and <= 1)
            return share;
        var percent = (100 * share).ToString("0.####", System.Globalization.CultureInfo.InvariantCulture);
        build.Findings.AddWithEdits(
            flow.Id,
            PartField.Share,
            Severity.Unfinished,
            null,
            $"A share lies between 0 and 1, and this one is {percent}%. "
                + $"{(share is > 1 and <= 100 ? "Did you mean percent?" : "Type another.")}",
            share is > 1 and <= 100 ? [new($"{flow.To[k].Share}%", new SetField(flow.Id, PartField.Share, flow.To[k].Share + "%", k))] : [],
            k
        );
        return share;
    }

    private void CheckSum(Flow flow, int rests, double plain, bool allPlain)
    {
        var last = flow.To.Length - 1;
        FindingFix Rest() =>
            new(
                $"{Document.Compartment(flow.To[last].Id)?.Symbol ?? "Outside"} takes the rest",
                new SetField(flow.Id, PartField.Share, "", last)
            );
        if (rests > 1)
        {
            build.Findings.AddWithEdits(
                flow.Id,
                PartField.Share,
                Severity.Unfinished,
                null,
                "Two ends of this flow take the rest; only one can. Type a share for the others.",
                [],
                last
            );
            return;
        }
        if (rests == 1)
        {
            if (plain > 1 + 1e-9)
                build.Findings.AddWithEdits(
                    flow.Id,
                    PartField.Share,
                    Severity.Unfinished,
                    null,
                    "The shares come to more than all, so that less than nothing is left for the rest. Lower one of them.",
                    [],
                    last
                );
            return;
        }
        // Percents with few digits add up to one but for rounding of the last bit.
        if (allPlain && Math.Abs(plain - 1) > 1e-9)
        {
            build.Findings.AddWithEdits(
                flow.Id,
                PartField.Share,
                Severity.Unfinished,
                null,
                "The shares of this flow come to "
                    + $"{(100 * plain).ToString("0.####", System.Globalization.CultureInfo.InvariantCulture)}%, not to 100%.",
                [Rest()],
                last
            );
        }
        else if (!allPlain)
            build.Findings.AddWithEdits(
                flow.Id,
                PartField.Share,
                Severity.Doubt,
                null,
                "Nothing makes sure that these shares come to one. Let the last end take the rest.",
                [Rest()],
                last
            );
    }
}
