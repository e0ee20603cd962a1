using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace ClearTide.Web.Pages;

/// <summary>Says what went wrong with a request, and what to do.</summary>
[IgnoreAntiforgeryToken]
public sealed class ErrorModel : PageModel
{
    public string Heading { get; private set; } = "";

    public string Sentence { get; private set; } = "";

    public void OnGet(int? code) => Describe(code ?? Response.StatusCode);

    public void OnPost(int? code) => Describe(code ?? Response.StatusCode);

    private void Describe(int code) =>
        (Heading, Sentence) = code switch
        {
            404 => ("There is nothing at this address", "The study may have been removed, or the address mistyped."),
            400 => (
                "This request could not be taken",
                "The page may have been open for very long. Go back, load it again, and repeat the step; nothing was changed."
            ),
            405 => ("This is no way to ask for it", "Pages are opened and forms are sent; nothing else is answered here."),
            503 => (
                "This took too long",
                $"It was stopped after {Hosting.WorkTime.Request.TotalSeconds:0} seconds, so that nobody else waits. Nothing that was "
                    + $"saved is lost. Shorten the span, loosen the tolerance, or take fewer parts."
            ),
            507 => (
                "This could not be saved",
                "The disk is full, or the data folder cannot be written any more. What was saved before is there. Make room, then do it "
                    + "again."
            ),
            413 => ("Too large", "The file is larger than what is read. Cut it down to the columns of time and counts."),
            _ => (
                "Something went wrong here",
                "Nothing that was saved is lost. Go back and try again; if it happens again, the log of the server says more."
            ),
        };
}
