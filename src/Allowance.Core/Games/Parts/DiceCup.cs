using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>The dice of one player, ready to be rolled one after another.</summary>
internal sealed class DiceCup(Dice dice)
{
    private readonly byte[][] faces = [.. dice.All.Select(d => d.Faces.Select(f => (byte)f).ToArray())];

    public int Count => faces.Length;

    public Dice Dice => dice;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(in Rolled rolled, ref Rng rng)
    {
        var die = faces[rolled.Count];
        return die[rng.Below(die.Length)];
    }

    /// <summary>How many rolls are told apart by what they ask, and which of them this is.</summary>
    public int Kinds { get; } = dice.All is [var one, var other] ? (one.Faces.Max() + 1) * (other.Faces.Max() + 1) : dice.Most + 1;

    private readonly int second = dice.All is [_, var other] ? other.Faces.Max() + 1 : 0;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Kind(in Rolled rolled) => second > 0 ? rolled[0] * second + rolled[1] : rolled.Total;

    public IReadOnlyList<Possible> Possibilities(in Rolled rolled) =>
        [.. faces[rolled.Count].GroupBy(f => f).Select(g => new Possible(g.Key, g.Count(), g.Key.ToString()))];

    /// <summary>What a roll asks: how many, or how many together where two dice lie, or more than can be counted.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Ask Asked(in Rolled rolled, Form faces, Support support) => rolled.Count == 2
        ? new Ask(AskKind.Join, Math.Max(rolled[0], rolled[1]), Math.Min(rolled[0], rolled[1]), faces, support)
        : rolled.Count == 1 || faces == Form.Dice ? new Ask(AskKind.Say, rolled.Total, faces, support: support)
        : new Ask(AskKind.Join, rolled.Total, faces, support: support).WithoutNumbers(dice.Most);

    /// <summary>The dice as they lie.</summary>
    public static DiceRolled Lying(in Rolled rolled, Form faces)
    {
        var items = new List<Item>();
        for (int i = 0; i < rolled.Count; i++) items.Add(new(i, rolled[i], CommonKnobs.FaceOf(faces, rolled[i]), ItemState.Up, false));
        return new("The dice", items);
    }
}

/// <summary>What was rolled so far, and its total.</summary>
internal struct Rolled
{
    private uint faces;
    private byte count;

    public int Total;

    public readonly int Count => count;

    public readonly int this[int die] => (int)(faces >> 8 * die & 255);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Add(int face)
    {
        faces |= (uint)face << 8 * count;
        count++;
        Total += face;
    }
}
