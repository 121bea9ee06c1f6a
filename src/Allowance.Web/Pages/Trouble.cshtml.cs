using Allowance.Store;
using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.Data.Sqlite;
using static SQLitePCL.raw;

namespace Allowance.Web.Pages;

/// <summary>What is shown where nothing else can be: what happened in plain words, that nothing else was lost, and a way on. It reads nothing of the household.</summary>
[IgnoreAntiforgeryToken]
[ResponseCache(NoStore = true)]
public sealed class TroubleModel : PageModel
{
    public string Heading { get; private set; } = "";

    public string Says { get; private set; } = "";

    public void OnGet(int code = StatusCodes.Status500InternalServerError) => Tell(code);

    public void OnPost(int code = StatusCodes.Status500InternalServerError) => Tell(code);

    private void Tell(int code)
    {
        var error = HttpContext.Features.Get<IExceptionHandlerFeature>()?.Error;
        (int status, Heading, Says) = error is null ? OfStatus(code) : OfError(error);
        if (error is not null) Response.StatusCode = status;
    }

    private static (int, string, string) OfStatus(int code) => code switch
    {
        404 => (code, "There is nothing here", "The page or the game you asked for does not exist, or somebody it belonged to was removed."),
        400 => (code, "That could not be taken", "The form was too old or not complete, or one of its fields could not be read. Open the page again and repeat the last step."),
        413 => (code, "That could not be taken", "What was sent is too large."),
        405 or 415 or 422 => (code, "That could not be taken", "The last step was not carried out."),
        429 => (code, "Busy for a moment", "Other games are being worked out just now. Try again in a few seconds."),
        _ => (code, "Something went wrong", "The last step was not carried out."),
    };

    private static (int, string, string) OfError(Exception error) => error switch
    {
        HouseholdGoneException gone => (503, "The household’s file is not where it was", gone.Message),
        SqliteException { SqliteErrorCode: SQLITE_BUSY or SQLITE_LOCKED } => (503, "Another program holds the household’s file", "The last step was not carried out. Close that program, a backup perhaps, and repeat the step."),
        SqliteException { SqliteErrorCode: SQLITE_FULL or SQLITE_IOERR } => (507, "The disk is full, or cannot be written", "The last step was not carried out. Make room, and repeat it."),
        SqliteException { SqliteErrorCode: SQLITE_READONLY or SQLITE_CANTOPEN or SQLITE_PERM } => (503, "The household’s file cannot be written", "The last step was not carried out. See whether the directory may be written to, and repeat the step."),
        SqliteException { SqliteErrorCode: SQLITE_CORRUPT or SQLITE_NOTADB } => (503, "The household’s file is damaged", "The last step was not carried out. Stop Allowance, keep the file, and put a copy from before in its place."),
        BadHttpRequestException bad => OfStatus(bad.StatusCode),
        IOException or UnauthorizedAccessException => (507, "The disk is full, or cannot be written", "The last step was not carried out. Make room, and repeat it."),
        _ => (500, "Something went wrong", "The last step was not carried out."),
    };
}
