using System.Collections.Immutable;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>Behind the Door: the whole is known, and one of its parts is hidden.</summary>
public sealed class Door : CalledFrame
{
    public const string Split = "split", Peek = "peek", Hidden = "hidden", Two = "two", Forehead = "forehead", Ways = "ways", Sum = "sum", Product = "product", FirstSaid = "firstSaid";

    private const int MostWhole = 100, MostThings = 20;

    private static readonly ChoiceKind Forms = CommonKnobs.CardForms;
    private static readonly ChoiceKind Claims = ChoiceKind.Of(("mover", "each says her own in turn"), (FirstSaid, "whoever says her own first, where a clock is liked"));
    private static readonly ChoiceKind Joins = ChoiceKind.Of((Sum, "both together"), (Product, "one times the other"));

    public static class Knobs
    {
        public static readonly Knob<RangeValue> Whole = new("whole", "The whole", new RangeKind(2, MostWhole, OrOne: true), new RangeValue(new(5, 5)), Belongs.Range, Scope.Both, Sits.Things, "The number that is parted: one, or one of several.");
        public static readonly Knob<ChoiceValue> Form = new("form", "Parts are", Forms, Forms["objects"], Belongs.Form, Scope.Both, Sits.Cards, "What lies behind the doors, or stands on the cards.", KnobRole.Form);
        public static readonly Knob<WholeValue> Rounds = new("rounds", "Turns each", new WholeKind(1, 20), new WholeValue(6), Belongs.Length, Scope.Table, Sits.Game, "How many turns each player gets; where all ways are looked for, as many as there are.");
        public static readonly Knob<ChoiceValue> Op = new("op", "Said is", Joins, Joins[Sum], Belongs.RuleLevel, Scope.Table, Sits.Game, "Of two cards on foreheads: what they are together, or one times the other.");
        public static readonly Knob<ChoiceValue> Claim = new("claim", "On foreheads", Claims, Claims["mover"], Belongs.Fairness, Scope.Table, Sits.Game, "Whether they take turns, or whoever says her own first takes both cards.");
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning("most said first", "all together find them all", seldom: true);
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(MostWhole);
    }

    public override FrameData Data { get; } = new(
        "door", "Behind the Door", Family.Partners, "The whole is known, and a part is hidden: what is behind the door?", "It ends when everyone has had her turns.", 1, Engine.MostSeats,
        [Knobs.Whole, Knobs.Form, Knobs.Rounds, Knobs.Op, Knobs.Claim, Knobs.Winning, Knobs.Range, CommonKnobs.Support],
        [
            Level.Free(Split, "Make two parts", "Put all of them behind two doors as you like, and say both parts."),
            Level.Free(Peek, "Open both", "Open both doors, and say how many there are together."),
            Level.Free(Hidden, "One is hidden", "Look behind one door, and say what is behind the other."),
            Level.Free(Two, "Either is hidden", "Now this door stays closed, now the other: what is behind it?"),
            Level.Free(Forehead, "On the forehead", "Each holds a card to her forehead and sees only the other’s. Somebody says the whole: what is on your own?", (Knobs.Form, Forms["numeral"]), (Knobs.Whole, new RangeValue(new(5, 10)))),
            Level.Free(Ways, "All the ways", "Find every way to part it."),
        ],
        Hidden, [AskKind.Split, AskKind.Join, AskKind.Part, AskKind.Times]);

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        if (RefusedRace(setup) is { } refused) return [refused];
        if (setup.Winning == Winnings.Compete && !IsRace(setup)) return [new("table.winning", "Nobody is before another here, but where two or more hold cards to their foreheads and the first to say her own takes them.", Winnings.Together)];
        for (int s = 0; s < setup.Seats.Length; s++)
        {
            var whole = setup.At(s, Knobs.Whole).Range;
            var form = FormAt(setup, s);
            if (form == Form.Objects && whole.High > MostThings) return [new(setup.Path(s, Knobs.Whole), $"{whole.High} things are too many to hide; numerals reach further.", MostThings)];
            // Beyond the frames, numerals.
            if (!Pictures.CanDraw(form, whole.High)) return [new(setup.Path(s, Knobs.Form), $"{Words.Sentence(form.Facts().Label).TrimEnd('.')} do not reach {whole.High}.", "numeral")];
            int calls = Parted(setup, s).Take(MostCalls + 1).Count();
            if (calls == 0) return [new(setup.Path(s, Knobs.Whole), $"No two numbers from 2 on make {whole} when one is taken the other’s number of times.", 12)];
            if (calls > MostCalls) return [new(setup.Path(s, Knobs.Whole), $"So many numbers have more than {MostCalls} ways to be parted, which nobody keeps apart.", new RangeValue(new(whole.High, whole.High)).ToJson())];
        }
        return [];
    }

    /// <summary>Both look at one whole, at the same time.</summary>
    private static Problem? RefusedRace(Setup setup)
    {
        if (setup.Get(Knobs.Claim).Id != FirstSaid || setup.LevelId != Forehead && Seats(setup).All(s => setup.LevelAt(s) != Forehead)) return null;
        if (setup.Seats.Length < 2) return new("table.claim", "To be first takes two with cards on their foreheads.", "mover");
        foreach (int s in Seats(setup))
        {
            if (setup.LevelAt(s) != Forehead) return new($"players[{s}].allowance.level", "Who says it first is for all who play on their foreheads.", Forehead);
            if (!setup.At(s, Knobs.Whole).Equals(setup.Get(Knobs.Whole))) return new(setup.Path(s, Knobs.Whole), "The two cards make one whole for both who hold them.", setup.Get(Knobs.Whole).ToJson());
        }
        return null;
    }

    /// <summary>Two hold cards, and each is asked for her own.</summary>
    public override bool IsRace(Setup setup) => setup.Get(Knobs.Claim).Id == FirstSaid && setup.Seats.Length > 1 && Seats(setup).All(s => setup.LevelAt(s) == Forehead);

    protected override IEnumerable<int> Racing(Setup setup) => [0, 1];

    private static Form FormAt(Setup setup, int seat) => FormTable.Find(setup.At(seat, Knobs.Form).Id)!.Value;

    private static bool IsProduct(Setup setup, int seat) => setup.LevelAt(seat) == Forehead && setup.Get(Knobs.Op).Id == Product;

    /// <param name="Left">The part at the left, or her own card.</param>
    /// <param name="LeftHidden">Which of them is hidden.</param>
    private readonly record struct Parting(int Whole, int Left, int Right, bool LeftHidden);

    /// <summary>Every way in which a whole is put before her.</summary>
    private static IEnumerable<Parting> Parted(Setup setup, int seat)
    {
        var range = setup.At(seat, Knobs.Whole).Range;
        string level = setup.LevelAt(seat);
        for (int whole = range.Low; whole <= range.High; whole++)
        {
            if (level == Split) yield return new(whole, 0, 0, false);
            else if (IsProduct(setup, seat))
            {
                for (int a = 2; a <= whole / 2; a++)
                    if (whole % a == 0) yield return new(whole, a, whole / a, true);
            }
            else
                for (int a = 0; a <= (level == Ways ? whole / 2 : whole); a++)
                {
                    yield return new(whole, a, whole - a, level == Forehead);
                    if (level == Two) yield return new(whole, a, whole - a, true);
                }
        }
    }

    public override IReadOnlyList<Call> Calls(Setup setup, int seat)
    {
        string level = setup.LevelAt(seat);
        var (form, support) = (FormAt(setup, seat), CommonKnobs.SupportAt(setup, seat));
        bool product = IsProduct(setup, seat), race = IsRace(setup);
        int ways = level == Ways ? Parted(setup, seat).Count() : 0, highest = setup.At(seat, Knobs.Whole).Range.High;
        return [.. Parted(setup, seat).Select(p => new Call([Asked(p)], Seen(p), Label(p), Says(p), level == Ways ? [] : Lies(p))
        {
            // "3 and what" and "what and 3" are the same two parts, as are "4 and what".
            Group = level == Split ? 0 : 1 + p.Whole * (MostWhole + 1) + Math.Min(p.Left, p.Right),
            Tells = Tells(p),
            LiesAfter = level == Ways ? before => Found(p.Whole, before.Count, ways) : null,
        })];

        Ask Asked(Parting p) => level switch
        {
            Split or Ways => new(AskKind.Split, p.Whole, form, support: support),
            Peek => new(AskKind.Join, Math.Max(p.Left, p.Right), Math.Min(p.Left, p.Right), form, support),
            // Who sees both says the whole.
            Forehead when seat > 1 => product ? new(AskKind.Times, Math.Max(p.Left, p.Right), Math.Min(p.Left, p.Right), form, support) : new(AskKind.Join, Math.Max(p.Left, p.Right), Math.Min(p.Left, p.Right), form, support),
            _ when product => new Ask(AskKind.Times, highest, form, support: support).WithoutNumbers(highest),
            // In a race both look at the same two cards, each at the other's.
            _ => new(AskKind.Part, p.Whole, race && seat == 1 ? p.Left : Seen(p), form, support),
        };

        string Says(Parting p) => level switch
        {
            Split => "Make two parts, and say them.",
            Peek => "Open both: how many together?",
            Ways => "Which way is not there yet?",
            Forehead when race => product ? $"One times the other is {p.Whole}: who’s first?" : $"Together {p.Whole}: who says her own first?",
            Forehead when seat > 1 => product ? "You see both: say one times the other." : "You see both: say the whole.",
            Forehead => product ? $"One times the other is {p.Whole}: what is yours?" : $"The whole is {p.Whole}: what is on yours?",
            _ => "What is behind the closed door?",
        };

        string Label(Parting p) => level switch { Split or Ways => $"parts of {p.Whole}", Peek => $"{p.Left} and {p.Right}", _ when product => $"{p.Left} times {p.Right}", _ when race => $"{p.Left} and {p.Right}", _ => $"{Seen(p)} of {p.Whole} seen" };

        string Tells(Parting p) => level switch { Split => $"parted {p.Whole}", Ways => $"found a way to part {p.Whole}", _ when product => $"{p.Left} times {p.Right} is {p.Whole}", _ => $"{p.Left} and {p.Right} make {p.Whole}" };

        IReadOnlyList<Zone> Lies(Parting p) => level switch
        {
            Split => [new Heap("All of them", [new("", p.Whole)]), Front(p.Whole, Empty(0), Empty(1))],
            Peek => [Front(null, Part(0, p.Left, false), Part(1, p.Right, false))],
            Forehead => [Worn(p)],
            _ => [Front(p.Whole, Part(0, p.Left, p.LeftHidden), Part(1, p.Right, !p.LeftHidden))],
        };

        Zone Worn(Parting p)
        {
            Item Card(int id, int n, bool hidden) => new(id, hidden ? -1 : n, Pictures.CanDraw(form, n) ? form : Form.Numeral, hidden ? ItemState.Down : ItemState.Up, false);
            if (race) return new Foreheads("Two cards on foreheads", [(0, Card(0, p.Left, true)), (1, Card(1, p.Right, true))]);
            if (seat > 1) return new Foreheads("Two cards on foreheads", [(0, Card(0, p.Left, false)), (1, Card(1, p.Right, false))]);
            return new Foreheads("Two cards on foreheads", [(seat, Card(0, p.Left, true)), (setup.Seats.Length > 1 ? 1 - seat : null, Card(1, p.Right, false))]);
        }

        Item Part(int id, int n, bool hidden) => hidden ? new(id, -1, form, ItemState.Down, false) : new(id, n, form, ItemState.Up, false) { Words = n == 0 && !Pictures.CanDraw(form, 0) ? "nothing" : null };

    }

    /// <summary>Both doors are closed again; cards for foreheads come from their pile.</summary>
    private protected override IReadOnlyList<Zone> Waits(Setup setup, int seat, int left, IReadOnlyList<Call> made)
    {
        string level = setup.LevelAt(seat);
        int? whole = level != Peek && setup.At(seat, Knobs.Whole).Range is var range && range.Low == range.High ? range.Low : null;
        return level switch
        {
            Forehead => base.Waits(setup, seat, left, made),
            Ways => Found(whole, made.Count, Parted(setup, seat).Count()),
            Split => [Front(whole, Empty(0), Empty(1))],
            _ => [Front(whole, Closed(0), Closed(1))],
        };

        Item Closed(int id) => new(id, -1, FormAt(setup, seat), ItemState.Down, false);
    }

    private static IReadOnlyList<Zone> Found(int? whole, int found, int ways) => [Front(whole, Empty(0), Empty(1)), new WaysFound("Ways found", found, ways)];

    private static Item Empty(int id) => new(id, -1, Form.None, ItemState.Marked, false);

    private static DoorFront Front(int? whole, Item left, Item right) => new("Two doors", whole is { } n ? new(2, n, Form.Numeral, ItemState.Up, false) : null, left, right);

    /// <summary>The part that lies open.</summary>
    private static int Seen(Parting p) => p.LeftHidden ? p.Right : p.Left;

    protected override int Rounds(Setup setup) => setup.Get(Knobs.Rounds).Number;

    protected override int Rounds(Setup setup, int seat) => setup.LevelAt(seat) == Ways ? Parted(setup, seat).Count() : Rounds(setup);

    protected override float Handling(Setup setup, Call call) => setup.Get(Knobs.Form).Id == "objects" ? Games.Handling.AskForThings + Games.Handling.LayThing * Math.Min(MostThings, call.Asks[0].Largest) : 2 * Games.Handling.TurnCard;

    protected override void AddFacts(Setup setup, Facts facts) =>
        facts["bonds"] = PerSeat(setup, s => new NumberFact(Parted(setup, s).Select(p => (p.Whole, Math.Min(p.Left, p.Right))).Distinct().Count()));

    public override bool Matters(Setup setup, Knob knob) =>
        knob == Knobs.Op ? Seats(setup).Any(s => setup.LevelAt(s) == Forehead) : knob == Knobs.Claim ? setup.Seats.Length > 1 && Seats(setup).Any(s => setup.LevelAt(s) == Forehead) : knob != Knobs.Rounds || Seats(setup).Any(s => setup.LevelAt(s) != Ways);

    private static IEnumerable<int> Seats(Setup setup) => Enumerable.Range(0, setup.Seats.Length);

    public override IReadOnlyList<Need> Needs(Setup setup)
    {
        var needs = new List<Need>();
        var things = Seats(setup).Where(s => setup.LevelAt(s) != Forehead && FormAt(setup, s) == Form.Objects).ToList();
        if (things.Count > 0) needs.AddRange([new("pieces", things.Max(s => setup.At(s, Knobs.Whole).Range.High)), new("cups", 2)]);
        var cards = Seats(setup).Except(things).ToList();
        if (cards.Count > 0) needs.Add(new("cards", cards.Max(s => setup.At(s, Knobs.Whole).Range.High) + 1));
        return needs;
    }

    public override IReadOnlyList<string> GetReady(Setup setup)
    {
        bool worn = Seats(setup).All(s => setup.LevelAt(s) == Forehead);
        var whole = setup.Get(Knobs.Whole).Range;
        return
        [
            worn ? $"Cards with numbers up to {whole.High}. Each takes one without looking and holds it to her forehead."
                : FormAt(setup, 0) == Form.Objects ? "Two cups upside down are the two doors; a hand or a cloth does as well." : "A card is folded so that each half is a door.",
            worn ? setup.Seats.Length > 2 ? "Who sees both cards says what they make; change places now and then." : "You say what both cards make."
                : whole.Low == whole.High ? $"Say first how many there are in all: {whole.Low}." : "Say each time how many there are in all.",
            .. IsRace(setup) ? ["Whoever says her own card first keeps both. With Allowance as the caller, hold down “what goes” in the drawer to see which two to hand out."] : Array.Empty<string>(),
        ];
    }

    public override IReadOnlyList<Remark> Audit(Setup setup) => IsRace(setup) && setup.Seats.Length > 2 && !setup.Seats[2].GrownUp
        ? [$"{Words.Capital(setup.Who(2))} says what the two cards make, and cannot be first: change places from game to game."] : [];

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) => Steps(setup, seat, Knobs.Whole);

    public override string Summary(Setup setup) => $"the parts of {setup.Get(Knobs.Whole)}";
}
