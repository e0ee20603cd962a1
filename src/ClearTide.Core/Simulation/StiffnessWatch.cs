namespace ClearTide.Core.Simulation;

/// <summary>
/// Tells from the steps of the explicit method whether stability and not accuracy holds them down (Hairer and Wanner, Solving Ordinary
/// Differential Equations II, 2nd rev. ed., IV.2): fifteen suspicious steps, forgiven by six calm ones in a row.
/// </summary>
internal struct StiffnessWatch
{
    /// <summary>At this product of step and rate the explicit method is just below the edge of its stability on the negative real
    /// axis.</summary>
    public const double Suspicious = 3.25;

    private const int Suspicions = 15,
        Forgiven = 6;

    private int _suspicions,
        _calm;

    /// <summary>Takes note of one step.</summary>
    /// <returns>Whether the system is stiff by now.</returns>
    public bool Takes(bool isSuspicious)
    {
        if (isSuspicious)
        {
            _calm = 0;
            return ++_suspicions >= Suspicions;
        }
        if (++_calm >= Forgiven)
            _suspicions = 0;
        return false;
    }
}
