namespace ClearTide.Core.Simulation;

/// <summary>The switches of one run: what each should be at a time and state, against what the parameters say it is.</summary>
internal sealed unsafe class SwitchState(HybridModel hybrid, double[] parameters)
{
    private readonly double[] _wanted = new double[hybrid.Switches.Count + 1];
    private readonly int _first = hybrid.Network.ParameterCount;

    public int Count => hybrid.Switches.Count;

    /// <summary>Puts every switch to where a run starts.</summary>
    public void Begin(ReadOnlySpan<double> values)
    {
        for (var k = 0; k < values.Length; k++)
            parameters[_first + k] = double.IsNaN(values[k]) ? 0 : values[k];
    }

    /// <summary>Puts a switch of time where it belongs from now on.</summary>
    public void Turn(int index, double value) => parameters[_first + index] = value;

    /// <summary>Whether a switch that depends on the state is not as it should be.</summary>
    public bool Turned(double time, double* state, double* p) => First(time, state, p) >= 0;

    /// <summary>Puts all switches that depend on the state to what they should be; true where any was not.</summary>
    public bool Put(double time, double* state, double* p)
    {
        var first = First(time, state, p);
        if (first < 0)
            return false;
        for (var k = first; k < Count; k++)
        {
            if (!hybrid.Switches.Switches[k].TimeOnly)
                parameters[_first + k] = _wanted[k];
        }
        return true;
    }

    private int First(double time, double* state, double* p)
    {
        fixed (double* values = _wanted)
        {
            hybrid.Values(time, state, p, values);
        }
        for (var k = 0; k < Count; k++)
        {
            if (!hybrid.Switches.Switches[k].TimeOnly && _wanted[k] != parameters[_first + k])
                return k;
        }
        return -1;
    }
}
