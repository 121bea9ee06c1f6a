using System.Diagnostics;
using System.Text.Json.Nodes;
using Allowance.Core.Learner;
using Allowance.Core.Materials;
using Allowance.Core.Tuning;

namespace Allowance.Bench;

/// <summary>
/// How good it is to play what is proposed: made-up children play twelve weeks of it, and what they then can is compared with what they
/// could by chance, by a fixed syllabus, and by our own choice with their true chances known.
/// </summary>
internal static class AdviceBench
{
    /// <summary>Of them, 21 was tuned on.</summary>
    private static readonly long[] Reported = [31, 32, 33, 34, 35];

    public static int Run(bool json, string? seeds, string? count, bool shifted)
    {
        int children = int.TryParse(count, out int n) ? n : 100;
        long[] all = seeds is null ? Reported : [.. seeds.Split(',').Select(long.Parse)];
        var clock = Stopwatch.StartNew();
        var book = OfferBook.Of(new Cupboard([]));
        Progress($"{book.Ready.Count} offers in {clock.Elapsed.TotalSeconds:0.0} s");
        var natures = new List<(string Name, Nature Nature)> { ("usual", new()) };
        if (shifted) natures.AddRange([("faster", new(Pace: 1.6)), ("slower", new(Pace: .6)), ("more slips", new(Slip: .09)), ("forgetting", new(Forgetting: 2.5)), ("wrong ages", new(TableError: .7)), ("spread", new(Spread: 1.5))]);
        var answer = new JsonObject();
        foreach (var (name, nature) in natures)
        {
            var total = new AdviceTally();
            foreach (long seed in all)
            {
                var tally = AdviceStudy.Play(book, seed, children, nature);
                Progress($"{name}, seed {seed}, after {clock.Elapsed.TotalSeconds:0} s: {tally.Says()}");
                total.Add(tally);
            }
            if (!json) Console.WriteLine($"{name}: {total.Says()}");
            if (name == "usual") foreach (var (key, value) in total.Figures()) answer[key] = value;
            else answer[name] = new JsonObject(total.Figures().Select(f => KeyValuePair.Create(f.Key, (JsonNode?)f.Value)));
        }
        foreach (var (key, value) in AdviceStudy.Timed(book)) answer[key] = Math.Round(value, 2);
        answer["offers"] = book.Ready.Count;
        if (json) Console.WriteLine(answer.ToJsonString());
        else foreach (var (key, value) in answer.Where(a => a.Value is JsonValue)) Console.WriteLine($"{key,-20} {value}");
        return 0;

        void Progress(string words) => Console.Error.WriteLine(words);
    }
}
