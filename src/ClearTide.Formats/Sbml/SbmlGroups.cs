using System.Security.Cryptography;
using System.Text;
using ClearTide.Core.Compilation;
using ClearTide.Core.Model;
using ClearTide.Formats.Studies;

namespace ClearTide.Formats.Sbml;

/// <summary>
/// Groups and modules in SBML, which has none: a model is written out member by member, and an annotation holds the study that it was
/// written from.
/// It is brought back as long as nothing of the model was changed by another program; then the model itself counts.
/// </summary>
public static class SbmlGroups
{
    /// <summary>The exported model with the study it was written from; the same where that has neither groups nor modules.</summary>
    public static SbmlExported With(SbmlExported exported, LoweredModel lowered)
    {
        if (!lowered.Written.HasGroups && lowered.Study.Modules.IsEmpty)
            return exported;
        // Data, fits and scenarios lie beside a model, and SBML holds models.
        var study = lowered.Study with
        {
            Observations = [],
            Fit = FitSetup.Empty,
            Scenarios = [],
            Subjects = null,
            Panels = [],
            Sliders = [],
        };
        return exported with
        {
            Model = exported.Model with
            {
                Grouped = StudyFile.Write(new(study, [])),
                // Of what a reader makes of it: formulas may be written in more than one way.
                GroupedDigest = Digest(SbmlReader.Read(SbmlWriter.Write(exported.Model))),
            },
        };
    }

    /// <summary>The study that a model was written from, if it is still what was written; else null.</summary>
    public static StudyDocument? Study(SbmlModel model)
    {
        if (model.Grouped.Length == 0 || model.GroupedDigest != Digest(model))
            return null;
        try
        {
            return StudyFile.Read(model.Grouped).Document;
        }
        catch (StudyFileException)
        {
            return null;
        }
    }

    /// <summary>The SHA-256 of a model without its groups, in hexadecimal digits.</summary>
    public static string Digest(SbmlModel model) =>
        Convert.ToHexStringLower(
            SHA256.HashData(Encoding.UTF8.GetBytes(SbmlWriter.Write(model with { Grouped = "", GroupedDigest = "" })))
        );
}
