using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

/// <summary>Lookalikes: cards of the same amounts in two forms, put together in a row, face up, or face down from memory.</summary>
public sealed class Lookalikes : Frame
{
    public const string InLine = "line", LineUp = "lineUp", FaceUp = "faceup", FaceDown = "facedown", Same = "same", Partner = "partner", Plus = "plus";

    public const int MostPairs = 30;

    private const int MostCopies = 8, MostInPile = 120;

    private static readonly ChoiceKind Modes = ChoiceKind.Of((InLine, "put under its own in a row"), (LineUp, "in a row that is put in order first"), (FaceUp, "face up"), (FaceDown, "face down, two at a time"));
    private static readonly ChoiceKind Relations = ChoiceKind.Of((Same, "show the same"), (Partner, "make the target"), (Plus, "are so many apart"));

    public static class Knobs
    {
        public static readonly Knob<NumbersValue> Values = new("values", "Numbers", new NumbersKind(0, 60), NumbersValue.Range(1, 6), Belongs.Range, Scope.Table, Sits.Deck, "The numbers on the cards of the first form.", KnobRole.Numbers);
        public static readonly OpenKnob<WholeValue> Pairs = new("pairs", "Pairs", new WholeKind(1, MostPairs), Belongs.Length, Scope.Table, Sits.Cards, "How many pairs are used, spread over the numbers; all of them where it is left open.");
        public static readonly Knob<ChoiceValue> FormA = new("formA", "One card shows", CommonKnobs.CardForms, CommonKnobs.CardForms["numeral"], Belongs.Form, Scope.Table, Sits.Cards, "The form of the first card of a pair.");
        public static readonly OpenKnob<ChoiceValue> FormB = new("formB", "The other shows", CommonKnobs.CardForms, Belongs.Form, Scope.Table, Sits.Cards, "The form of the second card of a pair.");
        public static readonly OpenKnob<FormsValue> Forms = new("forms", "Under them lie", new FormsKind([.. CommonKnobs.CardForms.Options.Select(o => FormTable.Find(o.Id)!.Value)]), Belongs.Form, Scope.Table, Sits.Cards, "In a row: several forms make a whole pile to sort; the second form alone where it is left open.");
        public static readonly Knob<WholeValue> Copies = new("copies", "Of each", new WholeKind(1, MostCopies), new WholeValue(1), Belongs.Length, Scope.Table, Sits.Cards, "In a row: how many cards of each number and form are put down.");
        public static readonly Knob<ChoiceValue> Mode = new("mode", "Way of playing", Modes, Modes[FaceUp], Belongs.RuleLevel, Scope.Table, Sits.Game, "Put in order, face up, or from memory.");
        public static readonly Knob<ChoiceValue> Relation = new("relation", "Two that", Relations, Relations[Same], Belongs.RuleLevel, Scope.Table, Sits.Game, "What two cards must have to do with each other.");
        public static readonly Knob<WholeValue> Target = new("target", "Target", new WholeKind(1, 60), new WholeValue(10), Belongs.Range, Scope.Table, Sits.Game, "What partners make together.", KnobRole.Target);
        public static readonly Knob<WholeValue> Plus = new("plus", "How many apart", new WholeKind(1, 20), new WholeValue(1), Belongs.Range, Scope.Table, Sits.Game, "The second card shows so many more.");
        public static readonly Knob<FlagValue> Again = new("again", "Keep and go on", new FlagKind(), new FlagValue(true), Belongs.Length, Scope.Table, Sits.Game, "Face down: whoever finds a pair turns again.");
        public static readonly Knob<FlagValue> TwoBacks = new("twoBacks", "Two backs", new FlagKind(), new FlagValue(false), Belongs.Length, Scope.Table, Sits.Cards, "Face down: a back of its own for each form, so that one of each is turned.");
        public static readonly Knob<MemoryValue> Memory = new("memory", "Remembers", new MemoryKind(), new MemoryValue(4), Belongs.Support, Scope.Both, Sits.Place, "Face down, for the forecast: nothing, everything, or the cards seen last.", KnobRole.Memory);
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(60);
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning("most cards", "all together find them all");
    }

    public override FrameData Data { get; } = new(
        "lookalikes", "Lookalikes", Family.Seeing, "Find the same amount in another form.", "It ends when all pairs are found.", 1, 8,
        [Knobs.Values, Knobs.Pairs, Knobs.FormA, Knobs.FormB, Knobs.Forms, Knobs.Copies, Knobs.Mode, Knobs.Relation, Knobs.Target, Knobs.Plus, Knobs.Again, Knobs.TwoBacks, Knobs.Memory, Knobs.Range, CommonKnobs.Support, CommonKnobs.First, Knobs.Winning],
        [
            Rung("line", "In a row", "Lay the numerals in order and put each picture under its own.", InLine, Same),
            Rung("lineUp", "In order first", "Put the numerals in order, then each picture under its own.", LineUp, Same),
            Rung("faceup", "Face up", "Find two that show the same.", FaceUp, Same),
            Rung("facedown", "Face down", "Turn two; keep them if they show the same.", FaceDown, Same),
            Rung("partner", "Partners of a target", "Find two that make the target.", null, Partner),
            Rung("plus", "So many more", "Find a card and the one that shows so many more.", null, Plus),
        ],
        "faceup", [AskKind.Match, AskKind.Part, AskKind.On, AskKind.Order]);

    private static Level Rung(string id, string label, string says, string? mode, string relation)
    {
        var suggests = new List<(Knob, KnobValue)>();
        if (mode is null) suggests.Add((Knobs.Mode, Modes[FaceDown]));
        if (relation == Partner) suggests.Add((Knobs.Values, NumbersValue.Range(1, 9)));
        (Knob, KnobValue) related = (Knobs.Relation, Relations[relation]);
        return Level.Fixed(id, label, says, mode is null ? [related] : [related, (Knobs.Mode, Modes[mode])], [.. suggests]);
    }

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        var problems = new List<Problem>();
        var table = new LookalikesTable(setup);
        for (int i = 0; i < setup.Seats.Length; i++)
            foreach (var (knob, value) in setup.Against(i))
                problems.Add(new($"players[{i}].allowance.level", $"\"{setup.Frame.Level(setup.Seats[i].Level)!.Label}\" is played {value}, but this table plays {setup.Get(knob)}.", setup.LevelId));
        // Of two backs, one of each is turned: they may show the same.
        bool mayBeAlike = table.TwoBacks && table.Mode == FaceDown;
        if (table.FormA == table.FormB && !mayBeAlike && table.Forms.Contains(table.FormA))
            problems.Add(new("table.formB", $"Both cards of a pair would show {table.FormA.Facts().Label}; the second needs another form, or face down another back.", CommonKnobs.Showing(table.Numbers, table.FormA).Id()));
        int[] first = [.. table.Numbers], second = [.. table.Numbers.Select(table.MateOf)];
        if (CommonKnobs.TooShort("formA", table.FormA, first, table.FormB) is { } shortA) problems.Add(shortA);
        if (!table.InARow || setup.Get(Knobs.Forms) is null)
        {
            if (CommonKnobs.TooShort("formB", table.FormB, second, table.FormA) is { } shortB) problems.Add(shortB);
        }
        else if (table.Forms.Where(f => f == table.FormA || CommonKnobs.TooShort("forms", f, second, table.FormA) is not null).ToList() is { Count: > 0 } not)
        {
            var left = table.Forms.Except(not).ToList();
            problems.Add(new("table.forms", not[0] == table.FormA ? $"The row shows {table.FormA.Facts().Label} already." : CommonKnobs.TooShort("forms", not[0], second, table.FormA)!.Message, new FormsValue(left.Count > 0 ? left : [CommonKnobs.Showing(second, table.FormA)]).ToJson()));
        }
        if (table.InARow && table.Kinds * table.Copies is > MostInPile and var pile)
            problems.Add(new("table.copies", $"{pile} cards to sort are more than {MostInPile}.", Math.Max(1, MostInPile / Math.Max(1, table.Kinds))));
        if (table.Possible.Count == 0)
            problems.Add(new("table.values", $"No number of these has a partner that makes {table.Target}.", new NumbersKind(0, 60).FromLink($"1-{Math.Max(3, table.Target - 1)}", "", [])!.ToJson()));
        else if (table.Wanted > table.Possible.Count)
            problems.Add(new("table.pairs", $"{table.Wanted} pairs need as many numbers, and there are {table.Possible.Count}.", table.Possible.Count));
        return [.. problems.DistinctBy(p => p.Path)];
    }

    protected internal override Game Compile(Setup setup)
    {
        var table = new LookalikesTable(setup);
        return table.Mode switch
        {
            InLine or LineUp => new Game<LookalikesRow, LookalikesRowState>(setup, new(table)),
            FaceDown when table.TwoBacks => new Game<LookalikesRules<FromMemoryByForm>, LookalikesState>(setup, new(table)),
            FaceDown => new Game<LookalikesRules<FromMemory>, LookalikesState>(setup, new(table)),
            _ => new Game<LookalikesRules<AllOpen>, LookalikesState>(setup, new(table)),
        };
    }

    public override IReadOnlyList<Need> Needs(Setup setup)
    {
        var table = new LookalikesTable(setup);
        return [new("cards", table.Numbers.Count + (table.InARow ? table.Kinds * table.Copies : table.Numbers.Count))];
    }

    public override IReadOnlyList<string> GetReady(Setup setup)
    {
        var table = new LookalikesTable(setup);
        return
        [
            $"{Words.Count(table.Numbers.Count, "card")} as {table.FormA.Facts().Label}: {Words.Numbers(table.Numbers)}.",
            .. table.Forms.Select(form => $"{Words.Count(table.Numbers.Count * (table.InARow ? table.Copies : 1), "card")} as {form.Facts().Label}: {Words.Numbers(table.Numbers.Select(table.MateOf).Order())}{(table.InARow && table.Copies > 1 ? $", {table.Copies} of each" : "")}."),
            .. !table.TwoBacks || table.Mode != FaceDown ? [] : table.FormA == table.FormB ? ["Take them from two packs with different backs."] : new[] { "The two kinds need different backs." },
            .. table.InARow ? [table.Mode == LineUp ? "Shuffle the row by itself, and the rest in a pile." : "Lay the first ones in a row, in order; the rest is shuffled in a pile."] : Array.Empty<string>(),
        ];
    }

    protected internal override Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var facts = new Facts();
        var table = new LookalikesTable(setup);
        int pairs = table.Numbers.Count;
        facts["pairs"] = new NumberFact(pairs);
        facts.AimReached = 1;
        if (setup.Get(Knobs.Mode).Id != FaceDown || setup.Seats.Length > 1) return facts;
        double? flips = setup.At(0, Knobs.Memory).Span switch
        {
            MemoryValue.Nothing => MemoryFacts.WithNone(pairs, table.TwoBacks),
            MemoryValue.Everything => MemoryFacts.WithAll(pairs, table.TwoBacks),
            _ => null,
        };
        if (flips is not { } mean) return facts;
        facts["flipsMean"] = new NumberFact(mean);
        facts["turnsMean"] = new NumberFact(table.Again ? mean - pairs + 1 : mean);
        return facts;
    }

    protected internal override IReadOnlyList<string> SimulatedFacts(Setup setup) => setup.Get(Knobs.Mode).Id == FaceDown ? ["flipsMean", "turnsMean"] : [];

    protected internal override (string Heading, string Says)? InWords(Setup setup, Facts facts, double secondsATurn, Spending spending) => facts.Find("flipsMean") is NumberFact flips
        ? ("From memory", $"Two cards are turned {Words.About(flips.Value, "time")} until all pairs are found.") : null;

    /// <summary>Where a pair goes on, every turn but the last ends with a flip that found nothing, and every pair is one flip.</summary>
    protected internal override double FromTurns(Setup setup, string fact, double turns)
    {
        var table = new LookalikesTable(setup);
        return fact == "flipsMean" && table.Again ? turns - 1 + table.Numbers.Count : turns;
    }

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) => Steps(setup, seat, Knobs.Values);

    public override IReadOnlyList<Remark> Audit(Setup setup)
    {
        var table = new LookalikesTable(setup);
        int without = setup.Get(Knobs.Values).Numbers.Count - table.Possible.Count;
        return without switch
        {
            0 => [],
            1 => [$"One of these numbers has no partner that makes {table.Target}, and stays in the box."],
            _ => [$"{without} of these numbers have no partner that makes {table.Target}, and stay in the box."],
        };
    }

    public override KnobValue? LeftOpen(Setup setup, Knob knob) => knob.Id switch
    {
        "formB" => CommonKnobs.CardForms[new LookalikesTable(setup).FormB.Id()],
        "forms" => new FormsValue(new LookalikesTable(setup).Forms),
        "pairs" => new WholeValue(new LookalikesTable(setup).Numbers.Count),
        _ => null,
    };

    public override bool Matters(Setup setup, Knob knob) => knob.Id switch
    {
        "target" => setup.Get(Knobs.Relation).Id == Partner,
        "plus" => setup.Get(Knobs.Relation).Id == Plus,
        "again" or "twoBacks" or "memory" => setup.Get(Knobs.Mode).Id == FaceDown,
        "forms" or "copies" => new LookalikesTable(setup).InARow,
        "formB" => !new LookalikesTable(setup).InARow || setup.Get(Knobs.Forms) is null,
        _ => true,
    };

    public override string Summary(Setup setup)
    {
        var table = new LookalikesTable(setup);
        string what = table.Relation switch { Partner => $"two that make {table.Target}", Plus => $"a card and {table.Plus} more", _ => "two that show the same" };
        return $"numbers {setup.Get(Knobs.Values)}, {what}, {setup.Get(Knobs.Mode)}";
    }
}
