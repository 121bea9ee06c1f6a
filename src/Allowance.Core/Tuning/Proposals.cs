using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Materials;
using Allowance.Core.Setups;

namespace Allowance.Core.Tuning;

public enum AdviceKind { Begin, StepUp, Stay, StepBack, Rest, Visit, Another }

public static class AdviceWords
{
    public static string Says(this AdviceKind kind) => kind switch
    {
        AdviceKind.Begin => "To begin with", AdviceKind.StepUp => "A step up", AdviceKind.StepBack => "A step back", AdviceKind.Rest => "Rest this",
        AdviceKind.Visit => "A visit", AdviceKind.Another => "Another way", _ => "Stay",
    };
}

/// <param name="Says">What to play, in a few words.</param>
/// <param name="Why">One sentence with the evidence.</param>
/// <param name="Success">The mean chance of being right in it.</param>
/// <param name="Asks">What comes up in it, each as often.</param>
public sealed record Proposal(AdviceKind Kind, Setup Setup, string Says, string Why, double Success, IReadOnlyList<Ask> Asks);

/// <summary>What was seen of a group of asks.</summary>
public sealed record Evidence(int Seen, int Right, int Days, int AtOnce)
{
    public static Evidence Of(IEnumerable<Observation> observations)
    {
        var list = observations.ToList();
        int how = list.Count(o => o.Seen.Outcome >= Outcome.CountedAll);
        return new(list.Count, list.Count(o => o.Seen.Right), list.Select(o => o.Day).Distinct().Count(), list.Count(o => o.Seen.Outcome == Outcome.SawIt))
        {
            CountedAllShare = how == 0 ? 0 : (double)list.Count(o => o.Seen.Outcome == Outcome.CountedAll) / how,
        };
    }

    /// <summary>"right 9 of 10 times on three days, six of them at once".</summary>
    public string Says()
    {
        if (Seen == 0) return "nothing seen yet";
        string days = Days == 1 ? "on one day" : $"on {Number(Days)} days";
        string once = AtOnce == 0 ? "" : AtOnce == Right ? ", all at once" : $", {Number(AtOnce)} of them at once";
        return InAll > Days ? $"right {Right} of the last {Words.Count(Seen, "time")}{once}; met on {Number(InAll)} days" : $"right {Right} of {Words.Count(Seen, "time")} {days}{once}";
    }

    /// <summary>On how many days it was met in all, as far back as advice looks: these may be the last notes of many.</summary>
    public int InAll { get; private init; }

    /// <summary>The last notes of a group, and on how many days there were any.</summary>
    public static Evidence Of(IReadOnlyList<Observation> all, int last) => Of(all.TakeLast(last)) with { InAll = all.Select(o => o.Day).Distinct().Count() };

    /// <summary>Of the answers whose method was watched, the share that counted all.</summary>
    public double CountedAllShare { get; private init; }

    private static readonly string[] Small = ["no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve"];

    private static string Number(int n) => n < Small.Length ? Small[n] : n.ToString();
}

/// <summary>
/// What a child could play next in Partners. One thing changes at a time: target, form or rule level. A step up follows
/// when what she plays now is firm and was seen on two days; a step back when more than four in ten go wrong.
/// </summary>
public static class Proposals
{
    private const double FirmFrom = .87, TooHardBelow = .60, Wanted = .80;
    private const int MostEquals = 10, Recent = 20, VisitAfterDays = 14;

    /// <summary>From here on a game is known so well that it may rest.</summary>
    private const double RestFrom = .93;

    /// <summary>Where structure comes first, so much counting of everything is no step forward yet.</summary>
    private const double MostlyCounted = .6;

    /// <summary>How many of her newest notes advice looks at.</summary>
    public const int Remembered = 600;

    /// <summary>The rungs that are proposed, from gentle to hard; others are for the household to choose.</summary>
    private static readonly string[] Ladder = ["same", "spot", "memory", "run", "any"];

    /// <summary>The game whose rungs these are.</summary>
    public static FrameData Frame { get; } = Catalogue.All.First(f => f is Partners).Data;

    /// <param name="last">The setup she played last and her seat in it, or null.</param>
    /// <param name="seen">All observations of her, oldest first.</param>
    public static Proposal For(Seat child, ChildModel model, IReadOnlyList<Observation> seen, (Setup Setup, int Seat)? last, Approach approach, DateOnly day)
    {
        var forms = Forms(approach);
        var now = last is { } l && l.Setup.Frame == Frame ? Played.Of(l.Setup, l.Seat) : null;
        if (now is null)
        {
            // Pictures come first for a child who hardly reads numerals yet.
            bool reads = model.Right(new Ask(AskKind.Say, 8, Form.Numeral), day) > FirmFrom;
            var begin = Beginnings(reads ? forms[^1] : forms[0]).MinBy(p => Math.Abs(Success(model, p, day) - Wanted))!;
            double expected = Success(model, begin, day);
            return Make(AdviceKind.Begin, begin, $"Nothing was seen of her in this game yet; about {Tenths(expected)} in ten should go right to begin with.");
        }
        double success = Success(model, now, day);
        var evidence = Evidence.Of([.. seen.Where(o => now.Covers(o.Ask))], Recent);
        string told = $"{now.Names()}: {evidence.Says()}.";
        int away = model.LastDay is { } met ? day.DayNumber - met.DayNumber : 0;
        bool counts = approach["answers"] == "structure" && evidence.CountedAllShare >= MostlyCounted;
        if (success >= FirmFrom && counts && evidence.Seen >= 6)
            return Make(AdviceKind.Stay, now, $"{told} Mostly counted one by one: the same once more, looking for fives and parts first.");
        if (success >= FirmFrom && evidence.InAll >= 2 && evidence.Seen >= 6)
        {
            var steps = now.Harder(forms, Ladder).Select(s => (Step: s, Success: Success(model, s.Played, day))).ToList();
            var best = steps.Where(s => s.Success < success && s.Success >= TooHardBelow).OrderBy(s => Math.Abs(s.Success - Wanted)).FirstOrDefault();
            if (best.Step.Played is not null)
                return Make(AdviceKind.StepUp, best.Step.Played, $"{told} Ready for {best.Step.Says}.");
        }
        if (success >= RestFrom && evidence.InAll >= 3)
        {
            string rest = $"{told} She has it: let it rest, and play something else meanwhile.";
            return Beginnings(child, model, approach, day).FirstOrDefault() is { } other ? other with { Kind = AdviceKind.Rest, Why = rest } : Make(AdviceKind.Rest, now, rest);
        }
        if (success < TooHardBelow)
        {
            var steps = now.Gentler(forms, Ladder).Select(s => (Step: s, Success: Success(model, s.Played, day))).ToList();
            var best = steps.Where(s => s.Success > success).OrderBy(s => Math.Abs(s.Success - Wanted)).FirstOrDefault();
            if (best.Step.Played is not null)
                return Make(AdviceKind.StepBack, best.Step.Played, $"{told} {Words.Sentence($"{best.Step.Says} for a while makes it a pleasure again")}");
        }
        return away >= VisitAfterDays
            ? Make(AdviceKind.Visit, now, $"{told} That was {away} days ago: time for a visit.")
            : Make(AdviceKind.Stay, now, $"{told} {(success >= FirmFrom ? "Once more, to see it on another day." : "Just right for now.")}");

        Proposal Make(AdviceKind kind, Played played, string why) => new(kind, played.ToSetup(Frame, child, approach), played.Says(), why, Success(model, played, day), played.Asks());
    }

    /// <summary>
    /// Two or three things to play: what comes next in what she plays, a visit to something that is resting, and another way.
    /// </summary>
    public static IReadOnlyList<Proposal> All(Seat child, ChildModel model, IReadOnlyList<Observation> seen, (Setup Setup, int Seat)? last, Approach approach, DateOnly day)
    {
        var main = For(child, model, seen, last, approach, day);
        var all = new List<Proposal> { main };
        if (Visit(child, model, approach, day) is { } visit && visit.Says != main.Says) all.Add(visit);
        // A new form or rule comes with numbers she already holds.
        int most = last is { } l && l.Setup.Frame.Id == main.Setup.Frame.Id && main.Kind != AdviceKind.Begin ? Played.Of(l.Setup, l.Seat).Target : int.MaxValue;
        foreach (var other in Beginnings(child, model, approach, day, most))
            if (all.Count < (main.Kind == AdviceKind.Begin ? 3 : 2) && all.All(p => p.Says != other.Says))
                all.Add(main.Kind == AdviceKind.Begin ? other : other with { Kind = AdviceKind.Another, Why = $"Beside it, for a change: {char.ToLowerInvariant(other.Why[0])}{other.Why[1..]}" });
        return all;
    }

    /// <summary>What was steady once and is fading, the longest unmet first.</summary>
    private static Proposal? Visit(Seat child, ChildModel model, Approach approach, DateOnly day)
    {
        string[] met = ["partners", "hidden", "match"];
        var resting = Enumerable.Range(0, Feeding.Bands.Count).Where(b => met.Contains(Feeding.Bands[b].Skill.Id)).Select(b => model.Standing(b, day))
            .Where(b => b.Word == SkillWord.Resting).MinBy(b => b.LastMet);
        if (resting is null) return null;
        var form = Forms(approach)[^1];
        int band = resting.SkillBand.Band;
        var played = resting.SkillBand.Skill.Id == "match" ? new Played("same", Math.Min(band, MostEquals), form) : new Played("spot", band, form);
        int days = day.DayNumber - resting.LastMet!.Value.DayNumber;
        return new(AdviceKind.Visit, played.ToSetup(Frame, child, approach), played.Says(),
            $"{Words.Sentence(resting.SkillBand.Skill.Says).TrimEnd('.')}, to {band}, was steady and was last met {Words.Count(days, "day")} ago: time for a visit.", Success(model, played, day), played.Asks());
    }

    /// <summary>Three games to begin with, each another way of playing, after a first look.</summary>
    /// <param name="most">The largest target or number on the cards.</param>
    public static IReadOnlyList<Proposal> Beginnings(Seat child, ChildModel model, Approach approach, DateOnly day, int most = int.MaxValue)
    {
        // Games that ask the same are weighed once.
        var open = Ladder.SelectMany(level => CardForms(approach).SelectMany(form => Sizes(level, form))).Where(p => p.Target <= most)
            .GroupBy(p => p with { Level = p.SameAsks })
            .Select(g => (Games: g.ToList(), Asks: g.First().Asks())).Select(g => (g.Games, g.Asks, Success: g.Asks.Average(a => model.Right(a, day)))).Where(g => g.Success is > .45 and < .95)
            .Select(g => (g.Games, g.Success, Fits: model.ChanceOfShare(g.Asks, .52, .90, day)))
            .SelectMany(g => g.Games.Select(p => (Played: p, g.Success, g.Fits))).ToList();
        var chosen = new List<(Played Played, double Success, double Fits)>();
        while (chosen.Count < 3 && open.Count > 0)
        {
            var next = open.MaxBy(p => p.Fits - chosen.Sum(c => Likeness(c.Played, p.Played)));
            chosen.Add(next);
            open.Remove(next);
        }
        return [.. chosen.Select(p => new Proposal(AdviceKind.Begin, p.Played.ToSetup(Frame, child, approach), p.Played.Says(), $"About {Tenths(p.Success)} in ten should go right.", p.Success, p.Played.Asks()))];
    }

    /// <summary>What a game gives up by being like one that is proposed already, in chances of being right.</summary>
    private static double Likeness(Played a, Played b) => a.Level == b.Level && a.Form == b.Form ? .12 : (a.Level == b.Level ? .05 : 0) + (a.Form == b.Form ? .02 : 0);

    private static Form[] CardForms(Approach approach) => approach["handle"] == "numerals" ? [Form.Numeral] : [Form.Dice, Form.TenFrame, Form.Fingers, Form.Scatter, Form.Numeral];

    private static IEnumerable<Played> Sizes(string level, Form form) => level == "same"
        ? Enumerable.Range(3, 10).Where(n => n <= Math.Min(MostEquals, form.Facts().High)).Select(n => new Played(level, n, form))
        : Enumerable.Range(4, 20).Where(t => t - 1 <= form.Facts().High).Select(t => new Played(level, t, form));

    private static int Tenths(double p) => Math.Clamp((int)Math.Round(10 * p), 1, 10);

    /// <summary>From the gentlest form to the hardest, by the household's approach.</summary>
    private static Form[] Forms(Approach approach) => (approach["handle"], approach["answers"]) switch
    {
        ("numerals", _) => [Form.Numeral],
        (_, "counting") => [Form.Dice, Form.Numeral],
        _ => [Form.TenFrame, Form.Numeral],
    };

    private static IEnumerable<Played> Beginnings(Form form)
    {
        for (int n = 4; n <= MostEquals; n++) yield return new("same", n, form);
        for (int target = 4; target <= 20 && target - 1 <= form.Facts().High; target++) yield return new("spot", target, form);
    }

    /// <summary>The mean chance of being right over the asks that come up, each bond from both sides.</summary>
    private static double Success(ChildModel model, Played played, DateOnly day)
    {
        var asks = played.Asks();
        return asks.Average(a => model.Right(a, day));
    }

    /// <summary>The three things that change one at a time. For pairs of equals the target is the largest number on the cards.</summary>
    private sealed record Played(string Level, int Target, Form Form)
    {
        public static Played Of(Setup setup, int seat)
        {
            string level = setup.LevelAt(seat);
            var form = FormTable.Find(setup.At(seat, Partners.Knobs.Form).Id)!.Value;
            int target = level == "same" ? Math.Clamp(setup.Get(Partners.Knobs.Deck).Deck.Counts.Keys.Max(), 3, MostEquals) : setup.At(seat, Partners.Knobs.Target).Number;
            return new(level is "memory-small" ? "memory" : level is "higher" or "write" ? "spot" : level, target, form);
        }

        /// <summary>The level that asks the same.</summary>
        public string SameAsks => Level switch { "memory" => "spot", "any" => "run", _ => Level };

        public bool Covers(Ask ask) => Level == "same" ? ask.Kind == AskKind.Match : ask.Kind == AskKind.Part && ask[0] == Target;

        public IReadOnlyList<Ask> Asks() => Level == "same"
            ? [.. Enumerable.Range(1, Target).Select(n => new Ask(AskKind.Match, n, Form, Form))]
            : [.. Partners.PackFor(Target).Counts.Keys.Where(n => n <= Target && Target - n > 0).Select(n => new Ask(AskKind.Part, Target, n, Form)), .. Together()];

        /// <summary>Turning and adding also asks how much lies there.</summary>
        private IEnumerable<Ask> Together() => Level is "run" or "any"
            ? Enumerable.Range(2, Math.Max(1, Target - 2)).Select(n => new Ask(AskKind.Join, n - n / 3, n / 3, Form))
            : [];

        public IEnumerable<(Played Played, string Says)> Harder(Form[] forms, string[] ladder) => Around(forms, ladder, 1);

        public IEnumerable<(Played Played, string Says)> Gentler(Form[] forms, string[] ladder) => Around(forms, ladder, -1);

        private IEnumerable<(Played, string)> Around(Form[] forms, string[] ladder, int by)
        {
            int target = Target + by, form = Array.IndexOf(forms, Form) + by, rung = Array.IndexOf(ladder, Level) + by;
            if (target is >= 3 and <= 30 && (Level != "same" || target <= MostEquals) && Fits(Form, target)) yield return (this with { Target = target }, $"{(this with { Target = target }).Names(false)}, in the same form");
            if (form >= 0 && form < forms.Length && Fits(forms[form], Target)) yield return (this with { Form = forms[form] }, $"the same numbers as {forms[form].Facts().Label}");
            if (rung >= 0 && rung < ladder.Length && (ladder[rung] != "same" || Target <= 10) && Level != "same")
                yield return (this with { Level = ladder[rung] }, $"the same numbers, {Rung(ladder[rung]).ToLowerInvariant()}");
            // From equals on to partners: of five, or of more where those are known.
            for (int partners = Math.Min(Target, 5); Level == "same" && by > 0 && partners <= MostEquals; partners++)
                if (Fits(Form, partners)) yield return (this with { Level = "spot", Target = partners }, $"partners of {partners}");
        }

        private static bool Fits(Form form, int target) => form.Facts().High >= target - 1;

        private static string Rung(string level) => Frame.Level(level)!.Label;

        public string Names(bool capital = true)
        {
            string words = Level == "same" ? $"pairs of equals up to {Target}" : $"partners of {Target}";
            return capital ? char.ToUpperInvariant(words[0]) + words[1..] : words;
        }

        public string Says() => Level == "same" ? $"{Names()}, {Form.Facts().Label}" : $"{Names()}, {Rung(Level).ToLowerInvariant()}, {Form.Facts().Label}";

        public Setup ToSetup(FrameData frame, Seat child, Approach approach)
        {
            // Where every equation is written, taking face up is played with pencil and paper.
            string level = Level == "spot" && approach["writing"] == "write" ? "write" : Level;
            string winning = approach["winning"] == "evened" ? Winnings.Compete : approach["winning"];
            var deck = Level == "same" ? Deck.Plain(1, Math.Min(13, Target)) : Partners.PackFor(Target);
            var setup = Setup.Default(frame, child) with { LevelId = level };
            setup = setup.With(Partners.Knobs.Deck, new DeckValue(deck)).With(Partners.Knobs.Form, CommonKnobs.CardForms[Form.Id()]);
            setup = setup.With(Partners.Knobs.Winning, ((ChoiceKind)Partners.Knobs.Winning.Kind)[winning]);
            if (Level != "same") setup = setup.With(Partners.Knobs.Target, new WholeValue(Target));
            return setup.Get(Partners.Knobs.Layout).Places <= deck.Cards ? setup : setup.With(Partners.Knobs.Layout, SizeKind.Usual.Last(s => s.Places <= deck.Cards));
        }
    }
}
