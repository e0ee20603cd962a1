namespace ClearTide.Core.Units;

/// <summary>How two units compare that should agree.</summary>
internal enum Agreement
{
    Agree,
    OtherSize,
    Disagree,
}

/// <summary>
/// Solves equations between units with unknowns, one after the other: unification in the free abelian group of units (Kennedy, Relational
/// parametricity and units of measure, POPL 1997, section 3), over rational powers, so that each equation gives at most one unknown.
/// </summary>
internal sealed class UnitSolver
{
    private readonly List<int> _ranks = [];
    private readonly Dictionary<int, UnitTerm> _solved = [];

    /// <summary>A new unknown. Of several in one equation, the one of the lowest rank is solved for.</summary>
    public UnitTerm NewUnknown(int rank)
    {
        _ranks.Add(rank);
        return UnitTerm.Variable(_ranks.Count - 1);
    }

    /// <summary>The term with all solved unknowns put in.</summary>
    public UnitTerm Resolve(UnitTerm term)
    {
        foreach (var variable in term.Unknowns.Keys)
            Settle(variable);
        return Substitute(term);
    }

    /// <summary>
    /// Puts all solved unknowns into the solution of one, so that long chains are walked once (as by path compression; Cormen and
    /// others, Introduction to Algorithms, 21.3).
    /// </summary>
    private void Settle(int variable)
    {
        if (!_solved.ContainsKey(variable))
            return;
        var open = new Stack<int>([variable]);
        while (open.TryPeek(out var at))
        {
            var before = open.Count;
            foreach (var inner in _solved[at].Unknowns.Keys)
            {
                if (_solved.TryGetValue(inner, out var further) && further.Unknowns.Keys.Any(_solved.ContainsKey))
                    open.Push(inner);
            }
            if (open.Count > before)
                continue;
            open.Pop();
            _solved[at] = Substitute(_solved[at]);
        }
    }

    /// <summary>The term with the solutions of its unknowns as they stand.</summary>
    private UnitTerm Substitute(UnitTerm term)
    {
        var result = term;
        foreach (var (variable, power) in term.Unknowns)
        {
            if (_solved.TryGetValue(variable, out var solution))
                result = result.Times(UnitTerm.Variable(variable), -power).Times(solution, power);
        }
        return result;
    }

    /// <summary>Makes two terms equal where an unknown allows it.</summary>
    /// <param name="left">One term.</param>
    /// <param name="right">The other.</param>
    /// <param name="highestRank">Unknowns of a higher rank are left alone; the equation then counts as agreed.</param>
    public Agreement Equate(UnitTerm left, UnitTerm right, int highestRank = int.MaxValue)
    {
        var rest = Resolve(left.Per(right));
        if (rest.IsKnown)
        {
            return rest.Known.IsPure ? Agreement.Agree
                : rest.Known.Dimension().Count == 0 ? Agreement.OtherSize
                : Agreement.Disagree;
        }
        var pivot = rest.Unknowns.MinBy(pair => (_ranks[pair.Key], Math.Abs(Math.Abs(pair.Value) - 1), pair.Key));
        if (_ranks[pivot.Key] > highestRank)
            return Agreement.Agree;
        // unknown^p * others = 1, so unknown = others^(-1/p).
        _solved[pivot.Key] = rest.Times(UnitTerm.Variable(pivot.Key), -pivot.Value).ToPower(-1 / pivot.Value);
        return Agreement.Agree;
    }
}
