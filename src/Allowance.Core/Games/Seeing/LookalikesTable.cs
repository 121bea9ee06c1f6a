using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

/// <summary>What one setup of Lookalikes comes to: the pairs, their forms, and what each seat remembers.</summary>
internal sealed class LookalikesTable
{
    public LookalikesTable(Setup setup)
    {
        Mode = setup.Get(Lookalikes.Knobs.Mode).Id;
        Relation = setup.Get(Lookalikes.Knobs.Relation).Id;
        Target = setup.Get(Lookalikes.Knobs.Target).Number;
        Plus = setup.Get(Lookalikes.Knobs.Plus).Number;
        Again = setup.Get(Lookalikes.Knobs.Again).On;
        TwoBacks = setup.Get(Lookalikes.Knobs.TwoBacks).On;
        Possible = [.. setup.Get(Lookalikes.Knobs.Values).Numbers.Where(n => MateOf(n) >= 0)];
        Wanted = setup.Get(Lookalikes.Knobs.Pairs) is WholeValue pairs ? pairs.Number : Math.Min(Possible.Count, Lookalikes.MostPairs);
        int used = Math.Min(Wanted, Possible.Count);
        Numbers = [.. Enumerable.Range(0, used).Select(i => Possible[used == 1 ? 0 : i * (Possible.Count - 1) / (used - 1)])];
        FormA = CommonKnobs.FormAt(setup, Lookalikes.Knobs.FormA);
        FormB = CommonKnobs.SecondForm(setup, Lookalikes.Knobs.FormB, [.. Numbers.Select(MateOf)], FormA);
        Cards = [.. Enumerable.Range(0, 2 * used).Select(c => (byte)c)];
        FirstForm = [.. Cards.Where(c => c % 2 == 0)];
        SecondForm = [.. Cards.Where(c => c % 2 == 1)];
        Copies = setup.Get(Lookalikes.Knobs.Copies).Number;
        Forms = InARow && setup.Get(Lookalikes.Knobs.Forms) is { } forms ? forms.Forms : [FormB];
        Seats = [.. Enumerable.Range(0, setup.Seats.Length).Select(i => Seat(setup, i))];
    }

    private LookalikesSeat Seat(Setup setup, int seat)
    {
        var support = CommonKnobs.SupportAt(setup, seat);
        return new(setup.Seats[seat].GrownUp, setup.At(seat, Lookalikes.Knobs.Memory).Span, support,
            [.. Enumerable.Range(0, Cards.Length).Select(card => AskOf(NumberOf(card), card >> 1, FormOf(card), FormOf(card ^ 1), support))],
            [.. Enumerable.Range(Numbers.Count, Kinds).Select(card => AskOf(RowNumber(card), card % Numbers.Count, RowForm(card), FormA, support))]);
    }

    public string Mode { get; }

    public bool InARow => Mode is Lookalikes.InLine or Lookalikes.LineUp;

    public string Relation { get; }

    public int Target { get; }

    public int Plus { get; }

    public Form FormA { get; }

    public Form FormB { get; }

    public bool Again { get; }

    public bool TwoBacks { get; }

    /// <summary>The numbers that have a mate, and how many pairs are wanted of them.</summary>
    public IReadOnlyList<int> Possible { get; }

    public int Wanted { get; }

    /// <summary>The numbers used, one a pair, as the first form shows them.</summary>
    public IReadOnlyList<int> Numbers { get; }

    public LookalikesSeat[] Seats { get; }

    /// <summary>How many cards everyone remembers; 0 where they differ, or remember nothing or everything.</summary>
    public int Span => Seats.All(s => s.Spans && s.Memory == Seats[0].Memory) ? Seats[0].Memory : 0;

    /// <summary>Cards are numbered by pairs: 2p the first form, 2p + 1 the second.</summary>
    public byte[] Cards { get; }

    public byte[] FirstForm { get; }

    public byte[] SecondForm { get; }

    /// <summary>What the second card of a pair shows.</summary>
    public int MateOf(int number) => Relation switch { Lookalikes.Partner => Target - number, Lookalikes.Plus => number + Plus, _ => number };

    public int NumberOf(int card) => (card & 1) == 0 ? Numbers[card >> 1] : MateOf(Numbers[card >> 1]);

    public Form FormOf(int card) => (card & 1) == 0 ? FormA : FormB;

    public string Label(int card) => Label(NumberOf(card), FormOf(card));

    /// <summary>In a row: of each number and form so many cards, and the forms that lie beneath.</summary>
    public int Copies { get; }

    public IReadOnlyList<Form> Forms { get; }

    /// <summary>In a row: how many different cards are put down; they are numbered after those of the row.</summary>
    public int Kinds => Numbers.Count * Forms.Count;

    /// <summary>The cards of the row, by column, and the pile that is sorted under them.</summary>
    public byte[] Row => [.. Enumerable.Range(0, Numbers.Count).Select(c => (byte)c)];

    public byte[] Under => [.. Enumerable.Range(Numbers.Count, Kinds).SelectMany(c => Enumerable.Repeat((byte)c, Copies))];

    public int RowNumber(int card) => card < Numbers.Count ? Numbers[card] : MateOf(Numbers[card % Numbers.Count]);

    public Form RowForm(int card) => card < Numbers.Count ? FormA : Forms[card / Numbers.Count - 1];

    public string RowLabel(int card) => Label(RowNumber(card), RowForm(card));

    private static string Label(int number, Form form) => form == Form.Numeral ? $"{number}" : $"{number} as {form.Facts().Label}";

    /// <summary>What finding the mate of a card asks.</summary>
    /// <param name="pair">Whose card it is.</param>
    private Ask AskOf(int number, int pair, Form form, Form other, Support support) => Relation switch
    {
        Lookalikes.Partner => new(AskKind.Part, Target, number, form, support),
        Lookalikes.Plus => new(AskKind.On, Numbers[pair], Plus, FormA, support),
        _ => new(AskKind.Match, number, form, other, support),
    };
}

/// <param name="Asks">What finding the mate asks, by the card seen first.</param>
/// <param name="Under">In a row: what putting down a card asks, by the card.</param>
internal sealed record LookalikesSeat(bool GrownUp, int Memory, Support Support, Ask[] Asks, Ask[] Under)
{
    /// <summary>The cards seen last are remembered; else nothing or everything.</summary>
    public bool Spans => Memory is not (MemoryValue.Nothing or MemoryValue.Everything);
}
