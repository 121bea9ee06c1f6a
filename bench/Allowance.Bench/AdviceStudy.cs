using System.Collections.Concurrent;
using System.Diagnostics;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Numbers;
using Allowance.Core.Plans;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tuning;

namespace Allowance.Bench;

/// <summary>Who chooses what is played.</summary>
internal enum Chooser { Ours, Random, Ladder, Seer }

/// <summary>What is so, of a made-up child; what was seen of her is what was noted.</summary>
internal sealed class Truth(IMadeUpChild child, ChildModel noted) : IBeliefs
{
    public double Right(Ask ask, DateOnly day) => child.RightOverDays(ask);

    public void Chances(Ask ask, DateOnly day, Span<double> into)
    {
        noted.Chances(ask, day, into);
        double right = Right(ask, day), believed = 0;
        for (int i = (int)Outcome.CountedAll; i < 6; i++) believed += into[i];
        for (int i = 0; i < 6; i++) into[i] *= i >= (int)Outcome.CountedAll ? right / believed : (1 - right) / (1 - believed);
    }

    public double ChanceOfShare(IReadOnlyList<Ask> asks, double low, double high, DateOnly day) => asks.Average(child.RightOverDays) is var right && right >= low && right <= high ? 1 : .05;

    public BandStanding Standing(int band, DateOnly day)
    {
        double right = AdviceStudy.Mean(child, band);
        return noted.Standing(band, day) with { Right = right, Careful = right };
    }
}

/// <summary>Sums over many children; see <see cref="Figures"/> for what they come to.</summary>
internal sealed class AdviceTally
{
    public double[] Gained { get; } = new double[4];
    public double Began, Held;
    public int Sittings, Comfortable, TooHard, TooEasy, Windows, Thirds, Thrice, TwoChanges, MinutesRight, StrandsOpen, StrandsMet, Frames;
    public double Asks, Minutes, Believed, True;

    public void Add(AdviceTally o)
    {
        for (int i = 0; i < Gained.Length; i++) Gained[i] += o.Gained[i];
        Began += o.Began; Held += o.Held; Sittings += o.Sittings; Comfortable += o.Comfortable; TooHard += o.TooHard; TooEasy += o.TooEasy; Windows += o.Windows; Thirds += o.Thirds;
        Thrice += o.Thrice; TwoChanges += o.TwoChanges; MinutesRight += o.MinutesRight; StrandsOpen += o.StrandsOpen; StrandsMet += o.StrandsMet; Frames += o.Frames;
        Asks += o.Asks; Minutes += o.Minutes; Believed += o.Believed; True += o.True;
    }

    public IEnumerable<KeyValuePair<string, double>> Figures()
    {
        yield return new("gainOverRandom", Round(Gained[0] / Gained[1]));
        yield return new("gainOverLadder", Round(Gained[0] / Gained[2]));
        yield return new("gainOfSeer", Round(Gained[0] / Gained[3]));
        yield return new("held", Round(Held / Began));
        yield return new("comfortable", Round((double)Comfortable / Sittings));
        yield return new("tooHard", Round((double)TooHard / Sittings));
        yield return new("tooEasy", Round((double)TooEasy / Sittings));
        yield return new("strandsMet", Round((double)StrandsMet / StrandsOpen));
        yield return new("framesInTwoWeeks", Round((double)Frames / Windows));
        yield return new("sameThrice", Round((double)Thrice / Thirds));
        yield return new("moreThanOneChange", TwoChanges);
        yield return new("minutesRight", Round((double)MinutesRight / Sittings));

        static double Round(double x) => Math.Round(x, 4);
    }

    public string Says() => string.Join(" ", Figures().Select(f => $"{f.Key} {f.Value:0.###}")) + $" | asks a sitting {Asks / Sittings:0} minutes {Minutes / Sittings:0.0} believed {Believed / Sittings:0.000} true {True / Sittings:0.000} gained {string.Join('/', Gained.Select(g => $"{g:0}"))}";
}

/// <summary>Plays twelve weeks of what somebody chooses, five sittings a week of ten minutes alone with a grown-up.</summary>
internal static class AdviceStudy
{
    private const int Weeks = 12, Minutes = 10;
    private static readonly DateOnly First = new(2026, 1, 5);
    private static readonly int[] Weekdays = [0, 1, 2, 3, 5];

    public static AdviceTally Play(OfferBook book, long seed, int children, Nature nature)
    {
        var parts = new ConcurrentBag<(int, AdviceTally)>();
        Parallel.For(0, children, i =>
        {
            var tally = new AdviceTally();
            foreach (var chooser in Enum.GetValues<Chooser>()) new OneChild(book, seed, i, nature, chooser, tally).Play();
            parts.Add((i, tally));
        });
        var all = new AdviceTally();
        foreach (var (_, part) in parts.OrderBy(p => p.Item1)) all.Add(part);
        return all;
    }

    public static double Mean(IMadeUpChild child, int band) => BandAsks.Of(band).Average(child.RightOverDays);

    /// <summary>Median milliseconds of choosing, warm: for one child, for three at one table, and of planning a week of five sittings for three.</summary>
    public static IEnumerable<KeyValuePair<string, double>> Timed(OfferBook book)
    {
        var day = First.AddDays(7 * Weeks);
        var occasion = new Occasion(day, Minutes, Approach.Default);
        var children = Enumerable.Range(0, 24).Select(i =>
        {
            var (age, child) = Study.Child(1, i, Study.Usual);
            return new ChildHere(Seat.Child("", age, $"{i}"), ChildModel.Of(age, AskingPolicy.Log(child, i, age, First, Weeks, 30, 2)), [], []);
        }).ToList();
        yield return new("oneMilliseconds", Median(children, child => new Search(child, occasion).Best(book)));
        var threes = children.Chunk(3).ToList();
        yield return new("threeMilliseconds", Median(threes, three => Together.For(three, [], occasion, book)));
        yield return new("weekMilliseconds", Median(threes, three =>
        {
            var evening = new Evening(Minutes, [.. three.Select(c => c.Seat.Key)]);
            var plan = new PlanBook(Weekdays.Select(d => new ForOnce(day.AddDays(d), evening)));
            Planner.Of(plan.Between(day, day.AddDays(6)), three, [], occasion, book, _ => null);
        }));

        static double Median<T>(IReadOnlyList<T> all, Action<T> choose) =>
            all.Concat(all).Select(each =>
            {
                var clock = Stopwatch.StartNew();
                choose(each);
                return clock.Elapsed.TotalMilliseconds;
            }).Skip(all.Count).Order().ElementAt(all.Count / 2);
    }

    private sealed class OneChild
    {
        private readonly OfferBook book;
        private readonly Chooser chooser;
        private readonly AdviceTally tally;
        private readonly double age;
        private readonly IMadeUpChild child;
        private readonly ChildModel model;
        private readonly IBeliefs beliefs;
        private readonly List<PlayedBefore> played = [];
        private readonly List<(IReadOnlySet<Strand> Met, IReadOnlySet<Strand> Open)> weeks = [];
        private Rng rng;

        public OneChild(OfferBook book, long seed, int i, Nature nature, Chooser chooser, AdviceTally tally)
        {
            (this.book, this.chooser, this.tally) = (book, chooser, tally);
            (age, child) = Study.Child(seed, i, nature);
            model = new(age);
            beliefs = chooser == Chooser.Seer ? new Truth(child, model) : model;
            rng = Rng.ForGame(seed, 5_000 + i);
        }

        public void Play()
        {
            var began = Enumerable.Range(0, Feeding.Bands.Count).Select(b => Mean(child, b) >= StrandLevel.Reached).ToArray();
            for (int week = 0; week < Weeks; week++)
            {
                var open = chooser == Chooser.Ours ? OpenStrands(First.AddDays(7 * week)) : [];
                var met = new HashSet<Strand>();
                foreach (int weekday in Weekdays) Sit(First.AddDays(7 * week + weekday), met);
                weeks.Add((met, open));
            }
            var ended = Enumerable.Range(0, Feeding.Bands.Count).Select(b => Mean(child, b) >= StrandLevel.Reached).ToArray();
            tally.Gained[(int)chooser] += began.Zip(ended).Count(b => !b.First && b.Second);
            if (chooser != Chooser.Ours) return;
            tally.Began += began.Count(b => b);
            tally.Held += began.Zip(ended).Count(b => b.First && b.Second);
            for (int week = 0; week + 1 < Weeks; week++)
            {
                tally.StrandsOpen += weeks[week].Open.Count;
                tally.StrandsMet += weeks[week].Open.Count(s => weeks[week].Met.Contains(s) || weeks[week + 1].Met.Contains(s));
                tally.Windows++;
                tally.Frames += played.Skip(Weekdays.Length * week).Take(2 * Weekdays.Length).Select(p => p.Setup.Frame).Distinct().Count();
            }
            for (int s = 2; s < played.Count; s++)
            {
                tally.Thirds++;
                if (played[s].Setup.Frame == played[s - 1].Setup.Frame && played[s].Setup.Frame == played[s - 2].Setup.Frame) tally.Thrice++;
            }
            for (int s = 0; s < played.Count; s++)
                if (played.Take(s).LastOrDefault(p => p.Setup.Frame == played[s].Setup.Frame) is { } last && Threefold.Of(last.Setup, 0).Changes(Threefold.Of(played[s].Setup, 0)) > 1) tally.TwoChanges++;
        }

        private HashSet<Strand> OpenStrands(DateOnly day) => [.. Aims.Of(model, Approach.Default, day).Where(a => a.Kind is AimKind.Open or AimKind.Grow or AimKind.Visit).Select(a => a.Standing.SkillBand.Skill.Strand)];

        private void Sit(DateOnly day, HashSet<Strand> met)
        {
            var occasion = new Occasion(day, Minutes, Approach.Default);
            var seat = Seat.Child("", age + (day.DayNumber - First.DayNumber) / 365.25);
            var (playable, each, handling, said) = chooser switch
            {
                Chooser.Random => ByChance(seat, occasion),
                Chooser.Ladder => BySyllabus(seat, occasion),
                _ => Chosen(new Search(new(seat, beliefs, played, []), occasion).Best(book)[0]),
            };
            played.Add(new(playable.Setup, 0, day));
            double right = 0, seconds = 0;
            int asks = 0;
            var answers = new LearnerAnswers(playable.Setup, day, _ => model);
            Span<double> took = stackalloc double[6];
            Span<int> bands = stackalloc int[4];
            int games = 0;
            // Another game where it would still end nearer to the ten minutes.
            for (; games == 0 || seconds / 60 + each / 2 < Minutes; games++)
            {
                var run = playable.Compile(answers).Start(0);
                while (run.Next.Kind != StepKind.Over && run.Turns < 400)
                {
                    if (run.Next.Kind == StepKind.Chance)
                    {
                        run.Deal(run.Draw(ref rng));
                        continue;
                    }
                    var move = run.Plain(ref rng);
                    bool found = true;
                    foreach (var (at, ask) in run.Asks(move))
                    {
                        if (at != 0) continue;
                        right += child.RightOverDays(ask);
                        asks++;
                        var outcome = child.Answer(ask, day);
                        Seconds.Of(ask, took);
                        seconds += took[(int)outcome];
                        bool was = outcome >= Outcome.CountedAll;
                        found &= was;
                        model.Observe(new(new(day.ToDateTime(new(16, 0)), TimeSpan.Zero), ask, rng.Unit() < 1.0 / 3 ? Seen.NotWatched(was) : Seen.How(outcome)));
                        foreach (int band in bands[..Feeding.Of(ask, bands)]) met.Add(Feeding.Bands[band].Skill.Strand);
                    }
                    run.Apply(move, found || !run.Seeking(move));
                }
                seconds += handling * seat.Hands;
            }
            if (chooser != Chooser.Ours) return;
            double mean = asks == 0 ? 1 : right / asks;
            tally.Sittings++;
            tally.Asks += asks;
            tally.Minutes += seconds / 60;
            tally.Believed += said;
            tally.True += mean;
            if (mean is >= .70 and <= .92) tally.Comfortable++;
            if (mean < .60) tally.TooHard++;
            if (mean > .95) tally.TooEasy++;
            if (seconds / 60 / (games * each) is > 2 / 3.0 and < 4 / 3.0) tally.MinutesRight++;
        }

        private static (Playable, double Minutes, double Handling, double Right) Chosen(Suggestion s) => (s.Playable, s.Forecast.Minutes.P50, AskProfile.Of(s.Playable).Handling, s.Right);

        /// <summary>Any game, at any level, that is believed to go right in .55 to .93.</summary>
        private (Playable, double, double, double) ByChance(Seat seat, Occasion occasion)
        {
            var search = new Search(new(seat, beliefs, [], []), occasion);
            while (true)
            {
                var frame = Catalogue.All[rng.Below(Catalogue.All.Count)].Data;
                var level = frame.Levels[rng.Below(frame.Levels.Count)];
                var fitting = ByLevel.GetOrAdd((book, level), key => [.. key.Book.Ready.Where(o => o.Setup.Frame == frame && o.Setup.LevelId == key.Level.Id)]);
                if (fitting.Length == 0) continue;
                var offer = fitting[rng.Below(fitting.Length)];
                var told = search.Tell(offer);
                if (told.Right is >= .55 and <= .93) return (offer.Playable, told.Minutes, offer.Profile.Handling, told.Right);
            }
        }

        private static readonly ConcurrentDictionary<(OfferBook Book, Level Level), Offer[]> ByLevel = new();

        /// <summary>Each skill band at the age that is usual, with the game that asks most of it; once more until it is steady.</summary>
        private (Playable, double, double, double) BySyllabus(Seat seat, Occasion occasion)
        {
            var order = Syllabus.Of(book);
            if (rung < 0) rung = order.TakeWhile(s => s.Age < age).Count();
            rung = Math.Min(rung, order.Count - 1);
            while (rung < order.Count - 1 && model.Standing(order[rung].Band, occasion.Day).Word is SkillWord.Steady or SkillWord.Fluent) rung++;
            var offer = order[rung].Offer;
            return (offer.Playable, new Search(new(seat, beliefs, [], []), occasion).Tell(offer).Minutes, offer.Profile.Handling, 0);
        }

        private int rung = -1;
    }

    /// <summary>The bands by the age at which they usually go right, each with the game that asks most of it.</summary>
    private static class Syllabus
    {
        private static readonly ConcurrentDictionary<OfferBook, IReadOnlyList<(double Age, int Band, Offer Offer)>> Made = new();

        public static IReadOnlyList<(double Age, int Band, Offer Offer)> Of(OfferBook book) => Made.GetOrAdd(book, Make);

        private static IReadOnlyList<(double, int, Offer)> Make(OfferBook book)
        {
            var syllabus = new List<(double Age, int Band, Offer Offer)>();
            for (int band = 0; band < Feeding.Bands.Count; band++)
            {
                double at = 3;
                while (at < 9 && new ChildModel(at).Standing(band, First).Right < .60) at += .1;
                var best = book.Ready.Select(o => (Offer: o, Share: ShareOf(o, band))).MaxBy(o => o.Share);
                if (best.Share > .2) syllabus.Add((at, band, best.Offer));
            }
            return [.. syllabus.OrderBy(s => s.Age).ThenBy(s => s.Band)];
        }

        private static double ShareOf(Offer offer, int band)
        {
            double all = 0, mine = 0;
            Span<int> bands = stackalloc int[4];
            foreach (var (ask, times) in offer.Profile.Asks)
            {
                Feeding.Of(ask, bands);
                all += times;
                if (bands[0] == band) mine += times;
            }
            return all == 0 ? 0 : mine / all;
        }
    }
}
