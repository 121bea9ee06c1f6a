using System.Collections.Immutable;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>Around N: fewer than a number, exactly so many, or more; made with things, or sorted into three rings.</summary>
public sealed class Around : CalledFrame
{
    public const string Things = "things", Make = "make", Cards = "cards", Numerals = "numerals", HowMany = "howMany";

    private const int MostNumber = 100, MostThings = 30;

    private static readonly ChoiceKind Forms = CommonKnobs.CardForms;

    public static class Knobs
    {
        public static readonly Knob<WholeValue> N = new("n", "The number", new WholeKind(1, MostNumber), new WholeValue(5), Belongs.Range, Scope.Both, Sits.Things, "The number that all is held against.");
        public static readonly Knob<WholeValue> Max = new("max", "Numbers up to", new WholeKind(1, MostNumber), new WholeValue(10), Belongs.Range, Scope.Both, Sits.Cards, "The largest that comes up.");
        public static readonly OpenKnob<ChoiceValue> Form = new("form", "Cards show", Forms, Belongs.Form, Scope.Both, Sits.Cards, "How cards show their numbers; dots as far as they go, or numerals, where it is left open.", KnobRole.Form);
        public static readonly Knob<WholeValue> Rounds = new("rounds", "Turns each", new WholeKind(1, 20), new WholeValue(6), Belongs.Length, Scope.Table, Sits.Game, "How many turns each player gets.");
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning(null, "all together sort them all");
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(MostNumber);
    }

    public override FrameData Data { get; } = new(
        "around", "Around N", Family.Comparing, "Fewer than a number, just that many, or more?", "It ends when everyone has had her turns.", 1, Engine.MostSeats,
        [Knobs.N, Knobs.Max, Knobs.Form, Knobs.Rounds, Knobs.Winning, Knobs.Range, CommonKnobs.Support],
        [
            Level.Free(Things, "With things", "Put out that many, and say whether it is fewer, the same, or more."),
            Level.Free(Make, "A set of her own", "Make a set for each ring: fewer, the same, or more."),
            Level.Free(Cards, "Cards with pictures", "Sort a card into its ring: fewer, the same, or more."),
            Level.Free(Numerals, "Numerals", "Sort a numeral into its ring."),
            Level.Free(HowMany, "How many", "Say how many fewer or more it is."),
        ],
        Things, [AskKind.Take, AskKind.More, AskKind.Gap]);

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        for (int s = 0; s < setup.Seats.Length; s++)
        {
            int n = setup.At(s, Knobs.N).Number, max = setup.At(s, Knobs.Max).Number;
            if (n >= max)
            {
                // Up to 1 there is no number to hold it against.
                var (knob, nearest) = max > 1 ? (Knobs.N, max - 1) : (Knobs.Max, Math.Min(MostNumber, n + 1));
                return [new(setup.Path(s, knob), $"Up to {max} nothing is more than {n}.", nearest)];
            }
            if (setup.LevelAt(s) is Things or Make && max > MostThings) return [new(setup.Path(s, Knobs.Max), $"{max} things are too many to put out.", MostThings)];
            if (!Pictures.CanDraw(FormOf(setup, s), max)) return [new(setup.Path(s, Knobs.Form), $"{Materials.Words.Sentence(FormOf(setup, s).Facts().Label).TrimEnd('.')} do not reach {max}.", "numeral")];
        }
        return [];
    }

    private static Form FormOf(Setup setup, int seat) => setup.LevelAt(seat) switch
    {
        Things or Make => Form.Objects,
        Numerals => Form.Numeral,
        _ => setup.At(seat, Knobs.Form) is ChoiceValue form ? FormTable.Find(form.Id)!.Value : setup.At(seat, Knobs.Max).Number <= Form.Scatter.Facts().High ? Form.Scatter : Form.Numeral,
    };

    public override IReadOnlyList<Call> Calls(Setup setup, int seat)
    {
        int n = setup.At(seat, Knobs.N).Number;
        var form = FormOf(setup, seat);
        var support = CommonKnobs.SupportAt(setup, seat);
        string level = setup.LevelAt(seat);
        if (level == Make) return Own(n, setup.At(seat, Knobs.Max).Number, support);
        return [.. Enumerable.Range(1, setup.At(seat, Knobs.Max).Number).Select(k => new Call(Asked(k), k, $"{k}", level == HowMany ? $"How many fewer or more than {n}?" : $"{(level == Things ? "Put out that many. " : "")}Fewer than {n}, the same, or more?", []) { Tells = $"{k} beside {n}", LiesAfter = before => [new Stage("To be sorted", [Card(k, level == Things ? Form.Numeral : form)]), Sorted(n, form, before)] })];

        ImmutableArray<Ask> Asked(int k)
        {
            var more = new Ask(AskKind.More, Math.Max(k, n), Math.Min(k, n), form, support);
            if (level == Things) return [new Ask(AskKind.Take, k, Form.Objects, support: support), more];
            return level == HowMany && k != n ? [more, new Ask(AskKind.Gap, Math.Max(k, n), Math.Min(k, n), form, support)] : [more];
        }
    }

    private protected override IReadOnlyList<Zone> Waits(Setup setup, int seat, int left, IReadOnlyList<Call> made)
    {
        bool own = setup.LevelAt(seat) == Make;
        var rings = Sorted(setup.At(seat, Knobs.N).Number, FormOf(setup, seat), own ? [] : made);
        return own ? [InReach(setup.At(seat, Knobs.Max).Number), rings] : [rings];
    }

    private static Heap InReach(int things) => new("Things in reach", [new("", things)]);

    private static Item Card(int k, Form form) => new(0, k, form, ItemState.Up, false);

    /// <summary>In the rings lies what was sorted before.</summary>
    private static Rings Sorted(int n, Form form, IReadOnlyList<Call> before) => ThreeRings(n, says => [.. before.Where(c => says(c.Number)).OrderBy(c => c.Number).Select(c => Card(c.Number, form))]);

    /// <param name="asked">The number whose ring is to be filled, where one is.</param>
    private static Rings ThreeRings(int n, Func<Predicate<int>, IReadOnlyList<Item>> holds, int? asked = null)
    {
        return new("Three rings", [Ring($"fewer than {n}", k => k < n), Ring($"just {n}", k => k == n), Ring($"more than {n}", k => k > n)]);

        SortingRing Ring(string says, Predicate<int> takes) => new(says, holds(takes), asked is { } number && takes(number));
    }

    /// <summary>A set for each ring: only for the one in the middle is the number known before she makes it.</summary>
    private static IReadOnlyList<Call> Own(int n, int max, Support support) =>
    [
        new([new Ask(AskKind.More, n, Form.Objects, support: support).WithoutNumbers(n)], n - 1, $"a set with fewer than {n}", $"Make a set with fewer than {n}.", [InReach(max), ThreeRings(n, _ => [], n - 1)]),
        new([new Ask(AskKind.Take, n, Form.Objects, support: support)], n, $"a set with just {n}", $"Make a set with just {n}.", [InReach(max), ThreeRings(n, _ => [], n)]),
        new([new Ask(AskKind.More, n, Form.Objects, support: support).WithoutNumbers(max)], n + 1, $"a set with more than {n}", $"Make a set with more than {n}.", [InReach(max), ThreeRings(n, _ => [], n + 1)]),
    ];

    protected override int Rounds(Setup setup) => setup.Get(Knobs.Rounds).Number;

    protected override float Handling(Setup setup, Call call) => Games.Handling.SortCard;

    public override bool Matters(Setup setup, Knob knob) => knob != Knobs.Form || Enumerable.Range(0, setup.Seats.Length).Any(s => setup.LevelAt(s) is Cards or HowMany);

    public override bool IsOfThings(Setup setup, int seat) => setup.LevelAt(seat) is Things or Make;

    public override IReadOnlyList<Remark> Audit(Setup setup) => Enumerable.Range(0, setup.Seats.Length).Any(s => setup.At(s, Knobs.N).Number == 1) ? ["Nothing is fewer than 1: that ring stays empty."] : [];

    public override KnobValue? LeftOpen(Setup setup, Knob knob) => knob == Knobs.Form && FormOf(setup, 0) is var form and not Form.Objects ? Forms[form.Id()] : null;

    public override IReadOnlyList<Need> Needs(Setup setup)
    {
        var seats = Enumerable.Range(0, setup.Seats.Length).ToList();
        var needs = new List<Need> { new("rings", 3) };
        if (seats.Exists(s => setup.LevelAt(s) is Things or Make)) needs.Add(new("pieces", seats.Max(s => setup.At(s, Knobs.Max).Number)));
        if (seats.Exists(s => setup.LevelAt(s) is not (Things or Make))) needs.Add(new("cards", seats.Max(s => setup.At(s, Knobs.Max).Number)));
        return needs;
    }

    public override IReadOnlyList<string> GetReady(Setup setup) => [$"Three rings of string on the floor or drawn on paper: fewer than {setup.Get(Knobs.N)}, just {setup.Get(Knobs.N)}, more than {setup.Get(Knobs.N)}."];

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) =>
        [.. new[] { Knobs.N, Knobs.Max }.SelectMany(k => Steps(setup, seat, k))];

    public override string Summary(Setup setup) => $"around {setup.Get(Knobs.N)}, up to {setup.Get(Knobs.Max)}";
}
