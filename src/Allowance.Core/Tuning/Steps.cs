using Allowance.Core.Asks;
using Allowance.Core.Games;
using Allowance.Core.Setups;

namespace Allowance.Core.Tuning;

/// <summary>A setup that differs in one thing.</summary>
/// <param name="Says">The change in words: "target 9 instead of 10".</param>
/// <param name="Belongs">Which of range, form, rule level, support … it changes; one at a time is the house rule.</param>
public sealed record SingleChange(string Says, Belongs Belongs, Setup Setup);

/// <summary>The single changes around a setup that its frame accepts; what they do is for the forecast to say.</summary>
public static class Steps
{
    /// <summary>Changes that touch one seat: its own where the knob has one, the table's where she sits alone or all share it.</summary>
    public static IReadOnlyList<SingleChange> Around(Setup setup, int seat)
    {
        var frame = Catalogue.Of(setup);
        bool alone = setup.Seats.Length == 1;
        var changes = new List<SingleChange>();
        changes.AddRange(frame.RangeSteps(setup, seat));
        changes.AddRange(Levels(setup, seat, alone));
        foreach (var knob in setup.Frame.Knobs)
        {
            if (knob.Belongs is not (Belongs.Form or Belongs.Support or Belongs.Length) || !frame.Matters(setup, knob)) continue;
            bool own = knob.Scope.HasFlag(Scope.Seat) && !(alone && knob.Scope.HasFlag(Scope.Table));
            var now = (own ? setup.At(seat, knob.Id) : setup.Get(knob.Id)) ?? frame.LeftOpen(setup, knob);
            if (now is null) continue;
            string label = own && knob.Id == "form" ? "help card" : knob.Label.ToLowerInvariant();
            foreach (var value in knob.Kind.Neighbours(now))
                changes.Add(new($"{label}: {value} instead of {now}", knob.Belongs,
                    own ? setup.WithSeat(seat, setup.Seats[seat].With(knob.Id, value)) : setup.With(knob.Id, value)));
        }
        return [.. changes.Where(c => frame.Check(c.Setup).Count == 0).DistinctBy(c => c.Setup.ToLink())];
    }

    /// <summary>The next rung in each direction that goes at this table.</summary>
    private static IEnumerable<SingleChange> Levels(Setup setup, int seat, bool alone)
    {
        var levels = setup.Frame.Levels;
        int rung = setup.Frame.Rung(setup.LevelAt(seat));
        foreach (int by in new[] { -1, 1 })
            for (int other = rung + by; other >= 0 && other < levels.Count; other += by)
            {
                var level = levels[other];
                var changed = alone
                    ? setup with { LevelId = level.Id, Table = setup.Table.RemoveRange([.. level.Fixes.Keys, .. level.Suggests.Keys.Where(k => k != "deck" && k != "target")]) }
                    : setup.WithSeat(seat, setup.Seats[seat] with { Level = level.Id });
                if (Catalogue.Of(changed).Check(changed).Count > 0) continue;
                yield return new($"{level.Label.ToLowerInvariant()} instead of {levels[rung].Label.ToLowerInvariant()}", Belongs.RuleLevel, changed);
                break;
            }
    }

    /// <summary>In which of range, form and rule level two setups differ for a seat. More than one is against the house rule.</summary>
    public static IReadOnlyList<Belongs> Differences(Setup before, int seatBefore, Setup now, int seatNow)
    {
        if (before.Frame != now.Frame) return [];
        var found = new HashSet<Belongs>();
        if (before.LevelAt(seatBefore) != now.LevelAt(seatNow)) found.Add(Belongs.RuleLevel);
        foreach (var knob in now.Frame.Knobs.Where(k => k.Belongs is Belongs.Range or Belongs.Form or Belongs.RuleLevel && k.Id != "range"))
            if (!Equals(before.At(seatBefore, knob.Id), now.At(seatNow, knob.Id))) found.Add(knob.Belongs);
        return [.. found.Order()];
    }
}
