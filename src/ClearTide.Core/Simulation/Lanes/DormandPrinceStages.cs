using ClearTide.Core.Expressions;
using static ClearTide.Core.Simulation.DormandPrinceTable;

namespace ClearTide.Core.Simulation;

/// <summary>
/// The arithmetic of one step of Dormand and Prince over vectors of lanes: stages, scaled error, continuous output and the estimate of
/// stiffness. Stepping and what is done with the errors is the solver's. All vectors have as many entries as the solver says; sources with
/// the coefficients in <see cref="DormandPrinceTable"/>.
/// </summary>
internal unsafe struct DormandPrinceStages<T>
    where T : unmanaged, ILanes<T>
{
    /// <summary>The state at the start of the step that is tried.</summary>
    public T* Y;

    /// <summary>The state before the step that was accepted last.</summary>
    public T* Before;

    /// <summary>The argument of a stage; after <see cref="Try"/> the state at the end of the step.</summary>
    public T* Stage;

    /// <summary>Absolute tolerance of each entry; no lane is zero, whatever is behind the last entry.</summary>
    public T* Absolute;

    public T* K1,
        K2,
        K3,
        K4,
        K5,
        K6,
        K7;

    /// <summary>
    /// The continuous output of the last step, y0 + s (q1 + (1 - s) (q2 + s (q3 + (1 - s) q4))), once <see cref="Interpolate"/> was called.
    /// </summary>
    public T* Q1,
        Q2,
        Q3,
        Q4;

    /// <summary>The last slope of one step is the first of the next: the two change places instead of being copied.</summary>
    public void Swap()
    {
        var first = K1;
        K1 = K7;
        K7 = first;
    }

    /// <summary>Computes a step of length <paramref name="h"/> into <see cref="Stage"/>, and its slopes; K1 stands for its start.</summary>
    /// <param name="f">The right-hand side.</param>
    /// <param name="t">Where the step begins.</param>
    /// <param name="h">Its length.</param>
    /// <param name="p">All parameters, in the order of the network.</param>
    /// <param name="relative">The relative tolerance.</param>
    /// <param name="n">How many entries there are.</param>
    /// <returns>Lane by lane the sum of the squares of errors over atol + rtol · |y|.</returns>
    public readonly T Try(VectorFunction f, double t, double h, double* p, double relative, int n)
    {
        T* y = Y,
            s = Stage,
            k1 = K1,
            k2 = K2,
            k3 = K3,
            k4 = K4,
            k5 = K5,
            k6 = K6,
            k7 = K7;
        var step = T.Of(h);
        for (var i = 0; i < n; i++)
            s[i] = y[i] + T.Of(h * A21) * k1[i];
        f(t + C2 * h, (double*)s, p, (double*)k2);
        for (var i = 0; i < n; i++)
            s[i] = y[i] + step * (T.Of(A31) * k1[i] + T.Of(A32) * k2[i]);
        f(t + C3 * h, (double*)s, p, (double*)k3);
        for (var i = 0; i < n; i++)
            s[i] = y[i] + step * (T.Of(A41) * k1[i] + T.Of(A42) * k2[i] + T.Of(A43) * k3[i]);
        f(t + C4 * h, (double*)s, p, (double*)k4);
        for (var i = 0; i < n; i++)
            s[i] = y[i] + step * (T.Of(A51) * k1[i] + T.Of(A52) * k2[i] + T.Of(A53) * k3[i] + T.Of(A54) * k4[i]);
        f(t + C5 * h, (double*)s, p, (double*)k5);
        for (var i = 0; i < n; i++)
            s[i] = y[i] + step * (T.Of(A61) * k1[i] + T.Of(A62) * k2[i] + T.Of(A63) * k3[i] + T.Of(A64) * k4[i] + T.Of(A65) * k5[i]);
        f(t + h, (double*)s, p, (double*)k6);
        for (var i = 0; i < n; i++)
            s[i] = y[i] + step * (T.Of(B1) * k1[i] + T.Of(B3) * k3[i] + T.Of(B4) * k4[i] + T.Of(B5) * k5[i] + T.Of(B6) * k6[i]);
        f(t + h, (double*)s, p, (double*)k7);
        return Error(h, relative, n);
    }

    /// <summary>A method of its own, since the compiler takes only so many operators into one.</summary>
    private readonly T Error(double h, double relative, int n)
    {
        T* y = Y,
            s = Stage,
            k1 = K1,
            k3 = K3,
            k4 = K4,
            k5 = K5,
            k6 = K6,
            k7 = K7;
        var step = T.Of(h);
        var (sum, share) = (T.Of(0), T.Of(relative));
        var absolute = Absolute;
        for (var i = 0; i < n; i++)
        {
            var e =
                step * (T.Of(E1) * k1[i] + T.Of(E3) * k3[i] + T.Of(E4) * k4[i] + T.Of(E5) * k5[i] + T.Of(E6) * k6[i] + T.Of(E7) * k7[i]);
            var scaled = e / (absolute[i] + share * T.Max(T.Abs(y[i]), T.Abs(s[i])));
            sum += scaled * scaled;
        }
        return sum;
    }

    /// <summary>Makes the continuous output of the step that was accepted last: its K1 stands in K7, and the other way round.</summary>
    /// <param name="h">Its length.</param>
    /// <param name="n">How many entries there are.</param>
    public readonly void Interpolate(double h, int n)
    {
        T* y = Y,
            before = Before,
            k1 = K7,
            k3 = K3,
            k4 = K4,
            k5 = K5,
            k6 = K6,
            k7 = K1,
            q1 = Q1,
            q2 = Q2,
            q3 = Q3,
            q4 = Q4;
        var step = T.Of(h);
        for (var i = 0; i < n; i++)
        {
            var difference = y[i] - before[i];
            var bulge = step * k1[i] - difference;
            q1[i] = difference;
            q2[i] = bulge;
            q3[i] = difference - step * k7[i] - bulge;
            q4[i] =
                step * (T.Of(D1) * k1[i] + T.Of(D3) * k3[i] + T.Of(D4) * k4[i] + T.Of(D5) * k5[i] + T.Of(D6) * k6[i] + T.Of(D7) * k7[i]);
        }
    }

    /// <summary>The state within the last step, from its continuous output.</summary>
    /// <param name="s">How much of the step has gone by, from 0 to 1.</param>
    /// <param name="state">Receives n states.</param>
    /// <param name="n">How many entries there are.</param>
    public readonly void At(double s, T* state, int n)
    {
        T* before = Before,
            q1 = Q1,
            q2 = Q2,
            q3 = Q3,
            q4 = Q4;
        var (here, rest) = (T.Of(s), T.Of(1 - s));
        for (var i = 0; i < n; i++)
            state[i] = before[i] + here * (q1[i] + rest * (q2[i] + here * (q3[i] + rest * q4[i])));
    }

    /// <summary>
    /// Squares of the difference of the last two slopes of the step that was accepted last, and of that of the states which they belong
    /// to: the root of their ratio estimates the largest rate in the system (Hairer and Wanner, Solving Ordinary Differential Equations
    /// II, 2nd rev. ed., IV.2, formula 2.8).
    /// </summary>
    /// <param name="h">The length of the step.</param>
    /// <param name="n">How many entries there are.</param>
    public readonly (T Change, T Distance) Stiffness(double h, int n)
    {
        T* y = Y,
            before = Before,
            k1 = K7,
            k2 = K2,
            k3 = K3,
            k4 = K4,
            k5 = K5,
            k6 = K6,
            k7 = K1;
        var (step, change, distance) = (T.Of(h), T.Of(0), T.Of(0));
        for (var i = 0; i < n; i++)
        {
            var stage =
                before[i] + step * (T.Of(A61) * k1[i] + T.Of(A62) * k2[i] + T.Of(A63) * k3[i] + T.Of(A64) * k4[i] + T.Of(A65) * k5[i]);
            var (turn, way) = (k7[i] - k6[i], y[i] - stage);
            change += turn * turn;
            distance += way * way;
        }
        return (change, distance);
    }
}
