using System.Reflection.Emit;
using ClearTide.Core.Expressions;
using ClearTide.Core.Sampling;

namespace ClearTide.Core.Stochastic;

/// <summary>
/// Runs all clocks to the next transition or to the limit, with rates that stand still meanwhile, and makes the transition.
/// </summary>
/// <param name="time">Where the stretch begins.</param>
/// <param name="state">The amounts; brought up to date.</param>
/// <param name="parameters">All parameters, in the order of the network.</param>
/// <param name="left">What is left on the clock of each process, in internal time; brought up to date.</param>
/// <param name="limit">Where it ends at the latest.</param>
/// <param name="reached">Receives the time reached.</param>
/// <param name="streams">The random stream of each process; the one that fires draws its next clock.</param>
/// <param name="net">How often each process has fired.</param>
/// <returns>
/// The process that fired, <see cref="ClockStep.None"/> at the limit, <see cref="ClockStep.Blocked"/> where the compartment it leaves
/// held less
/// than one unit, or <see cref="ClockStep.Unusual"/> (and nothing done) where a rate is negative, infinite or not a number.
/// </returns>
internal unsafe delegate int ClockStepFunction(
    double time,
    double* state,
    double* parameters,
    double* left,
    double limit,
    double* reached,
    RandomStream* streams,
    double* net
);

/// <summary>
/// Compiles the inner step of an exact simulation for one model: rates, waits, clocks and the transition itself in one method. Each process
/// fires in a branch of its own, at addresses known beforehand: the processor guesses the branch and goes on, where an index computed
/// from the
/// clocks would make every later load wait for it. Only for models of few processes; the method grows with them.
/// </summary>
internal static class ClockStep
{
    public const int None = -1;
    public const int Unusual = -2;
    public const int Blocked = -3;

    /// <summary>Beyond this many processes a loop over arrays is as fast.</summary>
    public const int MostProcesses = 24;

    private const byte State = 2,
        Left = 4,
        Limit = 5,
        Reached = 6,
        Streams = 7,
        Net = 8;

    /// <param name="graph">The expressions of the rates.</param>
    /// <param name="rates">The node of each process's rate.</param>
    /// <param name="ends">For each process the states it leaves and enters, or null for the outside.</param>
    public static ClockStepFunction Compile(ExpressionGraph graph, IReadOnlyList<int> rates, IReadOnlyList<(int? From, int? To)> ends)
    {
        unsafe
        {
            var method = new DynamicMethod(
                "clocks",
                typeof(int),
                [
                    typeof(TableFunction[]),
                    typeof(double),
                    typeof(double*),
                    typeof(double*),
                    typeof(double*),
                    typeof(double),
                    typeof(double*),
                    typeof(RandomStream*),
                    typeof(double*),
                ],
                typeof(ClockStep).Module,
                skipVisibility: true
            );
            Emit(method.GetILGenerator(), graph, rates, ends);
            return method.CreateDelegate<ClockStepFunction>(graph.Tables.ToArray());
        }
    }

    private static void Emit(ILGenerator il, ExpressionGraph graph, IReadOnlyList<int> rates, IReadOnlyList<(int? From, int? To)> ends)
    {
        var emitter = new GraphEmitter(graph, rates, il);
        var rate = rates.Select(_ => il.DeclareLocal(typeof(double))).ToArray();
        var (wait, until, next) = (il.DeclareLocal(typeof(double)), il.DeclareLocal(typeof(double)), il.DeclareLocal(typeof(int)));
        var unusual = il.DefineLabel();
        emitter.EmitShared();
        for (var k = 0; k < rates.Count; k++)
        {
            emitter.Load(rates[k]);
            il.Emit(OpCodes.Stloc, rate[k]);
        }
        il.Emit(OpCodes.Ldc_R8, double.PositiveInfinity);
        il.Emit(OpCodes.Stloc, wait);
        il.Emit(OpCodes.Ldc_I4, None);
        il.Emit(OpCodes.Stloc, next);
        for (var k = 0; k < rates.Count; k++)
            EmitWait(il, k, rate[k], wait, until, next, unusual);
        // No wait at all is a rate past all bounds, or two transitions closer than time can tell.
        il.Emit(OpCodes.Ldloc, wait);
        il.Emit(OpCodes.Ldc_R8, 0.0);
        il.Emit(OpCodes.Beq, unusual);
        EmitReach(il, wait, next);
        for (var k = 0; k < rates.Count; k++)
        {
            GraphEmitter.EmitAddress(il, Left, k);
            GraphEmitter.EmitAddress(il, Left, k);
            il.Emit(OpCodes.Ldind_R8);
            il.Emit(OpCodes.Ldloc, rate[k]);
            il.Emit(OpCodes.Ldloc, wait);
            il.Emit(OpCodes.Mul);
            il.Emit(OpCodes.Sub);
            il.Emit(OpCodes.Stind_R8);
        }
        var fires = rates.Select(_ => il.DefineLabel()).ToArray();
        il.Emit(OpCodes.Ldloc, next);
        il.Emit(OpCodes.Switch, fires);
        il.Emit(OpCodes.Ldc_I4, None);
        il.Emit(OpCodes.Ret);
        for (var k = 0; k < rates.Count; k++)
            EmitFire(il, k, ends[k], fires[k]);
        il.MarkLabel(unusual);
        il.Emit(OpCodes.Ldc_I4, Unusual);
        il.Emit(OpCodes.Ret);
    }

    /// <summary>The wait of one process, where its rate is above zero; a rate of zero never fires, any other is unusual.</summary>
    private static void EmitWait(
        ILGenerator il,
        int k,
        LocalBuilder rate,
        LocalBuilder wait,
        LocalBuilder until,
        LocalBuilder next,
        Label unusual
    )
    {
        var done = il.DefineLabel();
        var fires = il.DefineLabel();
        il.Emit(OpCodes.Ldloc, rate);
        il.Emit(OpCodes.Ldc_R8, 0.0);
        il.Emit(OpCodes.Bgt, fires);
        il.Emit(OpCodes.Ldloc, rate);
        il.Emit(OpCodes.Ldc_R8, 0.0);
        il.Emit(OpCodes.Bne_Un, unusual);
        il.Emit(OpCodes.Br, done);
        il.MarkLabel(fires);
        GraphEmitter.EmitAddress(il, Left, k);
        il.Emit(OpCodes.Ldind_R8);
        il.Emit(OpCodes.Ldloc, rate);
        il.Emit(OpCodes.Div);
        il.Emit(OpCodes.Stloc, until);
        il.Emit(OpCodes.Ldloc, until);
        il.Emit(OpCodes.Ldloc, wait);
        il.Emit(OpCodes.Bge_Un, done);
        il.Emit(OpCodes.Ldloc, until);
        il.Emit(OpCodes.Stloc, wait);
        il.Emit(OpCodes.Ldc_I4, k);
        il.Emit(OpCodes.Stloc, next);
        il.MarkLabel(done);
    }

    /// <summary>Draws the next clock of a process and makes its transition, if there is a unit to move.</summary>
    private static void EmitFire(ILGenerator il, int k, (int? From, int? To) ends, Label label)
    {
        var blocked = il.DefineLabel();
        il.MarkLabel(label);
        GraphEmitter.EmitAddress(il, Left, k);
        il.Emit(OpCodes.Ldarg_S, Streams);
        il.Emit(OpCodes.Ldc_I4, k * RandomStream.Size);
        il.Emit(OpCodes.Conv_I);
        il.Emit(OpCodes.Add);
        il.Emit(OpCodes.Call, typeof(RandomStream).GetMethod(nameof(RandomStream.NextExponential))!);
        il.Emit(OpCodes.Stind_R8);
        if (ends.From is { } source)
        {
            GraphEmitter.EmitAddress(il, State, source);
            il.Emit(OpCodes.Ldind_R8);
            il.Emit(OpCodes.Ldc_R8, 1.0);
            il.Emit(OpCodes.Blt, blocked);
            EmitAdd(il, State, source, -1);
        }
        if (ends.To is { } target)
            EmitAdd(il, State, target, 1);
        EmitAdd(il, Net, k, 1);
        il.Emit(OpCodes.Ldc_I4, k);
        il.Emit(OpCodes.Ret);
        il.MarkLabel(blocked);
        il.Emit(OpCodes.Ldc_I4, Blocked);
        il.Emit(OpCodes.Ret);
    }

    private static void EmitAdd(ILGenerator il, byte argument, int index, double amount)
    {
        GraphEmitter.EmitAddress(il, argument, index);
        GraphEmitter.EmitAddress(il, argument, index);
        il.Emit(OpCodes.Ldind_R8);
        il.Emit(OpCodes.Ldc_R8, amount);
        il.Emit(OpCodes.Add);
        il.Emit(OpCodes.Stind_R8);
    }

    /// <summary>Where the shortest wait ends before the limit, the time reached is its end; else the limit, and nothing fires.</summary>
    private static void EmitReach(ILGenerator il, LocalBuilder wait, LocalBuilder next)
    {
        var stops = il.DefineLabel();
        var done = il.DefineLabel();
        il.Emit(OpCodes.Ldarg_1);
        il.Emit(OpCodes.Ldloc, wait);
        il.Emit(OpCodes.Add);
        il.Emit(OpCodes.Ldarg_S, Limit);
        il.Emit(OpCodes.Bge_Un, stops);
        il.Emit(OpCodes.Ldarg_S, Reached);
        il.Emit(OpCodes.Ldarg_1);
        il.Emit(OpCodes.Ldloc, wait);
        il.Emit(OpCodes.Add);
        il.Emit(OpCodes.Stind_R8);
        il.Emit(OpCodes.Br, done);
        il.MarkLabel(stops);
        il.Emit(OpCodes.Ldarg_S, Limit);
        il.Emit(OpCodes.Ldarg_1);
        il.Emit(OpCodes.Sub);
        il.Emit(OpCodes.Stloc, wait);
        il.Emit(OpCodes.Ldc_I4, None);
        il.Emit(OpCodes.Stloc, next);
        il.Emit(OpCodes.Ldarg_S, Reached);
        il.Emit(OpCodes.Ldarg_S, Limit);
        il.Emit(OpCodes.Stind_R8);
        il.MarkLabel(done);
    }
}
