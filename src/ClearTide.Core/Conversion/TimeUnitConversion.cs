using System.Globalization;
using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;

namespace ClearTide.Core.Conversion;

/// <summary>Writes the unit of time behind numbers that leave it to the study, so that they mean the same under another one.</summary>
internal sealed class TimeUnitConversion(StudyDocument document)
{
    private readonly LoweredModel _lowered = Lowering.Lower(document);
    private readonly TimeUnit _time = document.TimeUnit;

    /// <summary>The document with the unit of time behind every bare number that is known to carry one.</summary>
    public StudyDocument Explicit() =>
        document with
        {
            Definitions = [.. document.Definitions.Select(Of)],
            Flows = [.. document.Flows.Select(Of)],
            Reactions = [.. document.Reactions.Select(Of)],
            Inputs = [.. document.Inputs.Select(Of)],
            RandomInputs = [.. document.RandomInputs.Select(Of)],
            Events = [.. document.Events.Select(Of)],
            Observations = [.. document.Observations.Select(one => IsBare(one.Delay) ? one with { Delay = With(one.Delay, 1) } : one)],
            Splits = [.. document.Splits.Select(Of)],
            Groups =
            [
                .. document.Groups.Select(group =>
                    group with
                    {
                        Passages = [.. group.Passages.Select(one => one with { Rate = Rate(one.RateKind, one.Rate) })],
                    }
                ),
            ],
            Scenarios = [.. document.Scenarios.Select(one => one with { Rules = [.. one.Rules.Select(Of)] })],
        };

    private static bool IsBare(string text) => Formula.Read(text).Tree is { } tree && FormulaUnits.IsBare(tree);

    /// <summary>A bare number with a power of the unit of time behind it.</summary>
    private string With(string number, double power) =>
        power switch
        {
            1 => $"{Grouped(number)} {_time.Plural}",
            -1 => $"{number} per {_time.Singular}",
            < 0 => number + string.Concat(Enumerable.Repeat($" per {_time.Singular}", (int)-power)),
            _ => $"{Grouped(number)} {_time.Plural}^{power.ToString(CultureInfo.InvariantCulture)}",
        };

    /// <summary>A unit follows one number, not a quotient of two.</summary>
    private string Grouped(string number) =>
        Formula.Read(number).Tree is NumberSyntax
            ? number
            : FormulaBinder.ValueOf(Formula.Read(number).Tree!, document.UnitTable()).ToString("R", CultureInfo.InvariantCulture);

    private Definition Of(Definition part)
    {
        var power = _lowered.Units.Of(part.Id).Unit?.TimePower ?? 0;
        // A number in its own unit field says its time already.
        if (part.Unit.Length > 0 || power == 0 || power != Math.Round(power))
            return part with { Text = Lags(part.Text) };
        return part with { Text = IsBare(part.Text) ? With(part.Text, power) : Lags(part.Text) };
    }

    private Flow Of(Flow part) => part with { Rate = Rate(part.Kind, part.Rate) };

    private string Rate(RateKind kind, string rate) =>
        !IsBare(rate) ? Lags(rate)
        : kind == RateKind.MeanStay ? With(rate, 1)
        : With(rate, -1);

    /// <summary>The lines of members say what the line of their part says.</summary>
    private Split Of(Split split)
    {
        Func<string, string>? change = document.Part(split.PartId) switch
        {
            Flow flow => line => Rate(flow.Kind, line),
            Definition part => line => Of(part with { Text = line }).Text,
            _ => null,
        };
        return change is null ? split : split with { Lines = [.. split.Lines.Select(line => line with { Text = change(line.Text) })] };
    }

    private Reaction Of(Reaction part) =>
        ReactionLine.Read(part.Text).Line is not { } line ? part
        : FormulaUnits.IsBare(line.Rate) ? part with { Text = Swap(part.Text, line.Rate, -1) }
        : part with { Text = line.With(part.Text, Lags(line.RateText)) };

    private Input Of(Input part)
    {
        var unit = _lowered.Units.Of(part.Id).Unit;
        return part with
        {
            Period = part.Period.Length > 0 && IsBare(part.Period) ? With(part.Period, 1) : part.Period,
            Unit = part.Unit.Length == 0 && unit is { TimePower: not 0 } ? unit.Text() : part.Unit,
        };
    }

    private RandomInput Of(RandomInput part) =>
        DrawLine.Read(part.Text).Line is { } line && FormulaUnits.IsBare(line.Every)
            ? part with
            {
                Text = Swap(part.Text, line.Every, 1),
            }
            : part;

    private EventRule Of(EventRule part)
    {
        if (InsteadLine.Read(part.Text).Line is { } instead)
            return part with { Text = Timed(part.Text, instead.Times(document.PartBySymbol(instead.Symbol) is Input)) };
        if (EventLine.Read(part.Text).Line is not { } line)
            return part;
        IEnumerable<Syntax?> times =
        [
            .. line.Actions.SelectMany(action => new[] { action.Over, action.After }),
            line.From,
            line.Until,
            line.Rest,
            line.Dose?.For,
            line.Kind is TriggerKind.At or TriggerKind.Every ? line.Trigger : null,
        ];
        return part with { Text = Timed(part.Text, times) };
    }

    /// <summary>A line with a unit behind each bare time in it: from the back, so that places in front stay what they are.</summary>
    private string Timed(string text, IEnumerable<Syntax?> times)
    {
        foreach (var time in times.OfType<Syntax>().Where(FormulaUnits.IsBare).OrderByDescending(time => time.Span.Start))
            text = Swap(text, time, 1);
        return text;
    }

    private string Swap(string text, Syntax place, double power) =>
        text[..place.Span.Start] + With(text.Substring(place.Span.Start, place.Span.Length), power) + text[place.Span.End..];

    /// <summary>Bare times of delays and smoothing inside a formula.</summary>
    private string Lags(string text)
    {
        if (Formula.Read(text).Tree is not { } tree)
            return text;
        var lags = tree.All()
            .OfType<CallSyntax>()
            .Where(call => call.Function.Name is Functions.Delay or Functions.Smooth && FormulaUnits.IsBare(call.Arguments[1]))
            .Select(call => call.Arguments[1]);
        foreach (var lag in lags.OrderByDescending(lag => lag.Span.Start))
            text = Swap(text, lag, 1);
        return text;
    }

    /// <summary>
    /// Numbers in a product may hide a unit of time that nothing tells. Each flow and quantity is computed before and after at the same
    /// amounts:
    /// a flow must come out as so much more per longer unit, and where it does not, its line is given the old unit, or the time in it is
    /// put back.
    /// </summary>
    public static StudyDocument Settle(StudyDocument before, StudyDocument after, double ratio)
    {
        foreach (
            var definition in before.Definitions.Where(part => Formula.Read(part.Text).Tree?.Names().Any(name => name.Name == "t") == true)
        )
        {
            after = First(
                after,
                definition.Id,
                document => ComparesBy(before, document, definition.Id, ratio, [0, 1, -1, 2, -2]),
                (part, line) => ((Definition)part) with { Text = line },
                definition.Text,
                ratio,
                before.TimeUnit
            );
        }
        foreach (var flow in before.Flows)
        {
            var line = after.Flow(flow.Id)!.Rate;
            after = First(
                after,
                flow.Id,
                document => ComparesBy(before, document, flow.Id, ratio, [-1]),
                (part, text) => ((Flow)part) with { Rate = text },
                line,
                ratio,
                before.TimeUnit
            );
        }
        foreach (var reaction in before.Reactions)
        {
            if (ReactionLine.Read(((Reaction)after.Part(reaction.Id)!).Text).Line is not { } line)
                continue;
            after = First(
                after,
                reaction.Id,
                document => ComparesBy(before, document, reaction.Id, ratio, [-1]),
                (part, text) => ((Reaction)part) with { Text = line.With(((Reaction)part).Text, text) },
                line.RateText,
                ratio,
                before.TimeUnit
            );
        }
        return after;
    }

    private static StudyDocument First(
        StudyDocument document,
        string id,
        Func<StudyDocument, bool> fits,
        Func<IPart, string, IPart> with,
        string line,
        double ratio,
        TimeUnit old
    )
    {
        if (fits(document) || Formula.Read(line).Tree is not { } tree)
            return document;
        var timed = line;
        foreach (var time in tree.Names().Where(name => name.Name == "t").OrderByDescending(name => name.Span.Start))
        {
            timed = $"{timed[..time.Span.Start]}(t / {TypedNumber.Exact(ratio)}){timed[time.Span.End..]}";
        }
        foreach (var candidate in new[] { $"({line}) per {old.Singular}", timed, $"({timed}) per {old.Singular}" })
        {
            var changed = document.With(with(document.Part(id)!, candidate));
            if (fits(changed))
                return changed;
        }
        return document;
    }

    /// <summary>The values, with something in the places that a run fills: a delayed amount is not nothing.</summary>
    private static double[] Filled(ReactionNetwork network)
    {
        var values = network.ValueVector();
        foreach (var slot in network.Delays.Select(delay => delay.Slot).Concat(network.Draws.Select(draw => draw.Slot)))
            values[slot] = 6.1;
        return values;
    }

    /// <summary>Whether a part comes out as so many powers of the ratio of units times what it was, at amounts and times that mean
    /// nothing special.</summary>
    private static bool ComparesBy(StudyDocument before, StudyDocument after, string id, double ratio, double[] powers)
    {
        var (a, b) = (Lowering.Lower(before).Network, Lowering.Lower(after).Network);
        NamedExpression? Find(ReactionNetwork network) =>
            network.Flows.Concat(network.Quantities).FirstOrDefault(named => named.PartId == id);
        if (Find(a) is not { } was || Find(b) is not { } now || a.States.Count != b.States.Count)
            return true;
        foreach (var power in powers)
        {
            var fits = true;
            for (var probe = 0; probe < 3 && fits; probe++)
            {
                var state = Enumerable.Range(0, a.States.Count).Select(k => 10.0 + 7.3 * k + 3.1 * probe).ToArray();
                var time = before.Start + (0.31 + 0.2 * probe) * (before.End - before.Start);
                var (old, fresh) = (
                    a.Graph.Evaluate(was.Node, time, state, Filled(a)),
                    b.Graph.Evaluate(now.Node, time * ratio, state, Filled(b))
                );
                fits = Math.Abs(fresh - old * Math.Pow(ratio, power)) <= 1e-9 * (Math.Abs(fresh) + Math.Abs(old * Math.Pow(ratio, power)));
            }
            if (fits)
                return true;
        }
        return false;
    }
}
