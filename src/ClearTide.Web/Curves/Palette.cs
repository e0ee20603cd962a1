using ClearTide.Core.Model;

namespace ClearTide.Web.Curves;

/// <summary>Which colour stands for a compartment: a number of the palette in the style sheet, the one chosen for it or that of its
/// place.</summary>
public static class Palette
{
    public const int Colours = 10;

    public static int Of(StudyDocument document, string? partId)
    {
        if (document.Compartment(partId) is not { } compartment)
            return 0;
        return compartment.Colour > 0 ? compartment.Colour : (document.PlaceOf(compartment) % Colours) + 1;
    }
}
