using Allowance.Core.Asks;
using Allowance.Core.Forms;

namespace Allowance.Core.Tuning;

/// <summary>
/// Two minutes with nothing but hands: finger pictures to hold up, how many more to five and to ten, one more, and saying
/// numbers up and down by the thumb. Chosen from a child's edge, with something she knows to begin and to end with.
/// </summary>
public static class Pocket
{
    public const int Length = 8;

    private const int MostHands = 10, MostOfAKind = 2;

    /// <summary>From here on she is sure enough of it to begin and end with.</summary>
    private const double Sure = .88;

    /// <summary>All that hands can ask.</summary>
    public static IReadOnlyList<Ask> Candidates { get; } =
    [
        .. Enumerable.Range(1, MostHands).Select(n => new Ask(AskKind.Say, n, Form.Fingers)),
        .. Enumerable.Range(1, 4).Select(n => new Ask(AskKind.Part, 5, n, Form.Fingers)),
        .. Enumerable.Range(1, MostHands - 1).Select(n => new Ask(AskKind.Part, MostHands, n, Form.Fingers)),
        .. Enumerable.Range(1, 19).Select(n => new Ask(AskKind.On, n, 1, Form.Spoken)),
        .. Enumerable.Range(2, 18).Select(n => new Ask(AskKind.Back, n, 1, Form.Spoken)),
        .. new[] { 5, 10, 20 }.SelectMany(n => new[] { new Ask(AskKind.Words, [1, n], Form.None), new Ask(AskKind.Words, [n, 1], Form.None) }),
    ];

    /// <param name="right">Her chance of getting an ask right.</param>
    /// <param name="skip">How many of the nearest to leave out, for another list.</param>
    public static IReadOnlyList<Ask> For(Func<Ask, double> right, int skip = 0)
    {
        var weighed = Candidates.Select(a => (Ask: a, Right: right(a))).OrderBy(a => Math.Abs(a.Right - .75)).ToList();
        var chosen = new List<Ask>();
        foreach (var (ask, _) in weighed.Skip(skip))
            if (chosen.Count < Length - 2 && chosen.Count(a => a.Kind == ask.Kind) < MostOfAKind && !chosen.Exists(a => Alike(a, ask))) chosen.Add(ask);
        // The largest of what she is sure of: fingers first, so that hands have something to do.
        var sure = weighed.Where(a => !chosen.Contains(a.Ask)).OrderByDescending(a => a.Right >= Sure).ThenByDescending(a => a.Right >= Sure && a.Ask.Form == Form.Fingers).ThenByDescending(a => a.Right >= Sure ? a.Ask.Largest : a.Right)
            .DistinctBy(a => a.Ask.Kind).Take(2).Select(a => a.Ask).ToList();
        // Kinds go round, so that nothing runs on.
        var mixed = chosen.GroupBy(a => a.Kind).SelectMany(g => g.Select((a, i) => (a, i))).OrderBy(x => x.i).ThenBy(x => x.a.Kind).Select(x => x.a);
        return [sure[0], .. mixed, sure[1]];
    }

    /// <summary>The number that is held up or said.</summary>
    private static int Held(Ask ask) => ask.Kind == AskKind.Part ? ask[1] : ask[0];

    /// <summary>Of one kind with neighbouring numbers, or one more and one fewer between the same two.</summary>
    private static bool Alike(Ask a, Ask b) => a.Kind == b.Kind && a.Kind != AskKind.Words && Math.Abs(Held(a) - Held(b)) < 2 || a.Kind is AskKind.On or AskKind.Back && b.Kind is AskKind.On or AskKind.Back && Math.Abs(a[0] - b[0]) < 2;

    /// <summary>What the grown-up does with her hands, and says.</summary>
    public static string Says(Ask ask) => ask.Kind switch
    {
        AskKind.Say => $"Hold up {ask[0]} for a moment and close your hands: how many?",
        AskKind.Part => $"Hold up {ask[1]}: how many more make {ask[0]}?",
        AskKind.On => $"Say “{ask[0]}”: what is one more?",
        AskKind.Back => $"Say “{ask[0]}”: what is one fewer?",
        _ when ask[0] < ask[1] => $"Thumb up: she says the numbers from {ask[0]} upwards, to {ask[1]}. Stop the thumb now and then.",
        _ => $"Thumb down: she says the numbers from {ask[0]} downwards, to {ask[1]}. Stop the thumb now and then.",
    };
}
