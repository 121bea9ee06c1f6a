using Allowance.Core.Asks;
using Allowance.Core.Learner;
using Allowance.Core.Numbers;
using Allowance.Core.Setups;
using Allowance.Core.Sittings;
using Allowance.Core.Tuning;

namespace Allowance.Web.Demonstration;

/// <summary>A child of the made-up household: how she answers, what was seen of her, and what she played.</summary>
/// <param name="id">Her number in the household.</param>
/// <param name="age">In years, on the first day.</param>
/// <param name="nature">What she is like.</param>
/// <param name="bond">What will not stick: a whole and a part of it.</param>
internal sealed class DemoChild(long id, Seat seat, double age, long seed, Nature nature, (int Whole, int Part)? bond = null)
{
    /// <summary>A game that was played so often within so many days is not wished for any more.</summary>
    private const int TiredAfter = 3, TiredDays = 20;

    private readonly SimulatedChild mind = new(seed, age, nature);
    private readonly List<PlayedBefore> played = [];
    private Rng rng = Rng.ForGame(seed, 31);

    public long Id { get; } = id;

    public Seat Seat { get; } = seat;

    public double Age { get; } = age;

    public AskingPolicy Away { get; } = new(seed, age);

    public ChildModel Model { get; } = new(age);

    /// <summary>What the grown-ups wish for her; what was put first holds for a week.</summary>
    public List<AimWish> Wishes { get; } = [];

    public ChildHere Here => new(Seat, Model, [.. played], [.. Wishes.TakeLast(1)]);

    public Outcome Answer(Ask ask, DateOnly day)
    {
        var outcome = mind.Answer(ask, day);
        return IsBond(ask) && outcome >= Outcome.CountedAll ? rng.Below(4) == 0 ? Outcome.CountedAll : Outcome.WithHelp : outcome;
    }

    private bool IsBond(Ask ask) => bond is { } hers && ask.Count == 2 && ask.Kind switch
    {
        AskKind.Part or AskKind.Gone => ask[0] == hers.Whole && (ask[1] == hers.Part || ask[1] == hers.Whole - hers.Part),
        AskKind.Join => ask[0] + ask[1] == hers.Whole && (ask[0] == hers.Part || ask[1] == hers.Part),
        _ => false,
    };

    public void Note(Observation observation) => Model.Observe(observation);

    /// <summary>She has played, and says how she liked it.</summary>
    public Closing Close(Setup setup, int place, DateOnly day)
    {
        int lately = played.Where(p => p.Setup.Frame == setup.Frame && p.Day != day && day.DayNumber - p.Day.DayNumber <= TiredDays).DistinctBy(p => p.Day).Count();
        var how = lately >= TiredAfter ? Closing.NotToday : rng.Below(lately == 0 ? 2 : 4) == 0 ? Closing.Again : Closing.Fine;
        played.Add(new(setup, place, day, how));
        return how;
    }
}
