using System.Collections.Concurrent;
using System.Text.Json;
using Allowance.Core.Materials;
using Allowance.Core.Tuning;
using Allowance.Store;

namespace Allowance.Web;

/// <summary>
/// The offers that the household's drawer allows. They are worked out in the background after a start, and anew when the drawer changes;
/// whoever asks meanwhile gets what is ready.
/// </summary>
public sealed class Offering(Things things) : IDisposable
{
    /// <summary>How long the first sight waits for something to choose from.</summary>
    private static readonly TimeSpan FirstWait = TimeSpan.FromSeconds(1);

    private const int MostBooks = 3, EnoughAtFirst = 90;

    /// <summary>Books do not hang on who plays: whoever has the same things has the same book, also after the cupboard was changed back.</summary>
    private static readonly ConcurrentDictionary<string, OfferBook> Made = new();

    private readonly Lock making = new();
    private Cupboard? drawer;
    private OfferBook book = new(new([]));
    private CancellationTokenSource stop = new();

    /// <summary>What is ready for what lies in the drawer now; waits a moment where nothing is.</summary>
    public OfferBook Book
    {
        get
        {
            Begin();
            var until = DateTime.UtcNow + FirstWait;
            while (book is { IsWhole: false, Ready.Count: < EnoughAtFirst } && DateTime.UtcNow < until) Thread.Sleep(20);
            return book;
        }
    }

    /// <summary>Works it out, unless that is done or under way.</summary>
    public void Begin()
    {
        lock (making)
        {
            var now = things.All();
            if (ReferenceEquals(now, drawer) && book.IsWhole) return;
            if (Made.TryGetValue(KeyOf(now), out var known))
            {
                stop.Cancel();
                (drawer, book) = (now, known);
                return;
            }
            if (ReferenceEquals(now, drawer)) return;
            stop.Cancel();
            (drawer, stop) = (now, new());
            var (begun, left) = (book = new(now), stop.Token);
            Task.Run(() => Make(begun, now, left), left);
        }
    }

    private static void Make(OfferBook book, Cupboard drawer, CancellationToken stop)
    {
        try
        {
            book.Make(Environment.ProcessorCount, stop);
            Keep(book, drawer);
        }
        catch (OperationCanceledException)
        {
            // Another drawer, or the end: nobody asks for this one any more.
        }
    }

    /// <summary>The whole book of a drawer, however long that takes.</summary>
    public static OfferBook Whole(Cupboard drawer)
    {
        if (Made.TryGetValue(KeyOf(drawer), out var known)) return known;
        var book = OfferBook.Of(drawer);
        Keep(book, drawer);
        return book;
    }

    private static void Keep(OfferBook book, Cupboard drawer)
    {
        if (Made.Count >= MostBooks) Made.Clear();
        Made[KeyOf(drawer)] = book;
    }

    private static string KeyOf(Cupboard drawer) => JsonSerializer.Serialize(drawer.Materials.Select(m => new { m.Use, m.Count, m.Size, Faces = m.Faces?.ToString(), m.Gaps, m.Colours, m.Name, m.IsFood }));

    public void Dispose()
    {
        stop.Cancel();
        stop.Dispose();
    }
}
