using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>What one setup of Partners comes to: the pack, the places, and what each seat plays by.</summary>
internal sealed class PartnersTable
{
    /// <summary>What a place without a card shows.</summary>
    public const byte Nothing = 255;

    public PartnersTable(Setup setup)
    {
        Counts = setup.Get(Partners.Knobs.Deck).Deck.Counts;
        Pack = [.. Counts.SelectMany(c => Enumerable.Repeat((byte)c.Key, c.Value))];
        Mode = setup.Get(Partners.Knobs.Mode).Id;
        Refill = setup.Get(Partners.Knobs.Refill).On;
        CountsSets = setup.Get(Partners.Knobs.Wins).Id == "sets";
        Layout = setup.Get(Partners.Knobs.Layout);
        Form = CommonKnobs.FormAt(setup, Partners.Knobs.Form);
        Seats = [.. Enumerable.Range(0, setup.Seats.Length).Select(i => new PartnersSeat(setup, i, Counts))];
        RunSets = Mode == Partners.RunOn ? RunSets.Of(Counts.Keys, Seats.Max(s => s.Target), Engine.MostTurnKinds / Seats.Length) : null;
        Kinds = new(Seats.Select(s => Mode switch
        {
            Partners.RunOn => RunSets?.Count,
            not Partners.Memory when s.Any => s.Patterns?.Count,
            _ => Deck.LargestNumber + 1,
        } ?? double.PositiveInfinity));
    }

    public IReadOnlyDictionary<int, int> Counts { get; }

    public byte[] Pack { get; }

    public string Mode { get; }

    public bool Refill { get; }

    /// <summary>Sets are counted, not cards.</summary>
    public bool CountsSets { get; }

    public SizeValue Layout { get; }

    public int Places => Layout.Places;

    public ulong AllPlaces => (1UL << Places) - 1;

    public Form Form { get; }

    public PartnersSeat[] Seats { get; }

    /// <summary>How many cards everyone remembers; 0 where they differ, or remember nothing or everything.</summary>
    public int Span => Seats.All(s => s.Spans && s.Memory == Seats[0].Memory) ? Seats[0].Memory : 0;

    /// <summary>In <c>run</c>, the sets of cards that can lie; null where they are too many.</summary>
    public RunSets? RunSets { get; }

    /// <summary>Turns of <c>run</c> are told by what lies, pairs by the number that is seen first, larger sets by their numbers.</summary>
    public TurnKinds Kinds { get; }

    /// <summary>Whether any cards of the whole pack ever make a move for this seat.</summary>
    public bool CanEverMove(int seat) => Seats[seat].Same && Mode != Partners.RunOn ? Counts.Values.Any(c => c > 1) : CanEverMake(seat, Seats[seat].Target);

    public bool CanEverMake(int seat, int target)
    {
        if (Mode != Partners.RunOn && !Seats[seat].Any) return PairFacts.Combos(Counts, target).Count > 0;
        var (one, more) = CardSets.Sums(Counts, target);
        return ((Mode == Partners.RunOn ? one | more : more) >> target & 1) != 0;
    }

    public IReadOnlyList<Zone> Zones(IEnumerable<Item> cards, int stock)
    {
        var grid = new CardGrid("Cards on the table", Layout.Columns, [.. cards]) { Wide = CardGrid.AreWide(Form) };
        return stock > 0 ? [grid, new Pile("Cards to come", stock)] : [grid];
    }
}

/// <summary>What one seat plays by, with its asks made beforehand.</summary>
internal sealed class PartnersSeat
{
    private readonly Form form;
    private readonly Support support;

    public PartnersSeat(Setup setup, int seat, IReadOnlyDictionary<int, int> counts)
    {
        string level = setup.LevelAt(seat), mode = setup.Get(Partners.Knobs.Mode).Id;
        form = FormTable.Find(setup.At(seat, Partners.Knobs.Form).Id)!.Value;
        support = CommonKnobs.SupportAt(setup, seat);
        Target = setup.At(seat, Partners.Knobs.Target).Number;
        Same = level == "same";
        Any = !Same && setup.At(seat, Partners.Knobs.Addends).Id == "any";
        GrownUp = setup.Seats[seat].GrownUp;
        Memory = setup.At(seat, Partners.Knobs.Remembers).Span;
        Taking = mode switch { Partners.Memory => Handling.TakePair, Partners.RunOn => Handling.LayBackTwo, _ => Handling.TakeOpenPair } + (level == "write" ? Handling.WriteSentence : 0);
        LowHalf = (1UL << ((Target + 1) / 2)) - 1;
        Half = Target % 2 == 0 ? 1UL << (Target / 2) : 0;
        Part = [.. Enumerable.Range(0, Target + 1).Select(n => new Ask(AskKind.Part, Target, n, form, support))];
        Match = [.. Enumerable.Range(0, Deck.LargestNumber + 1).Select(n => new Ask(AskKind.Match, n, form, form, support))];
        Patterns = Any && mode != Partners.RunOn ? SetPatterns.Of(counts, Target) : null;
    }

    public int Target { get; }

    public bool Same { get; }

    public bool Any { get; }

    public bool GrownUp { get; }

    /// <summary>How many of the cards seen last she remembers, face down.</summary>
    public int Memory { get; }

    public bool Spans => Memory is not (MemoryValue.Nothing or MemoryValue.Everything);

    /// <summary>Seconds of handling when cards are taken or turned back.</summary>
    public float Taking { get; }

    /// <summary>The numbers below half the target, as bits, and the half itself where there is one.</summary>
    public ulong LowHalf { get; }

    public ulong Half { get; }

    /// <summary>What goes with a number.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Mate(int number) => Same ? number : Target - number;

    /// <summary>The ask for the partner of each number, and for another card like it.</summary>
    public Ask[] Part { get; }

    public Ask[] Match { get; }

    /// <summary>For sets of any number of cards: those that the pack allows; null where there are too many.</summary>
    public SetPatterns? Patterns { get; }

    /// <summary>
    /// The smaller numbers of the pairs among some cards, as bits: n and target − n are both there. The numbers are given
    /// as bits, mirrored (bit 63 − n), and those that are there at least twice.
    /// </summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ulong Pairs(ulong present, ulong mirror, ulong twice) => Same ? twice : present & mirror >> (63 - Target) & LowHalf | twice & Half;

    public ulong Pairs(in NumberBag bag) => Pairs(bag.Present, bag.Mirror, bag.Twice);

    /// <summary>
    /// What a set of cards asks: "how many together" of all but the smallest, which is the one that is missing. Of a pair
    /// only the second; the first has no numbers then.
    /// </summary>
    public (Ask Together, Ask Missing) AsksOf(ReadOnlySpan<byte> numbers)
    {
        ulong lanes = 0;
        int count = 0, smallest = 64;
        foreach (int next in numbers)
        {
            int number = next;
            if (number < smallest) (number, smallest) = (smallest, number);
            if (number < 64 && count++ < 6) lanes = Lanes.Insert(lanes, number);
        }
        int lying = Target - smallest;
        return (count > 1 ? Together(lanes, count, lying, (int)(lanes & 255)) : default, Part[lying]);
    }

    /// <summary>"How many together", the larger first; more than six cards are asked as the total so far and the last card.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Ask Together(ulong lanes, int count, int sum, int last) => count <= 6 ? Ask.Join(lanes, count, form, support) : SoFarAnd(sum - last, last);

    private Ask SoFarAnd(int before, int last) => new(AskKind.Join, Math.Max(before, last), Math.Min(before, last), form, support);
}
