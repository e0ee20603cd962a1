using ClearTide.Core.Diagnostics;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Compilation;

/// <summary>Lowers random inputs: each is a parameter that is drawn anew at its interval.</summary>
internal sealed class DrawLowering(ModelBuilder build, NameScope starting)
{
    public IReadOnlyList<RandomDraw> All() => [.. build.Document.RandomInputs.Select(One).OfType<RandomDraw>()];

    private RandomDraw? One(RandomInput part)
    {
        var (line, problem) = DrawLine.Read(part.Text);
        if (line is null)
        {
            build.Findings.Slip(
                part.Id,
                PartField.Text,
                part.Text,
                problem!,
                $"{part.Symbol} has no distribution yet. Type one, as in “normal(1, 0.2) every 7 {build.Document.TimeUnit.Plural}”."
            );
            build.Broken.Add(part.Symbol);
            return null;
        }
        var arguments = line.Arguments.Select(argument => starting.Bind(argument, part.Id, PartField.Text, part.Text)).ToList();
        var every = starting.Bind(line.Every, part.Id, PartField.Text, part.Text);
        var values = build.Values.Select(value => value.Value).Concat(build.Slots).ToArray();
        var numbers = arguments.Select(argument => build.Graph.Evaluate(argument, build.Document.Start, [], values)).ToArray();
        var interval = build.Graph.Evaluate(every, build.Document.Start, [], values);
        var refusal = numbers.All(double.IsFinite) ? line.Distribution.Refusal(numbers) : "The numbers of a distribution are finite.";
        if (!(interval > 0))
            refusal ??= $"It is drawn anew after a time above zero, as in “every 7 {build.Units.Time.Plural}”.";
        else if ((build.Document.End - build.Document.Start) / interval > MostDraws)
            refusal ??= $"That is more than {MostDraws:N0} draws over the span. Draw less often.";
        if (refusal is not null)
        {
            build.Findings.Add(part.Id, PartField.Text, Severity.Unfinished, null, refusal);
            build.Broken.Add(part.Symbol);
            return null;
        }
        var slot = build.AddSlot(0, $"draw {part.Id}");
        starting.DrawSlots[part.Id] = slot;
        return new(slot, part.Id, line.Distribution, arguments, every);
    }

    private const int MostDraws = 100_000;
}
