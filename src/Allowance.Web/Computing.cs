using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;

namespace Allowance.Web;

/// <summary>At most two computations at a time, so that pages go on being answered; others wait their turn.</summary>
/// <param name="longestWait">How long one waits for a turn.</param>
public sealed class Computing(TimeSpan longestWait) : IDisposable
{
    public const int AtOnce = 2;

    private readonly SemaphoreSlim places = new(AtOnce);

    public Computing() : this(TimeSpan.FromSeconds(10)) { }

    /// <returns>A place, to be given back; null where none came free in time.</returns>
    /// <exception cref="OperationCanceledException">Nobody waits any longer.</exception>
    public async Task<IDisposable?> Enter(CancellationToken left) => await places.WaitAsync(longestWait, left) ? new Place(places) : null;

    public void Dispose() => places.Dispose();

    private sealed class Place(SemaphoreSlim places) : IDisposable
    {
        public void Dispose() => places.Release();
    }
}

/// <summary>The handlers of this page compute: each waits its turn, and where none comes says that Allowance is busy (429).</summary>
[AttributeUsage(AttributeTargets.Class)]
public sealed class ComputesAttribute : Attribute, IAsyncPageFilter
{
    public Task OnPageHandlerSelectionAsync(PageHandlerSelectedContext context) => Task.CompletedTask;

    public async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        using var place = await context.HttpContext.RequestServices.GetRequiredService<Computing>().Enter(context.HttpContext.RequestAborted);
        if (place is null) context.Result = new StatusCodeResult(StatusCodes.Status429TooManyRequests);
        else await next();
    }
}
