namespace ClearTide.Core.Stochastic;

/// <summary>Follows a run by chance along its whole path: each transition, or of a method that goes in steps the end of each.</summary>
internal interface IPathObserver
{
    /// <summary>The run has got to a time, which is never before the one of the call before it. Where something happens at one time, there
    /// is a call for what is there behind it.</summary>
    /// <param name="time">In the model's unit of time.</param>
    /// <param name="state">Amounts, in the order of the model's states; good for this call alone.</param>
    /// <param name="parameters">All parameters as they are then, values first, with what events and draws have set.</param>
    /// <param name="held">Whether amounts stood still from the call before until this time; else they got from there to here in between.
    /// Of no meaning in the first call.</param>
    void Take(double time, ReadOnlySpan<double> state, ReadOnlySpan<double> parameters, bool held);
}
