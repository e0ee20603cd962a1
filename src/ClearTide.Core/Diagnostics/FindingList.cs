using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Core.Diagnostics;

/// <summary>Gathers findings while a document is read, each place and message once.</summary>
internal sealed class FindingList(StudyDocument document)
{
    private readonly List<Finding> _all = [];
    private readonly HashSet<(string?, PartField, int, TextSpan?, string)> _seen = [];

    public IReadOnlyList<Finding> All => _all;

    /// <param name="partId">Id of the part.</param>
    /// <param name="field">Which of its fields.</param>
    /// <param name="severity">Whether the part can be run in spite of it.</param>
    /// <param name="span">Where in the field's text; null for the whole.</param>
    /// <param name="message">A sentence that says what to do.</param>
    /// <param name="fixes">Label of each fix and the text the field would get.</param>
    public void Add(
        string partId,
        PartField field,
        Severity severity,
        TextSpan? span,
        string message,
        params (string Label, string Text)[] fixes
    ) =>
        AddWithEdits(
            partId,
            field,
            severity,
            span,
            message,
            [.. fixes.Select(fix => new FindingFix(fix.Label, new SetField(partId, field, fix.Text)))]
        );

    /// <param name="partId">Id of the part.</param>
    /// <param name="field">Which of its fields.</param>
    /// <param name="severity">Whether the part can be run in spite of it.</param>
    /// <param name="span">Where in the field's text; null for the whole.</param>
    /// <param name="message">A sentence that says what to do.</param>
    /// <param name="fixes">What a click would put right.</param>
    /// <param name="at">Which of several fields of the kind it is.</param>
    public void AddWithEdits(
        string partId,
        PartField field,
        Severity severity,
        TextSpan? span,
        string message,
        IReadOnlyList<FindingFix> fixes,
        int at = 0
    )
    {
        if (_seen.Add((partId, field, at, span, message)))
            _all.Add(new(partId, field, severity, span, message, fixes) { At = at });
    }

    /// <summary>What another list has gathered, after what is here.</summary>
    public void AddAll(FindingList others)
    {
        foreach (var finding in others._all)
        {
            if (_seen.Add((finding.PartId, finding.Field, finding.At, finding.Span, finding.Message)))
                _all.Add(finding);
        }
    }

    /// <summary>Something that is to be known of the whole study.</summary>
    public void AddOfStudy(string message, FindingFix fix)
    {
        if (_seen.Add((null, PartField.Note, 0, null, message)))
            _all.Add(new(null, PartField.Note, Severity.Doubt, null, message, [fix]) { IsNote = true });
    }

    /// <summary>A line that could not be read, or that is empty.</summary>
    public void Slip(string partId, PartField field, string text, FormulaProblem problem, string whenEmpty, int at = 0)
    {
        if (text.Trim().Length == 0)
            AddWithEdits(partId, field, Severity.Unfinished, null, whenEmpty, [], at);
        else
            AddWithEdits(
                partId,
                field,
                Severity.Unfinished,
                problem.Span,
                problem.Message,
                [.. problem.Fixes.Select(fix => new FindingFix(fix.Label, new SetField(partId, field, fix.Replacement, at)))],
                at
            );
    }

    /// <summary>A name that nothing in the study has: the nearest known name is offered, and defining it.</summary>
    /// <param name="partId">Id of the part.</param>
    /// <param name="field">Which of its fields.</param>
    /// <param name="text">The line it stands in.</param>
    /// <param name="name">The name that is not known, with its place in the line.</param>
    /// <param name="called">Whether it is called as a function is.</param>
    /// <param name="at">Which of several fields of the kind it is.</param>
    public void Unknown(string partId, PartField field, string text, NameSyntax name, bool called, int at = 0)
    {
        var own = (document.Part(partId) as ISymbolPart)?.Symbol;
        IEnumerable<string> known = called
            ? Functions.Names.Concat(document.Inputs.Select(part => part.Symbol)).Concat(document.Curves.Select(part => part.Symbol))
            : document.SymbolParts.Where(part => part is not ResponseCurve).Select(part => part.Symbol).Where(symbol => symbol != own);
        var near = Symbols.Nearest(name.Name, known);
        var fixes = new List<FindingFix>();
        SetField With(string word) => new(partId, field, text[..name.Span.Start] + word + text[name.Span.End..], at);
        if (near is not null)
            fixes.Add(new($"Use {near}", With(near)));
        if (called)
        {
            if (document.PartBySymbol(name.Name) is not null)
                fixes.Add(new($"Multiply by {name.Name}", With(name.Name + " *")));
            var hint = near is null
                ? " Functions of the study are inputs and response curves: add one, or put a * before the parenthesis."
                : $" Did you mean {near}?";
            AddWithEdits(partId, field, Severity.Unfinished, name.Span, $"There is no function {name.Name}.{hint}", fixes, at);
            return;
        }
        fixes.Add(new($"Add {name.Name} as a parameter", new AddParameter(name.Name)));
        AddWithEdits(
            partId,
            field,
            Severity.Unfinished,
            name.Span,
            $"{name.Name} is not defined." + (near is null ? $" Add it, as in “{name.Name} = 0.4”." : $" Did you mean {near}?"),
            fixes,
            at
        );
    }

    /// <summary>A word behind a number that names no unit: the nearest unit, a product and a new unit are offered.</summary>
    public void UnknownUnit(string partId, PartField field, string text, UnitWord word, UnitTable units, int at = 0)
    {
        var fixes = new List<FindingFix>();
        SetField With(string with) => new(partId, field, text[..word.Span.Start] + with + text[word.Span.End..], at);
        var isSymbol = document.PartBySymbol(word.Word) is not null;
        var near = isSymbol ? null : units.Nearest(word.Word, field != PartField.Start);
        // What is counted may be spelled much like a unit of time, as moths are: then the new unit comes first.
        var noun = near is not null && units.IsTime(near);
        if (isSymbol)
            fixes.Add(new($"Multiply by {word.Word}", With("* " + word.Word)));
        if (noun)
            AddUnitFixes(fixes, word.Word, null);
        if (near is not null)
            fixes.Add(new($"Write {near}", With(near)));
        if (!noun)
            AddUnitFixes(fixes, word.Word, near);
        AddWithEdits(
            partId,
            field,
            Severity.Unfinished,
            word.Span,
            $"There is no unit “{word.Word}”."
                + (
                    noun ? $" Add it, if that is what is counted, or write “{near}”."
                    : near is null ? " A word after a number is its unit; to multiply, put * between them."
                    : $" Did you mean “{near}”?"
                ),
            fixes,
            at
        );
    }

    /// <summary>A unit field that names no unit.</summary>
    public void UnknownUnitField(string partId, PartField field, FormulaProblem problem, string typed)
    {
        List<FindingFix> fixes = [.. problem.Fixes.Select(fix => new FindingFix(fix.Label, new SetField(partId, field, fix.Replacement)))];
        var word = typed.Substring(
            Math.Min(problem.Span.Start, typed.Length),
            Math.Min(problem.Span.Length, typed.Length - Math.Min(problem.Span.Start, typed.Length))
        );
        AddUnitFixes(fixes, word, null);
        AddWithEdits(partId, field, Severity.Doubt, problem.Span, problem.Message, fixes);
    }

    private static void AddUnitFixes(List<FindingFix> fixes, string word, string? near)
    {
        if (UnitTable.Refusal(word) is not null)
            return;
        if (near is not null)
            fixes.Add(new($"{word} is another spelling of {near}", new SetUnit(word, near)));
        fixes.Add(new($"Add {word} as a unit", new SetUnit(word, "")));
    }

    /// <summary>A plain value said in one size of unit whose part is said to be in another: offers the converted line.</summary>
    public void Convert(string partId, string line, string converted, string unit)
    {
        var at = _all.FindLastIndex(finding => finding.PartId == partId && finding.Field == PartField.Unit);
        if (at < 0 || line.Length == 0)
            return;
        var field = document.Part(partId) is Compartment ? PartField.Start : PartField.Text;
        _all[at] = _all[at] with { Fixes = [new($"Convert to {unit}", new SetField(partId, field, converted)), .. _all[at].Fixes] };
    }
}
