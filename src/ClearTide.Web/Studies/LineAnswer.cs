using System.Text.Json;
using Microsoft.AspNetCore.Mvc;

namespace ClearTide.Web.Studies;

/// <summary>An answer that comes line by line, each line a value that is shown as soon as it is there.</summary>
/// <param name="values">Worked out while the answer is written.</param>
public sealed class LineAnswer(IEnumerable<object> values) : IActionResult
{
    public const string ContentType = "application/x-ndjson; charset=utf-8";

    public async Task ExecuteResultAsync(ActionContext context)
    {
        var http = context.HttpContext;
        http.Response.ContentType = ContentType;
        try
        {
            foreach (var value in values)
            {
                await http.Response.WriteAsync(JsonSerializer.Serialize(value, JsonSerializerOptions.Web) + "\n", http.RequestAborted);
                await http.Response.Body.FlushAsync(http.RequestAborted);
            }
        }
        catch (OperationCanceledException) when (http.RequestAborted.IsCancellationRequested)
        {
            // Whoever asked has left: nobody reads what more there is to say.
        }
    }
}
