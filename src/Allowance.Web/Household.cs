using System.Collections.Concurrent;
using System.Collections.Immutable;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Materials;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tuning;
using Allowance.Store;

namespace Allowance.Web;

/// <summary>The household as the screens see it: who is in it, its approach, and what is believed about each child.</summary>
public sealed class Household(Players players, Settings settings, Things things, ChildLogs logs, TimeProvider clock)
{
    private const string ApproachPrefix = "approach.", HouseRuleKey = "one-change-at-a-time", NameKey = "name", SignsKey = "signs-only", DatesKey = "dates", WeekKey = "week", PaperKey = "paper";

    public const int MostPacks = 4;

    private readonly ConcurrentDictionary<string, Facts> facts = new();

    public DateTimeOffset Now => clock.GetLocalNow();

    public DateOnly Today => DateOnly.FromDateTime(Now.DateTime);

    public IReadOnlyList<Player> People => players.All();

    public IReadOnlyList<Player> Children => [.. People.Where(p => p.Kind == PlayerKind.Child)];

    public Approach Approach => new(settings.All().Where(s => s.Key.StartsWith(ApproachPrefix, StringComparison.Ordinal))
        .ToDictionary(s => s.Key[ApproachPrefix.Length..], s => s.Value));

    public void Choose(string question, string answer) => settings.Set(ApproachPrefix + question, answer);

    /// <summary>The house rule: change one of range, form and rule level at a time.</summary>
    public bool OneChangeAtATime
    {
        get => settings.All().GetValueOrDefault(HouseRuleKey) != "no";
        set => settings.Set(HouseRuleKey, value ? "yes" : "no");
    }

    /// <summary>The signs of notes are known by heart: no word stands beneath them.</summary>
    public bool SignsOnly
    {
        get => settings.All().GetValueOrDefault(SignsKey) == "yes";
        set => settings.Set(SignsKey, value ? "yes" : "no");
    }

    /// <summary>How dates are written here, where the week begins, and on what paper is printed.</summary>
    public Calendar Calendar
    {
        get
        {
            var kept = settings.All();
            T Kept<T>(string key, T otherwise) where T : struct, Enum => Enum.TryParse(kept.GetValueOrDefault(key), out T value) && Enum.IsDefined(value) ? value : otherwise;
            return new(Kept(DatesKey, Calendar.Default.Order), Kept(WeekKey, Calendar.Default.FirstDay), Kept(PaperKey, Calendar.Default.Paper));
        }
        set
        {
            settings.Set(DatesKey, value.Order.ToString());
            settings.Set(WeekKey, value.FirstDay.ToString());
            settings.Set(PaperKey, value.Paper.ToString());
        }
    }

    /// <summary>What there is to play with.</summary>
    public Cupboard Cupboard => things.All();

    /// <summary>Packs of cards in the cupboard, told in one go: those that were there are forgotten.</summary>
    public void TellPacks(int packs)
    {
        foreach (var pack in Cupboard.Materials.Where(t => t.Use == Use.Packs)) things.Remove(pack.Id);
        if (packs > 0) things.Put(new(0, packs == 1 ? "pack of cards" : "packs of cards", Use.Packs, Math.Min(packs, MostPacks), new(Shape.Flat, 88, 63, 16)));
    }

    /// <summary>Everyone in the home, for the cautions: who sits at the table, and who is only there.</summary>
    public IReadOnlyList<Near> NearTo(Setup setup)
    {
        var seated = setup.Seats.Select(s => s.Key).ToHashSet();
        return [.. People.Select(p => new Near(p.Name, p.AgeOn(Today), p.Kind == PlayerKind.GrownUp, seated.Contains(p.Id.ToString()), p.Mouths)),
            .. setup.Seats.Where(s => SeatOf(s.Key) is null && !s.GrownUp && s.Age is not null).Select(s => new Near("a guest", s.Age, false, true))];
    }

    /// <summary>From so many things on, a game is one of counting things out.</summary>
    private const int ThingsToCount = 5;

    /// <summary>What a game needs, as the cupboard gives it, and what to be careful about at this table.</summary>
    public (ImmutableArray<Fetched> Fetched, IReadOnlyList<Caution> Cautions) GetOut(Setup setup)
    {
        var frame = Catalogue.Of(setup);
        var needs = frame.Needs(setup);
        var fetched = Cupboard.Fetch(needs);
        return (fetched, Cautions.For(fetched, NearTo(setup), needs.Any(n => n is { Thing: Need.Pieces, Count: >= ThingsToCount }), frame.IsRace(setup)));
    }

    public string Name
    {
        get => settings.All().GetValueOrDefault(NameKey) ?? "";
        set => settings.Set(NameKey, value);
    }

    /// <summary>Which picture of a number to show: always the fixed one, or one of many.</summary>
    public long PictureSeed(long seed) => Approach["pictures"] == "fixed" ? 0 : seed;

    /// <summary>How pictures of numbers are drawn in this household.</summary>
    public PictureStyle PictureStyle => new(Enum.Parse<FingerOrder>(Approach["fingers"], true), Enum.Parse<FrameFill>(Approach["frames"], true));

    /// <summary>Who has this key in a link: a player's number.</summary>
    public Seat? SeatOf(string key) => long.TryParse(key, out long id) && players.Find(id) is { Kind: not PlayerKind.Other } player ? SeatOf(player) : null;

    public Seat SeatOf(Player player)
    {
        double? age = player.AgeOn(Today) is { } years ? Math.Round(years, 2) : null;
        return Seat.Child(player.Name, age, player.Id.ToString()) with { GrownUp = player.Kind == PlayerKind.GrownUp };
    }

    /// <summary>A setup with the names and ages of the people who sit in it now.</summary>
    public Setup Named(Setup setup) => setup with
    {
        Seats = [.. setup.Seats.Select(s => SeatOf(s.Key) is { } now ? s with { Name = now.Name, Age = now.Age, GrownUp = now.GrownUp } : s)],
    };

    /// <summary>What was noted of a child, and what is believed of her by it.</summary>
    public ChildLog Log(Player child) => logs.Of(child);

    public ChildModel Model(Player child)
    {
        var log = Log(child);
        return log.Count > 0 ? log.Model : ChildLogs.Fresh(child, Today);
    }

    /// <summary>What was believed at the end of a day.</summary>
    public ChildModel ModelOn(Player child, DateOnly day)
    {
        var log = Log(child);
        if (log.Count == 0) return ChildLogs.Fresh(child, day);
        return log.At(day);
    }

    public LearnerAnswers Answers(Setup setup) => new(setup, Today, seat => long.TryParse(seat.Key, out long id) && players.Find(id) is { Kind: PlayerKind.Child } child ? Model(child) : null);

    /// <summary>What a screen may take to work something out, while somebody waits for it.</summary>
    public Budget Budget(CancellationToken left) => new(Limits.Screen, clock, LongestThought, left);

    private static readonly TimeSpan LongestThought = TimeSpan.FromSeconds(3);

    /// <summary>A forecast for the screens: simulated until it is good enough; the exact facts are kept, as they do not depend on the players.</summary>
    public Forecast Forecast(Playable playable, int samples, Budget budget, double goodEnough = .006) =>
        Forecaster.Make(playable, Answers(playable.Setup), new ForecastOptions(Behaviour.Child, 1, samples), FactsOf(playable, budget), goodEnough, budget);

    /// <summary>What comes up, how long it takes and who wins, by a few games, without any facts: for trying things.</summary>
    public Forecast Glance(Playable playable, int games, Budget budget) =>
        Forecaster.Make(playable, Answers(playable.Setup), new ForecastOptions(Behaviour.Child, 1, games), new Facts(), 0, budget);

    private Facts FactsOf(Playable playable, Budget budget)
    {
        // A link tells no ages, and the youngest may begin.
        string link = $"{playable.Setup.ToLink()} {playable.Setup.Youngest}";
        if (facts.TryGetValue(link, out var known)) return known;
        var made = Forecaster.FactsOf(playable, Behaviour.Plain, budget);
        if (facts.Count > 500) facts.Clear();
        // What there was no time for now may be counted in a quieter moment.
        if (!made.WerePlayed) facts[link] = made;
        return made;
    }
}
