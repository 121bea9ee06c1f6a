using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Allowance.Web.Pages;

/// <summary>What is shown where nothing else can be: plain words and a way on.</summary>
[IgnoreAntiforgeryToken]
[ResponseCache(NoStore = true)]
public sealed class TroubleModel : PageModel
{
    public int Code { get; private set; }

    public void OnGet(int code = 500) => Code = code;

    public void OnPost(int code = 500) => Code = code;
}
