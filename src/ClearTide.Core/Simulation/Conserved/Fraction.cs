using System.Numerics;

namespace ClearTide.Core.Simulation;

/// <summary>An exact fraction in lowest terms with a positive denominator.</summary>
internal readonly record struct Fraction
{
    public Fraction(BigInteger numerator, BigInteger denominator)
    {
        var divisor = BigInteger.GreatestCommonDivisor(numerator, denominator);
        if (denominator.Sign < 0)
            divisor = -divisor;
        (Numerator, Denominator) = (numerator / divisor, denominator / divisor);
    }

    public BigInteger Numerator { get; }

    public BigInteger Denominator { get; }

    public bool IsZero => Numerator.IsZero;

    public static implicit operator Fraction(int whole) => new(whole, 1);

    public static Fraction operator +(Fraction a, Fraction b) =>
        new(a.Numerator * b.Denominator + b.Numerator * a.Denominator, a.Denominator * b.Denominator);

    public static Fraction operator *(Fraction a, Fraction b) => new(a.Numerator * b.Numerator, a.Denominator * b.Denominator);

    public static Fraction operator /(Fraction a, Fraction b) => new(a.Numerator * b.Denominator, a.Denominator * b.Numerator);

    public static Fraction operator -(Fraction a) => new(-a.Numerator, a.Denominator);
}
