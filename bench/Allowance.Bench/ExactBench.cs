using System.Diagnostics;
using System.Text.Json.Nodes;
using Allowance.Core.Games;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Bench;

/// <summary>How long an exact answer takes: for every game as it first lies on the bench, and for the largest its knobs allow.</summary>
internal static class ExactBench
{
    private const int Rounds = 9;

    /// <summary>The largest settings, by game: as many places, dice, sections, slips and cards as there can be.</summary>
    private static readonly (string Game, string What, string File)[] Largest =
    [
        ("gather", "1000 things, 8 players", """ "table":{"pool":1000,"lastTake":"exact","first":"draw"},"players":[{},{},{},{},{},{},{},{"allowance":{"dice":["0-3"]}}] """),
        ("gather", "4 colours of 10, with choices", """ "table":{"colourDie":[["a","b"],["b","c"],["c","d"],["d","a"],["a"],["b"]],"pieces":{"a":10,"b":10,"c":10,"d":10}} """),
        ("errand", "200 slips, 60 trips of two", """ "level":"sum","table":{"slips":{"1":20,"4":20,"7":20,"10":20,"13":20,"16":20,"20":20,"24":20,"28":20,"30":20},"trips":60} """),
        ("rolltell", "two dice of 100", """ "level":"join","table":{"dice":["d100","d100"]} """),
        ("spots", "168 cards", """ "table":{"from":0,"to":20,"copies":8} """),
        ("somegone", "256 turns", """ "table":{"start":24,"takeMax":13} """),
        ("topper", "8 players, 8 packs", """ "table":{"deck":{"packs":8,"ranks":{"A":1,"2":2,"3":3,"4":4,"5":5,"6":6,"7":7,"8":8,"9":9,"10":10,"J":11,"Q":12,"K":13}}},"players":[{},{},{},{},{},{},{},{}] """),
        ("topper", "8 players, sums of two", """ "table":{"make":"sum","deck":{"packs":8,"ranks":{"A":1,"2":2,"3":3,"4":4,"5":5,"6":6,"7":7,"8":8,"9":9,"10":10,"J":11,"Q":12,"K":13}}},"players":[{},{},{},{},{},{},{},{}] """),
        ("topper", "two, products of four", """ "table":{"make":"product","cardsEach":4,"deck":{"packs":8,"ranks":{"A":1,"2":2,"3":3,"4":4,"5":5,"6":6,"7":7,"8":8,"9":9,"10":10,"J":11,"Q":12,"K":13}}},"players":[{},{}] """),
        ("topper", "two, four digits", """ "table":{"make":"digits","cardsEach":4,"deck":{"packs":8,"ranks":{"A":1,"2":2,"3":3,"4":4,"5":5,"6":6,"7":7,"8":8,"9":9,"Q":0}}},"players":[{},{}] """),
        ("evenplates", "32 things", """ "table":{"max":32} """),
        ("around", "the largest", """ "level":"numerals","table":{"n":20,"max":30} """),
        ("downline", "1000 sections, 8 players", """ "table":{"sections":1000,"first":"draw"},"players":[{},{},{},{},{},{},{},{"allowance":{"dice":["0-3"]}}] """),
        ("downline", "1000 sections, 4 dice of 100, bounce", """ "table":{"sections":1000,"finish":"bounce","dice":["d100","d100","d100","d100"]} """),
        ("lift", "100 floors each way", """ "table":{"up":100,"down":100} """),
        ("lift", "100 floors, slowly", """ "table":{"up":100,"down":100,"upDice":["0-1"],"downDice":["0-1"]} """),
        ("door", "all wholes to 14, at either door", """ "level":"two","table":{"whole":[2,14]} """),
        ("nearmiss", "4 dice of 100, 8 players", """ "table":{"n":100,"rounds":20,"dice":["d100","d100","d100","d100"]},"players":[{},{},{},{},{},{},{},{}] """),
        ("emptyseat", "8 missing, 20 to make, court cards", """ "table":{"deck":{"packs":1,"suits":4,"ranks":{"A":1,"2":2,"3":3,"4":4,"5":5,"6":6,"7":7,"8":8,"9":9,"10":10,"J":0,"Q":0,"K":0}},"target":10,"removed":8,"court":true} """),
        ("manymakes", "500 bars of ten lengths", """ "table":{"stock":{"1":50,"2":50,"3":50,"4":50,"5":50,"6":50,"7":50,"8":50,"9":50,"20":50}} """),
        ("balance", "8 cards of ten numbers", """ "table":{"hand":8} """),
        ("runningtotal", "eight packs", """ "table":{"deck":{"packs":8,"suits":4,"ranks":{"A":1,"2":2,"3":3,"4":4,"5":5,"6":6,"7":7,"8":8,"9":9,"10":10}}} """),
        ("targethand", "7 cards, all signs, two digits", """ "table":{"hand":7,"target":"twoDigits","ops":["+","-","×","÷"],"deck":{"packs":1,"suits":4,"ranks":{"A":1,"2":2,"3":3,"4":4,"5":5,"6":6,"7":7,"8":8,"9":9}}} """),
        ("tallyup", "400 pieces, to 500", """ "table":{"worth":{"1":200,"2":100,"5":100},"goal":500} """),
        ("gates", "14 gates", """ "table":{"gates":14} """),
        ("gates", "14 gates, 4 dice of 20", """ "table":{"gates":14,"dice":["d20","d20","d20","d20"]} """),
        ("gates", "14 gates, by signs, 2 dice of 100", """ "table":{"gates":14,"make":"ops","ops":["+","-","×","÷"],"dice":["d100","d100"]} """),
        ("gates", "14 gates, 4 at one row", """ "table":{"gates":14,"play":"lastIn"},"players":[{},{},{},{}] """),
        ("homing", "20 rounds, 4 dice of 100", """ "table":{"start":500,"mark":480,"rounds":20,"dice":["d100","d100","d100","d100"],"line":[0,1000]} """),
    ];

    public static void Run(JsonArray? rows)
    {
        if (rows is null) Console.WriteLine("\ngame        exact answer                           milliseconds");
        foreach (var frame in Catalogue.All) Row(rows, frame.Data.Id, "as it first lies on the bench", Catalogue.Check(Setup.Default(frame.Data, Seat.Child("", 5), Seat.Child("", 6)))!);
        foreach (var (game, what, file) in Largest)
        {
            var reading = Catalogue.Read($$"""{"format":"allowance-setup/1","game":"{{game}}",{{file}}}""");
            if (reading.Playable is not { } playable) throw new InvalidOperationException($"{game}, {what}: {string.Join(' ', reading.Problems.Select(p => p.Message))}");
            Row(rows, game, what, playable);
        }
    }

    private static void Row(JsonArray? rows, string game, string what, Playable playable)
    {
        playable.ExactFacts();
        double ms = Enumerable.Range(0, Rounds).Select(_ =>
        {
            var clock = Stopwatch.StartNew();
            playable.ExactFacts();
            return clock.Elapsed.TotalMilliseconds;
        }).Order().ElementAt(Rounds / 2);
        if (rows is null) Console.WriteLine($"{game,-11} {what,-38} {ms,8:0.0}");
        else rows.Add(new JsonObject { ["game"] = game, ["exact"] = what, ["milliseconds"] = ms });
    }
}
