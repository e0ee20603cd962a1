using ClearTide.Tests;
using ClearTide.Web.Studies;

namespace ClearTide.Web.Tests;

/// <summary>The rooms of the web application: what words, curves and pictures are made of knows no page.</summary>
public class RoomTests
{
    private static readonly string[] Order =
    [
        "Guide",
        "Words",
        "Curves",
        "Diagram",
        "Ledger",
        "Thumbnails",
        "Fields",
        "Controls",
        "Hosting",
        "Studies",
        "Jobs",
        "Pages",
    ];

    [Fact]
    public void A_room_uses_only_those_before_it()
    {
        using var rooms = new Rooms(typeof(StudyView).Assembly.Location, "ClearTide.Web.", Order);
        // The reading itself must see code: a page shows the study's diagram.
        Assert.Contains("Diagram", rooms.UsedBy("StudyView"));
        var wrong = rooms.Wrong();
        Assert.True(wrong.Length == 0, wrong);
        Assert.Equal(Order.Order(), rooms.Found.Order());
    }
}
