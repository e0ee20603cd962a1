namespace ClearTide.Core.Simulation;

/// <summary>What a run ends with besides its amounts: another run can go on from there as if it were the same.</summary>
public sealed class RunEnd
{
    internal RunEnd(double[] parameters, EventQueue? queue) => (Parameters, Queue) = (parameters, queue);

    /// <summary>All parameters of the network: values as events have set them, then slots.</summary>
    public double[] Parameters { get; }

    /// <summary>What was still to happen; null where there are no events.</summary>
    internal EventQueue? Queue { get; }
}
