namespace ClearTide.Core.Simulation;

/// <summary>The rows of a run: at output times, on both sides of jumps, and where curves need more.</summary>
internal sealed unsafe partial class HybridRun
{
    /// <summary>Samples the output times before a time from the continuous output of the step.</summary>
    private void SampleUntil(double time)
    {
        while (_record.NextTime < time)
        {
            var at = _record.NextTime;
            _stepper.At(at, _y);
            Emit(at);
        }
    }

    /// <param name="time">Of the row.</param>
    /// <param name="ifJump">Whether this is the side before what may be a jump.</param>
    /// <param name="isDetail">Whether it is a row between the output times.</param>
    private void Emit(double time, bool ifJump = false, bool isDetail = false)
    {
        fixed (double* y = _y)
        fixed (double* p = _p)
        {
            _side = ifJump ? -1 : 1;
            Fill(time, y, p);
            _side = 1;
            CheckSolved(time);
            if (isDetail)
                _record.TakeDetail(time, _y, p, _hybrid.Outputs);
            else
                _record.Take(time, _y, p, _hybrid.Outputs, ifJump);
        }
    }
}
