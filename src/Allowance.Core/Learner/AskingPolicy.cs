using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Numbers;

namespace Allowance.Core.Learner;

/// <summary>
/// What a made-up child is asked over the weeks, without any estimate: on each day one or two small games of one kind of
/// ask; the numbers begin where her age usually is, and go up or down a band by how the last game of that kind went, as a
/// parent would by feel. Some families go away for two or three weeks.
/// </summary>
public sealed class AskingPolicy
{
    private static readonly AskKind[] Kinds = [.. AskKinds.All.Where(k => k.Scale != OutcomeScale.Nearness).Select(k => k.Kind)];

    private readonly double age;
    private readonly Dictionary<AskKind, int> rung = [];
    private Rng rng;

    public AskingPolicy(long seed, double age)
    {
        rng = Rng.ForGame(seed, 78);
        this.age = age;
    }

    /// <summary>The days with something to note, over <paramref name="weeks"/> weeks, rising.</summary>
    public IReadOnlyList<DateOnly> Days(DateOnly first, int weeks, int count)
    {
        int length = 7 * weeks, away = rng.Unit() < .4 ? 14 + rng.Below(8) : 0, from = 14 + rng.Below(length - 35);
        var free = Enumerable.Range(0, length).Where(d => away == 0 || d < from || d >= from + away).ToList();
        while (free.Count > count) free.RemoveAt(rng.Below(free.Count));
        return [.. free.Select(first.AddDays)];
    }

    /// <summary>The asks of one small game, one after another; <paramref name="answer"/> tells whether she was right.</summary>
    public void Play(int asks, Func<Ask, bool> answer)
    {
        var kind = Kind();
        int top = Ladder(kind).Length - 1;
        if (!rung.TryGetValue(kind, out int at)) at = Math.Clamp(Begin(kind) + rng.Below(3) - 1, 0, top);
        var form = FormFor(kind, Ladder(kind)[at]);
        var support = Takes(kind) && rng.Unit() < .12 ? Support.Things : Support.None;
        int right = 0;
        for (int i = 0; i < asks; i++)
            if (answer(Make(kind, at, form, support))) right++;
        rung[kind] = Math.Clamp(at + (right >= .8 * asks ? 1 : right < .5 * asks ? -1 : 0), 0, top);
    }

    /// <summary>The log of a made-up child who is asked by this policy: games of five asks, a third of the answers not watched.</summary>
    public static IReadOnlyList<Observation> Log(IMadeUpChild child, long seed, double age, DateOnly first, int weeks, int days, int gamesADay)
    {
        var policy = new AskingPolicy(seed, age);
        var watching = Rng.ForGame(seed, 79);
        var log = new List<Observation>();
        foreach (var day in policy.Days(first, weeks, days))
            for (int game = 0; game < gamesADay; game++)
                policy.Play(5, ask =>
                {
                    var outcome = child.Answer(ask, day);
                    bool right = outcome >= Outcome.CountedAll;
                    var seen = watching.Unit() < 1.0 / 3 ? Seen.NotWatched(right) : Seen.How(outcome);
                    log.Add(new(new DateTimeOffset(day.ToDateTime(new TimeOnly(16, 0)), TimeSpan.Zero), ask, seen));
                    return right;
                });
        return log;
    }

    /// <summary>Whatever a child of this age usually meets, early things as often as late ones.</summary>
    private AskKind Kind()
    {
        while (true)
        {
            var kind = Kinds[rng.Below(Kinds.Length)];
            if (Ages(kind)[0] < age + .7) return kind;
        }
    }

    private static string SkillOf(AskKind kind) => kind switch
    {
        AskKind.Say => "howmany", AskKind.Words => "words", AskKind.Part => "hidden", AskKind.Join => "join", AskKind.Gone => "take", AskKind.Split => "ways",
        AskKind.On => "on", AskKind.Back => "back", AskKind.Place => "place", AskKind.Double => "double", AskKind.Take => "takeout", AskKind.Times => "ops",
        _ => kind.Facts().Feeds[0],
    };

    private static int[] Ladder(AskKind kind) => [.. Skills.Find(SkillOf(kind)).Bands];

    private static double[] Ages(AskKind kind) => Constants.UsualAges[SkillOf(kind)];

    private int Begin(AskKind kind) => Ages(kind).Count(a => a < age);

    private static bool Takes(AskKind kind) => kind is AskKind.Part or AskKind.Join or AskKind.Gone or AskKind.Gap or AskKind.On or AskKind.Back;

    private Form FormFor(AskKind kind, int band)
    {
        Form[] pictures = band <= 5 ? [Form.Dice, Form.Scatter, Form.Fingers, Form.Objects, Form.FiveFrame]
            : band <= 10 ? [Form.TenFrame, Form.Dice, Form.Fingers, Form.Scatter, Form.Objects] : [Form.DoubleTenFrame, Form.Rack, Form.Tally, Form.Scatter];
        Form picture = pictures[rng.Below(pictures.Length)];
        return kind switch
        {
            AskKind.Words => Form.None,
            AskKind.Say or AskKind.More => rng.Unit() < .4 ? Form.Numeral : picture,
            AskKind.Match => picture,
            AskKind.Take => rng.Below(2) == 0 ? Form.Spoken : Form.Objects,
            AskKind.Place or AskKind.On or AskKind.Back or AskKind.Step => Form.Line,
            AskKind.Join or AskKind.Part or AskKind.Gone or AskKind.Gap => rng.Below(2) == 0 ? Form.Numeral : picture,
            AskKind.Even or AskKind.Share or AskKind.Story => Form.Objects,
            AskKind.Split => Form.Bond,
            _ => Form.Numeral,
        };
    }

    private Ask Make(AskKind kind, int at, Form form, Support support)
    {
        var ladder = Ladder(kind);
        int low = at == 0 || rng.Unit() < .3 ? 1 : ladder[at - 1] + 1, high = Math.Max(low + 1, ladder[at]);
        int n = Between(low, high);
        if (form.Facts().High < n) form = Form.Numeral;
        switch (kind)
        {
            case AskKind.Words: return rng.Unit() < .65 ? new(kind, 1, Math.Max(2, n), form) : new(kind, Math.Clamp(n, 2, 20), 1, form);
            case AskKind.Match: return new(kind, n, form == Form.Numeral ? Form.Word : form, Form.Numeral);
            case AskKind.More: return new(kind, n, Math.Max(0, n + Between(-3, 3)), form);
            case AskKind.Order:
                int step = Between(1, 3);
                return new(kind, [Math.Max(0, n - 2 * step), Math.Max(1, n - step), Math.Max(2, n)], form);
            case AskKind.On: return new(kind, Math.Max(0, n - Between(1, 3)), Between(1, 3), form, support);
            case AskKind.Back: return new(kind, Math.Max(3, n), Between(1, 3), form, support);
            case AskKind.Step: return new(kind, n, rng.Below(2) == 0 ? 2 : 5, form);
            case AskKind.Join:
                if (n > 4 && rng.Unit() < .15) return new(kind, [n - 3, 2, 1], form, Form.None, support);
                int b = Between(0, n / 2);
                return new(kind, n - b, b, form, support);
            case AskKind.Part or AskKind.Gone or AskKind.Gap:
                n = Math.Max(2, n);
                return new(kind, n, Between(rng.Unit() < .1 ? 0 : 1, n - 1), form, support);
            case AskKind.Even: return new(kind, Math.Max(3, n), Math.Max(1, n - 2 * Between(1, 2)), form);
            case AskKind.Share: return new(kind, 2 * Math.Max(2, n / 2), 2, form);
            case AskKind.Double: return new(kind, Math.Max(1, n / 2), form);
            case AskKind.Story: return new(kind, Math.Max(1, n - n / 3), Math.Max(1, n / 3), form);
            case AskKind.Times: return new(kind, Between(2, 6), Between(2, 9), form);
            default: return new(kind, kind == AskKind.Split ? Math.Max(2, n) : n, form);
        }
    }

    private int Between(int low, int high) => low + rng.Below(Math.Max(1, high - low + 1));
}
