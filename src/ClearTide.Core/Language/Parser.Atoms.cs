namespace ClearTide.Core.Language;

/// <summary>The smallest parts of formulas: numbers, names, calls and what stands in parentheses.</summary>
internal sealed partial class Parser
{
    private Syntax Atom()
    {
        var token = Here;
        if (token.Kind == TokenKind.Number)
            return Number();
        if (token.Kind == TokenKind.Word && !IsKeyword(token.Text))
        {
            Take();
            if (Here.Is("("))
                return token.Text == "sum" && Ahead(2).IsWord("in") ? Sum(token) : Call(token);
            return token.Text == "pi" ? new NumberSyntax(token.Span, Math.PI, "pi", false, null) : Indexed(token);
        }
        if (token.IsWord("if"))
        {
            Take();
            if (Here.Is("("))
                return Call(token);
            throw Wrong(token.Span, "“if” is written if(condition, then, else).");
        }
        if (token.Is("("))
        {
            Take();
            if (++_depth > FormulaLimits.Depth)
            {
                throw Wrong(
                    token.Span,
                    $"Parentheses are nested more than {FormulaLimits.Depth} deep. Give the inner part a name of its own."
                );
            }
            var inner = Line();
            _depth--;
            var close = Here;
            Expect(")", "a closing parenthesis is missing");
            return inner with { Span = TextSpan.Between(token.Span, close.Span) };
        }
        throw Unexpected();
    }

    /// <summary>A name with the indices that stand behind it, if there are any: <c>I</c>, <c>I[child]</c>.</summary>
    internal NameSyntax Indexed(Token name)
    {
        if (!Here.Is("["))
            return new(name.Span, name.Text);
        Take();
        var indices = new List<string>();
        do
        {
            if (Here.Kind != TokenKind.Word || (Symbols.Reserved.Contains(Here.Text) && Here.Text != "t"))
                throw Wrong(
                    Here.Span.Length > 0 ? Here.Span : name.Span,
                    $"In the brackets of {name.Text} stand members of groups, as in {name.Text}[child], separated by commas."
                );
            indices.Add(Take().Text);
        } while (TryTake(","));
        var close = Here;
        Expect("]", "a closing bracket is missing");
        return new(TextSpan.Between(name.Span, close.Span), MemberName.Of(name.Text, indices));
    }

    /// <summary><c>sum(j in age, ...)</c>, behind its first word.</summary>
    private SumSyntax Sum(Token word)
    {
        Take();
        var variable = Take();
        if (variable.Kind != TokenKind.Word || Symbols.Refusal(variable.Text) is not null)
            throw Wrong(variable.Span, "A sum begins with a letter for the member, as in sum(j in age, I[j]).");
        Take();
        var group = Take();
        if (group.Kind != TokenKind.Word)
            throw Wrong(group.Span, "After “in” comes the name of a group, as in sum(j in age, I[j]).");
        Expect(",", "a comma and what is summed are missing, as in sum(j in age, I[j])");
        var term = Expression();
        var close = Here;
        Expect(")", "a closing parenthesis is missing");
        return new(TextSpan.Between(word.Span, close.Span), new(variable.Span, variable.Text), new(group.Span, group.Text), term);
    }

    private static bool IsKeyword(string word) => word is not ("t" or "pi" or "sum") && Symbols.Reserved.Contains(word);

    private FormulaException Unexpected()
    {
        var token = Here;
        if (token.Kind == TokenKind.End)
        {
            return Wrong(
                text.Length > 0 ? new(text.Length - 1, 1) : token.Span,
                text.Trim().Length == 0
                    ? "There is no formula yet. Type a number or a formula."
                    : "The line ends too early: a number, a name or a parenthesis is missing."
            );
        }
        var previous = _at > 0 ? tokens[_at - 1] : default;
        if (token.Is(",") && previous.Kind == TokenKind.Number && Ahead().Kind == TokenKind.Number && !Ahead().SpaceBefore)
        {
            var span = TextSpan.Between(previous.Span, Ahead().Span);
            return Wrong(span, "A comma does not mark decimals here; use a point.", Replace(span, $"{previous.Text}.{Ahead().Text}"));
        }
        if (token.Kind == TokenKind.Number && previous.Kind == TokenKind.Number)
        {
            var span = TextSpan.Between(previous.Span, token.Span);
            return Wrong(
                span,
                "Two numbers stand side by side. Leave the space out, or put a sign between them.",
                Replace(span, previous.Text + token.Text)
            );
        }
        if (token.Kind == TokenKind.Word && !IsKeyword(token.Text) && _at > 0)
        {
            return Wrong(token.Span, $"A sign is missing before “{token.Text}”.", Replace(new(token.Span.Start, 0), "* ", "Multiply"));
        }
        if (token.Is(")"))
            return Wrong(token.Span, "This parenthesis closes nothing. Take it out, or open one before.");
        if (token.Is("="))
            return Wrong(token.Span, "“=” sets nothing inside a formula. To compare, write it between two sides of a condition.");
        return Wrong(
            token.Span,
            $"“{Source(token.Span)}” is not expected here. A number, a name or a parenthesis should stand before or in its place."
        );
    }

    private Syntax Call(Token name)
    {
        Take();
        var arguments = new List<Syntax>();
        if (!Here.Is(")"))
        {
            do arguments.Add(Expression());
            while (TryTake(","));
        }
        var close = Here;
        Expect(")", "a closing parenthesis is missing");
        var span = TextSpan.Between(name.Span, close.Span);
        if (Functions.Find(name.Text) is not { } function)
            return new UserCallSyntax(span, new(name.Span, name.Text), arguments);
        if (arguments.Count < function.MinimumArguments || arguments.Count > function.MaximumArguments)
        {
            throw Wrong(
                span,
                $"“{function.Name}” is written {function.Usage}; {arguments.Count} "
                    + $"{(arguments.Count == 1 ? "argument is" : "arguments are")} given."
            );
        }
        return new CallSyntax(span, function, arguments);
    }
}
