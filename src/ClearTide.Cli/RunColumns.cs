using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Tables;

namespace ClearTide.Cli;

/// <summary>Which columns of a run are written: compartments, quantities, flows, and cumulative flows.</summary>
internal sealed class RunColumns
{
    /// <param name="Output">Index among the outputs of the model.</param>
    /// <param name="Cumulative">Whether the column is what it has come to since the start.</param>
    private sealed record Column(string Head, int Output, bool Cumulative);

    private readonly List<Column> _columns = [];

    /// <param name="typed">Names separated by commas; null for all compartments.</param>
    public static RunColumns Read(LoweredModel lowered, string? typed)
    {
        var form = lowered.Network;
        var known = form.Outputs.Select((column, k) => (Name: Plain(column.Symbol), k)).ToList();
        var chosen = new RunColumns();
        if (typed is null)
        {
            foreach (var (name, k) in known.Take(form.Amounts.Count))
            {
                // What has another id in the file it was imported from keeps that id at the head of its column.
                var id = lowered.Document.Compartment(form.Amounts[k].PartId)?.FileId;
                chosen._columns.Add(new(string.IsNullOrEmpty(id) ? form.Amounts[k].Symbol : id, k, false));
            }
            return chosen;
        }
        var words = new Queue<string>(Words(typed));
        while (words.TryDequeue(out var word))
        {
            // The ends of a fan-out stand with commas between them: “I -> R, D”.
            while (
                word.Contains("->", StringComparison.Ordinal)
                && !word.EndsWith(')')
                && words.Count > 0
                && known.All(column => column.Name != Plain(word))
            )
                word += ", " + words.Dequeue();
            var cumulative = word.StartsWith("total(", StringComparison.Ordinal) && word.EndsWith(')');
            var name = Plain(cumulative ? word[6..^1] : word);
            var at = known.FindIndex(column => column.Name == name);
            if (at < 0)
            {
                var near = Symbols.Nearest(name, known.Select(column => column.Name));
                throw new BadInputException(
                    $"--columns: there is no compartment, flow or quantity “{word}”."
                        + (
                            near is null
                                ? $" There are {string.Join(", ", known.Select(column => column.Name))}."
                                : $" Did you mean {near}?"
                        )
                );
            }
            if (cumulative && (at < form.Amounts.Count || at >= form.Amounts.Count + form.Flows.Count))
                throw new BadInputException($"--columns: total(...) sums up a flow, and {name} is none.");
            chosen._columns.Add(new(word, known[at].k, cumulative));
        }
        return chosen._columns.Count > 0
            ? chosen
            : throw new BadInputException("--columns names no column. Name one, as in --columns S,I.");
    }

    /// <summary>A name with arrows and spaces as one types them: “S -> I”.</summary>
    private static string Plain(string name) =>
        string.Join(
            ' ',
            Symbols
                .Normalize(name)
                .Replace("→", " -> ", StringComparison.Ordinal)
                .Replace("->", " -> ", StringComparison.Ordinal)
                .Split(' ', StringSplitOptions.RemoveEmptyEntries)
        );

    /// <summary>What stands between commas outside parentheses.</summary>
    private static IEnumerable<string> Words(string typed)
    {
        var (depth, start) = (0, 0);
        for (var k = 0; k <= typed.Length; k++)
        {
            if (k < typed.Length && typed[k] == '(')
                depth++;
            if (k < typed.Length && typed[k] == ')')
                depth--;
            if (k < typed.Length && (typed[k] != ',' || depth > 0))
                continue;
            if (typed[start..k].Trim() is { Length: > 0 } word)
                yield return word;
            start = k + 1;
        }
    }

    /// <summary>What has to follow the run for cumulative columns; null where there are none.</summary>
    public RunningTotals? Totals(ReactionNetwork form, double[] values, double[] times)
    {
        var flows = _columns.Where(column => column.Cumulative).Select(column => Integrand.OfFlow(column.Output)).ToList();
        return flows.Count == 0 ? null : new(form, flows, times, values);
    }

    /// <summary>Heads of the columns.</summary>
    public IReadOnlyList<string> Heads => [.. _columns.Select(column => column.Head)];

    /// <summary>The columns of a run by chance, where cumulative flows are what has left one by one.</summary>
    public IReadOnlyList<double[]> ByChance(Trajectory run)
    {
        var network = run.Network;
        return [.. _columns.Select(column => column.Cumulative ? Counted(column) : run.OutputColumn(column.Output))];

        double[] Counted(Column column)
        {
            var id = network.Flows[column.Output - network.Amounts.Count].PartId;
            var exits = Enumerable
                .Range(0, network.Processes.Count)
                .Where(k => network.Processes[k].Id == id && network.Processes[k].IsExit);
            return [.. run.Times.Select((_, row) => exits.Sum(process => run.Fired(process, 0, row)))];
        }
    }

    public IReadOnlyList<TableColumn> Of(Trajectory run, RunningTotals? totals)
    {
        var (all, next) = (new List<TableColumn>(), 0);
        foreach (var column in _columns)
            all.Add(new(column.Head, column.Cumulative ? totals!.Column(next++) : run.OutputColumn(column.Output)));
        return all;
    }
}
