namespace ClearTide.Core.Units;

/// <summary>A unit with unknowns in it: a known unit times powers of variables.</summary>
internal sealed record UnitTerm(Unit Known, IReadOnlyDictionary<int, double> Unknowns)
{
    private static readonly IReadOnlyDictionary<int, double> None = new Dictionary<int, double>();

    public static readonly UnitTerm Pure = new(Unit.Pure, None);

    public static UnitTerm Of(Unit unit) => new(unit, None);

    public static UnitTerm Variable(int variable) => new(Unit.Pure, new Dictionary<int, double> { [variable] = 1 });

    public bool IsKnown => Unknowns.Count == 0;

    /// <summary>The product with another term taken to a power.</summary>
    public UnitTerm Times(UnitTerm other, double power = 1)
    {
        if (other.IsKnown)
            return other.Known.Factors.Count == 0 ? this : new(Known.Times(other.Known, power), Unknowns);
        var unknowns = new Dictionary<int, double>(Unknowns);
        foreach (var (variable, own) in other.Unknowns)
        {
            var sum = unknowns.GetValueOrDefault(variable) + own * power;
            if (Math.Abs(sum) < 1e-9)
                unknowns.Remove(variable);
            else
                unknowns[variable] = sum;
        }
        return new(Known.Times(other.Known, power), unknowns);
    }

    public UnitTerm Per(UnitTerm other) => Times(other, -1);

    public UnitTerm ToPower(double power) => Pure.Times(this, power);
}
