using System.Runtime.CompilerServices;
using Allowance.Core.Forecasts;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

/// <summary>The heap of one setup, and what each seat rolls. Without a colour die it has one colour, without a name.</summary>
internal sealed record GatherHeap : Seating
{
    public GatherHeap(Setup setup) : base(setup)
    {
        var seats = Enumerable.Range(0, setup.Seats.Length).ToList();
        var die = setup.Get(Gather.Knobs.ColourDie) as ColourDieValue;
        var pieces = setup.Get(Gather.Knobs.Pieces) as ColoursValue;
        Value = die is null ? null : pieces ?? new ColoursValue(die.Faces.SelectMany(f => f).Distinct().Take(Gather.MostColours).Select(c => (c, Gather.UsualOfEach)));
        Colours = Value is null ? [""] : [.. Value.Colours.Select(c => c.Colour)];
        Pieces = Value is null ? [setup.Get(Gather.Knobs.Pool).Number] : [.. Value.Colours.Select(c => c.Count)];
        ColourFaces = die is null ? [] : [.. die.Faces.Select(f => new HeapFace(Array.IndexOf(Colours, f[0]), f.Count > 1 ? Array.IndexOf(Colours, f[1]) : -1))];
        Patches = die is null ? [] : [.. die.Faces.Select(f => f.Select(c => (c, Array.IndexOf(Colours, c) is >= 0 and var lot ? lot : Colours.Length)).ToArray())];
        FaceWords = die is null ? [] : [.. die.Faces.Select(f => string.Join(" or ", f))];
        Signs = (setup.Get(Gather.Knobs.SignDie) as SignDieValue)?.Faces ?? "";
        BesideWords = [.. FaceWords, .. Signs.Select(SignDieValue.InWords)];
        Alike = [.. BesideWords.Select(w => Array.IndexOf(BesideWords, w))];
        (HasBeside, HasSigns) = (Alike.Length > 0, Signs.Length > 0);
        Rounds = (setup.Get(Gather.Knobs.Rounds) as WholeValue)?.Number ?? (Signs.Length > 0 ? Gather.UsualRounds : null);
        Exact = setup.Get(Gather.Knobs.LastTake).Id == "exact";
        Cups = [.. seats.Select(s => new DiceCup(setup.At(s, Gather.Knobs.Dice).Dice))];
        HeadStart = [.. seats.Select(s => setup.At(s, Gather.Knobs.HeadStart).Number)];
        SaysTotal = [.. seats.Select(s => setup.At(s, Gather.Knobs.Total).On)];
        Kinds = Signs.Any(f => f is SignDieValue.Twice or SignDieValue.Half) ? new([]) : new(seats.Select(s => SaysTotal[s] ? (HasSigns ? 2.0 : 1.0) * (Pool + HeadStart.Sum() + 1) * RollKinds(s) : RollKinds(s)));
        CountsAll = [.. Level.Select(l => l is Gather.One or Gather.Two)];
    }

    /// <summary>A turn is told by what was rolled, how many it moved, and where she says the total by that too.</summary>
    public TurnKinds Kinds { get; }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int RollKinds(int seat) => (Cups[seat].Dice.Most + 1) * Cups[seat].Kinds;

    /// <summary>The things by colour; null where they have none.</summary>
    public ColoursValue? Value { get; }

    public string[] Colours { get; }

    /// <summary>How many of each colour.</summary>
    public int[] Pieces { get; }

    public int Pool => Pieces.Sum();

    public HeapFace[] ColourFaces { get; }

    public string[] FaceWords { get; }

    /// <summary>By face of the colour die, its colours, each with its place in the heap; one that no thing has comes after all.</summary>
    public (string Colour, int Kind)[][] Patches { get; }

    /// <summary>What the die beside the dice shows, face by face; and for each face the first one that shows the same.</summary>
    public string[] BesideWords { get; }

    public int[] Alike { get; }

    /// <summary>A colour die or a sign die is rolled beside the dice.</summary>
    public bool HasBeside { get; }

    public bool HasSigns { get; }

    /// <summary>The faces of the sign die; none where there is none.</summary>
    public string Signs { get; }

    /// <summary>Rolls of each player; null where the heap ends it.</summary>
    public int? Rounds { get; }

    public bool Exact { get; }

    public DiceCup[] Cups { get; }

    public int[] HeadStart { get; }

    public bool[] SaysTotal { get; }

    /// <summary>By seat: all dots are counted, also of two dice.</summary>
    public bool[] CountsAll { get; }

    /// <summary>What is known about rolling it away.</summary>
    public HeapFacts Facts => new(Pieces, ColourFaces, [.. Cups.Select(c => c.Dice)], Exact);

    /// <inheritdoc cref="HeapFacts.Taken(int, int)"/>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Taken(int roll, int left) => HeapFacts.Taken(roll, left, Exact);

    /// <inheritdoc cref="HeapFacts.Better(int, int, int, int, int, bool)"/>
    public int Better(int roll, int one, int leftOfOne, int other, int leftOfOther) => HeapFacts.Better(roll, one, leftOfOne, other, leftOfOther, Exact);
}
