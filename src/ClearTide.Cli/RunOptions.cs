using System.CommandLine;

namespace ClearTide.Cli;

/// <summary>Options that all commands have which run a model.</summary>
internal static class RunOptions
{
    public static Option<double?> Start() =>
        new("--start") { Description = "Where a run starts; the study's own start where it is left out." };

    public static Option<double?> End() => new("--end") { Description = "Where it ends; the study's own end where it is left out." };

    public static Option<double> Every() =>
        new("--every") { Description = "Spacing of output, in the study's time unit.", DefaultValueFactory = _ => 1 };

    public static Option<string[]> Set() =>
        new("--set") { Description = "Another value for this run: name=value. May be repeated.", DefaultValueFactory = _ => [] };

    public static Option<string?> Columns() =>
        new("--columns")
        {
            Description =
                "What to write, separated by commas: symbols, flows as \"S -> I\", cumulative flows as \"total(S -> I)\". All "
                + "compartments where it is left out.",
        };

    public static Option<bool> Amounts() =>
        new("--amounts") { Description = "Amounts also where a model speaks of concentrations. Study files always give amounts." };

    public static Option<FileInfo?> Output() =>
        new("--out") { Description = "Where to write the CSV; standard output where it is left out." };

    public static Option<string> ChanceMethod()
    {
        var method = new Option<string>("--method")
        {
            Description =
                "exact: units move one by one by the exact law; leap: many at once, in steps in which rates hardly change; chain: "
                + "chain binomial at a fixed step; auto: exact where that is quick enough, else leap, and says so.",
            DefaultValueFactory = _ => "auto",
        };
        method.AcceptOnlyFromAmong("auto", "exact", "leap", "chain");
        return method;
    }

    public static Option<double> ChanceStep() =>
        new("--step") { Description = "Length of a step of chain, in the study's time unit.", DefaultValueFactory = _ => 1 };
}
