namespace ClearTide.Core.Simulation;

/// <summary>
/// Coefficients of the pair 5(4) of Dormand and Prince: nodes C, stages A, weights B of order 5 and E, their difference from those of
/// order 4
/// (Hairer, Nørsett, Wanner, Solving Ordinary Differential Equations I, 2nd ed., II.5, table 5.2), and D of the continuous output of
/// order 4
/// (II.6, as in the published code DOPRI5).
/// </summary>
internal static class DormandPrinceTable
{
    public const double C2 = 1.0 / 5,
        C3 = 3.0 / 10,
        C4 = 4.0 / 5,
        C5 = 8.0 / 9;
    public const double A21 = 1.0 / 5;
    public const double A31 = 3.0 / 40,
        A32 = 9.0 / 40;
    public const double A41 = 44.0 / 45,
        A42 = -56.0 / 15,
        A43 = 32.0 / 9;
    public const double A51 = 19372.0 / 6561,
        A52 = -25360.0 / 2187,
        A53 = 64448.0 / 6561,
        A54 = -212.0 / 729;
    public const double A61 = 9017.0 / 3168,
        A62 = -355.0 / 33,
        A63 = 46732.0 / 5247,
        A64 = 49.0 / 176,
        A65 = -5103.0 / 18656;
    public const double B1 = 35.0 / 384,
        B3 = 500.0 / 1113,
        B4 = 125.0 / 192,
        B5 = -2187.0 / 6784,
        B6 = 11.0 / 84;
    public const double E1 = 71.0 / 57600,
        E3 = -71.0 / 16695,
        E4 = 71.0 / 1920,
        E5 = -17253.0 / 339200,
        E6 = 22.0 / 525,
        E7 = -1.0 / 40;
    public const double D1 = -12715105075.0 / 11282082432,
        D3 = 87487479700.0 / 32700410799,
        D4 = -10690763975.0 / 1880347072;
    public const double D5 = 701980252875.0 / 199316789632,
        D6 = -1453857185.0 / 822651844,
        D7 = 69997945.0 / 29380423;
}
