using Allowance.Core.Games;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Tuning;

/// <summary>A single change that can be played.</summary>
public sealed record SingleStep(SingleChange Change, Playable Playable)
{
    /// <inheritdoc cref="SingleChange"/>
    public string Says => Change.Says;

    public Belongs Belongs => Change.Belongs;

    public Setup Setup => Playable.Setup;
}

/// <summary>The single changes around a setup that its frame accepts; what they do is for the forecast to say.</summary>
public static class Steps
{
    /// <summary>Changes that touch one seat: its own where the knob has one, the table's where she sits alone, or with grown-ups, or all share it.</summary>
    public static IReadOnlyList<SingleStep> Around(Setup setup, int seat)
    {
        var frame = Catalogue.Of(setup);
        bool alone = setup.Seats.Count(s => !s.GrownUp) == 1 && !setup.Seats[seat].GrownUp;
        var changes = new List<SingleChange>();
        changes.AddRange(frame.RangeSteps(setup, seat));
        changes.AddRange(Levels(setup, seat, alone));
        foreach (var knob in setup.Frame.Knobs)
        {
            if (knob.Belongs is not (Belongs.Form or Belongs.Support or Belongs.Length) || !frame.Matters(setup, knob)) continue;
            bool own = knob.Scope.HasFlag(Scope.Seat) && !(alone && knob.Scope.HasFlag(Scope.Table));
            var now = (own ? setup.At(seat, knob) : setup.Get(knob)) ?? frame.LeftOpen(setup, knob);
            if (now is null) continue;
            string label = own && knob.Role == KnobRole.Form ? "help card" : knob.Label.ToLowerInvariant();
            foreach (var value in knob.Kind.Neighbours(now).Where(v => frame.Helps(setup, seat, knob, v)))
                changes.Add(new(SingleChange.Turned(knob, value, now, label), knob.Belongs,
                    own ? setup.WithSeat(seat, setup.Seats[seat].With(knob, value)) : setup.With(knob, value)));
        }
        return [.. changes.DistinctBy(c => c.Setup.ToLink()).Select(c => (Change: c, Playable: frame.Check(c.Setup))).Where(c => c.Playable is not null && (c.Change.Belongs == Belongs.RuleLevel || frame.IsSensible(setup, c.Change.Setup))).Select(c => new SingleStep(c.Change, c.Playable!))];
    }

    /// <summary>The next rung in each direction that goes at this table: for her alone, and for everyone where that one is nearer and nobody has one of her own.</summary>
    private static IEnumerable<SingleChange> Levels(Setup setup, int seat, bool alone)
    {
        var levels = setup.Frame.Levels;
        int rung = setup.Frame.Rung(setup.LevelAt(seat));
        foreach (int by in new[] { -1, 1 })
        {
            bool everyones = alone || setup.Seats.All(s => s.Level is null);
            for (int other = rung + by; other >= 0 && other < levels.Count; other += by)
            {
                var level = levels[other];
                string instead = $"instead of “{levels[rung].Label}”";
                var own = setup.WithSeat(seat, setup.Seats[seat] with { Level = level.Id, Allowance = setup.Seats[seat].Allowance.RemoveRange(level.Fixes.Keys) });
                if (!alone && Catalogue.Check(own) is not null)
                {
                    yield return new($"“{level.Label}” {instead}", Belongs.RuleLevel, own);
                    break;
                }
                if (!everyones) continue;
                var all = setup with { LevelId = level.Id, Table = setup.Table.RemoveRange([.. level.Fixes.Keys, .. level.Suggests.Keys.Where(k => setup.Frame.Knob(k)!.Role is not (KnobRole.Deck or KnobRole.Target))]) };
                if (Catalogue.Check(all) is null) continue;
                yield return new($"“{level.Label}”{(alone ? "" : " for everyone")} {instead}", Belongs.RuleLevel, all);
                if (alone) break;
                everyones = false;
            }
        }
    }

    /// <summary>In which of range, form and rule level two setups differ for a seat. More than one is against the house rule.</summary>
    public static IReadOnlyList<Belongs> Differences(Setup before, int seatBefore, Setup now, int seatNow)
    {
        if (before.Frame != now.Frame) return [];
        return Threefold.Of(before, seatBefore).Differences(Threefold.Of(now, seatNow));
    }
}
