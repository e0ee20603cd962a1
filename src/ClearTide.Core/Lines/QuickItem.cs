using System.Collections.Immutable;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Core.Lines;

/// <summary>One item of the quick line. <paramref name="Trees"/> are all formulas in it, with spans that count from the start of
/// <paramref name="Text"/>.</summary>
/// <param name="Text">The item as typed.</param>
/// <param name="Trees">All formulas in it.</param>
public abstract record QuickItem(string Text, IReadOnlyList<Syntax> Trees);

/// <summary>One end of a typed flow: a symbol or null for the outside, with its share as typed.</summary>
internal sealed record QuickTarget(string? Symbol, string Share);

/// <summary><c>S -> E : beta * S * I / N</c>; a missing end is the outside.</summary>
internal sealed record QuickFlow(
    string Text,
    IReadOnlyList<Syntax> Trees,
    string? From,
    IReadOnlyList<QuickTarget> To,
    RateKind Kind,
    string Line,
    Syntax Tree,
    int Stages,
    bool Limited,
    string Noise
) : QuickItem(Text, Trees);

/// <summary><c>reaction r: A + 2 B -> C : k * A * B</c>.</summary>
/// <param name="Text">The whole line.</param>
/// <param name="Trees">The formulas in it.</param>
/// <param name="Symbol">Of the reaction.</param>
/// <param name="Line">What comes behind the colon.</param>
/// <param name="Ends">Symbols of what it takes and makes.</param>
internal sealed record QuickReaction(string Text, IReadOnlyList<Syntax> Trees, string Symbol, string Line, IReadOnlyList<string> Ends)
    : QuickItem(Text, Trees);

/// <summary><c>S(0) = 18388</c> or <c>S(0) = the rest of 18400</c>.</summary>
internal sealed record QuickStart(string Text, IReadOnlyList<Syntax> Trees, string Symbol, string Line) : QuickItem(Text, Trees);

/// <summary><c>next N = N * exp(r * (1 - N / K))</c>.</summary>
internal sealed record QuickNext(string Text, IReadOnlyList<Syntax> Trees, string Symbol, string Line) : QuickItem(Text, Trees);

/// <summary><c>gamma = 1/5 per day</c>.</summary>
internal sealed record QuickDefinition(string Text, IReadOnlyList<Syntax> Trees, string Symbol, string Line) : QuickItem(Text, Trees);

/// <summary><c>vaccination = points 0 0, 30 100</c>.</summary>
internal sealed record QuickInput(string Text, IReadOnlyList<Syntax> Trees, string Symbol, PointsLine Points) : QuickItem(Text, Trees);

/// <summary><c>crowding(x) = hill(1, 0, 0.5, 4)</c> or by points.</summary>
internal sealed record QuickCurve(
    string Text,
    IReadOnlyList<Syntax> Trees,
    string Symbol,
    CurveLaw Law,
    PointsLine? Points,
    ImmutableArray<string> Lines,
    string From,
    string Until
) : QuickItem(Text, Trees);

/// <summary><c>noise = normal(1, 0.2) every 7 days</c>.</summary>
internal sealed record QuickRandom(string Text, IReadOnlyList<Syntax> Trees, string Symbol, string Line) : QuickItem(Text, Trees);

/// <summary><c>at 30: S -> V : 400</c>.</summary>
internal sealed record QuickEvent(string Text, IReadOnlyList<Syntax> Trees) : QuickItem(Text, Trees);

/// <summary><c>assume: immunity lasts</c> or <c>expect: R never falls</c>.</summary>
internal sealed record QuickStatement(string Text, bool Expected, string Statement) : QuickItem(Text, []);

/// <summary><c>unit tablet = 200 mg</c>, <c>unit villager</c>.</summary>
internal sealed record QuickUnit(string Text, UnitRule Rule) : QuickItem(Text, []);

/// <summary><c>group age = child, adult, old</c>.</summary>
internal sealed record QuickGroup(string Text, string Symbol, IReadOnlyList<string> Members) : QuickItem(Text, []);

/// <summary><c>split S, E, I, R by age</c>.</summary>
/// <param name="Text">The whole line.</param>
/// <param name="Symbols">What is split; empty for all compartments.</param>
/// <param name="Group">Symbol of the group.</param>
internal sealed record QuickSplit(string Text, IReadOnlyList<string> Symbols, string Group) : QuickItem(Text, []);

/// <summary><c>along age after 5 years</c>, <c>among place at M[place, to]</c>.</summary>
internal sealed record QuickPassage(
    string Text,
    IReadOnlyList<Syntax> Trees,
    PassageKind Kind,
    string Group,
    RateKind RateKind,
    string Rate
) : QuickItem(Text, Trees);

/// <summary><c>C[age, age] = table 7.4 4.9, 2.1 6.7 per day</c>: a value with a line for each member, the last index fastest.</summary>
internal sealed record QuickTable(string Text, string Symbol, IReadOnlyList<IReadOnlyList<string>> Rows) : QuickItem(Text, []);
