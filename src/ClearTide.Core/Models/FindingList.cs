using ClearTide.Core.Formulas;

namespace ClearTide.Core.Models;

/// <summary>Gathers findings while a document is read, each place and message once.</summary>
internal sealed class FindingList(StudyDocument document)
{
    private readonly List<Finding> _all = [];
    private readonly HashSet<(string?, PartField, TextSpan?, string)> _seen = [];

    public IReadOnlyList<Finding> All => _all;

    /// <param name="fixes">Label of each fix and the text the field would get.</param>
    public void Add(string partId, PartField field, Severity severity, TextSpan? span, string message, params (string Label, string Text)[] fixes) =>
        AddWithEdits(partId, field, severity, span, message, [.. fixes.Select(fix => new FindingFix(fix.Label, new SetField(partId, field, fix.Text)))]);

    private void AddWithEdits(string partId, PartField field, Severity severity, TextSpan? span, string message, IReadOnlyList<FindingFix> fixes)
    {
        if (_seen.Add((partId, field, span, message))) _all.Add(new(partId, field, severity, span, message, fixes));
    }

    /// <summary>A line that could not be read, or that is empty.</summary>
    public void Slip(string partId, PartField field, string text, FormulaProblem problem, string whenEmpty)
    {
        if (text.Trim().Length == 0) Add(partId, field, Severity.Unfinished, null, whenEmpty);
        else Add(partId, field, Severity.Unfinished, problem.Span, problem.Message, [.. problem.Fixes.Select(fix => (fix.Label, fix.Replacement))]);
    }

    /// <summary>A name that nothing in the study has: the nearest known name is offered, and defining it.</summary>
    public void Unknown(string partId, PartField field, NameSyntax name)
    {
        var text = document.Parts.First(part => part.Id == partId) switch
        {
            Compartment part => part.Start,
            Flow part => part.Rate,
            Definition part => part.Text,
            _ => "",
        };
        var own = document.Parts.First(part => part.Id == partId) is Definition definition ? definition.Symbol : null;
        var known = document.Compartments.Select(part => part.Symbol).Concat(document.Definitions.Select(part => part.Symbol)).Where(symbol => symbol != own);
        var near = Symbols.Nearest(name.Name, known);
        var fixes = new List<FindingFix>();
        if (near is not null) fixes.Add(new($"Use {near}", new SetField(partId, field, Formula.Rename(text, name.Name, near))));
        fixes.Add(new($"Add {name.Name} as a value", new AddParameter(name.Name)));
        AddWithEdits(partId, field, Severity.Unfinished, name.Span,
            $"{name.Name} is not defined." + (near is null ? $" Add it, as in “{name.Name} = 0.4”." : $" Did you mean {near}?"), fixes);
    }
}
