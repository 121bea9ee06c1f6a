using Allowance.Core.Games;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Tests;

/// <summary>What is called, or shown by two dice, is entered by its two numbers.</summary>
public class CallKeysTests
{
    private static IReadOnlyList<Possible> Calls(string game, string level, string table = "{}") =>
        Catalogue.Read($$"""{"format":"allowance-setup/1","game":"{{game}}","level":"{{level}}","table":{{table}},"players":[{}]}""").Setup!.Ready().Compile().Start(0).Possibilities;

    [Fact]
    public void Two_dice_are_entered_by_their_faces_in_any_order()
    {
        var rolls = Calls("rolltell", "more");
        Assert.Equal(Enumerable.Range(1, 6).Select(n => new CallKey(n, null)), CallKeys.Of(rolls)!.Keys);
        foreach (var (one, other) in new[] { (5, 3), (3, 5), (4, 4) })
        {
            var second = CallKeys.Of(rolls, one)!;
            Assert.Equal(one, second.Tapped);
            int outcome = Assert.Single(second.Keys, k => k.Number == other).Outcome!.Value;
            Assert.Equal($"{Math.Max(one, other)} and {Math.Min(one, other)}", rolls.Single(r => r.Outcome == outcome).Label);
        }
    }

    [Fact]
    public void What_goes_away_is_entered_after_what_there_is()
    {
        var calls = Calls("somegone", "see", """{"start":6,"takeMax":6,"from":"any"}""");
        Assert.Equal([1, 2, 3, 4], CallKeys.Of(calls, 4)!.Keys.Select(k => k.Number).Where(k => k <= 4));
        foreach (var call in calls)
            Assert.Equal(call.Outcome, CallKeys.Of(calls, call.Numbers!.Value.One)!.Keys.Single(k => k.Number == call.Numbers.Value.Other).Outcome);
    }

    [Fact]
    public void A_number_that_all_calls_have_is_not_tapped()
    {
        var calls = Calls("somegone", "see", """{"start":30,"takeMax":20}""");
        var keys = CallKeys.Of(calls)!;
        Assert.True(keys.IsOfOne);
        Assert.Equal(Enumerable.Range(1, 20), keys.Keys.Select(k => k.Number));
        Assert.All(keys.Keys, k => Assert.Equal($"30, {k.Number} gone", calls.Single(c => c.Outcome == k.Outcome).Label));
    }

    [Fact]
    public void A_call_that_says_how_is_entered_by_its_number_and_where_need_be_by_how()
    {
        var game = Catalogue.Read("""{"format":"allowance-setup/1","game":"spotsum","level":"mixed","table":{"layout":[3,3]},"players":[{}]}""").Setup!.Ready().Compile().Start(0);
        foreach (int card in new[] { 6, 2, 4, 3, 1, 9, 8, 5, 7 }) game.Deal(card);
        var calls = game.Possibilities;
        // 8 is 6 and 2 together, 4 times 2, and 9 and 1 apart; 17 is 9 and 8 together and nothing else.
        Assert.Equal(["together", "apart", "by multiplying"], CallKeys.Of(calls, 8)!.Keys.Select(k => k.Says));
        Assert.All(CallKeys.Of(calls, 8)!.Keys, k => Assert.Equal($"8 {k.How}", calls.Single(c => c.Outcome == k.Outcome).Label));
        Assert.Equal("17 together", calls.Single(c => c.Outcome == CallKeys.Of(calls)!.Keys.Single(k => k.Number == 17).Outcome).Label);
        // Every call is reached, by one key or two.
        Assert.Equal(calls.Select(c => c.Outcome).Order(), CallKeys.Of(calls)!.Keys.SelectMany(k => k.Outcome is { } one ? [one] : CallKeys.Of(calls, k.Number)!.Keys.Select(h => h.Outcome!.Value)).Order());
    }

    [Theory]
    // The same two numbers joined and taken away; calls of one number; and of none.
    [InlineData("spots", "sentence")]
    [InlineData("spots", "rings")]
    [InlineData("around", "make")]
    public void Calls_that_two_numbers_do_not_tell_apart_have_no_such_keys(string game, string level) => Assert.Null(CallKeys.Of(Calls(game, level)));

    [Fact]
    public void A_number_that_no_call_has_is_not_tapped() => Assert.Null(CallKeys.Of(Calls("rolltell", "more"), 9)!.Tapped);
}
