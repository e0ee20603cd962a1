namespace ClearTide.Core.Simulation;

/// <summary>
/// One run at its output times: states, process rates and quantities. Numbers lie time by time. At a time where something jumps, the values after the jump.
/// </summary>
public sealed class Trajectory(GeneralForm form, double[] times, double[] states, double[] outputs, int steps)
{
    public GeneralForm Form { get; } = form;

    public IReadOnlyList<double> Times => times;

    /// <summary>Accepted steps of the solver.</summary>
    public int Steps => steps;

    public double State(int time, int state) => states[time * Form.States.Count + state];

    /// <summary>One state over all times.</summary>
    public double[] StateColumn(int state) => Column(states, state, Form.States.Count);

    /// <summary>The rate of one process over all times, in amount per unit of time.</summary>
    public double[] RateColumn(int process) => Column(outputs, process, OutputCount);

    /// <summary>One quantity over all times.</summary>
    public double[] QuantityColumn(int quantity) => Column(outputs, Form.Processes.Count + quantity, OutputCount);

    private int OutputCount => Form.Processes.Count + Form.Quantities.Count;

    private double[] Column(double[] source, int index, int width)
    {
        var column = new double[times.Length];
        for (var k = 0; k < column.Length; k++) column[k] = source[k * width + index];
        return column;
    }
}
