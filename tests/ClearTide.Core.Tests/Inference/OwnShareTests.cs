using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Inference;

/// <summary>A share of what happened that each subject, or each member of a group, reports in its own way.</summary>
public class OwnShareTests
{
    private const double Rate = 0.1;

    // What of a thousand leaves at a rate from one time to another.
    private static double Left(double from, double until) => 1000 * (Math.Exp(-Rate * from) - Math.Exp(-Rate * until));

    private static FitParameter Share(string address, bool own = false) => new(ValueAddress.Read(address), 0.01, 1) { Own = own };

    private static IEnumerable<DataRow> Rows(double share, string? subject = null) =>
        Enumerable
            .Range(0, 6)
            .Select(k => new DataRow(5 * k, 5 * (k + 1), Math.Round(share * Left(5 * k, 5 * (k + 1)))) { Subject = subject });

    // Under the law of Poisson the likelihood of a share is highest at all that was counted over all that left.
    private static double Highest(IEnumerable<DataRow> rows) => rows.Sum(row => row.Value) / Left(0, 30);

    [Fact]
    public void Each_subject_has_its_own()
    {
        var document = Studies.Of($"A -> : {Rate} * A; A(0) = 1000; rho = 0.5", 30);
        var data = new DataSet("d", "cases", [.. Rows(0.3, "a"), .. Rows(0.7, "b")]) { Subjects = [new("a"), new("b")] };
        document = document with { Fit = new(ErrorLaw.Poisson, [Share("rho", own: true)]) { Starts = 3 } };
        var fit = Fitter.Run(document, [new(new("o", "d", "Cases", document.Flows[0].Id, "rho"), data)]);
        foreach (var one in fit.Detail!.Subjects)
            // The search ends where a step gains less than a billionth of the likelihood.
            Assert.Equal(Highest(data.Rows.Where(row => row.Subject == one.Subject)), one.Values.Single(), 1e-5);
    }

    [Fact]
    public void Each_member_of_a_group_has_its_own()
    {
        var document = Studies.Of(
            $"A -> : {Rate} * A; A(0) = 2000; rho = 0.5; group age = young, old; split A, rho by age; rho[young] = 0.4; rho[old] = 0.5",
            30
        );
        document = document with { Fit = new(ErrorLaw.Poisson, [Share("rho[young]"), Share("rho[old]")]) { Starts = 3 } };
        var written = Lowering.Lower(document).Written;
        Series Of(string member, double share)
        {
            var flow = written.Members(document.Flows[0].Id).Single(one => one.Key == member).Id;
            return new(new(member, member, member, flow, $"rho[{member}]"), new(member, member, [.. Rows(share)]));
        }
        Series[] series = [Of("young", 0.2), Of("old", 0.6)];
        var fit = Fitter.Run(document, series);
        foreach (var one in series)
            Assert.Equal(
                Highest(one.Data.Rows),
                fit.Estimates.Single(estimate => estimate.Address == one.Observation.Reporting).Value,
                1e-5
            );
    }
}
