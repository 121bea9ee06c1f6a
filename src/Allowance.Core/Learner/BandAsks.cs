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

    /// <summary>As many of each sort as may be (a kind, a form, a step), and of each from the smallest numbers to the largest.</summary>
    private static List<Ask> Spread(List<Ask> asks, int most)
    {
        if (asks.Count <= most) return asks;
        var sorts = asks.GroupBy(a => (a.Kind, a.Form, a.Kind switch { AskKind.On or AskKind.Back or AskKind.Step => a[1], AskKind.Words => Math.Min(4, Math.Min(a[0], a[1])), _ => 0 })).Select(g => g.ToList()).OrderBy(g => g.Count).ToList();
        var chosen = new HashSet<Ask>();
        for (int i = 0; i < sorts.Count; i++)
        {
            int share = Math.Min(sorts[i].Count, (most - chosen.Count) / (sorts.Count - i));
            // Each sort begins a little further on, so that they do not all ask the same numbers.
            for (int k = 0; k < share; k++) chosen.Add(sorts[i][(int)((k + (i + .5) / sorts.Count) * sorts[i].Count / share)]);
        }
        return [.. asks.Where(chosen.Contains)];
    }

    /// <summary>
    /// What may stand for a band. Where a skill is about one form (saying words, reading and writing numerals, a line, real things), has but two or
    /// three numbers in a band, or numbers that are only written, the list is as long as it can be.
    /// </summary>
    private static IEnumerable<Ask> Candidates(string skill, int low, int high)
    {
        var numbers = Enumerable.Range(low, high - low + 1).ToList();
        if (numbers.Count > 28) numbers = [.. Enumerable.Range(0, 28).Select(k => low + (high - low) * k / 27)];
        Form[] pictures = high <= 5 ? [Form.Scatter, Form.Dice, Form.Fingers, Form.Objects, Form.FiveFrame, Form.Domino, Form.Twos, Form.Row]
            : high <= 10 ? [Form.TenFrame, Form.Dice, Form.Fingers, Form.Scatter] : high <= 20 ? [Form.DoubleTenFrame, Form.Tally, Form.Rack] : [];
        Form[] mixed = [Form.Numeral, .. pictures.Take(2)];
        return skill switch
        {
            "words" => from n in numbers from start in (int[])[1, n / 2, n - 3] where start > 0 && start < n select new Ask(AskKind.Words, start, n, Form.None),
            "wordsback" => from n in numbers from end in (int[])[1, n / 2, n - 3] where end > 0 && end < n select new Ask(AskKind.Words, n, end, Form.None),
            "glance" or "fives" or "tens" => Say(pictures),
            "howmany" or "touch" or "unmoved" => Say([Form.Objects, Form.Scatter, Form.Row]),
            "numeral" => Say([Form.Numeral]),
            "takeout" => Of(AskKind.Take, Form.Objects, Form.Numeral, Form.Spots),
            "hold" => Of(AskKind.Take, Form.Spoken),
            "match" => from n in numbers from f in pictures select new Ask(AskKind.Match, n, f, Form.Numeral),
            "write" => Of(AskKind.Trace, Form.Numeral),
            "ordinal" or "place" => Of(AskKind.Place, Form.Line),
            "more" => from n in numbers from less in (int[])[1, 2, 4] where n > less from f in mixed select new Ask(AskKind.More, n - less, n, f),
            "guess" => Of(AskKind.Guess, Form.Objects, Form.Scatter),
            "even" => from n in numbers from more in (int[])[2, 4] where n > more select new Ask(AskKind.Even, n, n - more, Form.Objects),
            "share" => from n in numbers from ways in (int[])[2, 3, 4] where n % ways == 0 select new Ask(AskKind.Share, n, ways, Form.Objects),
            "gap" => Bonds(AskKind.Gap),
            "order" => from n in numbers
                       from near in (int[])[1, 2]
                       from far in (int[])[2, 3, 4]
                       where near < far && n > far
                       from f in mixed
                       select new Ask(AskKind.Order, [n - far, n - near, n], f),
            "next" => from n in numbers where n > 1 from f in (Form[])[Form.Numeral, Form.Line, mixed[1]] from kind in (AskKind[])[AskKind.On, AskKind.Back] select new Ask(kind, n - 1, 1, f),
            "on" => from n in numbers from steps in (int[])[2, 3] where n > steps from f in (Form[])[Form.Line, Form.Numeral] select new Ask(AskKind.On, n - steps, steps, f),
            "back" => from n in numbers from steps in (int[])[2, 3] where n > steps from f in (Form[])[Form.Line, Form.Numeral] select new Ask(AskKind.Back, n, steps, f),
            "steps" => from n in numbers from step in (int[])[2, 5, 10] where n % step == 0 && n > step select new Ask(AskKind.Step, n - step, step, Form.Line),
            "partners" or "hidden" => Bonds(AskKind.Part),
            "ways" => numbers.Where(n => n > 1).SelectMany(n => new[] { Form.Bond, Form.Bar, Form.Objects }.Select(f => new Ask(AskKind.Split, n, f))),
            "double" => from n in numbers where n % 2 == 0 from ask in (Ask[])[new(AskKind.Double, n / 2, Form.Numeral), new(AskKind.Join, n / 2, n / 2, Form.Dice), new(AskKind.Join, n / 2, n / 2 - 1, Form.Numeral)] select ask,
            "join" => from n in numbers from b in Enumerable.Range(1, n / 2) from f in mixed select new Ask(AskKind.Join, n - b, b, f),
            "take" => Bonds(AskKind.Gone),
            "ones" => from n in numbers
                      where n > 11
                      from b in Enumerable.Range(1, Math.Min(4, n - 11))
                      from f in (Form[])[Form.Numeral, Form.DoubleTenFrame]
                      from ask in (Ask[])[new(AskKind.Join, n - b, b, f), new(AskKind.Gone, n, b, f)]
                      select ask,
            "cross" => from n in numbers
                       where n is > 10 and < 19
                       from b in Enumerable.Range(n - 9, 9 - n / 2)
                       where b < 10 && n - b >= b
                       from f in (Form[])[Form.Numeral, Form.DoubleTenFrame]
                       from ask in (Ask[])[new(AskKind.Join, n - b, b, f), new(AskKind.Gone, n, n - b, f)]
                       select ask,
            "several" => from n in numbers where n > 4 from b in Enumerable.Range(1, 2) from f in (Form[])[Form.Numeral, Form.Dice] select new Ask(AskKind.Join, [n - b - 1, b, 1], f),
            "story" => from n in numbers where n > 1 from b in (int[])[1, n / 3, n / 2] where b > 0 from f in (Form[])[Form.Objects, Form.Equation] select new Ask(AskKind.Story, n - b, b, f),
            "digits" => Of(AskKind.Digits, Form.Numeral),
            _ => from a in Enumerable.Range(2, 5) from b in Enumerable.Range(2, 4) from f in (Form[])[Form.Numeral, Form.Twos] where f != Form.Twos || Math.Max(a, b) <= 10 select new Ask(AskKind.Times, a, b, f),
        };

        IEnumerable<Ask> Of(AskKind kind, params Form[] forms) => from n in numbers from f in forms select new Ask(kind, n, f);

        IEnumerable<Ask> Say(Form[] forms) => numbers.SelectMany(n => forms.Where(f => n <= f.Facts().High).Select(f => new Ask(AskKind.Say, n, f)));

        IEnumerable<Ask> Bonds(AskKind kind) =>
            from n in numbers where n > 1 from b in Enumerable.Range(1, n - 1) from f in mixed select new Ask(kind, n, b, f);
    }
}
