namespace ClearTide.Web.Words;

/// <summary>What a value has to do with, by which choices of a fit are grouped.</summary>
public enum FitGroup
{
    Rate,
    Start,
    Point,
    Observation,
}
