using ClearTide.Core.Data;

namespace ClearTide.Core.Tests.Data;

public class DataSetTests
{
    private static readonly DataRow[] Before = [new(0, 7, 4), new(7, 14, 9), new(14, 21, 12) { LeftOut = true }, new(21, 28, 3)];

    [Fact]
    public void A_next_version_says_what_was_added_changed_and_is_gone()
    {
        DataRow[] after = [new(0, 7, 4), new(7, 14, 10), new(14, 21, 12), new(28, 35, 1), new(35, 42, 0)];
        Assert.Equal(new(Added: 2, Changed: 1, Gone: 1), DataChanges.Between(Before, after));
        Assert.Equal(new(0, 0, 0), DataChanges.Between(Before, Before));
    }

    [Fact]
    public void Another_error_is_a_change_and_what_is_left_out_is_none()
    {
        DataRow[] after = [.. Before.Select(row => row with { LeftOut = false })];
        Assert.Equal(0, DataChanges.Between(Before, after).Changed);
        after[0] = after[0] with { Error = 0.5 };
        Assert.Equal(1, DataChanges.Between(Before, after).Changed);
    }

    [Fact]
    public void What_was_left_out_stays_so_where_a_row_stands_at_the_same_times()
    {
        DataRow[] after = [new(0, 7, 5), new(14, 21, 99), new(28, 35, 1)];
        Assert.Equal([false, true, false], DataChanges.Keeping(Before, after).Select(row => row.LeftOut));
        Assert.Same(after, DataChanges.Keeping([new(0, 7, 1)], after));
    }

    [Fact]
    public void Fits_look_at_the_rows_that_are_not_left_out_and_data_end_with_the_last_row()
    {
        var data = new DataSet("d1", "Cases", Before);
        Assert.Equal([4.0, 9, 3], data.Used.Select(row => row.Value));
        Assert.Equal(28, data.Now);
        var whole = new DataSet("d2", "Cases", Before[..2]);
        Assert.Same(whole.Rows, whole.Used);
    }

    [Fact]
    public void Of_several_rows_at_one_time_each_is_compared_with_that_of_its_turn()
    {
        DataRow At(double time, double value, bool out_ = false) => new(time, time, value) { LeftOut = out_ };
        DataRow[] before = [At(1, 5), At(1, 6, true), At(2, 7)];
        DataRow[] after = [At(1, 5), At(1, 8), At(1, 9), At(3, 4)];
        Assert.Equal(new DataChanges(2, 1, 1), DataChanges.Between(before, after));
        Assert.Equal([false, true, false, false], DataChanges.Keeping(before, after).Select(row => row.LeftOut));
    }
}
