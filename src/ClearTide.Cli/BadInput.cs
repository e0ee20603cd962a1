using ClearTide.Formats.Petab;
using ClearTide.Formats.Sbml;
using ClearTide.Formats.Studies;

namespace ClearTide.Cli;

/// <summary>Input that cannot be used; the message says what to do.</summary>
internal sealed class BadInputException(string message) : Exception(message);

internal static class BadInput
{
    /// <summary>Runs a command; bad input becomes a sentence on standard error and exit code 1.</summary>
    public static int Told(Func<int> command)
    {
        try
        {
            return command();
        }
        catch (Exception wrong)
            when (wrong
                    is StudyFileException
                        or SbmlException
                        or PetabException
                        or BadInputException
                        or IOException
                        or UnauthorizedAccessException
                        or ArgumentOutOfRangeException
            )
        {
            Console.Error.WriteLine(wrong is ArgumentOutOfRangeException range ? range.Message.Split(" (Parameter", 2)[0] : wrong.Message);
            return 1;
        }
    }
}
