using System.Globalization;

namespace ClearTide.Core.Units;

/// <summary>
/// A unit: a product of powers of named units. Two units agree when their dimensions and sizes do, whatever their names
/// (the quantity calculus of The International System of Units, 9th edition, section 2.1).
/// </summary>
public sealed class Unit : IEquatable<Unit>
{
    /// <summary>Powers this close are the same: a third taken three times is one.</summary>
    private const double PowerTolerance = 1e-9;

    /// <summary>Sizes are products of a few exact factors; rounding moves them by less than this share.</summary>
    private const double SizeTolerance = 1e-9;

    /// <summary>No unit: a pure number.</summary>
    public static readonly Unit Pure = new([]);

    private Unit(IReadOnlyList<(UnitAtom Atom, double Power)> factors) => Factors = factors;

    /// <summary>Each named unit once, with its power, in order of appearance.</summary>
    public IReadOnlyList<(UnitAtom Atom, double Power)> Factors { get; }

    /// <summary>A unit that is a power of one atom.</summary>
    /// <param name="atom">The unit that it is a power of.</param>
    /// <param name="power">Any number but 0.</param>
    public static Unit Of(UnitAtom atom, double power = 1) => new([(atom, power)]);

    /// <summary>The product of two units, the second taken to a power.</summary>
    /// <param name="other">The other unit.</param>
    /// <param name="power">That the other is taken to.</param>
    public Unit Times(Unit other, double power = 1)
    {
        if (other.Factors.Count == 0)
            return this;
        if (Factors.Count == 0 && power == 1)
            return other;
        var factors = new List<(UnitAtom Atom, double Power)>(Factors.Count + other.Factors.Count);
        factors.AddRange(Factors);
        foreach (var (atom, own) in other.Factors)
        {
            var at = factors.Count - 1;
            while (at >= 0 && !factors[at].Atom.Equals(atom))
                at--;
            if (at < 0)
                factors.Add((atom, own * power));
            else
                factors[at] = (atom, factors[at].Power + own * power);
        }
        factors.RemoveAll(static factor => Math.Abs(factor.Power) < PowerTolerance);
        return factors.Count == 0 ? Pure : new(factors);
    }

    /// <summary>This divided by another.</summary>
    /// <param name="other">The unit to divide by.</param>
    public Unit Per(Unit other) => Times(other, -1);

    /// <summary>This to a power.</summary>
    internal Unit ToPower(double power) => Pure.Times(this, power);

    // A unit never changes, and what it measures is asked for many times: two that work it out at once come to the same.
    private IReadOnlyDictionary<string, double>? _dimension;

    /// <summary>Base dimensions with their powers, those that cancel left out.</summary>
    public IReadOnlyDictionary<string, double> Dimension() => _dimension ??= Summed();

    private SortedDictionary<string, double> Summed()
    {
        var sum = new SortedDictionary<string, double>(StringComparer.Ordinal);
        foreach (var (atom, power) in Factors)
        {
            foreach (var (name, own) in atom.Dimension)
                sum[name] = sum.GetValueOrDefault(name) + own * power;
        }
        foreach (var name in sum.Where(pair => Math.Abs(pair.Value) < PowerTolerance).Select(pair => pair.Key).ToList())
            sum.Remove(name);
        return sum;
    }

    /// <summary>How many of the dimensions' own measures one of this unit is.</summary>
    public double Size
    {
        get
        {
            var size = 1.0;
            foreach (var (atom, power) in Factors)
                size *= Math.Pow(atom.Size, power);
            return size;
        }
    }

    /// <summary>The power of time in this unit: 1 for days, -1 for 1/day.</summary>
    public double TimePower => Dimension().GetValueOrDefault(UnitAtom.Time);

    /// <summary>Whether it is a plain number.</summary>
    public bool IsPure => Dimension().Count == 0 && Math.Abs(Size - 1) < SizeTolerance;

    /// <summary>Whether both measure the same kind of thing, in whatever size.</summary>
    internal bool HasDimensionOf(Unit other)
    {
        var (a, b) = (Dimension(), other.Dimension());
        return a.Count == b.Count && a.All(pair => b.TryGetValue(pair.Key, out var power) && Math.Abs(power - pair.Value) < PowerTolerance);
    }

    /// <summary>Whether a number in one unit is the same number in the other.</summary>
    /// <param name="other">What it is compared with.</param>
    public bool Agrees(Unit other) => HasDimensionOf(other) && Math.Abs(Size / other.Size - 1) < SizeTolerance;

    /// <summary>Units are the same where they agree in kind and size.</summary>
    /// <param name="other">What it is compared with.</param>
    public bool Equals(Unit? other) => other is not null && Agrees(other);

    /// <inheritdoc/>
    public override bool Equals(object? other) => Equals(other as Unit);

    /// <inheritdoc/>
    public override int GetHashCode() => Dimension().Count;

    /// <summary>The unit as it is typed: <c>mg/L</c>, <c>people^2/day</c>, <c>1/day</c>; empty for a pure number.</summary>
    /// <param name="many">Whether nouns above the line stand in the plural.</param>
    public string Text(bool many = true)
    {
        string One((UnitAtom Atom, double Power) factor, bool plural)
        {
            var power = Math.Abs(factor.Power);
            var name = plural ? factor.Atom.Plural : factor.Atom.Singular;
            return Math.Abs(power - 1) < PowerTolerance ? name : $"{name}^{power.ToString("0.###", CultureInfo.InvariantCulture)}";
        }
        // Time stands last, as it is said: people a day.
        var ordered = Factors.OrderBy(factor => factor.Atom.IsTime).ToList();
        var above = ordered.Where(factor => factor.Power > 0).ToList();
        var below = ordered.Where(factor => factor.Power < 0).Select(factor => "/" + One(factor, false));
        var over = above.Select((factor, k) => One(factor, many && k == above.Count - 1));
        return Factors.Count == 0 ? "" : (above.Count == 0 ? "1" : string.Join("·", over)) + string.Concat(below);
    }

    /// <inheritdoc/>
    public override string ToString() => Text();
}
