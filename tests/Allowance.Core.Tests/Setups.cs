using Allowance.Core.Games;
using Allowance.Core.Materials;
using Allowance.Core.Setups;
using CsCheck;

namespace Allowance.Core.Tests;

/// <summary>Setups for tests: by file, and at random over every knob of a frame.</summary>
internal static class Setups
{
    public static Setup FromJson(string table, string players = "[{}]", string level = "spot")
    {
        var reading = Catalogue.Read($$"""{"format":"allowance-setup/1","game":"partners","level":"{{level}}","table":{{table}},"players":{{players}}}""");
        Assert.Empty(reading.Problems);
        return reading.Setup!;
    }

    /// <summary>Random setups of a frame: each knob left alone or turned to a value of its kind. Many are refused, as they should be.</summary>
    public static Gen<Setup> Random(FrameData frame) =>
        from level in OneOf([.. frame.Levels.Select(l => l.Id)])
        from table in Values(frame, Scope.Table)
        from seats in Gen.Select(Values(frame, Scope.Seat), OneOf([.. frame.Levels.Select(_ => (string?)null), .. frame.Levels.Select(l => (string?)l.Id)]), Gen.Int[0, 5]).List[1, 4]
        select new Setup(frame, level, Build(table), [.. seats.Select((s, i) => new Seat($"p{i}", "", 3 + s.Item3, s.Item3 == 5, s.Item2, Build(s.Item1)))]);

    private static System.Collections.Immutable.ImmutableSortedDictionary<string, KnobValue> Build(List<(string, KnobValue?)> values) =>
        System.Collections.Immutable.ImmutableSortedDictionary.CreateRange(values.Where(v => v.Item2 is not null).Select(v => KeyValuePair.Create(v.Item1, v.Item2!)));

    private static Gen<List<(string, KnobValue?)>> Values(FrameData frame, Scope scope)
    {
        var all = Gen.Const(new List<(string, KnobValue?)>());
        foreach (var knob in frame.Knobs.Where(k => k.Scope.HasFlag(scope)))
            all = Gen.Select(all, Gen.Select(Gen.Int[0, 3], Of(knob.Kind)), (list, turned) => new List<(string, KnobValue?)>(list) { (knob.Id, turned.Item1 == 0 ? turned.Item2 : null) });
        return all;
    }

    private static Gen<KnobValue> Of(KnobKind kind) => kind switch
    {
        WholeKind whole => Gen.Int[whole.Least, whole.Most].Select(n => (KnobValue)new WholeValue(n)),
        FlagKind => Gen.Bool.Select(b => (KnobValue)new FlagValue(b)),
        ChoiceKind choice => OneOf([.. choice.Options.Select(o => (KnobValue)o)]),
        SizeKind => Gen.Select(Gen.Int[1, 6], Gen.Int[1, 6]).Select(s => (KnobValue)new SizeValue(s.Item1, Math.Max(s.Item2, s.Item1 == 1 ? 2 : 1))),
        RangeKind => Gen.Select(Gen.Int[0, 8], Gen.Int[0, 8]).Select(r => (KnobValue)new RangeValue(new(r.Item1, r.Item1 + r.Item2))),
        NumbersKind numbers => Gen.OneOf(
            Gen.Select(Gen.Int[0, 3], Gen.Int[1, 6]).Select(r => (KnobValue)NumbersValue.Range(numbers.Least + r.Item1, numbers.Least + r.Item1 + r.Item2)),
            Gen.Int[numbers.Least, Math.Min(numbers.Most, numbers.Least + 12)].List[3, 9].Select(n => (KnobValue)(n.Distinct().Count() == 2 ? NumbersValue.Range(n.Min(), n.Max()) : new NumbersValue(n)))),
        MemoryKind => Gen.OneOf(Gen.Const(MemoryValue.Nothing), Gen.Const(MemoryValue.Everything), Gen.Int[1, 12]).Select(m => (KnobValue)new MemoryValue(m)),
        RelationKind => Gen.OneOf(
            Gen.Int[0, RelationKind.Usual.Count - 1].Select(i => (KnobValue)RelationKind.Usual[i]),
            Gen.Int[1, 20].Select(t => (KnobValue)new RelationValue(Relation.Partner, t))),
        DiceKind dice => OneOf([.. DiceKind.Usual.Where(d => d.Dice.All.Length <= dice.Most).Select(d => (KnobValue)d)]),
        FormsKind forms => Gen.Int[0, forms.Offered.Count - 1].List[1, 3].Select(f => (KnobValue)new FormsValue(f.Select(i => forms.Offered[i]))),
        CountsKind counts => Gen.Dictionary(Gen.Int[0, Math.Min(12, counts.Most)], Gen.Int[1, 4])[1, 8].Select(c => (KnobValue)new CountsValue(c)),
        ColoursKind => Gen.Dictionary(OneOf<string>(["red", "blue", "green"]), Gen.Int[1, 6])[1, 3].Select(c => (KnobValue)new ColoursValue(c.Select(p => (p.Key, p.Value)))),
        ColourDieKind => OneOf<string>(["red", "blue", "green"]).List[1, 2].List[1, 6].Select(f => (KnobValue)new ColourDieValue(f)),
        SignDieKind => OneOf<char>(['+', '-']).List[1, 6].Select(f => (KnobValue)new SignDieValue(string.Concat(f))),
        DeckKind => Decks.Select(d => (KnobValue)new DeckValue(d)),
        _ => throw new NotSupportedException($"No random values of {kind.GetType().Name} yet."),
    };

    private static Gen<T> OneOf<T>(IReadOnlyList<T> values) => Gen.Int[0, values.Count - 1].Select(i => values[i]);

    private static Gen<Deck> Decks => Gen.OneOf(
        Gen.Select(Gen.Int[1, 5], Gen.Int[5, 13], Gen.Int[1, 2]).Select(d => Deck.Plain(d.Item1, d.Item2, d.Item3)),
        Gen.Dictionary(Gen.Int[0, 14], Gen.Int[1, 6])[2, 9].Select(c => Deck.FromCounts(c)));
}
