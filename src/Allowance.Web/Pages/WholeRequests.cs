using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;

namespace Allowance.Web.Pages;

/// <summary>A request that names a handler that is none (404), or has a field that cannot be read (400), reaches no page.</summary>
public sealed class WholeRequests : IPageFilter
{
    public void OnPageHandlerSelected(PageHandlerSelectedContext context) { }

    public void OnPageHandlerExecuting(PageHandlerExecutingContext context)
    {
        // The page of troubles is shown for whatever was asked.
        if (context.HandlerInstance is TroubleModel) return;
        if (context.HandlerMethod is null && (context.HttpContext.Request.Query.ContainsKey("handler") || !IsRead(context.HttpContext.Request))) context.Result = new NotFoundResult();
        else if (!context.ModelState.IsValid) context.Result = new StatusCodeResult(StatusCodes.Status400BadRequest);
    }

    private static bool IsRead(HttpRequest request) => HttpMethods.IsGet(request.Method) || HttpMethods.IsHead(request.Method);

    public void OnPageHandlerExecuted(PageHandlerExecutedContext context) { }
}
