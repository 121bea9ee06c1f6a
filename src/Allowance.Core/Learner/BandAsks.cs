using Allowance.Core.Asks;
using Allowance.Core.Forms;

namespace Allowance.Core.Learner;

/// <summary>
/// The published list of about fourteen asks that stand for a skill band: what is believed about the band is the mean over
/// them. They spread over the band's numbers and forms, and carry no support.
/// </summary>
public static class BandAsks
{
    private static readonly IReadOnlyList<Ask>[] All = [.. Enumerable.Range(0, Feeding.Bands.Count).Select(Build)];

    public static IReadOnlyList<Ask> Of(int band) => All[band];

    private static IReadOnlyList<Ask> Build(int index)
    {
        var (skill, upTo) = Feeding.Bands[index];
        int i = skill.Bands.ToList().IndexOf(upTo), low = i == 0 ? 1 : skill.Bands[i - 1] + 1;
        var candidates = Candidates(skill.Id, low, upTo).Where(a => Leads(a, index)).Distinct().ToList();
        return Spread(candidates, 14);
    }

    private static bool Leads(Ask ask, int index)
    {
        Span<int> bands = stackalloc int[4];
        int n = Feeding.Of(ask, bands);
        return bands[..n].Contains(index);
    }

    private static List<Ask> Spread(List<Ask> asks, int most) =>
        asks.Count <= most ? asks : [.. Enumerable.Range(0, most).Select(k => asks[k * asks.Count / most])];

    private static IEnumerable<Ask> Candidates(string skill, int low, int high)
    {
        var numbers = Enumerable.Range(low, high - low + 1).ToList();
        if (numbers.Count > 28) numbers = [.. Enumerable.Range(0, 28).Select(k => low + (high - low) * k / 27)];
        Form[] pictures = high <= 5 ? [Form.Scatter, Form.Dice, Form.Fingers, Form.Objects] : high <= 10 ? [Form.TenFrame, Form.Dice, Form.Fingers, Form.Scatter] : [Form.DoubleTenFrame, Form.Tally, Form.Rack];
        Form[] mixed = [Form.Numeral, pictures[0]];
        return skill switch
        {
            "words" => numbers.Select(n => new Ask(AskKind.Words, 1, n, Form.None)),
            "wordsback" => numbers.Where(n => n > 1).Select(n => new Ask(AskKind.Words, n, 1, Form.None)),
            "glance" or "fives" or "tens" => Say(pictures),
            "howmany" or "touch" or "unmoved" => Say([Form.Objects, Form.Scatter, Form.Row]),
            "numeral" => Say([Form.Numeral]),
            "takeout" => numbers.SelectMany(n => new[] { Form.Objects, Form.Numeral }.Select(f => new Ask(AskKind.Take, n, f))),
            "hold" => numbers.Select(n => new Ask(AskKind.Take, n, Form.Spoken)),
            "match" => numbers.SelectMany(n => pictures.Select(f => new Ask(AskKind.Match, n, f, Form.Numeral))),
            "write" => numbers.Select(n => new Ask(AskKind.Trace, n, Form.Numeral)),
            "ordinal" => numbers.Select(n => new Ask(AskKind.Place, n, Form.Line)),
            "place" => numbers.Select(n => new Ask(AskKind.Place, n, Form.Line)),
            "more" => numbers.SelectMany(n => new[] { 1, 2, 4 }.Where(d => n > d).SelectMany(d => mixed.Select(f => new Ask(AskKind.More, n - d, n, f)))),
            "guess" => numbers.Select(n => new Ask(AskKind.Guess, n, Form.Scatter)),
            "even" => numbers.Where(n => n > 2).Select(n => new Ask(AskKind.Even, n, n - 2, Form.Objects)),
            "share" => numbers.SelectMany(n => new[] { 2, 3, 4 }.Where(k => n % k == 0).Select(k => new Ask(AskKind.Share, n, k, Form.Objects))),
            "gap" => Bonds(AskKind.Gap, mixed),
            "order" => numbers.Where(n => n > 4).Select(n => new Ask(AskKind.Order, [n - 4, n - 1, n], Form.Numeral)),
            "next" => numbers.Where(n => n > 1).SelectMany(n => new[] { new Ask(AskKind.On, n - 1, 1, Form.Numeral), new Ask(AskKind.Back, n - 1, 1, Form.Numeral) }),
            "on" => numbers.Where(n => n > 3).Select(n => new Ask(AskKind.On, n - 3, 3, Form.Line)),
            "back" => numbers.Where(n => n > 3).Select(n => new Ask(AskKind.Back, n, 3, Form.Line)),
            "steps" => numbers.SelectMany(n => new[] { 2, 5, 10 }.Where(k => n % k == 0 && n > k).Select(k => new Ask(AskKind.Step, n - k, k, Form.Line))),
            "partners" or "hidden" => Bonds(AskKind.Part, mixed),
            "ways" => numbers.Where(n => n > 1).SelectMany(n => new[] { Form.Bond, Form.Objects }.Select(f => new Ask(AskKind.Split, n, f))),
            "double" => numbers.Where(n => n % 2 == 0).SelectMany(n => new[] { new Ask(AskKind.Double, n / 2, Form.Numeral), new Ask(AskKind.Join, n / 2, n / 2, Form.Dice) }),
            "join" => from n in numbers from b in Enumerable.Range(1, n / 2) from f in mixed select new Ask(AskKind.Join, n - b, b, f),
            "take" => Bonds(AskKind.Gone, mixed),
            "ones" => from n in numbers where n > 11 from b in Enumerable.Range(1, Math.Min(4, n - 11)) select new Ask(AskKind.Join, n - b, b, Form.Numeral),
            "cross" => from n in numbers where n is > 10 and < 19 from b in Enumerable.Range(n - 9, 9 - n / 2) where b < 10 && n - b >= b select new Ask(AskKind.Join, n - b, b, Form.Numeral),
            "several" => from n in numbers where n > 4 from b in Enumerable.Range(1, 2) select new Ask(AskKind.Join, [n - b - 1, b, 1], Form.Numeral),
            "story" => numbers.Where(n => n > 1).Select(n => new Ask(AskKind.Story, n - n / 3, n / 3, Form.Objects)),
            "digits" => numbers.Select(n => new Ask(AskKind.Digits, n, Form.Numeral)),
            _ => from a in Enumerable.Range(2, 5) from b in Enumerable.Range(2, 4) select new Ask(AskKind.Times, a, b, Form.Numeral),
        };

        IEnumerable<Ask> Say(Form[] forms) => numbers.SelectMany(n => forms.Where(f => n <= f.Facts().High).Select(f => new Ask(AskKind.Say, n, f)));

        IEnumerable<Ask> Bonds(AskKind kind, Form[] forms) =>
            from n in numbers where n > 1 from b in Enumerable.Range(1, n - 1) from f in forms select new Ask(kind, n, b, f);
    }
}
