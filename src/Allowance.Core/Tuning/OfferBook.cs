using System.Collections.Immutable;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Games;
using Allowance.Core.Materials;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Tuning;

/// <summary>A setup that could be played, with what it asks of a child, whoever she is, and what it takes.</summary>
public sealed class Offer
{
    internal Offer(Playable playable, AskProfile profile, Cupboard drawer)
    {
        (Playable, Profile) = (playable, profile);
        Sample = AskProfile.Spread(profile.Asks);
        double each = profile.Asks.Sum(a => a.PerGame) / Math.Max(1, Sample.Length);
        Few = [.. Sample.GroupBy(a => a).Select(g => new ProfiledAsk(g.Key, g.Count() * each))];
        Threefold = Threefold.Of(playable.Setup, 0);
        Rung = playable.Setup.Frame.Rung(playable.Setup.LevelId);
        Preparing = Preparation.Of(playable, drawer);
        HasWords = profile.Asks.Any(a => a.Ask.Form == Form.Word || a.Ask.Second == Form.Word);
    }

    public Playable Playable { get; }

    public Setup Setup => Playable.Setup;

    public AskProfile Profile { get; }

    /// <summary>A few of its asks that stand for all, each for as many; one that comes often stands there several times.</summary>
    public ImmutableArray<Ask> Sample { get; }

    /// <summary>The same, with how often each comes.</summary>
    internal ImmutableArray<ProfiledAsk> Few { get; }

    public Threefold Threefold { get; }

    /// <summary>Number words are read in it.</summary>
    internal bool HasWords { get; }

    /// <summary>Whatever is turned up, it is about the same numbers.</summary>
    internal bool AsksOneThing => Profile.Asks.All(a => a.Ask.HasTheNumbersOf(Profile.Asks[0].Ask));

    /// <summary>The largest number that any of its asks has; 0 where it asks nothing.</summary>
    internal int LargestAsked => Profile.Asks.Select(a => a.Ask.Largest).DefaultIfEmpty().Max();

    /// <summary>How high on the frame's ladder.</summary>
    public int Rung { get; }

    public Preparation Preparing { get; }
}

/// <summary>What has to be done before a game can be played with the things that are there.</summary>
/// <param name="IsMissing">The drawer lacks something, and nothing stands in for it, or only what makes another game of it.</param>
/// <param name="ToMake">What is made for it first: of each kind of thing, how many.</param>
public readonly record struct Preparation(bool IsMissing, ImmutableArray<int> ToMake)
{
    public static Preparation Of(Playable playable, Cupboard drawer)
    {
        if (drawer.Materials.Length == 0) return new(false, []);
        var fetched = drawer.Fetch(playable.Frame.Needs(playable.Setup));
        return new(fetched.Any(f => f.Standing == Standing.Missing || f.OtherForm), [.. fetched.Where(f => f.Standing == Standing.ToMake).Select(f => f.Count)]);
    }

    /// <summary>What is left of a game's worth where things are made for it first.</summary>
    public double Left => ToMake.IsEmpty ? 1 : Math.Pow(SearchConstants.EachKindToMake, ToMake.Length) * Math.Pow(SearchConstants.EachToMake, ToMake.Sum());
}

/// <summary>What the house rule changes one at a time, for one place: two setups differ in none, one, two or all three of them.</summary>
public readonly record struct Threefold(string Range, string Form, string Rule)
{
    public static Threefold Of(Setup setup, int seat)
    {
        return new(Of(Belongs.Range), Of(Belongs.Form), $"{setup.LevelAt(seat)} {Of(Belongs.RuleLevel)}");

        string Of(Belongs belongs) => string.Join(' ', setup.Frame.Knobs.Where(k => k.Belongs == belongs && k.Role != KnobRole.Range).Select(k => setup.At(seat, k)?.ToLink() ?? ""));
    }

    /// <summary>In which of the three they differ.</summary>
    public IReadOnlyList<Belongs> Differences(Threefold other) =>
        [.. new[] { (Range == other.Range, Belongs.Range), (Form == other.Form, Belongs.Form), (Rule == other.Rule, Belongs.RuleLevel) }.Where(d => !d.Item1).Select(d => d.Item2)];

    /// <summary>In how many of the three they differ; the same as counting them, without a list for each of thousands.</summary>
    public int Changes(Threefold other) => (Range == other.Range ? 0 : 1) + (Form == other.Form ? 0 : 1) + (Rule == other.Rule ? 0 : 1);
}

/// <summary>
/// All offers that one drawer allows, worked out once, as they do not hang on who plays. It may be looked through while it is made:
/// what is ready by then is offered. Safe for use from several threads.
/// </summary>
public sealed class OfferBook(Cupboard drawer)
{
    private readonly Lock adding = new();
    private readonly HashSet<string> links = [];
    private readonly HashSet<(FrameData, Threefold)> kinds = [];
    private readonly HashSet<(FrameData, string)> begun = [], ofOneThing = [];
    private volatile Offer[] ready = [];

    /// <summary>What is ready so far.</summary>
    public IReadOnlyList<Offer> Ready => ready;

    /// <summary>Nothing more is to come.</summary>
    public bool IsWhole { get; private set; }

    /// <summary>Works everything out, on so many cores. Whatever their number, offers stand in the same order in the end.</summary>
    /// <param name="most">So many of the first are enough.</param>
    /// <exception cref="OperationCanceledException">It was stopped; what was ready stays.</exception>
    public void Make(int cores, CancellationToken stop, int most = int.MaxValue)
    {
        stop.ThrowIfCancellationRequested();
        foreach (var part in Offers.All(drawer, cores).Take(most).Chunk(AtOnce))
        {
            stop.ThrowIfCancellationRequested();
            Add([.. part.AsParallel().AsOrdered().WithDegreeOfParallelism(cores).Select(Work).AsSequential().Where(IsAboutEnough)]);
        }
        IsWhole = true;
    }

    /// <summary>It is not about one number alone, unless that is how its level is meant. Of each level its own beginning comes first.</summary>
    private bool IsAboutEnough(Offer offer)
    {
        var level = (offer.Setup.Frame, offer.Setup.LevelId);
        if (begun.Add(level) && offer.AsksOneThing) ofOneThing.Add(level);
        return !offer.AsksOneThing || ofOneThing.Contains(level);
    }

    /// <summary>So many are worked out until they can be looked through.</summary>
    private const int AtOnce = 90;

    /// <summary>What has to be done before a game can be played.</summary>
    public Preparation Preparing(Playable playable) => Preparation.Of(playable, drawer);

    private Offer Work(Playable playable) => new(playable, AskProfile.Of(playable), drawer);

    /// <summary>Works a book out.</summary>
    /// <param name="most">So many of the first are enough.</param>
    public static OfferBook Of(Cupboard drawer, int most = int.MaxValue)
    {
        var book = new OfferBook(drawer);
        book.Make(Environment.ProcessorCount, CancellationToken.None, most);
        return book;
    }

    /// <summary>Offers the single steps around a setup that was played, too, where nothing offered is of its range, form and rule.</summary>
    /// <param name="seat">The place of the child.</param>
    public void AddAround(Setup played, int seat)
    {
        // She plays it alone, or with a grown-up where it takes two.
        var own = Alone(played, seat);
        lock (adding)
            if (kinds.Contains((own.Frame, Threefold.Of(own, 0)))) return;
        if (Catalogue.Check(own) is not { } again) return;
        Add([Work(again), .. Steps.Around(own, 0).Where(s => s.Belongs is Belongs.Range or Belongs.Form or Belongs.RuleLevel or Belongs.Support).Select(s => Work(s.Playable))]);
    }

    /// <summary>What a child played at a table, as a setup of her own.</summary>
    public static Setup Alone(Setup played, int seat)
    {
        var frame = Catalogue.Of(played);
        var own = played with { LevelId = played.LevelAt(seat), Seats = [.. Offers.SeatsFor(frame)] };
        foreach (var (id, value) in played.Seats[seat].Allowance)
            if (played.Frame.Knob(id) is { } knob) own = knob.Scope.HasFlag(Scope.Table) ? own.With(knob, value) : own.WithSeat(0, own.Seats[0].With(knob, value));
        return own;
    }

    private void Add(IReadOnlyList<Offer> offers)
    {
        lock (adding)
        {
            ready = [.. ready, .. offers.Where(o => links.Add(o.Setup.ToLink()))];
            foreach (var offer in offers) kinds.Add((offer.Setup.Frame, offer.Threefold));
        }
    }
}
