using System.Buffers.Binary;
using System.Numerics;
using System.Security.Cryptography;
using System.Text;

namespace ClearTide.Core.Sampling;

/// <summary>
/// A stream of random numbers: xoshiro256++ (Blackman and Vigna, ACM Trans. Math. Softw. 47, 2021, article 36), seeded by the SHA-256
/// hash of
/// (seed, replicate, purpose, id, direction), so that neighbouring streams have nothing in common. A mutable structure: pass it by
/// reference.
/// </summary>
internal struct RandomStream
{
    /// <summary>Bytes of one stream, for code that walks a row of them.</summary>
    internal const int Size = 32;

    private ulong _s0,
        _s1,
        _s2,
        _s3;

    /// <param name="seed">Of the study.</param>
    /// <param name="replicate">Number of the run, from 0.</param>
    /// <param name="purpose">What the numbers are for: “transition”, “rounding”.</param>
    /// <param name="id">Which part they belong to.</param>
    /// <param name="direction">0 forwards, 1 backwards, for what a process does both ways.</param>
    public RandomStream(long seed, int replicate, string purpose, string id, int direction = 0)
    {
        Span<byte> hash = stackalloc byte[32];
        SHA256.HashData(Encoding.UTF8.GetBytes($"{seed}\0{replicate}\0{purpose}\0{id}\0{direction}"), hash);
        _s0 = BinaryPrimitives.ReadUInt64LittleEndian(hash);
        _s1 = BinaryPrimitives.ReadUInt64LittleEndian(hash[8..]);
        _s2 = BinaryPrimitives.ReadUInt64LittleEndian(hash[16..]);
        _s3 = BinaryPrimitives.ReadUInt64LittleEndian(hash[24..]);
    }

    /// <summary>64 random bits.</summary>
    public ulong NextBits()
    {
        var result = BitOperations.RotateLeft(_s0 + _s3, 23) + _s0;
        var t = _s1 << 17;
        _s2 ^= _s0;
        _s3 ^= _s1;
        _s1 ^= _s2;
        _s0 ^= _s3;
        _s2 ^= t;
        _s3 = BitOperations.RotateLeft(_s3, 45);
        return result;
    }

    /// <summary>A uniform number in [0, 1), a multiple of 2^-53.</summary>
    public double NextUniform() => (NextBits() >> 11) * (1.0 / (1UL << 53));

    /// <summary>
    /// An exponential number with mean one, by the ziggurat method (Marsaglia and Tsang, J. Stat. Softw. 5(8), 2000): 256 layers of equal
    /// area
    /// under exp(-x). Layer and position come from different bits of one draw.
    /// </summary>
    public double NextExponential()
    {
        var tail = 0.0;
        while (true)
        {
            var bits = NextBits();
            var layer = (int)(bits & 255);
            var x = (bits >> 11) * (1.0 / (1UL << 53)) * Ziggurat.X[layer];
            if (x < Ziggurat.X[layer + 1])
                return tail + x;
            if (layer == 0)
            {
                // Beyond the last layer the law is the same again, shifted.
                tail += Ziggurat.R;
                continue;
            }
            if (Ziggurat.Y[layer] + NextUniform() * (Ziggurat.Y[layer + 1] - Ziggurat.Y[layer]) < Math.Exp(-x))
                return tail + x;
        }
    }

    /// <summary>The layers: X descending from the base, Y = exp(-X).</summary>
    private static class Ziggurat
    {
        /// <summary>Right end of the base layer and area of each layer, Marsaglia and Tsang 2000, section 3.</summary>
        public const double R = 7.69711747013104972,
            Area = 0.0039496598225815571993;

        public static readonly double[] X = new double[257];
        public static readonly double[] Y = new double[257];

        static Ziggurat()
        {
            X[0] = Area / Math.Exp(-R);
            X[1] = R;
            for (var k = 2; k < 256; k++)
                X[k] = -Math.Log(Math.Exp(-X[k - 1]) + Area / X[k - 1]);
            X[256] = 0;
            for (var k = 1; k <= 256; k++)
                Y[k] = Math.Exp(-X[k]);
        }
    }
}
