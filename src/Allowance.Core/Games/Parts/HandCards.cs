using System.Diagnostics.CodeAnalysis;
using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

[InlineArray(Engine.MostSeats)]
internal struct EightHands
{
    private ulong first;
}

/// <summary>The cards of one hand, in registers.</summary>
internal readonly struct OneHand(ulong lanes, int count)
{
    /// <summary>One card in each byte from the lowest, the largest first.</summary>
    public readonly ulong Lanes = lanes;
    public readonly int Count = count;

    public static OneHand Of(ReadOnlySpan<byte> cards) => new(Numbers.Lanes.Of(cards), cards.Length);

    [UnscopedRef]
    public ReadOnlySpan<byte> Cards => MemoryMarshal.AsBytes(new ReadOnlySpan<ulong>(in Lanes))[..Count];
}

/// <summary>Cards in hands, up to eight for each of eight players, the larger first; alike cards lie beside each other.</summary>
internal struct HandCards
{
    /// <summary>What a wild card and a bonus card go by among numbers up to 60.</summary>
    public const byte Wild = 63, Bonus = 62;

    public const int Most = 8;

    private EightCounts counts;
    private EightHands hands;

    public readonly int Count(int seat) => counts[seat];

    public readonly int this[int seat, int place] => (byte)(hands[seat] >> 8 * place);

    /// <summary>All cards in all hands.</summary>
    public readonly int Total
    {
        get
        {
            int total = 0;
            for (int seat = 0; seat < Engine.MostSeats; seat++) total += counts[seat];
            return total;
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public readonly OneHand One(int seat) => new(hands[seat], counts[seat]);

    /// <summary>The cards of a hand, the largest first.</summary>
    [UnscopedRef]
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public readonly ReadOnlySpan<byte> Of(int seat) => MemoryMarshal.AsBytes((ReadOnlySpan<ulong>)hands).Slice(seat * Most, counts[seat]);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Add(int seat, byte card)
    {
        counts[seat]++;
        hands[seat] = Lanes.Insert(hands[seat], card);
    }

    /// <summary>Takes cards out.</summary>
    /// <param name="set">Places, as bits.</param>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Take(int seat, int set)
    {
        counts[seat] -= (short)BitOperations.PopCount((uint)set & (1u << counts[seat]) - 1);
        hands[seat] = Lanes.Without(hands[seat], set);
    }

    /// <summary>A card as it lies in a hand.</summary>
    public static Item Shown(int id, int card, Form form, bool canTap) => card switch
    {
        Wild => new(id, 0, Form.None, ItemState.Up, canTap) { Words = "any" },
        Bonus => new(id, 0, Form.None, ItemState.Up, canTap) { Words = "extra" },
        _ => new(id, card, form, ItemState.Up, canTap),
    };

    public static string Named(int card) => card switch { Wild => "any", Bonus => "a bonus card", _ => $"{card}" };

    /// <summary>The cards of a deck as a pile holds them.</summary>
    public static byte[] Pack(Deck deck) =>
        [.. deck.Counts.SelectMany(c => Enumerable.Repeat((byte)c.Key, c.Value)), .. Enumerable.Repeat(Wild, deck.Wilds), .. Enumerable.Repeat(Bonus, deck.Bonuses)];

    /// <summary>What some cards of a hand are, for an equation.</summary>
    public static List<int> Cards(ReadOnlySpan<byte> hand, int set)
    {
        var cards = new List<int>();
        for (int i = 0; i < hand.Length; i++)
            if ((set >> i & 1) != 0) cards.Add(hand[i] == Wild ? HandEquations.Wild : hand[i]);
        return cards;
    }

    /// <summary>"How many together" of up to six cards.</summary>
    public static Ask Joined(ReadOnlySpan<byte> hand, int set, Form form, Support support)
    {
        ulong lanes = 0;
        int count = 0;
        for (; set != 0; set &= set - 1) (lanes, count) = (Lanes.Insert(lanes, hand[BitOperations.TrailingZeroCount(set)]), count + 1);
        return Ask.Join(lanes, count, form, support);
    }

    /// <summary>So many numbers can be asked for together.</summary>
    private const int MostJoined = 6;

    /// <summary>What stands in a row as it is read, behind what stands there already: what is put to it, and the complement of what is taken away.</summary>
    /// <returns>How many there are then.</returns>
    private static int InRow(Made made, Span<int> into, int count)
    {
        if (made.Sign == Operation.Plus) return InRow(made.Right!, into, InRow(made.Left!, into, count));
        if (made.Sign == Operation.Minus) into[count = InRow(made.Left!, into, count)] = ~(int)made.Right!.Value;
        else into[count] = (int)made.Value;
        return count + 1;
    }

    /// <summary>What an equation asks that makes a number: its last step, as it is read.</summary>
    public static Ask Asked(Made made, Form form, Support support)
    {
        const int mostAsked = 1000, mostOfMany = 127;
        if (made.Sign is not { } sign) return new(AskKind.Say, (int)made.Value, form, support: support);
        var (kind, left, right) = (sign == Operation.Times ? AskKind.Times : AskKind.Share, (int)made.Left!.Value, (int)made.Right!.Value);
        if (sign is Operation.Plus or Operation.Minus)
        {
            Span<int> numbers = stackalloc int[Most];
            numbers = numbers[..InRow(made, numbers, 0)];
            if (numbers.ContainsAnyInRange(int.MinValue, -1))
            {
                // 9 + 7 − 2: nine and seven are known when two go away.
                bool away = numbers[^1] < 0;
                right = away ? ~numbers[^1] : numbers[^1];
                (kind, left) = (away ? AskKind.Gone : AskKind.Join, (int)made.Value + (away ? right : -right));
                if (!away && right > left) (left, right) = (right, left);
            }
            else
            {
                numbers.Sort((a, b) => b - a);
                if (numbers.Length == 2 || numbers.Length <= MostJoined && numbers[0] <= mostOfMany) return new(AskKind.Join, numbers, form, support: support);
                kind = AskKind.Join;
            }
        }
        return Math.Max(left, right) > mostAsked ? new Ask(kind, 1, 1, form, support).WithoutNumbers(mostAsked) : new(kind, left, right, form, support);
    }
}
