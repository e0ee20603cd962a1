using ClearTide.Core.Model;
using ClearTide.Tests;

namespace ClearTide.Core.Tests;

/// <summary>The rooms of the core: each namespace uses only those before it. Read from the compiled types, their members and their
/// code.</summary>
public class RoomTests
{
    private static readonly string[] Order =
    [
        "Expressions",
        "Language",
        "Units",
        "Data",
        "Sampling",
        "Simulation",
        "Stochastic",
        "Model",
        "Lines",
        "Groups",
        "Editing",
        "Diagnostics",
        "Compilation",
        "Reports",
        "Interventions",
        "Inference",
        "Ensembles",
        "Analysis",
        "Conversion",
        "Modules",
    ];

    private static Rooms Core() => new(typeof(StudyDocument).Assembly.Location, "ClearTide.Core.", Order);

    [Fact]
    public void A_room_uses_only_those_before_it()
    {
        using var rooms = Core();
        // The reading itself must see code: a run is made by the core's own engines.
        Assert.Contains("Simulation", rooms.UsedBy("StudyRun"));
        var wrong = rooms.Wrong();
        Assert.True(wrong.Length == 0, wrong);
    }

    [Fact]
    public void Every_namespace_is_a_room()
    {
        using var rooms = Core();
        Assert.Equal(Order.Order(), rooms.Found.Order());
    }
}
