using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

/// <summary>Knobs that many frames have, in the same words.</summary>
internal static class CommonKnobs
{
    /// <summary>Forms that a card can carry and that show one number: a step from one to the next is a small one.</summary>
    public static ChoiceKind CardForms { get; } = ChoiceKind.OfForms(
        Form.Spots, Form.Objects, Form.Scatter, Form.Row, Form.Dice, Form.Domino, Form.Twos, Form.FiveFrame, Form.Fingers, Form.Tally, Form.Rack, Form.Bar, Form.DoubleTenFrame, Form.TenFrame, Form.Numeral, Form.Word);

    /// <summary>The same, and what is only said.</summary>
    public static ChoiceKind CallForms { get; } = new([.. CardForms.Options, new ChoiceValue(Form.Spoken.Id(), "said aloud")]);

    private static readonly ChoiceKind Supports = ChoiceKind.Of(("none", "none"), ("things", "things to count"), ("frame", "a ten-frame"), ("fingers", "her fingers"), ("line", "a number line"), ("rack", "a bead rack"));

    public static Knob<ChoiceValue> Support { get; } = new("support", "Support", Supports, Supports["none"], Belongs.Support, Scope.Seat, Sits.Place, "What she may use to find out; it is kept with the note.", KnobRole.Support);

    /// <summary>A support that a level begins with.</summary>
    public static ChoiceValue Supported(Support support) => Supports[support.ToString().ToLowerInvariant()];

    /// <summary>How long the sand runs; nothing stands there unless somebody wants it.</summary>
    public static Knob<LimitValue> Sand(string says) => new("seconds", "The sand runs", new LimitKind(10, 600, NoSand), new LimitValue(null, NoSand), Belongs.Length, Scope.Table, Sits.Game, says, KnobRole.Sand);

    private const string NoSand = "no sand";

    public static Knob<ChoiceValue> First { get; } = new("first", "Who begins", ChoiceKind.Of(("seat", "the first place"), ("alternate", "in turn, game by game"), ("youngest", "the youngest"), ("draw", "drawn")), new ChoiceValue("seat", "the first place"), Belongs.Fairness, Scope.Table, Sits.Game, "Whose turn comes first.", KnobRole.WhoBegins);

    public const string EqualGoes = "equalGoes";

    public static Knob<ChoiceValue> Ending { get; } = new("ending", "It ends", ChoiceKind.Of(("first", "with the first who is done"), (EqualGoes, "when all have had as many goes")), new ChoiceValue("first", "with the first who is done"), Belongs.Fairness, Scope.Table, Sits.Game, "Whether the others still get the goes that the first had.");

    private static readonly ChoiceKind FaceKinds = ChoiceKind.Of(("dots", "dots"), ("numeral", "numerals"), ("word", "number words"));

    /// <summary>What stands on the faces of the dice, at the table or at a place.</summary>
    public static Knob<ChoiceValue> Faces { get; } = new("faces", "Dice show", FaceKinds, FaceKinds["dots"], Belongs.Form, Scope.Both, Sits.Dice, "Dots to count or see, numerals or words to read.", KnobRole.Faces);

    /// <summary>The form of a die's face at a place.</summary>
    public static Form FacesAt(Setup setup, int seat) => setup.At<ChoiceValue>(seat, KnobRole.Faces)?.Id switch { "numeral" => Form.Numeral, "word" => Form.Word, _ => Form.Dice };

    /// <summary>How a face with a number is drawn: more than six dots as loose ones, as far as those go.</summary>
    public static Form FaceOf(Form faces, int n) => Pictures.CanDraw(faces, n) ? faces : faces == Form.Dice && Pictures.CanDraw(Form.Scatter, n) ? Form.Scatter : Form.Numeral;

    public static OpenKnob<RangeValue> Range(int most) => new("range", "Her range", new RangeKind(0, most), Belongs.Range, Scope.Seat, Sits.Place, "The numbers she holds; what comes up outside them is shown.", KnobRole.Range);

    /// <param name="most">What the winner has most of; null where it is not played against each other.</param>
    /// <param name="together">What is reached together.</param>
    /// <param name="most">What wins; null where nobody does.</param>
    /// <param name="seldom">Only by some of its rules somebody wins: left alone, all reach it together.</param>
    public static Knob<ChoiceValue> Winning(string? most, string together, bool seldom = false)
    {
        var options = new List<(string, string)> { (Winnings.Together, together), (Winnings.None, "nobody wins") };
        if (most is not null) options.Insert(seldom ? 1 : 0, (Winnings.Compete, most));
        var kind = ChoiceKind.Of([.. options]);
        return new("winning", "Winning", kind, kind.Options[0], Belongs.Fairness, Scope.Table, Sits.Game, most is null ? "Whether it is something to reach together." : "Whether somebody wins, or all together.", KnobRole.Winning);
    }

    public static Support SupportAt(Setup setup, int seat) => Enum.Parse<Support>(setup.At(seat, Support).Id, true);

    public static Form FormAt(Setup setup, Knob<ChoiceValue> knob) => FormTable.Find(setup.Get(knob).Id)!.Value;

    /// <summary>What a call asks of the one who has the answer.</summary>
    /// <param name="called">The number that is called, and the form it is called in.</param>
    /// <param name="answers">The form of what answers.</param>
    public static Ask Answering(RelationValue relation, int called, Form calls, Form answers, Support support) => relation.Relation switch
    {
        Relation.Plus => new(AskKind.On, called, relation.By, calls, support),
        Relation.Minus => new(AskKind.Back, called, relation.By, calls, support),
        Relation.Partner => new(AskKind.Part, relation.By, called, calls, support),
        Relation.Double => new(AskKind.Double, called, calls, support: support),
        Relation.ToGo => new(AskKind.Gap, Math.Max(called, relation.By), Math.Min(called, relation.By), calls, support),
        _ => new(AskKind.Match, called, calls, answers, support),
    };

    /// <summary>The form of the second of two: as chosen, or left open dice as far as they reach, then loose dots, then words.</summary>
    public static Form SecondForm(Setup setup, OpenKnob<ChoiceValue> knob, IReadOnlyCollection<int> numbers, Form first) => setup.Get(knob) is { } chosen
        ? FormTable.Find(chosen.Id)!.Value
        : new[] { Form.Dice, Form.Scatter, Form.Numeral, Form.Word }.First(f => f == Form.Word || f != first && numbers.All(n => Pictures.CanDraw(f, n)));

    /// <summary>What refuses a form that does not reach so far, with one that does and is not the other; null where it reaches.</summary>
    public static Problem? TooShort(string knob, Form form, IReadOnlyCollection<int> numbers, Form other) => numbers.All(n => Pictures.CanDraw(form, n))
        ? null
        : new($"table.{knob}", $"{Words.Sentence(form.Facts().Label).TrimEnd('.')} show {form.Facts().Low} to {form.Facts().High}, and the cards go to {numbers.Max()}.", Showing(numbers, other).Id());

    /// <summary>The pack with the next number out or in; ranks that count as something else stay as they are.</summary>
    /// <param name="most">The largest number that may come in.</param>
    public static IEnumerable<SingleChange> CardsUpTo(Setup setup, Knob<DeckValue> knob, int most = 10)
    {
        var deck = setup.Get(knob).Deck;
        bool IsPlain((string Rank, CardValue Value) rank) => rank.Value.Sort is null && rank.Value.Number == Deck.OwnNumber(rank.Rank);
        var plain = deck.Ranks.Where(IsPlain).Select(r => r.Value.Number).ToList();
        if (deck.HomeMade || plain is not [var low, .., var high] || high - low != plain.Count - 1) yield break;
        foreach (int next in new[] { high - 1, high + 1 })
        {
            if (next <= low + 1 || next > most) continue;
            List<(string Rank, CardValue)> ranks = [.. Deck.Plain(low, next).Ranks, .. deck.Ranks.Where(r => !IsPlain(r) && Deck.RankIndex(r.Rank) >= next)];
            var missing = deck.Missing.Where(m => ranks.Exists(r => r.Rank == m.Key)).ToDictionary();
            yield return new($"cards up to {next} instead of {high}", Belongs.Range, setup.With(knob, new DeckValue(Deck.FromRanks(ranks, deck.Packs, deck.Suits, missing))));
        }
    }

    /// <summary>A form that shows all these numbers and is not the other one.</summary>
    public static Form Showing(IEnumerable<int> numbers, Form other) =>
        new[] { Form.Numeral, Form.Scatter, Form.Word }.First(f => f != other && numbers.All(n => Pictures.CanDraw(f, n)));
}
