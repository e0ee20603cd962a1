using ClearTide.Core.Model;

namespace ClearTide.Core.Inference;

/// <summary>Gives a fit a name, another name, or takes its name away.</summary>
/// <param name="Setup">What the fit estimates, and how.</param>
/// <param name="Name">Empty for none.</param>
public sealed record NameFit(FitSetup Setup, string Name) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        var (name, others) = (Name.Trim(), document.Fits.RemoveAll(one => one.Setup == Setup));
        if (name.Length == 0)
            return document with { Fits = others };
        if (NamedFit.Refusal(name) is { } refusal)
            return EditResult.Refused(refusal);
        if (others.Any(one => one.Name == name))
            return EditResult.Refused($"Another fit is called {name}. Choose another name, or rename that one first.");
        if (others.Length >= NamedFit.Most)
            return EditResult.Refused($"A study keeps {NamedFit.Most} named fits at most. Take the name of another one away first.");
        var known = new NamedFit(name, Setup);
        var at = document.Fits.ToList().FindIndex(one => one.Setup == Setup);
        return document with { Fits = at < 0 ? document.Fits.Add(known) : others.Insert(Math.Min(at, others.Length), known) };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => Name.Trim().Length == 0 ? "fit: no name" : $"fit called {Name.Trim()}";
}
