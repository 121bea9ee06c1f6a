using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

internal enum TopperMake { Single, Sum, Difference, Product, Digits, BestDigits, Common, CommonDifference }

internal enum TopperTie { Pile, Split, Again }

/// <summary>The table of one setup: what each seat turns up and makes.</summary>
internal sealed record TopperTable : Seating
{
    private readonly int[] hands;

    public TopperTable(Setup setup) : base(setup)
    {
        int seats = setup.Seats.Length;
        var all = Enumerable.Range(0, seats).ToList();
        Deck = setup.Get(Topper.Knobs.Deck).Deck;
        Pack = [.. Deck.Counts.SelectMany(c => Enumerable.Repeat((byte)c.Key, c.Value))];
        Make = [.. all.Select(s => Enum.Parse<TopperMake>(setup.At(s, Topper.Knobs.Make).Id, true))];
        Cards = [.. all.Select(s => CardsAt(setup, s, Make[s]))];
        Fewer = setup.Get(Topper.Knobs.Aim).Id == "fewer";
        Tie = Enum.Parse<TopperTie>(setup.Get(Topper.Knobs.Tie).Id, true);
        HasSigns = setup.Get(Topper.Knobs.Signs).On;
        FirstSaid = setup.Get(Topper.Knobs.Claim).Id == "firstSaid" && seats > 1;
        Form = CommonKnobs.FormAt(setup, Topper.Knobs.Form);
        RangeTo = [.. all.Select(s => (setup.At(s, Topper.Knobs.RangeTo) as WholeValue)?.Number)];
        HeadStart = [.. all.Select(s => setup.At(s, Topper.Knobs.HeadStart).Number)];
        AsksFewer = setup.Get(Topper.Knobs.Asks)?.Id switch { "fewer" => true, "both" => null, "more" => false, _ => Fewer };
        Common = Make.All(m => m is TopperMake.Common or TopperMake.CommonDifference);
        OwnPile = setup.Get(Topper.Knobs.Piles).Id == Topper.OwnPiles ? [.. Deck.Counts.SelectMany(c => Enumerable.Repeat((byte)c.Key, c.Value / seats))] : null;
        Gap = [.. Level.Select(l => l == "gap")];
        Numbers = Pack[^1] + 1;
        hands = [.. Cards.Select(c => (int)Math.Pow(Numbers, c))];
        Kinds = new([hands.Aggregate(1.0, (all, h) => all * (h + 1))]);
        Order = [.. all.OrderBy(s => RangeTo[s] ?? int.MaxValue)];
        HasParts = OwnPile is null && RangeTo.Any(r => r is not null);
    }

    /// <summary>A given number of cards, or the level's where that fits what is made, or the usual.</summary>
    private static int CardsAt(Setup setup, int seat, TopperMake make)
    {
        bool given = setup.Seats[seat].Allowance.ContainsKey(Topper.Knobs.CardsEach.Id) || setup.Table.ContainsKey(Topper.Knobs.CardsEach.Id);
        int? cards = (setup.At(seat, Topper.Knobs.CardsEach) as WholeValue)?.Number;
        return cards is { } n && (given || Fitting(make, n) == n) ? n : Fitting(make, 2);
    }

    /// <summary>The nearest number of cards from which this can be made.</summary>
    public static int Fitting(TopperMake make, int cards) => make switch
    {
        TopperMake.Single or TopperMake.Common or TopperMake.CommonDifference => 1, TopperMake.Difference => 2, _ => Math.Max(2, cards),
    };

    public Deck Deck { get; }

    public byte[] Pack { get; }

    /// <summary>Where each draws from a pile of her own: what is in it, of each number as many as the pack has for everyone.</summary>
    public byte[]? OwnPile { get; }

    /// <summary>A player's own pile, as far as she plays with it.</summary>
    public byte[] PileOf(int seat) => RangeTo[seat] is { } to ? [.. OwnPile!.Where(c => c <= to)] : OwnPile!;

    /// <summary>All numbers on cards are below it.</summary>
    public int Numbers { get; }

    public TurnKinds Kinds { get; }

    /// <summary>How many hands a seat may turn up, in their order: a hand is a number below it.</summary>
    public int HandsOf(int seat) => hands[seat];

    /// <summary>The cards of a hand that is given as a number, the first one first.</summary>
    public void Read(int code, Span<byte> cards)
    {
        for (int card = cards.Length - 1; card >= 0; card--, code /= Numbers) cards[card] = (byte)(code % Numbers);
    }

    public TopperMake[] Make { get; }

    public int[] Cards { get; }

    public bool Fewer { get; }

    public TopperTie Tie { get; init; }

    public bool FirstSaid { get; }

    /// <summary>A sign card is laid between the numbers.</summary>
    public bool HasSigns { get; }

    public Form Form { get; }

    public int?[] RangeTo { get; }

    /// <summary>Somebody draws from a part of the common pile.</summary>
    public bool HasParts { get; }

    public int[] HeadStart { get; }

    /// <summary>Which is fewer is asked, not which is more; null where each is asked in turn.</summary>
    public bool? AsksFewer { get; }

    /// <summary>Everybody's cards make one number, their sum or the difference of two, and whoever says it first takes them.</summary>
    public bool Common { get; }

    /// <summary>By seat: she also says how many more.</summary>
    public bool[] Gap { get; }

    /// <summary>Who draws when: the smallest part of the pack first.</summary>
    public int[] Order { get; }

    /// <summary>The same where those who tie do not turn up again.</summary>
    public TopperTable WithoutRepeats() => this with { Tie = TopperTie.Pile };

    public uint Everyone => (1u << Cards.Length) - 1;

    /// <summary>Everyone turns up as many, makes the same of them, and draws from one pile.</summary>
    public bool AllAlike => Make.Distinct().Count() == 1 && Cards.Distinct().Count() == 1 && RangeTo.All(r => r is null) && OwnPile is null;

    /// <summary>How many cards a round takes, by who is in it, as bits.</summary>
    public short[] ForRounds() => [.. Enumerable.Range(0, 1 << Seats).Select(seats => (short)ForRound((uint)seats))];

    public int ForRound(uint seats)
    {
        int cards = 0;
        for (int s = 0; s < Cards.Length; s++)
            if ((seats >> s & 1) != 0) cards += Cards[s];
        return cards;
    }

    /// <summary>What a seat's hand makes.</summary>
    public int Value(int seat, int hand)
    {
        Span<byte> cards = stackalloc byte[Cards[seat]];
        Read(hand, cards);
        return Value(Make[seat], cards);
    }

    /// <summary>What a seat's own hand asks of her.</summary>
    public Ask Own(int seat, int hand)
    {
        Span<byte> cards = stackalloc byte[Cards[seat]];
        Read(hand, cards);
        return Own(seat, cards);
    }

    private Ask Own(int seat, ReadOnlySpan<byte> hand)
    {
        var support = Support[seat];
        switch (Make[seat])
        {
            case TopperMake.Single or TopperMake.Common or TopperMake.CommonDifference: return new(AskKind.Say, hand[0], Form, support: support);
            case TopperMake.Difference: return new(AskKind.Gap, Math.Max(hand[0], hand[1]), Math.Min(hand[0], hand[1]), Form.Numeral, support);
            case TopperMake.Digits or TopperMake.BestDigits: return new(AskKind.Digits, Value(Make[seat], hand), Form.Numeral, support: support);
            default:
                Span<int> falling = stackalloc int[hand.Length];
                for (int i = 0; i < hand.Length; i++)
                {
                    int at = i;
                    for (; at > 0 && falling[at - 1] < hand[i]; at--) falling[at] = falling[at - 1];
                    falling[at] = hand[i];
                }
                return new(Make[seat] == TopperMake.Sum ? AskKind.Join : AskKind.Times, falling, Form.Numeral, support: support);
        }
    }

    /// <summary>What cards make; of digits the first is the largest place.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static int Value(TopperMake make, ReadOnlySpan<byte> cards)
    {
        int value = cards[0];
        switch (make)
        {
            case TopperMake.Sum:
                for (int i = 1; i < cards.Length; i++) value += cards[i];
                return value;
            case TopperMake.Difference: return Math.Abs(cards[0] - cards[1]);
            case TopperMake.Product:
                for (int i = 1; i < cards.Length; i++) value *= cards[i];
                return value;
            case TopperMake.Digits:
                for (int i = 1; i < cards.Length; i++) value = 10 * value + cards[i];
                return value;
            case TopperMake.BestDigits:
                Span<byte> sorted = stackalloc byte[cards.Length];
                cards.CopyTo(sorted);
                sorted.Sort();
                value = 0;
                for (int i = sorted.Length - 1; i >= 0; i--) value = 10 * value + sorted[i];
                return value;
            default: return value;
        }
    }
}
