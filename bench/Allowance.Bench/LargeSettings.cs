using System.Collections.Immutable;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Setups;

namespace Allowance.Bench;

/// <summary>Settings near the limits: each knob left alone, or turned as far as it goes, or anywhere between.</summary>
internal sealed class LargeSettings(ulong seed)
{
    private Rng rng = new(seed);

    public Setup Of(FrameData frame)
    {
        int most = frame.MostPlayers, seats = rng.Below(3) switch { 0 => most, 1 => 1 + rng.Below(most), _ => 1 + rng.Below(3) };
        bool alike = rng.Below(2) == 0;
        var own = Values(frame, Scope.Seat);
        return new(frame, frame.Levels[rng.Below(frame.Levels.Count)].Id, Values(frame, Scope.Table), [.. Enumerable.Range(0, seats).Select(i => Seated(frame, i, alike ? own : Values(frame, Scope.Seat)))]);
    }

    /// <summary>The same with one knob, or one place, turned again.</summary>
    public Setup Near(Setup setup)
    {
        var frame = setup.Frame;
        var knob = frame.Knobs[rng.Below(frame.Knobs.Count)];
        if (rng.Below(6) == 0) return setup with { LevelId = frame.Levels[rng.Below(frame.Levels.Count)].Id };
        if (rng.Below(6) == 0 && setup.Seats.Length < frame.MostPlayers) return setup with { Seats = setup.Seats.Add(setup.Seats[^1] with { Name = $"p{setup.Seats.Length}" }) };
        int seat = rng.Below(setup.Seats.Length);
        bool hers = knob.Scope.HasFlag(Scope.Seat) && (!knob.Scope.HasFlag(Scope.Table) || rng.Below(2) == 0);
        return hers ? setup.WithSeat(seat, setup.Seats[seat].With(knob, Of(knob.Kind))) : knob.Scope.HasFlag(Scope.Table) ? setup.With(knob, Of(knob.Kind)) : setup;
    }

    private Seat Seated(FrameData frame, int i, ImmutableSortedDictionary<string, KnobValue> own) =>
        new($"p{i}", "", 4 + i % 4, false, rng.Below(4) == 0 ? frame.Levels[rng.Below(frame.Levels.Count)].Id : null, own);

    private ImmutableSortedDictionary<string, KnobValue> Values(FrameData frame, Scope scope) =>
        frame.Knobs.Where(k => k.Scope.HasFlag(scope) && rng.Below(scope == Scope.Table ? 2 : 4) == 0).Select(k => KeyValuePair.Create(k.Id, Of(k.Kind))).ToImmutableSortedDictionary();

    /// <summary>The least, the most, or one between.</summary>
    private int Between(int least, int most) => rng.Below(4) switch { 0 => least, 1 => least + rng.Below(most - least + 1), _ => most };

    private KnobValue Of(KnobKind kind)
    {
        switch (kind)
        {
            case WholeKind whole: return new WholeValue(Between(whole.Least, whole.Most));
            case FlagKind: return new FlagValue(rng.Below(2) == 0);
            case ChoiceKind choice: return choice.Options[rng.Below(choice.Options.Count)];
            case SizeKind:
                int rows = Between(1, 8), columns = Between(rows == 1 ? 2 : 1, 60 / rows);
                return new SizeValue(rows, Math.Max(columns, rows == 1 ? 2 : 1));
            case RangeKind range:
                int low = Between(range.Least, range.Most);
                return new RangeValue(new(low, Between(low, range.Most)));
            case NumbersKind numbers:
                int first = numbers.Least + rng.Below(3);
                return NumbersValue.Range(first, Math.Max(first + 1, Between(first + 1, numbers.Most)));
            case MemoryKind: return rng.Below(3) switch { 0 => new MemoryValue(MemoryValue.Nothing), 1 => new MemoryValue(MemoryValue.Everything), _ => new MemoryValue(Between(1, MemoryKind.MostSpan)) };
            case RelationKind: return rng.Below(2) == 0 ? (KnobValue)RelationKind.Usual[rng.Below(RelationKind.Usual.Count)] : new RelationValue(Relation.Partner, Between(1, 60));
            case DiceKind dice: return new DiceValue(new Dice([.. Enumerable.Range(0, Between(1, dice.Most)).Select(_ => Die())]));
            case FormsKind forms: return new FormsValue(forms.Offered.Where(_ => rng.Below(2) == 0).DefaultIfEmpty(forms.Offered[0]));
            case CountsKind counts:
                int step = 1 + rng.Below(4);
                return new CountsValue(Enumerable.Range(0, Between(1, 20)).Select(i => i * step).Where(n => n <= counts.Most).ToDictionary(n => n, _ => Between(1, 10)));
            case ColoursKind: return new ColoursValue(Colours.Take(Between(1, 4)).Select(c => (c, Between(1, 100))));
            case ColourDieKind: return new ColourDieValue(Enumerable.Range(0, Between(1, 6)).Select(i => (IReadOnlyList<string>)(rng.Below(2) == 0 ? [Colours[i % 4]] : [Colours[i % 4], Colours[(i + 1) % 4]])).ToList());
            case SignDieKind: return new SignDieValue(new string('+', Between(1, 3)) + new string('-', Between(0, 3)));
            case DeckKind: return new DeckValue(Pack());
            default: throw new NotSupportedException($"No large values of {kind.GetType().Name} yet.");
        }
    }

    private static readonly string[] Colours = ["red", "yellow", "blue", "green"];

    private Die Die()
    {
        int most = Between(1, Core.Numbers.Die.LargestFace);
        return rng.Below(4) switch
        {
            0 => Core.Numbers.Die.Of(most),
            1 => new Die(Enumerable.Range(0, most)),
            2 => new Die([0, most]),
            _ => new Die([.. Enumerable.Repeat(0, Between(1, Core.Numbers.Die.MostFaces - 1)), most]),
        };
    }

    private Deck Pack() => rng.Below(3) switch
    {
        0 => Deck.Plain(1, Between(3, 13), Between(1, Deck.MostPacks)),
        1 => Deck.FromCounts(Enumerable.Range(0, Between(2, Deck.LargestNumber + 1)).ToDictionary(n => n, _ => 1 + rng.Below(7))),
        _ => Deck.FromCounts(Enumerable.Range(0, Between(2, 12)).Select(n => n * (1 + rng.Below(5))).Distinct().ToDictionary(n => n, _ => Between(1, 36))),
    };
}
