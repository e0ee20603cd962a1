using ClearTide.Core.Ensembles;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;

namespace ClearTide.Web.Jobs;

/// <summary>A projection as it is asked for on its screen: what of the study it takes is looked up when it is made.</summary>
/// <param name="Of">Id of what is followed; empty for what the data count.</param>
/// <param name="Spread">Whether replicates differ by what the fit left uncertain, where there is a fit.</param>
/// <param name="Error">Whether the error of observation is in them.</param>
/// <param name="Subjects">Whether each is another subject.</param>
/// <param name="AsOf">An earlier now; null for where the data end.</param>
public sealed record ProjectionOrder(int Replicates, long Seed, string Of, bool FromStart, bool Spread, bool Error, bool Subjects)
{
    public ProjectionChance Chance { get; init; }

    public double Step { get; init; } = 1;

    public double? Level { get; init; }

    public double? AsOf { get; init; }

    /// <summary>Formulas over each run, as typed.</summary>
    public IReadOnlyList<string> Formulas { get; init; } = [];

    /// <summary>Whether the share of each source in the variance is worked out too.</summary>
    public bool Shares { get; init; }

    /// <summary>The data that it knows.</summary>
    public IReadOnlyList<Series> Known(IReadOnlyList<Series> all) => AsOf is { } now ? ProjectionSources.AsOf(all, now) : all;

    /// <summary>The series that it goes on from; null where there is none.</summary>
    public static Series? Counted(IReadOnlyList<Series> known) =>
        ProjectionSources.Counted(known) is >= 0 and var place ? known[place] : null;

    /// <param name="known">The data that it knows.</param>
    /// <param name="fit">Of these; null for the model's own values.</param>
    public ProjectionRequest Request(StudyDocument document, IReadOnlyList<Series> known, FitResult? fit) =>
        ProjectionSources.With(
            new(Replicates, Seed, new Dictionary<ValueAddress, double>())
            {
                Of = Of,
                FromStart = FromStart,
                Subjects = Subjects && document.Subjects is { Varying.IsEmpty: false } group ? group : null,
                Chance = Chance,
                Step = Step,
                Level = Level,
                AsOf = AsOf,
                Formulas = Formulas,
            },
            document,
            known,
            fit,
            Spread,
            Error
        );

    /// <summary>The content that its numbers depend on. From an earlier now a fit is part of the work, and stands here by what it is
    /// made from.</summary>
    /// <param name="all">All data of the study.</param>
    /// <param name="fit">Of all data.</param>
    public string Fingerprint(StudyDocument document, IReadOnlyList<Series> all, FitResult? fit)
    {
        var known = Known(all);
        var own = Projection.Fingerprint(document, Counted(known), Request(document, known, AsOf is null ? fit : null));
        if (Shares)
            own = Fingerprints.Hash($"{own} with shares");
        return AsOf is null ? own : Fingerprints.Hash($"{own} {Fingerprints.Of(document, known)} {Spread} {Error}");
    }
}

/// <summary>A finished projection with what was asked for.</summary>
/// <param name="Made">When, in universal time.</param>
/// <param name="Shares">Of sources in the variance; null where they were not asked for, or there is one source alone.</param>
public sealed record KeptProjection(ProjectionOrder Order, ProjectionSummary Summary, DateTime Made, SpreadShares? Shares = null);

/// <summary>What a projection has come to before it is finished.</summary>
/// <param name="Fingerprint">Of its content: what is of other content is not gone on with.</param>
/// <param name="Packed">What it can go on from; null where that would be too long.</param>
public sealed record ProjectionSoFar(string Fingerprint, ProjectionSummary Summary, byte[]? Packed);
