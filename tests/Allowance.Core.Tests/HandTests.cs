using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Sheets;
using Allowance.Core.Tables;

namespace Allowance.Core.Tests;

/// <summary>What the cards of a hand make: Target Hand and Balance, by trying everything, and as they are played.</summary>
public class HandTests
{
    private static CheckedReading Read(string game, string table, string players = "[{}]", string more = "") =>
        Catalogue.Read($$"""{"format":"allowance-setup/1","game":"{{game}}","table":{{table}},"players":{{players}}{{more}}}""");

    private static Playable Good(string game, string table, string players = "[{}]")
    {
        var reading = Read(game, table, players);
        Assert.Empty(reading.Problems);
        return reading.Playable!;
    }

    private static string At(string game, string position, string fact, string table = "{}")
    {
        var reading = Read(game, table, more: $$""","forecast":{"position":{{position}}}""");
        Assert.Empty(reading.Problems);
        return reading.Position!.Find(fact)?.ToJson().ToJsonString(new() { Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping }) ?? "";
    }

    /// <summary>Everything that some numbers make, each used once: any two are replaced by what they come to, until one is left.</summary>
    private static HashSet<long> All(IReadOnlyList<long> numbers, Operation[] signs)
    {
        if (numbers.Count == 1) return [numbers[0]];
        var made = new HashSet<long>();
        for (int i = 0; i < numbers.Count; i++)
            for (int j = 0; j < numbers.Count; j++)
            {
                if (i == j) continue;
                foreach (var sign in signs)
                {
                    if (sign.Of((int)numbers[i], (int)numbers[j]) is not { } value) continue;
                    made.UnionWith(All([.. numbers.Where((_, at) => at != i && at != j), value], signs));
                }
            }
        return made;
    }

    private static IEnumerable<long[]> Settled(IReadOnlyList<int> hand) => hand.Aggregate((IEnumerable<long[]>)[[]], (all, card) =>
        all.SelectMany(so => (card == HandEquations.Wild ? Enumerable.Range(1, 10).Select(n => (long)n) : [card]).Select(n => (long[])[.. so, n])));

    public static TheoryData<string, string> Hands => new()
    {
        { "8 2 3 6", "+" }, { "8 2 3 6 5", "+-" }, { "8 2 3 6", "+-*/" }, { "0 4 4 6", "+-*/" }, { "0 0 7", "*/" }, { "9 3 3 2 1", "-/" }, { "w 2 5", "+-*/" }, { "w w 3", "+" }, { "10 10 4 4 1", "*+" },
    };

    [Theory, MemberData(nameof(Hands))]
    public void What_cards_make_is_found_by_trying_everything(string cards, string written)
    {
        int[] hand = [.. cards.Split(' ').Select(c => c == "w" ? HandEquations.Wild : int.Parse(c))];
        Operation[] signs = [.. Operations.All.Where(o => written.Contains("+-*/"[(int)o]))];
        var (equations, values) = (new HandEquations(hand, signs), new HandValues(hand, signs, 4095));
        for (int set = 1; set < 1 << hand.Length; set++)
        {
            var all = Settled([.. hand.Where((_, i) => (set >> i & 1) != 0)]).SelectMany(numbers => All(numbers, signs)).ToHashSet();
            for (int value = 0; value <= 120; value++)
            {
                Assert.True(all.Contains(value) == equations.How(set, value) is not null, $"{cards} {written} {set} {value}");
                if (equations.How(set, value) is { } made) Assert.Equal(value, Worth(made));
                // Small hands never go beyond what is kept of them.
                if (hand.Length > 4) continue;
                Assert.True(all.Contains(value) == values.Has(set, value), $"kept: {cards} {written} {set} {value}");
                if (values.How(set, value) is { } kept) Assert.Equal(value, Worth(kept));
            }
        }
    }

    private static long Worth(Made made) => made.Sign is not { } sign ? made.Value : sign.Of((int)Worth(made.Left!), (int)Worth(made.Right!))!.Value;

    [Theory]
    [InlineData("""{"hand":[8,2,3,"wild",6],"target":13,"ops":["+","-"]}""", "5")]
    [InlineData("""{"hand":[8,5,7,6,1],"target":13}""", "4")]
    [InlineData("""{"hand":[8,5,9],"target":30}""", "0")]
    [InlineData("""{"hand":[10,9,8,7,6,5,4],"target":100,"ops":["+","-","×","÷"]}""", "7")]
    [InlineData("""{"hand":[1,1,1,1,1,1,1],"target":2}""", "6")]
    public void The_most_cards_of_a_hand(string position, string best) => Assert.Equal(best, At("targethand", position, "best"));

    [Fact]
    public void Equations_are_written_as_they_are_read()
    {
        Assert.Equal("""["7 + 6 = 13","8 + 5 = 13"]""", At("targethand", """{"hand":[8,5,7,6],"target":13}""", "equations"));
        var (eight, two, three) = (new Made(8), new Made(2), new Made(3));
        Assert.Equal("(8 + 2) × 3", $"{new Made(30, Operation.Times, new(10, Operation.Plus, eight, two), three)}");
        Assert.Equal("8 − (3 − 2)", $"{new Made(7, Operation.Minus, eight, new(1, Operation.Minus, three, two))}");
        Assert.Equal("8 − 3 − 2", $"{new Made(3, Operation.Minus, new(5, Operation.Minus, eight, three), two)}");
        Assert.Equal("8 + 2 × 3", $"{new Made(14, Operation.Plus, eight, new(6, Operation.Times, two, three))}");
    }

    [Theory]
    [InlineData("""{"hand":[10,7,3,5,5]}""", "3", "\"10 = 7 + 3\"")]
    [InlineData("""{"hand":[9,4,3,2]}""", "4", "\"9 = 4 + 3 + 2\"")]
    [InlineData("""{"hand":[5,5]}""", "2", "\"5 = 5\"")]
    [InlineData("""{"hand":[1,2,4,8]}""", "0", "")]
    [InlineData("""{"hand":["wild",8]}""", "2", "\"8 = 8\"")]
    public void What_balances_in_a_hand(string position, string best, string equation)
    {
        Assert.Equal(best, At("balance", position, "best"));
        Assert.Equal(equation, At("balance", position, "equation"));
    }

    [Theory]
    [InlineData("1 1 2 3", 3, 4, 0)]
    [InlineData("1 2 4 8 7", 3, 4, 0)]
    [InlineData("2 3 5 5 8 9 w", 4, 3, 0)]
    [InlineData("1 2 3 4 5 6 7 8 9 10", 5, 5, 0)]
    [InlineData("1 2 3 6 8 9", 4, 4, 1)]
    public void How_often_a_hand_balances_is_that_of_all_hands(string pack, int hand, int most, int withSigns)
    {
        int[] cards = [.. pack.Split(' ').Select(c => c == "w" ? HandEquations.Wild : int.Parse(c))];
        Operation[] signs = withSigns == 1 ? [Operation.Plus, Operation.Minus] : [Operation.Plus];
        var hands = Subsets(cards, hand).ToList();
        double goes = hands.Count(h => Goes(h, most, signs)) / (double)hands.Count;
        string counts = string.Join(',', cards.Where(c => c >= 0).GroupBy(c => c).Select(g => $"\"{g.Key}\":{g.Count()}"));
        string table = $$"""{"deck":{"counts":{{{counts}}},"wild":{{cards.Count(c => c < 0)}},"bonus":3},"hand":{{hand}},"most":{{most}},"ops":[{{(withSigns == 1 ? "\"+\",\"-\"" : "\"+\"")}}]}""";
        var playable = Good("balance", table);
        Assert.Equal(goes, playable.ExactFacts().Number("pMove"), 12);
        var played = (NumberFact)playable.PlayedFacts(Behaviour.Plain, Spending.Unlimited).Find("pMove")!;
        Assert.Equal(goes, played.Value, 5 * played.Error + 1e-9);
    }

    private static IEnumerable<int[]> Subsets(int[] cards, int size, int from = 0) =>
        size == 0 ? [[]] : Enumerable.Range(from, cards.Length - from).SelectMany(i => Subsets(cards, size - 1, i + 1).Select(rest => (int[])[cards[i], .. rest]));

    private static bool Goes(int[] hand, int most, Operation[] signs)
    {
        for (int size = 2; size <= most; size++)
            foreach (int[] some in Subsets(hand, size))
                for (int whole = 0; whole < some.Length; whole++)
                    foreach (long[] numbers in Settled(some))
                        if (All([.. numbers.Where((_, i) => i != whole)], signs).Contains(numbers[whole])) return true;
        return false;
    }

    /// <summary>Hands of all sizes, with zeros, wild cards and cards that are alike, are tried in every way.</summary>
    [Theory]
    [InlineData("balance", 8)]
    [InlineData("balance", 3)]
    [InlineData("targethand", 7)]
    [InlineData("targethand", 2)]
    public void All_that_goes_with_a_hand_can_be_laid_and_nothing_else(string game, int most)
    {
        for (int cards = 2; cards <= (game == "balance" ? 8 : 7); cards++)
        {
            string table = $$"""{"deck":{"counts":{"0":3,"1":3,"2":3,"3":3,"5":3,"8":3,"14":2},"wild":3},"hand":{{cards}},"most":{{most}}}""";
            var compiled = Good(game, table).Compile();
            for (int g = 0; g < 30; g++)
            {
                var (rng, run, dealt) = (Rng.ForGame(cards, g), compiled.Start(0), new List<int>());
                while (run.Next.Kind == StepKind.Chance)
                {
                    var card = run.Possibilities[rng.Below(run.Possibilities.Count)];
                    dealt.Add(card.Label == "any" ? HandEquations.Wild : card.Outcome);
                    run.Deal(card.Outcome);
                }
                var goes = Enumerable.Range(2, Math.Min(most, cards) - 1).SelectMany(size => Subsets([.. dealt.Take(cards).Order()], size)).SelectMany(some => game == "balance" ? Wholes(some) : Sums(some).Contains(dealt[^1] + dealt[^2]) ? [0] : [], (some, whole) => $"{string.Join(' ', some)}: {whole}").ToHashSet();
                Assert.Equal(goes.Count, run.Moves.Distinct().Count(m => !m.IsPass));
            }
        }
    }

    /// <summary>Each card that is as much as the others joined; two that are the same count once.</summary>
    private static IEnumerable<int> Wholes(int[] some)
    {
        var wholes = some.Distinct().Where(whole => some.ToList() is var others && others.Remove(whole) && Sums([.. others]).Any(sum => whole == HandEquations.Wild ? sum is >= 1 and <= HandEquations.MostWild : sum == whole)).ToList();
        return some.Length == 2 && wholes.Count > 0 ? [0] : wholes;
    }

    /// <summary>What cards are together, with each number for each wild one.</summary>
    private static HashSet<int> Sums(int[] some) =>
        [.. some.Aggregate((IEnumerable<int>)[0], (sums, card) => card == HandEquations.Wild ? sums.SelectMany(s => Enumerable.Range(s + 1, HandEquations.MostWild)).Distinct() : sums.Select(s => s + card))];

    [Fact]
    public void A_hand_makes_what_two_cards_make_as_often_as_it_goes()
    {
        var run = Good("targethand", """{"deck":{"counts":{"1":4,"2":4,"3":4,"4":4,"5":4}},"hand":4}""").Compile().Start(0);
        foreach (int card in new[] { 5, 2, 4, 3 }) run.Deal(card);
        foreach (int up in new[] { 2, 5 }) run.Deal(up);
        Assert.Equal("What do these make? Make that many.", run.Says);
        // The hand lies as 5, 4, 3, 2.
        Assert.Equal(["4 + 3", "4 cards can be used, with 5 + 2"], run.Helps.Order());
        var made = run.Read([1, 2]).Move!.Value;
        Assert.Equal(["join 5 2 numeral", "join 4 3 numeral"], run.Asks(made).Select(a => $"{a.Ask}"));
        run.Apply(made, true);
        Assert.Equal((StepKind.Choice, "Is there more? Make it once again."), (run.Next.Kind, run.Says));
        Assert.Equal("4 + 3 = 7", Assert.Single(run.Zones.OfType<Equation>()).Says);
        made = run.Read([0, 1]).Move!.Value;
        Assert.Equal(["join 5 2 numeral"], run.Asks(made).Select(a => $"{a.Ask}"));
        run.Apply(made, true);
        Assert.Equal((StepKind.Chance, 4), (run.Next.Kind, run.Points(0)));
        Assert.Equal("5 + 2 = 7", Assert.Single(run.Zones.OfType<Equation>()).Says);
        foreach (int card in new[] { 1, 1, 1, 2 }) run.Deal(card);
        foreach (int up in new[] { 5, 5 }) run.Deal(up);
        Assert.Equal(("These cards do not make it: change them.", Move.Pass, true), (run.Says, Assert.Single(run.Moves), run.Stuck));
        run.Apply(Move.Pass, true);
        Assert.Equal((StepKind.Chance, 4), (run.Next.Kind, run.Points(0)));
    }

    /// <summary>By signs too every set of cards that makes it can be taken, and asks what it asks of these cards alone.</summary>
    [Theory]
    [InlineData(2)]
    [InlineData(3)]
    [InlineData(5)]
    public void What_cards_make_by_signs_can_be_taken_and_nothing_else(int cards)
    {
        Operation[] signs = [Operation.Plus, Operation.Minus, Operation.Times];
        var compiled = Good("targethand", $$"""{"deck":{"counts":{"0":2,"2":3,"3":3,"5":3,"9":3} },"hand":{{cards}},"ops":["+","-","×"]}""").Compile();
        for (int g = 0; g < 40; g++)
        {
            var (rng, run, dealt) = (Rng.ForGame(cards, g), compiled.Start(0), new List<int>());
            while (run.Next.Kind == StepKind.Chance)
            {
                dealt.Add(run.Possibilities[rng.Below(run.Possibilities.Count)].Outcome);
                run.Deal(dealt[^1]);
            }
            int[] hand = [.. dealt.Take(cards).OrderDescending()];
            int target = dealt[^1] + dealt[^2];
            int[] Taken(Move move) => [.. hand.Where((_, i) => (move.Items >> i & 1) != 0)];
            var made = Enumerable.Range(2, cards - 1).SelectMany(size => Subsets(hand, size)).Where(some => All([.. some], signs).Contains(target)).Select(some => string.Join(' ', some)).Distinct();
            Assert.Equal(made.Order(), run.Moves.Where(m => !m.IsPass).Select(m => string.Join(' ', Taken(m))).Order());
            foreach (var move in run.Moves.Where(m => !m.IsPass))
            {
                var how = new HandValues(Taken(move), signs, 127).How((1 << Taken(move).Length) - 1, target)!;
                Assert.Equal($"{how} = {target}", run.Tells(move, true));
                Assert.Equal(target, run.Asks(move)[^1].Ask.Answer);
            }
        }
    }

    [Fact]
    public void Of_cards_that_are_alike_any_may_be_tapped()
    {
        var run = Good("targethand", """{"deck":{"counts":{"2":4,"4":4,"5":4}},"hand":4}""").Compile().Start(0);
        foreach (int card in new[] { 5, 5, 4, 2, 5, 4 }) run.Deal(card);
        Assert.Equal(["5 + 4"], run.Moves.Select(m => run.Tells(m, true).Replace(" = 9", "")));
        Assert.Equal(run.Moves[0], run.Read([2, 1]).Move);
        // A log of former times has the cards as they were tapped.
        Assert.Equal(["join 5 4 numeral", "join 5 4 numeral"], run.Asks(new(0b0110, 0)).Select(a => $"{a.Ask}"));
        run.Apply(new(0b0110, 0), true);
        Assert.Equal(2, run.Points(0));
    }

    [Fact]
    public void Bonus_cards_are_laid_aside_and_what_was_laid_is_filled_up()
    {
        var run = Good("balance", """{"deck":{"counts":{"1":4,"2":4,"3":4},"bonus":2},"hand":3}""", "[{},{}]").Compile().Start(0);
        run.Deal(3);
        run.Deal(run.Possibilities.Single(p => p.Label == "a bonus card").Outcome);
        run.Deal(2);
        run.Deal(1);
        Assert.Equal((StepKind.Choice, 1), (run.Next.Kind, run.Points(0)));
        var laid = run.Read([0, 1, 2]).Move!.Value;
        Assert.Equal("part 3 2 numeral", $"{run.Asks(laid)[0].Ask}");
        Assert.Equal("laid 3 = 2 + 1", run.Tells(laid, true));
        run.Apply(laid, true);
        foreach (int card in new[] { 2, 2, 3 }) run.Deal(card);
        var doubles = Assert.Single(run.Moves);
        Assert.Equal(("double 2 numeral", 1), ($"{run.Asks(doubles)[0].Ask}", run.Next.Seat));
        run.Apply(doubles, true);
        Assert.Equal((StepKind.Chance, 0), (run.Next.Kind, run.Next.Seat));
    }

    [Fact]
    public void Two_jokers_come_in_as_wild_cards_and_give_no_target()
    {
        var playable = Good("targethand", """{"wild":true,"hand":2,"deck":{"packs":1,"suits":4,"ranks":{"2":2,"9":9}}}""");
        Assert.Equal(10, Assert.Single(playable.Frame.Needs(playable.Setup)).Count);
        var run = playable.Compile().Start(0);
        int any = run.Possibilities.Single(p => p.Label == "any").Outcome;
        run.Deal(any);
        run.Deal(9);
        Assert.DoesNotContain(run.Possibilities, p => p.Outcome == any);
        foreach (int up in new[] { 9, 2 }) run.Deal(up);
        // 9 and any make 11 where any is 2; alone neither does.
        Assert.Equal("9 + 2 = 11", run.Tells(Assert.Single(run.Moves), true));
    }

    [Fact]
    public void Two_cards_are_read_as_two_digits()
    {
        var run = Good("targethand", """{"target":"twoDigits","hand":3,"ops":["+","×"],"deck":{"counts":{"2":4,"4":4,"6":4}}}""").Compile().Start(0);
        foreach (int card in new[] { 6, 4, 2 }) run.Deal(card);
        foreach (int up in new[] { 2, 4 }) run.Deal(up);
        Assert.Equal("Which number is it? Make that many.", run.Says);
        var made = run.Read([0, 1]).Move!.Value;
        Assert.Equal(["digits 24 numeral", "times 6 4 numeral"], run.Asks(made).Select(a => $"{a.Ask}"));
    }

    [Theory]
    [InlineData("topper")]
    [InlineData("partners")]
    [InlineData("spotsum")]
    [InlineData("runningtotal")]
    [InlineData("emptyseat")]
    public void Wild_cards_are_refused_where_a_game_knows_none(string game)
    {
        var problem = Assert.Single(Read(game, """{"deck":{"counts":{"3":20,"7":20},"wild":2}}""").Problems);
        Assert.Equal(("table.deck", """{"counts":{"3":20,"7":20}}"""), (problem.Path, problem.Nearest!.ToJsonString()));
    }

    [Theory]
    // As it is read: eleven, and three go away.
    [InlineData("""["+","-"]""", "8 = 7 + 4 − 3", "gone 11 3 numeral")]
    // What is only joined lies there with its signs.
    [InlineData("""["+"]""", null, "part 8 7 numeral")]
    public void What_was_laid_says_how_it_is_made(string ops, string? says, string asks)
    {
        var run = Good("balance", $$"""{"ops":{{ops}},"hand":4,"deck":{"counts":{"1":1,"3":1,"4":1,"7":1,"8":1} } }""").Compile().Start(0);
        foreach (int card in says is null ? [8, 7, 1, 3] : new[] { 8, 7, 4, 3 }) run.Deal(card);
        var laid = run.Read(says is null ? [0, 1, 3] : [0, 1, 2, 3]).Move!.Value;
        Assert.Equal(asks, $"{Assert.Single(run.Asks(laid)).Ask}");
        run.Apply(laid, true);
        Assert.Equal(says, Assert.Single(run.Zones.OfType<BalancedCards>()).Equation);
    }

    /// <summary>Two that are the same go at every level, and are no example of what it adds.</summary>
    [Theory]
    [InlineData("double", true)]
    [InlineData("two", false)]
    [InlineData("more", false)]
    [InlineData("ops", false)]
    public void The_worked_turn_shows_what_the_level_is_about(string level, bool twice)
    {
        var playable = Catalogue.Read($$"""{"format":"allowance-setup/1","game":"balance","level":"{{level}}","table":{},"players":[{}]}""").Playable!;
        var sheet = RuleSheet.Of(playable, Approach.Default, setup => new LearnerAnswers(setup, new(2026, 11, 30)));
        Assert.Equal(twice, Assert.Single(sheet.Turn!.Asks).Question.StartsWith("Twice", StringComparison.Ordinal));
    }

    [Fact]
    public void Bonus_cards_are_told_beside_what_others_count_as() =>
        Assert.Equal(["Take out the jokers (2 cards).", "Aces count as 1.", "Jacks, queens and kings are bonus cards."], DeckPreparation.Of(Good("balance", "{}").Setup.Get<DeckValue>("deck").Deck).Sentences);

    [Fact]
    public void A_pack_with_the_next_number_is_as_short_as_it_was_and_keeps_its_bonus_cards()
    {
        var playable = Good("balance", """{"deck":{"packs":1,"suits":4,"ranks":{"A":1,"2":2,"3":3,"4":4,"5":5,"K":"bonus"},"missing":{"2":1,"5":1}}}""");
        var packs = playable.Frame.RangeSteps(playable.Setup, 0).Select(s => s.Setup.Get<DeckValue>("deck").Deck.ToString());
        Assert.Equal(["1x4:A,2,3,4,K!,-2.1", "1x4:A,2,3,4,5,6,K!,-2.1,-5.1"], packs);
    }

    [Theory]
    [InlineData("targethand", """{"target":"twoDigits"}""", "table.deck", """{"packs":1,"suits":4,"ranks":{"A":1,"2":2,"3":3,"4":4,"5":5,"6":6,"7":7,"8":8,"9":9}}""")]
    [InlineData("targethand", """{"deck":{"counts":{"5":8,"10":8}},"target":12}""", "table.target", "10")]
    [InlineData("targethand", """{"target":"half"}""", "table.target", "\"sum\"")]
    [InlineData("balance", """{"deck":{"counts":{"1":1,"2":1,"4":1}},"most":2,"hand":2}""", "table.most", "3")]
    [InlineData("topper", """{"deck":{"counts":{"1":4},"bonus":2}}""", "table.deck.bonus", "0")]
    public void What_does_not_go_is_refused_with_what_does(string game, string table, string path, string nearest)
    {
        var problem = Assert.Single(Read(game, table).Problems);
        Assert.Equal((path, nearest), (problem.Path, problem.Nearest!.ToJsonString()));
    }

    /// <summary>Where two cards find no room side by side, the sign stands before the second one, and is read with it.</summary>
    [Theory]
    [InlineData(600, false)]
    [InlineData(150, true)]
    public void A_sign_stands_between_two_cards_however_they_lie(double width, bool stacked)
    {
        Item Card(int id) => new(id, id + 2, Form.Numeral, ItemState.Up, false);
        var shapes = Drawing.Of([new Stage("To be made", [Card(0), Card(1)]) { Between = ["+"] }], new Room(width, 400), DrawnBy.Default).Parts.Single().Shapes;
        var (first, second) = (shapes.OfType<RectShape>().First().Box, shapes.OfType<RectShape>().Last().Box);
        var sign = shapes.OfType<WordsShape>().Single(w => w.Words == "+");
        Assert.Equal(stacked, second.Top > first.Bottom);
        if (stacked) Assert.True(sign.X < second.Left && sign.Y > second.Top && sign.Y < second.Bottom);
        else Assert.InRange(sign.X, first.Right, second.Left);
    }
}
