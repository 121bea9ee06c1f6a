using Allowance.Core.Games;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using CsCheck;

namespace Allowance.Core.Tests;

/// <summary>Setups for tests: by file, and at random over every knob of a frame.</summary>
internal static class Setups
{
    public static Setup FromJson(string table, string players = "[{}]", string level = "spot", string game = "partners")
    {
        var reading = Catalogue.Read($$"""{"format":"allowance-setup/1","game":"{{game}}","level":"{{level}}","table":{{table}},"players":{{players}}}""");
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

    private static Gen<KnobValue> Of(KnobKind kind) => Gen.ULong.Select(seed =>
    {
        var rng = new Rng(seed);
        return kind.Sample(ref rng);
    });

    private static Gen<T> OneOf<T>(IReadOnlyList<T> values) => Gen.Int[0, values.Count - 1].Select(i => values[i]);
}

/// <summary>Tests name knobs by their ids, as files do.</summary>
internal static class ById
{
    public static KnobValue? Get(this Setup setup, string knob) => setup.Get(setup.Frame.Knob(knob)!);

    public static T Get<T>(this Setup setup, string knob) where T : KnobValue => (T)setup.Get(knob)!;

    public static KnobValue? At(this Setup setup, int seat, string knob) => setup.At(seat, setup.Frame.Knob(knob)!);

    public static T At<T>(this Setup setup, int seat, string knob) where T : KnobValue => (T)setup.At(seat, knob)!;

    public static Setup With(this Setup setup, string knob, KnobValue? value) => setup.With(setup.Frame.Knob(knob)!, value);

    public static Seat With(this Seat seat, string knob, KnobValue value) => seat with { Allowance = seat.Allowance.SetItem(knob, value) };

    /// <summary>What the frame refuses.</summary>
    public static IReadOnlyList<Problem> Problems(this Setup setup)
    {
        Catalogue.Of(setup).Check(setup, out var problems);
        return problems;
    }

    /// <summary>The setup, which must be one that goes.</summary>
    public static Playable Ready(this Setup setup) => Catalogue.Of(setup).Check(setup, out var problems) ?? throw new ArgumentException(string.Join(' ', problems.Select(p => p.Message)));
}
