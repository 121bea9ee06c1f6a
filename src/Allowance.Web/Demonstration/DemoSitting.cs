using Allowance.Core.Asks;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Sittings;
using Allowance.Store;

namespace Allowance.Web.Demonstration;

/// <summary>Plays one sitting of the made-up household, in one of the three ways, as its log would hold it.</summary>
internal sealed class DemoSitting
{
    private const double Watched = .7;

    private readonly IReadOnlyDictionary<int, DemoChild> children;
    private readonly Sitting sitting;
    private readonly List<NewEvent> events = [];
    private readonly DateOnly day;
    private readonly double secondsATurn;
    private readonly DateTimeOffset end;
    private Rng rng;
    private DateTimeOffset at;

    /// <param name="children">By the place where they sit.</param>
    /// <param name="seed">The same seed gives the same game, whatever the date.</param>
    /// <param name="end">When the time is up.</param>
    /// <param name="secondsATurn">How long a turn takes.</param>
    public DemoSitting(Playable playable, Way way, IReadOnlyDictionary<int, DemoChild> children, long seed, DateTimeOffset at, DateTimeOffset end, double secondsATurn)
    {
        this.children = children;
        this.secondsATurn = secondsATurn;
        (this.at, day, this.end) = (at, DateOnly.FromDateTime(at.DateTime), end);
        sitting = new(playable, way, seed);
        rng = Rng.ForGame(seed, 9);
    }

    /// <summary>Plays until it is over, or the time is up, and keeps it.</summary>
    /// <returns>When they stopped.</returns>
    public DateTimeOffset Play(SittingLog log)
    {
        var setup = sitting.Setup;
        if (sitting.Way == Way.Notes && sitting.Playable.Frame.AnswersAtOnce(setup)) Take(new Called(true));
        if (sitting.Game is null) PlayWithRealThings();
        else PlayOnTheTable();
        Take(new Stopped(sitting.Next.Kind != StepKind.Over || sitting.Way == Way.Notes));
        foreach (var (place, child) in children) Take(new Closed(place, child.Close(sitting.Setup, place, day)), child.Id);
        log.Start(setup.Frame.Id, setup.ToLink(), sitting.Way, sitting.Seed, events[0].At, [.. setup.Seats.Select(s => (long?)long.Parse(s.Key))], events);
        return at;
    }

    private void PlayOnTheTable()
    {
        while (sitting.Next.Kind != StepKind.Over && at < end)
        {
            if (sitting.Next.Kind == StepKind.Chance)
            {
                Take(sitting.Way == Way.Refereed ? sitting.Draw() with { Typed = true } : sitting.Draw());
                continue;
            }
            var game = sitting.Game!;
            var move = game.Best(ref rng);
            int turn = sitting.Turns;
            var answers = Answers(game.Asks(move));
            bool found = answers.TrueForAll(a => a.Outcome >= Outcome.CountedAll) || !game.Seeking(move);
            Take(new Moved(move.Items, move.Pick, move.First, found));
            foreach (var answer in answers) Note(answer, turn);
            if (sitting.Turns > turn) at = at.AddSeconds(secondsATurn);
        }
    }

    /// <summary>The cards and dice lie on the kitchen table; only what was asked is noted.</summary>
    private void PlayWithRealThings()
    {
        var game = sitting.Playable.Compile().Start(sitting.Mover);
        while (game.Next.Kind != StepKind.Over && at < end)
        {
            if (game.Next.Kind == StepKind.Chance)
            {
                game.Deal(game.Copy().Draw(ref rng));
                continue;
            }
            var move = game.Best(ref rng);
            int turn = game.Turns;
            var answers = Answers(game.Asks(move));
            game.Apply(move, answers.TrueForAll(a => a.Outcome >= Outcome.CountedAll) || !game.Seeking(move));
            foreach (var answer in answers) Note(answer, sitting.Turns);
            if (game.Turns == turn) continue;
            at = at.AddSeconds(secondsATurn);
            Take(new Passed());
        }
    }

    private readonly record struct Answered(int Place, Ask Ask, Outcome Outcome, bool Watched);

    private List<Answered> Answers(IReadOnlyList<SeatAsk> asks)
    {
        var answers = new List<Answered>();
        // Grown-ups are not noted, and are right.
        foreach (var ask in asks)
            if (children.TryGetValue(ask.Seat, out var child)) answers.Add(new(ask.Seat, ask.Ask, child.Answer(ask.Ask, day), rng.Unit() < Watched));
        return answers;
    }

    private void Note(Answered answer, int turn)
    {
        var (place, ask, outcome, watched) = answer;
        var child = children[place];
        bool right = outcome >= Outcome.CountedAll;
        Take(new Noted(place, ask.ToString(), watched ? (int)outcome : null, right, turn), child.Id);
        child.Note(new(at, ask, watched ? Seen.How(outcome) : Seen.NotWatched(right)));
    }

    private void Take(SittingEvent e, long? player = null)
    {
        sitting.Take(e);
        // As the log keeps it, with what was told.
        events.Add(new(sitting.Events[^1], at, player));
    }
}
