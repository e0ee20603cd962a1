using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;

namespace ClearTide.Web.Hosting;

/// <summary>
/// Turns away requests that no page of this application sends: without a field that a handler needs, with a word where a number stands,
/// or with a number that is none. What people type arrives as text and is refused by the handlers, in words.
/// </summary>
public sealed class SoundArguments : IPageFilter
{
    public void OnPageHandlerSelected(PageHandlerSelectedContext context) { }

    public void OnPageHandlerExecuting(PageHandlerExecutingContext context)
    {
        var infinite = context.HandlerArguments.Values.Any(value => value is double number && !double.IsFinite(number));
        if (context.Result is null && (infinite || !context.ModelState.IsValid))
            context.Result = new BadRequestResult();
    }

    public void OnPageHandlerExecuted(PageHandlerExecutedContext context) { }
}
