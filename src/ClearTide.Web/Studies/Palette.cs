using ClearTide.Core.Models;

namespace ClearTide.Web.Studies;

/// <summary>Which colour stands for a compartment: a number of the palette in the style sheet, kept as long as the compartment is there.</summary>
public static class Palette
{
    public const int Colours = 10;

    /// <summary>Palette number of each compartment by its id, in the order the compartments were made.</summary>
    public static int Of(StudyDocument document, string? partId)
    {
        if (document.Compartment(partId) is not { } compartment) return 0;
        return (document.Compartments.IndexOf(compartment) % Colours) + 1;
    }
}
