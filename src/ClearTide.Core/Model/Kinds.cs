using ClearTide.Core.Language;

namespace ClearTide.Core.Model;

/// <summary>What each kind of part is called.</summary>
public static class Kinds
{
    /// <summary>The kind with its article: “a quantity”.</summary>
    public static string Of(IPart part) =>
        part switch
        {
            Compartment => "a compartment",
            Flow => "a flow",
            Reaction => "a reaction",
            Definition definition => Formula.Read(definition.Text).HasNames ? "a quantity" : "a parameter",
            Input => "an input",
            ResponseCurve => "a response curve",
            RandomInput => "a random input",
            EventRule => "an event",
            Assumption => "an assumption",
            _ => "an expectation",
        };
}
