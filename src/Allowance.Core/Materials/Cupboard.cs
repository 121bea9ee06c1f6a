using System.Collections.Immutable;
using Allowance.Core.Forms;
using Allowance.Core.Numbers;

namespace Allowance.Core.Materials;

/// <summary>Whether something that a game needs is there, can be stood in for, is made first, or is simply missing.</summary>
public enum Standing { There, StandsIn, ToMake, Missing }

/// <param name="Need">What is needed, in words.</param>
/// <param name="Says">Where it comes from, or how to make it.</param>
/// <param name="Used">The things that are taken for it.</param>
/// <param name="Count">How many single things it is, where they are made.</param>
/// <param name="OtherForm">What stands in shows numbers in another way, so that it is another game.</param>
public sealed record Fetched(string Need, Standing Standing, string Says, ImmutableArray<Material> Used, int Count = 1, bool OtherForm = false);

/// <summary>How what is fetched for a game is said.</summary>
public static class FetchedWords
{
    /// <summary>What to get out, what to make first and what stands in, as a sentence: "Get out 8 cards; make 10 slips first; for a box: a bag, or a bowl under a towel."</summary>
    public static string Says(IReadOnlyCollection<Fetched> fetched)
    {
        var parts = new List<string>();
        if (Needs(Standing.There) is { Length: > 0 } there) parts.Add($"get out {there}");
        if (Needs(Standing.ToMake) is { Length: > 0 } made) parts.Add($"make {made} first");
        parts.AddRange(fetched.Where(f => f.Standing == Standing.StandsIn).Select(f => $"for {f.Need}: {f.Says}"));
        if (Needs(Standing.Missing) is { Length: > 0 } missing) parts.Add($"not in the drawer: {missing}");
        return parts.Count == 0 ? "There is nothing to get out." : Words.Capital(string.Join("; ", parts)) + ".";

        string Needs(Standing standing) => Words.List(fetched.Where(f => f.Standing == standing).Select(f => f.Need));
    }
}

/// <summary>The household's things, and what can be got out of them for a game. What stands in leaves the forecast true.</summary>
public sealed record Cupboard(ImmutableArray<Material> Materials)
{
    private const int BlankFaces = 6;

    /// <summary>How many packs of cards there are, short ones too.</summary>
    public int Packs => Of(Use.Packs).Sum(t => t.Count);

    private IEnumerable<Material> Of(Use use) => Materials.Where(t => t.Use == use && t.Count > 0);

    private bool Has(Use use) => Of(use).Any();

    /// <summary>What is written or drawn on, as far as there is any.</summary>
    private Material? ToWriteOn => Of(Use.Card).Concat(Of(Use.Paper)).FirstOrDefault();

    public ImmutableArray<Fetched> Fetch(IEnumerable<Need> needs) => [.. needs.SelectMany(Fetch)];

    private IEnumerable<Fetched> Fetch(Need need)
    {
        if (need.Deck is { HomeMade: false } deck) return [ForPack(need, deck)];
        if (!need.Dice.IsEmpty) return need.Dice.Select(ForDie);
        if (!need.Faces.IsEmpty) return [ForBlank(need)];
        return [need.Thing switch
        {
            Need.Pieces => need.Colours.IsEmpty ? ForPieces(need) : ForColours(need),
            "sheets of paper" => Plain(need, Use.Paper, Use.Card, "one side of any paper will do"),
            "plates" => Plain(need, Use.Plates, Use.Paper, "circles drawn on paper"),
            "boxes" => Plain(need, Use.Boxes, null, "a bag, or a bowl under a towel"),
            "cloths" => Plain(need, Use.Cloths, null, "a towel or a scarf"),
            "cups" => new(need.Says, Standing.StandsIn, "any from the kitchen, or a hand", []),
            "rings" => Plain(need, Use.String, Use.Paper, "circles drawn on paper"),
            "bead racks" => Plain(need, Use.Racks, Use.Pieces, "two rows of ten small things, five dark and five light in each; or ten beads on each of two strings between hooks"),
            _ => ToWriteOn is { } sheet ? new(need.Says, Standing.ToMake, $"from {sheet.Name}: {Making.Of(need.Thing)}", [sheet], need.Count) : new(need.Says, Standing.Missing, "needs card or paper to make it from", []),
        }];
    }

    /// <param name="instead">What stands in; null for what every home has.</param>
    private Fetched Plain(Need need, Use use, Use? instead, string how)
    {
        var there = Of(use).ToImmutableArray();
        if (there.Sum(t => t.Count) >= need.Count) return new(need.Says, Standing.There, Words.List(there.Select(t => t.Name)), there);
        if (instead is null) return new(need.Says, Standing.StandsIn, how, []);
        return Of(instead.Value).FirstOrDefault() is { } other ? new(need.Says, Standing.StandsIn, how, [other]) : new(need.Says, Standing.Missing, $"perhaps {how}", []);
    }

    /// <summary>The packs with the fewest gaps among the ranks that are played with, as many as there are, each one by itself.</summary>
    private IReadOnlyList<Material> Fullest(Deck deck, int packs) =>
        [.. Of(Use.Packs).SelectMany(t => Enumerable.Repeat(t, t.Count)).OrderBy(t => deck.Ranks.Sum(r => t.Gaps.GetValueOrDefault(r.Rank))).Take(packs)];

    /// <summary>
    /// A deck as this cupboard can give it: short of the cards that are missing from the packs used, and written on paper where
    /// there are too few packs. One that names its own gaps, and home-made cards, stay as they are.
    /// </summary>
    public Deck Giving(Deck deck)
    {
        if (deck.HomeMade) return deck;
        if (deck.Packs > Packs) return Deck.FromCounts(deck.Counts, deck.Wilds, deck.Bonuses);
        var gaps = Gaps(deck);
        return deck.Missing.Count > 0 || gaps.Count == 0 ? deck : Deck.FromRanks(deck.Ranks, deck.Packs, deck.Suits, gaps);
    }

    private Dictionary<string, int> Gaps(Deck deck)
    {
        var packs = Fullest(deck, deck.Packs);
        return deck.Ranks.Select(r => (r.Rank, Missing: packs.Sum(p => p.Gaps.GetValueOrDefault(r.Rank)))).Where(g => g.Missing > 0).ToDictionary(g => g.Rank, g => g.Missing);
    }

    private Fetched ForPack(Need need, Deck deck)
    {
        if (deck.Packs > Packs)
            return ToWriteOn is { } sheet
                ? new(need.Says, Standing.StandsIn, $"slips of {sheet.Name} with the numbers on them, as there {(Packs == 1 ? "is one pack" : Packs == 0 ? "is no pack" : $"are {Packs} packs")}", [sheet])
                : new(need.Says, Standing.Missing, $"{Words.Count(deck.Packs, "pack")} needed", []);
        var used = Fullest(deck, deck.Packs).Distinct().ToImmutableArray();
        var unsaid = Gaps(deck).Where(g => deck.Missing.GetValueOrDefault(g.Key) < g.Value).ToList();
        string from = Words.List(used.Select(t => t.Name));
        return unsaid.Count == 0 ? new(need.Says, Standing.There, from, used)
            : new(need.Says, Standing.There, $"{from}; of the {Words.List(unsaid.Select(g => $"{Deck.RankWords(g.Key)} {(g.Value == 1 ? "one is" : $"{g.Value} are")} missing"))}", used);
    }

    /// <summary>Dice with more faces than a cube bear numerals, cubes dots.</summary>
    private static Form MarksOf(Die die) => die.Faces.Length > BlankFaces ? Form.Numeral : Form.Dice;

    private Fetched ForDie(DiceNeeded need)
    {
        var (die, faces, count) = need;
        string needed = need.Says;
        var alike = Of(Use.Dice).Where(t => t.Faces is { } has && has.Equals(die)).ToImmutableArray();
        // What is to be read must be written; dots may also be read off a die with numerals, as there is none with so many dots.
        bool marked = faces == MarksOf(die) || faces == Form.Dice && MarksOf(die) == Form.Numeral;
        var there = marked ? alike : [];
        int lying = there.Sum(t => t.Count);
        if (lying >= count) return new(needed, Standing.There, Words.List(there.Select(t => t.Name)), there);
        // What is spun once is spun again for the next die.
        var spinner = Of(Use.Spinners).FirstOrDefault(t => t.Faces is { } has && has.Equals(die));
        if (spinner is not null && faces == Form.Numeral) return new(needed, Standing.There, spinner.Name, [spinner]);
        string some = lying == 0 ? "" : $"{(lying == 1 ? "one is" : $"{lying} are")} there; for the rest ";
        if (BlankFaces % die.Faces.Length == 0 && Of(Use.Blanks).FirstOrDefault(t => t.Count >= count - lying) is { } blank)
            return new(needed, Standing.ToMake, $"{some}{Marked(Enumerable.Repeat(die.Faces, BlankFaces / die.Faces.Length).SelectMany(f => f), faces)} on {blank.Name}", [.. there, blank]);
        // A scrap of tape on each face makes any cube another one.
        if (BlankFaces % die.Faces.Length == 0 && Of(Use.Dice).FirstOrDefault(t => !there.Contains(t) && t.Faces is { Faces.Length: BlankFaces } && t.Count >= count - lying) is { } cube)
            return new(needed, Standing.ToMake, $"{some}stick tape on {cube.Name} and {Marked(die.Faces.Distinct(), faces)} on it", [.. there, cube]);
        if (marked && Of(Use.Dice).FirstOrDefault(t => t.Faces is { } more && !more.Equals(die) && t.Count >= count - lying && Contains(more, die)) is { } larger)
            return new(needed, Standing.StandsIn, $"{some}{larger.Name}, rolling again what this die has not", [.. there, larger]);
        if (spinner is not null && faces != Form.Word) return new(needed, Standing.StandsIn, $"{some}{spinner.Name}; numerals then, instead of dots", [.. there, spinner], OtherForm: true);
        // A pack has no words.
        if (faces == Form.Word && ToWriteOn is { } slips) return new(needed, Standing.ToMake, $"{some}slips of {slips.Name} with the words on them, drawn and put back", [.. there, slips], die.Faces.Length);
        if (faces != Form.Word && (Has(Use.Packs) || ToWriteOn is not null))
            return new(needed, Standing.StandsIn, $"{some}cards with {ShowsFaces(die)}, drawn and put back{(faces == Form.Dice ? "; numerals then, instead of dots" : "")}", [.. there, Has(Use.Packs) ? Of(Use.Packs).First() : ToWriteOn!], OtherForm: faces == Form.Dice);
        return new(needed, Standing.Missing, "nothing here rolls so", there);
    }

    /// <summary>What is put on faces: dots are drawn, numerals and words are written.</summary>
    private static string Marked(IEnumerable<int> numbers, Form faces)
    {
        string list = string.Join(", ", numbers.Order().Select(n => faces == Form.Word ? NumberWords.Of(n) : n.ToString()));
        return faces == Form.Dice ? $"draw {list} dots" : $"write {list}";
    }

    private static string ShowsFaces(Die die) => die.Says.Replace("a die from ", "").Replace("a die with ", "");

    /// <summary>Rolled again until it shows one of the other's faces, the one die is as good as the other.</summary>
    private static bool Contains(Die more, Die die)
    {
        var copies = more.Faces.GroupBy(f => f).ToDictionary(g => g.Key, g => g.Count());
        var needed = die.Faces.GroupBy(f => f).Select(g => (Face: g.Key, Count: g.Count())).ToList();
        // Every face the same number of times as often as on the other.
        return needed.All(f => copies.GetValueOrDefault(f.Face) > 0) && needed.Select(f => (double)copies[f.Face] / f.Count).Distinct().Count() == 1;
    }

    private Fetched ForBlank(Need need)
    {
        string faces = string.Join(", ", need.Faces);
        if (BlankFaces % need.Faces.Length == 0 && Of(Use.Blanks).FirstOrDefault() is { } blank) return new(need.Says, Standing.ToMake, $"write {faces} on {blank.Name}", [blank]);
        return ToWriteOn is { } sheet ? new(need.Says, Standing.StandsIn, $"slips with {faces}, drawn and put back", [sheet]) : new(need.Says, Standing.Missing, "needs a blank cube or paper", []);
    }

    /// <summary>
    /// For each colour the one of the drawer that is played with instead: itself where there are enough, else another that nobody needs. Null where the
    /// drawer has too few colours of which the number is known.
    /// </summary>
    public IReadOnlyDictionary<string, string>? Matching(IReadOnlyCollection<(string Colour, int Count)> colours)
    {
        var there = Of(Use.Pieces).SelectMany(t => t.Colours).GroupBy(c => c.Key).ToDictionary(g => g.Key, g => g.Sum(c => c.Value));
        var matched = colours.Where(c => there.GetValueOrDefault(c.Colour) >= c.Count).ToDictionary(c => c.Colour, c => c.Colour);
        foreach (var (colour, count) in colours.Where(c => !matched.ContainsKey(c.Colour)).OrderByDescending(c => c.Count))
        {
            if (there.Where(t => t.Value >= count && !matched.ContainsValue(t.Key)).OrderByDescending(t => t.Value).ThenBy(t => t.Key).FirstOrDefault() is not { Key: { } other }) return null;
            matched[colour] = other;
        }
        return matched;
    }

    /// <summary>Those colours; else others; else a kind of thing for each colour; else marked ones.</summary>
    private Fetched ForColours(Need need)
    {
        if (Matching(need.Colours) is { } matched)
        {
            ImmutableArray<Material> used = [.. Of(Use.Pieces).Where(t => t.Colours.Keys.Any(matched.Values.Contains))];
            var others = matched.Where(m => m.Key != m.Value).ToList();
            string from = Words.List(used.Select(t => t.Name));
            return others.Count == 0 ? new(need.Says, Standing.There, from, used)
                : new(need.Says, Standing.StandsIn, $"{from}: {Words.List(others.Select(m => $"{m.Value} for {m.Key}"))}", used);
        }
        var kinds = new Dictionary<string, Material>();
        foreach (var (colour, count) in need.Colours.OrderByDescending(c => c.Count))
            if (Of(Use.Pieces).Where(t => t.Count >= count && !kinds.ContainsValue(t)).MinBy(t => t.Count) is { } kind) kinds[colour] = kind;
        if (kinds.Count == need.Colours.Length)
            return new(need.Says, Standing.StandsIn, Words.List(need.Colours.Select(c => $"{kinds[c.Colour].Name} for {c.Colour}")), [.. kinds.Values]);
        var any = ForPieces(need);
        return any.Standing == Standing.There ? any with { Standing = Standing.ToMake, Count = need.Count, Says = $"{any.Says}: put a dot of its colour on each, {Words.List(need.Colours.Select(c => $"{c.Count} {c.Colour}"))}" } : any;
    }

    /// <summary>The smallest heap that is enough; else several together, where they need not be alike; else marks on paper.</summary>
    private Fetched ForPieces(Need need)
    {
        var heaps = Of(Use.Pieces).OrderBy(t => t.Count).ToList();
        if (heaps.Find(t => t.Count >= need.Count) is { } enough) return new(need.Says, Standing.There, enough.Name, [enough]);
        if (!need.Alike && heaps.Sum(t => t.Count) >= need.Count)
        {
            var taken = new List<Material>();
            foreach (var heap in Enumerable.Reverse(heaps))
                if (taken.Sum(t => t.Count) < need.Count) taken.Add(heap);
            return new(need.Says, Standing.There, $"{Words.List(taken.Select(t => t.Name))} together", [.. taken]);
        }
        return ToWriteOn is { } sheet ? new(need.Says, Standing.StandsIn, "marks with a pen, crossed out when they are taken", [sheet]) : new(need.Says, Standing.Missing, $"at most {(need.Alike ? heaps.Select(t => t.Count).DefaultIfEmpty().Max() : heaps.Sum(t => t.Count))} are there", [.. heaps]);
    }
}
