namespace Allowance.Web.Commands;

/// <summary>
/// Nobody is answered before the pages that are opened first have been made once, and what is believed of each child has been
/// read: the first page of the day takes no longer than the others.
/// </summary>
public sealed class FirstPages(Household household)
{
    /// <summary>The first time pages are compiled, the second time they run as they will.</summary>
    private const int Rounds = 2;

    private const string Header = "X-Making-Ready";

    private readonly string secret = Guid.NewGuid().ToString("N");
    private readonly TaskCompletionSource ready = new(TaskCreationOptions.RunContinuationsAsynchronously);
    private bool waits;

    /// <summary>From now on others wait until all is ready.</summary>
    public void Begin() => waits = true;

    public async Task Wait(HttpContext context, RequestDelegate next)
    {
        if (waits && context.Request.Headers[Header] != secret) await ready.Task.WaitAsync(context.RequestAborted);
        await next(context);
    }

    public void MakeReady(string address)
    {
        try
        {
            using var client = new HttpClient { BaseAddress = new Uri(address) };
            client.DefaultRequestHeaders.Add(Header, secret);
            for (int round = 0; round < Rounds; round++)
                foreach (string page in (string[])["/", .. household.Children.Select(c => $"/growth/{c.Id}"), "/glimpse", "/bench"])
                    client.GetAsync(new Uri(page, UriKind.Relative)).GetAwaiter().GetResult().Dispose();
        }
        catch (Exception e) when (e is HttpRequestException or TaskCanceledException)
        {
            // Whoever opens a page will be told what is wrong.
        }
        finally
        {
            ready.SetResult();
        }
    }
}
