using ClearTide.Core.Reports;

namespace ClearTide.Web.Curves;

/// <summary>The curve that a page shows until somebody chooses one.</summary>
public static class UsualCurve
{
    /// <summary>Id of the first compartment that rises and falls again, else of the first; of the first curve where there is no
    /// compartment, and empty where there is none.</summary>
    public static string Of(StudyRun run)
    {
        var network = run.Lowered.Network;
        if (network.Amounts.Count == 0)
            return ExploreData.Curves(run.Lowered).FirstOrDefault().Id ?? "";
        if (run.Run is not { Times.Count: > 0 } made)
            return run.Lowered.Written.BaseOf(network.Amounts[0].PartId);
        bool Turns(int place)
        {
            var amounts = made.AmountColumn(place);
            var most = Array.IndexOf(amounts, amounts.Max());
            return most > 0 && most < amounts.Length - 1;
        }
        return run.Lowered.Written.BaseOf(
            network.Amounts[Enumerable.Range(0, network.Amounts.Count).Where(Turns).DefaultIfEmpty(0).First()].PartId
        );
    }
}
