using ClearTide.Core.Reports;
using ClearTide.Web.Diagram;
using ClearTide.Web.Ledger;
using ClearTide.Web.Words;

namespace ClearTide.Web.Studies;

/// <summary>A version of a study as Build shows it: its run, and the ledger, diagram and words that follow from it, each worked out
/// once.</summary>
/// <param name="drawnBefore">The diagram of the version before, if it is known: what looks the same is not drawn again.</param>
public sealed class StudyView(StudyRun run, DiagramModel? drawnBefore = null)
{
    private readonly Lazy<LedgerModel> _ledger = new(() => LedgerModel.Of(run));
    private readonly Lazy<DiagramModel> _diagram = new(() => DiagramModel.Of(run.Lowered, drawnBefore));

    private readonly Lazy<string> _vocabulary = new(() => Vocabulary.Json(run.Lowered));

    public StudyRun Run => run;

    /// <summary>What can be typed into a line, as JSON.</summary>
    public string Words => _vocabulary.Value;

    public LedgerModel Ledger => _ledger.Value;

    public DiagramModel Diagram => _diagram.Value;
}
