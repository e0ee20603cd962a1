using ClearTide.Core.Language;
using CsCheck;

namespace ClearTide.Core.Tests;

/// <summary>One of a few words, for generated cases.</summary>
internal static class Choice
{
    public static Gen<string> OneOf(params string[] words) => Gen.Int[0, words.Length - 1].Select(k => words[k]);
}
