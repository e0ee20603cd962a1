using System.Collections.Frozen;

namespace ClearTide.Core.Model;

/// <summary>
/// What one room does with each kind of part: an entry for every kind, or the table is not made. A kind that is added is missed here at
/// once, where a switch with a last arm for all else would pass it over in silence.
/// </summary>
/// <typeparam name="TContext">What there is to know besides the part.</typeparam>
/// <typeparam name="TResult">What the room makes of it.</typeparam>
public sealed class KindTable<TContext, TResult>
{
    private readonly FrozenDictionary<Type, Func<TContext, IPart, TResult>> _entries;

    private KindTable(Dictionary<Type, Func<TContext, IPart, TResult>> entries) => _entries = entries.ToFrozenDictionary();

    /// <summary>What is made of a part. Costs one look into a dictionary.</summary>
    /// <param name="context">What there is to know besides the part.</param>
    /// <param name="part">A part of any kind.</param>
    /// <exception cref="KeyNotFoundException">It is no part of a study.</exception>
    public TResult Of(TContext context, IPart part) => _entries[part.GetType()](context, part);

    /// <summary>A table that is being filled.</summary>
    public sealed class Filling
    {
        private readonly Dictionary<Type, Func<TContext, IPart, TResult>> _entries = [];

        /// <summary>Says what is made of the parts of one kind.</summary>
        /// <param name="make">Makes it, of the context and the part.</param>
        /// <exception cref="ArgumentException">There is an entry of this kind.</exception>
        public Filling On<T>(Func<TContext, T, TResult> make)
            where T : class, IPart
        {
            _entries.Add(typeof(T), (context, part) => make(context, (T)part));
            return this;
        }

        /// <summary>The table.</summary>
        /// <exception cref="InvalidOperationException">A kind of part has no entry; the message names it.</exception>
        public KindTable<TContext, TResult> Whole()
        {
            foreach (var kind in PartKinds.All)
            {
                if (!_entries.ContainsKey(kind.PartType))
                    throw new InvalidOperationException($"Nothing is said of the kind {kind.PartType.Name}.");
            }
            return new(_entries);
        }
    }
}
