using ClearTide.Storage;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;

namespace ClearTide.Web.Hosting;

/// <summary>Whoever asks for a study that cannot be read is led to the page that says so.</summary>
public sealed class UnreadableStudies(ILogger<UnreadableStudies> log) : IExceptionFilter
{
    public void OnException(ExceptionContext context)
    {
        if (context.Exception is not UnreadableStudyException broken)
            return;
        log.LogError(broken, "The study {Study} cannot be read", broken.Study);
        context.Result = new RedirectToPageResult("/Studies/Unreadable", new { id = broken.Study });
        context.ExceptionHandled = true;
    }
}
