using Microsoft.Extensions.Primitives;

namespace Allowance.Web.Commands;

/// <summary>
/// Who is answered: this machine, by its own name, and pages of Allowance itself. A page from elsewhere must not read the
/// household by letting its own name point here, nor have anything done or worked out by a form, a picture or a script.
/// </summary>
public static class Door
{
    /// <summary>Browsers leave it out.</summary>
    private const int UsualPort = 80;

    private static readonly string[] Names = ["localhost", "127.0.0.1", "[::1]"];

    public static Task Keep(HttpContext context, RequestDelegate next)
    {
        if (!IsOurName(context)) return Refuse(context, StatusCodes.Status400BadRequest, $"Allowance answers at http://localhost:{context.Connection.LocalPort}/ only.");
        if (IsFromElsewhere(context.Request)) return Refuse(context, StatusCodes.Status403Forbidden, "Another site asked for this; it was not done. Open Allowance itself.");
        return next(context);
    }

    private static bool IsOurName(HttpContext context)
    {
        var host = context.Request.Host;
        return host.HasValue && Names.Contains(host.Host, StringComparer.OrdinalIgnoreCase) && (host.Port ?? UsualPort) == context.Connection.LocalPort;
    }

    /// <summary>Browsers say where a request comes from. Somebody who follows a link hither by her own hand is let in, to look.</summary>
    private static bool IsFromElsewhere(HttpRequest request)
    {
        var headers = request.Headers;
        bool looks = HttpMethods.IsGet(request.Method) || HttpMethods.IsHead(request.Method);
        string site = headers["Sec-Fetch-Site"].ToString();
        if (site is "cross-site" or "same-site" && !(looks && headers["Sec-Fetch-Mode"] == "navigate" && headers["Sec-Fetch-Dest"] == "document" && headers["Sec-Fetch-User"] == "?1")) return true;
        return headers.Origin is { Count: > 0 } origin && !IsOurs(origin, request) && !(looks && site == "none");
    }

    private static bool IsOurs(StringValues origin, HttpRequest request) => origin.Count == 1 && origin[0] == $"{request.Scheme}://{request.Host}";

    private static Task Refuse(HttpContext context, int status, string words)
    {
        context.Response.StatusCode = status;
        context.Response.ContentType = "text/plain; charset=utf-8";
        return context.Response.WriteAsync(words);
    }
}
