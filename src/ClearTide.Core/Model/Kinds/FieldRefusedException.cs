namespace ClearTide.Core.Model;

/// <summary>A text that a field cannot keep; the message says what to type instead.</summary>
internal sealed class FieldRefusedException(string why) : Exception(why);
