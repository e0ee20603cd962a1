using ClearTide.Core.Simulation;

namespace ClearTide.Web.Hosting;

/// <summary>Refuses what no page of this application asks with, TRACE among it, which would give back what a browser keeps to
/// itself.</summary>
public sealed class KnownMethods(RequestDelegate next)
{
    private const string Known = "GET, HEAD, POST";

    public Task InvokeAsync(HttpContext context)
    {
        if (
            HttpMethods.IsGet(context.Request.Method)
            || HttpMethods.IsHead(context.Request.Method)
            || HttpMethods.IsPost(context.Request.Method)
        )
        {
            return next(context);
        }
        context.Response.StatusCode = StatusCodes.Status405MethodNotAllowed;
        context.Response.Headers.Allow = Known;
        return Task.CompletedTask;
    }
}
