using System.Collections.Concurrent;
using ClearTide.Core.Language;

namespace ClearTide.Core.Units;

/// <summary>What a typed unit amounts to in a unit that the study computes in.</summary>
/// <param name="Scale">How many of the unit one of the typed one is.</param>
/// <param name="Unit">A unit that the study computes in.</param>
public readonly record struct ReadUnit(double Scale, Unit Unit);

/// <summary>
/// The unit words of a study: those built in (time, mass, volume, length, amount of substance, count nouns) and those it adds.
/// Times are read in the study's unit of time, and a unit that is a factor times another is read as the other.
/// </summary>
public sealed class UnitTable
{
    private readonly Dictionary<string, ReadUnit> _words = new(BuiltIn);
    private static readonly Dictionary<string, ReadUnit> BuiltIn = Built();
    private static readonly IReadOnlyDictionary<TimeUnit, UnitTable> Plain = TimeUnit.All.ToDictionary(
        unit => unit,
        unit => new UnitTable(unit, [])
    );

    /// <summary>So many typed units are remembered with what they mean.</summary>
    private const int MostRead = 2_000;

    // The words of a table do not change once it is made, and the same few units stand in many lines of a study.
    private readonly ConcurrentDictionary<UnitText, ReadUnit> _read = [];

    /// <param name="time">The study's unit of time.</param>
    /// <param name="rules">The study's own units, each of which may use those before it. Rules that cannot be read are left out and told
    /// by <see cref="Problems"/>.</param>
    public UnitTable(TimeUnit time, IReadOnlyList<UnitRule> rules)
    {
        (Time, TimeMeasure) = (time, Unit.Of(UnitAtom.Of(time)));
        var problems = new List<(UnitRule Rule, string Message)>();
        foreach (var rule in rules)
        {
            if (Add(rule) is { } problem)
                problems.Add((rule, problem));
        }
        Problems = problems;
    }

    /// <summary>The units built in, with times counted in one of them.</summary>
    /// <param name="time">The unit that times are counted in.</param>
    public static UnitTable Of(TimeUnit time) => Plain[time];

    /// <summary>The unit that times are counted in.</summary>
    public TimeUnit Time { get; }

    /// <summary>The study's unit of time as a unit.</summary>
    public Unit TimeMeasure { get; }

    /// <summary>What is wrong with the study's own units.</summary>
    public IReadOnlyList<(UnitRule Rule, string Message)> Problems { get; }

    /// <summary>All words that name a unit.</summary>
    public IEnumerable<string> Known => _words.Keys;

    /// <summary>Whether a word is one of its units.</summary>
    /// <param name="word">The word, in singular or plural.</param>
    public bool Knows(string word) => _words.ContainsKey(Symbols.Normalize(word));

    /// <summary>The first word of a typed unit that names no unit, or null.</summary>
    /// <param name="text">The unit as it was read.</param>
    public UnitWord? Unknown(UnitText text) => text.Words.FirstOrDefault(word => !Knows(word.Word));

    /// <summary>What one of a typed unit is; a word that is not known counts as one of nothing in particular (it is reported
    /// elsewhere).</summary>
    /// <param name="text">The unit as it was read.</param>
    public ReadUnit Read(UnitText text)
    {
        if (_read.TryGetValue(text, out var known))
            return known;
        if (_read.Count >= MostRead)
            _read.Clear();
        return _read[text] = LookUp(text);
    }

    private ReadUnit LookUp(UnitText text)
    {
        var (scale, unit) = (1.0, Unit.Pure);
        foreach (var word in text.Words)
        {
            if (!_words.TryGetValue(Symbols.Normalize(word.Word), out var known))
                continue;
            scale *= Math.Pow(known.Scale, word.Power);
            foreach (var (atom, power) in known.Unit.Factors)
            {
                var own = atom;
                if (atom.IsTime)
                {
                    scale *= Math.Pow(atom.Size / Time.Seconds, power * word.Power);
                    own = TimeMeasure.Factors[0].Atom;
                }
                unit = unit.Times(Unit.Of(own), power * word.Power);
            }
        }
        return new(scale, unit);
    }

    /// <summary>Reads a unit that stands alone, as in a unit field: <c>mg/L</c>, <c>people per day</c>, <c>1/day</c>. Null unit where it
    /// cannot be read.</summary>
    /// <param name="text">The text as typed.</param>
    public (ReadUnit? Unit, FormulaProblem? Problem) ReadAlone(string text)
    {
        if (text.Trim().Length == 0)
            return (null, null);
        var (parts, problem) = UnitReader.Read(text);
        if (parts is null)
            return (null, problem);
        if (Unknown(parts) is { } unknown)
        {
            var near = Nearest(unknown.Word);
            TextFix[] fixes = near is null ? [] : [new($"Write “{near}”", text[..unknown.Span.Start] + near + text[unknown.Span.End..])];
            return (
                null,
                new(
                    unknown.Span,
                    $"There is no unit “{unknown.Word}”."
                        + (
                            near is null ? " Add it to the study's units, or take another."
                            : IsTime(near) ? $" Add it to the study's units, if that is what is counted, or write “{near}”."
                            : $" Did you mean “{near}”?"
                        ),
                    fixes
                )
            );
        }
        return (Read(parts), null);
    }

    /// <summary>The known unit word nearest to a mistyped one, or null.</summary>
    /// <param name="word">As typed.</param>
    /// <param name="times">Whether it may be a unit of time; where amounts are typed it is not.</param>
    public string? Nearest(string word, bool times = true) =>
        word.Length <= 2
            ? null
            : Symbols.Nearest(
                word,
                _words
                    .Where(known => known.Key.Length > 2 && (times || !known.Value.Unit.Factors.All(factor => factor.Atom.IsTime)))
                    .Select(known => known.Key)
            );

    /// <summary>Whether a word is a unit of time: a noun for what is counted may be spelled much like one.</summary>
    internal bool IsTime(string word) =>
        _words.TryGetValue(Symbols.Normalize(word), out var known) && known.Unit.Factors is [{ Atom.IsTime: true }];

    private string? Add(UnitRule rule)
    {
        var word = Symbols.Normalize(rule.Word.Trim());
        if (Refusal(word) is { } refusal)
            return refusal;
        // A study may say what one of its animals or cells is; days and grams mean the same everywhere.
        if (BuiltIn.TryGetValue(word, out var known) && _words[word].Equals(known) && IsNoun(known.Unit) && rule.Meaning.Trim().Length > 0)
        {
            foreach (var spelling in BuiltIn.Where(pair => pair.Value.Unit.Equals(known.Unit)).Select(pair => pair.Key))
                _words.Remove(spelling);
        }
        else if (BuiltIn.ContainsKey(word))
            return $"“{word}” is a unit already, the same in every study. Choose another word.";
        else if (_words.ContainsKey(word))
            return $"“{word}” is a unit of this study already. Change it there, or choose another word.";
        if (rule.Meaning.Trim().Length == 0)
        {
            AddForms(word, Unit.Of(UnitAtom.Noun(word, Plurals.Of(word))));
            return null;
        }
        var (number, text, problem) = UnitReader.ReadScaled(rule.Meaning);
        if (text is null)
            return problem!.Message;
        if (Unknown(text) is { } unknown)
            return $"There is no unit “{unknown.Word}” to say what “{word}” is.";
        var meant = ReadUntimed(text);
        foreach (var form in Forms(word))
            _words.TryAdd(form, meant with { Scale = meant.Scale * number });
        return null;
    }

    private static bool IsNoun(Unit unit) =>
        unit.Factors is [{ Power: 1, Atom: { } atom }] && atom.Equals(UnitAtom.Noun(atom.Singular, atom.Plural));

    /// <summary>The unit of a typed text with its times left as they are: they are converted where the rule is used.</summary>
    private ReadUnit ReadUntimed(UnitText text)
    {
        var (scale, unit) = (1.0, Unit.Pure);
        foreach (var word in text.Words)
        {
            var known = _words[Symbols.Normalize(word.Word)];
            scale *= Math.Pow(known.Scale, word.Power);
            unit = unit.Times(known.Unit, word.Power);
        }
        return new(scale, unit);
    }

    /// <summary>Null if a word may name a unit, else a sentence that says what to do.</summary>
    /// <param name="word">The word, in singular or plural.</param>
    public static string? Refusal(string word) =>
        word.Length is 0 or > 30 ? "A unit has between 1 and 30 letters."
        : !word.All(c => char.IsLetter(c)) ? $"“{word}” cannot be a unit: use letters only."
        : Symbols.Reserved.Contains(word) ? $"“{word}” has a meaning of its own in lines; choose another word."
        : null;

    private void AddForms(string word, Unit unit)
    {
        foreach (var form in Forms(word))
            _words.TryAdd(form, new(1, unit));
    }

    private static IEnumerable<string> Forms(string word) => [word, Plurals.Of(word)];

    private static Dictionary<string, ReadUnit> Built()
    {
        var words = new Dictionary<string, ReadUnit>(StringComparer.Ordinal);
        void Put(UnitAtom atom, params string[] spellings)
        {
            foreach (var spelling in (string[])[atom.Singular, atom.Plural, .. spellings])
                words[Symbols.Normalize(spelling)] = new(1, Unit.Of(atom));
        }
        foreach (var spelling in TimeUnit.Known)
            words[spelling] = new(1, Unit.Of(UnitAtom.Of(TimeUnit.Find(spelling)!)));
        void Scaled(string name, string dimension, double power, double size, params string[] spellings) =>
            Put(new(name, name, [(dimension, power)], size), spellings);
        foreach (var (prefix, factor) in new[] { ("k", 1e3), ("", 1.0), ("m", 1e-3), ("u", 1e-6), ("n", 1e-9) })
        {
            Scaled(prefix + "g", "mass", 1, factor);
            Scaled(prefix + "mol", "substance", 1, factor);
        }
        foreach (var (prefix, factor) in new[] { ("", 1.0), ("d", 0.1), ("m", 1e-3), ("u", 1e-6) })
            Scaled(prefix + "L", "length", 3, factor * 1e-3, prefix + "l");
        foreach (var (prefix, factor) in new[] { ("k", 1e3), ("", 1.0), ("c", 1e-2), ("m", 1e-3) })
            Scaled(prefix + "m", "length", 1, factor);
        words["mcg"] = words[Symbols.Normalize("µg")] = words["ug"];
        words[Symbols.Normalize("µmol")] = words["umol"];
        words[Symbols.Normalize("µL")] = words["uL"];
        words["gram"] = words["grams"] = words["g"];
        words["liter"] = words["liters"] = words["litre"] = words["litres"] = words["L"];
        words["mole"] = words["moles"] = words["mol"];
        words["ha"] = new(1, Unit.Of(new UnitAtom("ha", "ha", [("length", 2)], 1e4)));
        foreach (
            var (one, many) in new[]
            {
                ("person", "people"),
                ("individual", "individuals"),
                ("animal", "animals"),
                ("bee", "bees"),
                ("colony", "colonies"),
                ("cell", "cells"),
                ("case", "cases"),
            }
        )
        {
            Put(UnitAtom.Noun(one, many));
        }
        words["persons"] = words["person"];
        return words;
    }
}
