namespace ClearTide.Web.Hosting;

/// <summary>Sets the content security policy and its companions on every answer: nothing inline, nothing from elsewhere.</summary>
public sealed class SecurityHeaders(RequestDelegate next)
{
    private const string Policy =
        "default-src 'self'; style-src 'self'; script-src 'self'; img-src 'self' blob: data:; object-src 'none'; base-uri 'none'; "
        + "form-action 'self'; frame-ancestors 'none'";

    public Task InvokeAsync(HttpContext context)
    {
        var headers = context.Response.Headers;
        headers.ContentSecurityPolicy = Policy;
        headers.XContentTypeOptions = "nosniff";
        headers["Referrer-Policy"] = "no-referrer";
        return next(context);
    }
}
