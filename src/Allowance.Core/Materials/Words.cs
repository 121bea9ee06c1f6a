namespace Allowance.Core.Materials;

/// <summary>Small joinings of words for sentences on screens.</summary>
public static class Words
{
    /// <summary>"a", "a and b", "a, b and c".</summary>
    public static string List(IEnumerable<string> words)
    {
        var list = words.ToList();
        return list.Count < 2 ? string.Concat(list) : string.Join(", ", list.Take(list.Count - 1)) + " and " + list[^1];
    }

    /// <summary>Three and more one after the other are told by their ends: "1 to 6", "2, 4 and 6".</summary>
    public static string Numbers(IEnumerable<int> numbers)
    {
        var list = numbers.ToList();
        return list.Count > 2 && list[^1] - list[0] == list.Count - 1 && list.Zip(list.Skip(1)).All(p => p.Second == p.First + 1) ? $"{list[0]} to {list[^1]}" : List(list.Select(n => n.ToString()));
    }

    /// <summary>"1 card", "4 cards".</summary>
    public static string Count(int n, string thing) => n == 1 ? $"1 {thing}" : $"{n} {thing}s";

    /// <summary>A time that was set: "40 seconds", "3 minutes".</summary>
    public static string Lasting(int seconds) => seconds % 60 == 0 ? Count(seconds / 60, "minute") : Count(seconds, "second");

    /// <summary>A mean as people say it: "about 9 rolls", "less than 1 roll".</summary>
    public static string About(double mean, string thing) => mean < .5 ? $"less than 1 {thing}" : $"about {Count((int)Math.Round(mean, MidpointRounding.AwayFromZero), thing)}";

    /// <summary>The same of things whose plural is a word of its own: "1 die", "2 dice".</summary>
    public static string Count(int n, string one, string several) => n == 1 ? $"1 {one}" : $"{n} {several}";

    /// <summary>"a 7", but "an 8", "an 11" and "an 80": as the number is said.</summary>
    public static string A(int n) => n is 8 or 11 or 18 or (>= 80 and < 90) or (>= 800 and < 900) ? $"an {n}" : $"a {n}";

    /// <summary>A chance as people say it: "in 3 of 100 games", "in 3 of 10,000 games".</summary>
    public static string Share(double chance) => chance switch
    {
        <= 0 => "in no game",
        >= 1 => "in every game",
        < .00005 => "in hardly any of 10,000 games",
        < .0005 => $"in {Math.Max(1, Math.Round(10_000 * chance)):0} of 10,000 games",
        < .005 => $"in {1000 * chance:0} of 1,000 games",
        _ => $"in {100 * chance:0} of 100 games",
    };

    /// <summary>With a capital and a full stop.</summary>
    public static string Sentence(string words) => words.Length == 0 ? "" : Capital(words) + ".";

    /// <summary>With a capital.</summary>
    public static string Capital(string words) => words.Length == 0 ? "" : char.ToUpperInvariant(words[0]) + words[1..];
}
