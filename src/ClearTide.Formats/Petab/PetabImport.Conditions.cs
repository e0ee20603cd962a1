using ClearTide.Core.Language;
using ClearTide.Formats.Sbml;

namespace ClearTide.Formats.Petab;

/// <summary>What the model is under each condition.</summary>
public sealed partial class PetabImport
{
    /// <summary>The model with the values that the table gives.</summary>
    private SbmlModel WithNominal(SbmlModel model) =>
        model with
        {
            Parameters =
            [
                .. model.Parameters.Select(one =>
                    _parameters.TryGetValue(one.Id, out var row) && _problem.Parameters.Number(row, "nominalValue") is { } value
                        ? one with
                        {
                            Value = value,
                        }
                        : one
                ),
            ],
        };

    /// <summary>What all conditions say alike goes into the model; where they differ, it is known of each.</summary>
    private SbmlModel WithConditions(SbmlModel model)
    {
        var table = _problem.Conditions;
        var used = _rows.Select(row => _problem.Measurements[row, "simulationConditionId"]).ToHashSet();
        var rows = Enumerable.Range(0, table.Count).Where(row => used.Contains(table[row, "conditionId"])).ToList();
        foreach (var id in used.Where(id => !rows.Exists(row => table[row, "conditionId"] == id)))
            throw new PetabException($"There is no condition “{id}”. Add it to {table.Name}.");
        foreach (var head in table.Heads.Where(head => head is not ("conditionId" or "conditionName")))
        {
            var cells = rows.Select(row => table[row, head]).ToList();
            if (cells.TrueForAll(cell => cell.Length == 0 || cell.Equals("nan", StringComparison.OrdinalIgnoreCase)))
                continue;
            if (!IsInModel(head))
                throw new PetabException($"{table.Name} sets “{head}”, which the model does not have. Take the column out.");
            if (cells.Distinct().Count() == 1)
            {
                if (PetabTable.Number(cells[0]) is null && !IsInModel(cells[0]))
                    Add(cells[0]);
                _starts.Add(new(head, PetabFormula.Read(cells[0], $"{head} of the conditions")));
                continue;
            }
            if (!cells.TrueForAll(cell => PetabTable.Number(cell) is not null))
                throw new PetabException(
                    $"{table.Name} gives {head} unknown values that differ by condition. A study holds numbers that are known of each."
                );
            // A number of its own stands for it: a value of the model that each condition has its own of.
            var constant = model.Parameters.Any(one => one.Id == head && one.Constant);
            var own = constant ? head : $"{head}_start";
            if (!constant)
            {
                _added.Add(new(own, "", PetabTable.Number(cells[0]), Constant: true));
                _starts.Add(new(head, new NameSyntax(default, own)));
            }
            for (var k = 0; k < rows.Count; k++)
            {
                var id = table[rows[k], "conditionId"];
                (_known.TryGetValue(id, out var known) ? known : _known[id] = [])[own] = PetabTable.Number(cells[k])!.Value;
            }
        }
        return model;
    }
}
