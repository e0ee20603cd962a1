using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace ClearTide.Web.Pages;

/// <summary>The parts that screens are made of, each in its states, for those who build them; there in development only.</summary>
public sealed class DesignModel(IHostEnvironment host) : PageModel
{
    public IActionResult OnGet() => host.IsDevelopment() ? Page() : NotFound();
}
