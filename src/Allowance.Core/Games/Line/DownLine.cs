using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>Down the Line: roll, and move along a track; first to the end.</summary>
public sealed class DownLine : Frame
{
    public const string Up = "up", Down = "down", Blank = "blank", Numbers = "numbers", Say = "say", Predict = "predict", Back = "back", Two = "two", Before = "before", On = "on";

    public const int MostSections = 1000;

    private static readonly ChoiceKind Finishes = ChoiceKind.Of(("reach", "reaching the end is enough"), ("exact", "only the very number ends it"), ("bounce", "what is left over goes back"));
    private static readonly ChoiceKind Directions = ChoiceKind.Of((Up, "upwards"), (Down, "downwards"));
    private static readonly ChoiceKind LabelChoice = ChoiceKind.Of(("all", "every number"), ("fives", "the fives"), ("ends", "the ends"), ("none", "no number"));
    private static readonly ChoiceKind Begins = ChoiceKind.Of((Before, "before the first number"), (On, "on the first number"));
    private static readonly DiceValue OneDie = new(new Dice(Die.Of(6)));

    public static class Knobs
    {
        public static readonly Knob<WholeValue> Sections = new("sections", "Sections", new WholeKind(1, MostSections, 1.25), new WholeValue(20), Belongs.Length, Scope.Table, Sits.Line, "How long the track is; it starts before the first section and is done on the last.");
        public static readonly Knob<DiceValue> Dice = new("dice", "Dice", new DiceKind(), OneDie, Belongs.Range, Scope.Both, Sits.Dice, "What is rolled and added; at a place: her own dice.", KnobRole.Dice);
        public static readonly Knob<ChoiceValue> Finish = new("finish", "At the end", Finishes, Finishes["reach"], Belongs.Length, Scope.Table, Sits.Line, "Whether a roll past the end ends it, does not move, or goes back.");
        public static readonly Knob<ChoiceValue> Direction = new("direction", "Numbers run", Directions, Directions[Up], Belongs.RuleLevel, Scope.Table, Sits.Line, "Upwards for counting on, downwards for counting back.");
        public static readonly Knob<ChoiceValue> Labels = new("labels", "The track shows", LabelChoice, LabelChoice["all"], Belongs.Form, Scope.Table, Sits.Line, "Which sections bear their number.");
        public static readonly OpenKnob<WholeValue> From = new("from", "First number", new WholeKind(0, MostSections), Belongs.Range, Scope.Table, Sits.Line, "The number on the first section; 1 upwards, or the number of sections downwards, where it is left open.");
        public static readonly Knob<ChoiceValue> Begin = new("begin", "Everyone begins", Begins, Begins[Before], Belongs.RuleLevel, Scope.Table, Sits.Line, "Before the first number, or on it: five back from 30 is 25.");
        public static readonly Knob<WholeValue> HeadStart = new("headStart", "Head start", new WholeKind(0, MostSections), new WholeValue(0), Belongs.Fairness, Scope.Seat, Sits.Place, "Sections she starts further on.", KnobRole.HeadStart);
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(100);
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning("the first at the end", "all together get somebody there");
    }

    public override FrameData Data { get; } = new(
        "downline", "Down the Line", Family.Line, "Roll, and move along the line: first to the end.", "It ends when somebody is at the end.", 1, Engine.MostSeats,
        [Knobs.Sections, Knobs.Dice, CommonKnobs.Faces, Knobs.Finish, Knobs.Direction, Knobs.Labels, Knobs.From, Knobs.Begin, Knobs.HeadStart, Knobs.Range, CommonKnobs.Support, CommonKnobs.First, CommonKnobs.Ending, Knobs.Winning],
        [
            Level.Free(Blank, "A track without numbers", "Say how many, and move that many.", (Knobs.Labels, LabelChoice["none"])),
            Level.Free(Numbers, "With numbers", "Say how many, move, and say where you are."),
            Level.Free(Say, "Each number passed", "Say each number you pass, and the last one.", (Knobs.Labels, LabelChoice["all"])),
            Level.Free(Predict, "Say it first", "Say where you will land before you move."),
            Level.Fixed(Back, "Counting back", "Start high and count back to the end.", [(Knobs.Direction, Directions[Down])], (Knobs.Begin, Begins[On])),
            Level.Free(Two, "Two dice", "Roll two dice, add them, and move.", (Knobs.Dice, new DiceValue(new Dice(Die.Of(6), Die.Of(6)))), (Knobs.Sections, new WholeValue(40))),
        ],
        Numbers, [AskKind.Say, AskKind.On, AskKind.Back, AskKind.Words, AskKind.Join]);

    public override bool ShowsPoints(Setup setup) => false;

    public override bool Matters(Setup setup, Knob knob) => knob != CommonKnobs.Ending || setup.Seats.Length > 1;

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        var problems = new List<Problem>();
        var track = new DownLineTrack(setup);
        if (!track.Upwards && track.From < track.Length - 1)
            problems.Add(new("table.from", $"Downwards from {track.From} the numbers end before {Words.Count(track.Length, "section")} do.", track.Length));
        if (track.From + track.Length > 1001)
            problems.Add(new("table.from", "The numbers on the track would go beyond 1000.", Math.Max(0, 1000 - track.Length)));
        for (int s = 0; s < setup.Seats.Length; s++)
        {
            if (setup.Against(s).Any()) problems.Add(new($"players[{s}].allowance.level", "One track is for all, and here the numbers run upwards.", setup.LevelId));
            var (dice, start) = (track.Dice[s], track.Start[s]);
            string at = setup.Path(s, Knobs.Dice);
            if (dice.Most == 0) problems.Add(new(at, "With nothing but zeros nobody moves.", OneDie.ToJson()));
            else if (track.Origin >= track.Length) problems.Add(new("table.sections", $"Whoever begins on the first of {Words.Count(track.Length, "section")} is there already.", track.Origin + 1));
            else if (start >= track.Length) problems.Add(new($"players[{s}].allowance.headStart", $"A head start of {setup.At(s, Knobs.HeadStart)} is the whole track.", track.Length - 1 - track.Origin));
            else if (!RaceFacts.Ends(dice, start, track.Length, track.Finish))
                problems.Add(new("table.finish", $"With {setup.At(s, Knobs.Dice)} it might never end: some places lead nowhere. One die goes, or \"reach\", or \"bounce\" where it does.", "reach"));
        }
        return [.. problems.DistinctBy(p => p.Path)];
    }

    protected internal override Game Compile(Setup setup) => new Game<RollRules<DownLineGame, DownLineAt>, RollState<DownLineAt>>(setup, new(new(new(setup))));

    public override IReadOnlyList<Need> Needs(Setup setup)
    {
        var track = new DownLineTrack(setup);
        return [new("tracks", 1), Need.For(track.Dice.Zip(track.Faces)), new("pieces", setup.Seats.Length)];
    }

    public override IReadOnlyList<string> GetReady(Setup setup)
    {
        var track = new DownLineTrack(setup);
        return
        [
            setup.Get(Knobs.Labels).Id == "none" ? $"Draw a track of {Words.Count(track.Length, "section")} without numbers." : $"Draw a track of {Words.Count(track.Length, "section")}, numbered {track.NumberAt(1)} to {track.NumberAt(track.Length)}; show {setup.Get(Knobs.Labels)}.",
            $"Everyone starts {(track.Origin == 0 ? "before the first section" : $"on {track.NumberAt(1)}")}." + (track.Start.Any(s => s > track.Origin) ? " " + string.Join(" ", Enumerable.Range(0, track.Start.Length).Where(s => track.Start[s] > track.Origin).Select(s => $"{Words.Capital(setup.Who(s))} starts on {track.NumberAt(track.Start[s])}.")) : ""),
        ];
    }

    /// <summary>Each player alone, and who is first; averaged over who begins where that is drawn or goes round.</summary>
    protected internal override Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var track = new DownLineTrack(setup);
        var (wins, turns) = Race(setup, track, track.Length, spending);
        return new Facts
        {
            ["turnsMean"] = Alone(track),
            ["winChance"] = new ListFact([.. wins.Select(w => new NumberFact(w))]),
            Turns = turns,
            AimReached = 1,
        };
    }

    private static ListFact Alone(DownLineTrack track) =>
        new([.. track.Dice.Select((d, s) => new NumberFact(RaceFacts.MeanTurns(d, track.Start[s], track.Length, track.Finish)))]);

    /// <summary>How long each takes alone is soon counted; who is first is played.</summary>
    protected internal override Facts PlayedFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var track = new DownLineTrack(setup);
        int seats = setup.Seats.Length;
        var beginners = setup.Beginners;
        var facts = new Facts { ["turnsMean"] = Alone(track), AimReached = 1 };
        var game = new DownLineGame(track);
        if (PlayedGames.Play<RollRules<DownLineGame, DownLineAt>, RollState<DownLineAt>>(new(game), behaviour, n => beginners[n % beginners.Length], seats, ReadEnd, spending) is { } wins)
            facts["winChance"] = new ListFact([.. wins.Select(w => w.Mean)]);
        return facts;

        // Where a round is played to its end, several may be there, and then nobody is first.
        void ReadEnd(in RollState<DownLineAt> state, bool over, Span<double> figures)
        {
            if (!over) return;
            int most = 0, holders = 0;
            for (int s = 0; s < seats; s++) most = Math.Max(most, game.Points(in state.At, s));
            for (int s = 0; s < seats; s++) holders += game.Points(in state.At, s) == most ? 1 : 0;
            for (int s = 0; s < seats; s++) figures[s] = holders == 1 && game.Points(in state.At, s) == most ? 1 : 0;
        }
    }

    private static (IReadOnlyList<double> Wins, Pmf Turns) Race(Setup setup, DownLineTrack track, int length, Spending spending)
    {
        // Equal players have equal distributions; each is worked out once.
        var known = new Dictionary<(Dice, int), Pmf>();
        var alone = track.Dice.Select((d, s) => known.TryGetValue((d, track.Start[s]), out var pmf) ? pmf : known[(d, track.Start[s])] = RaceFacts.Turns(d, track.Start[s], length, track.Finish, spending)).ToList();
        var races = track.EqualGoes ? [RaceFacts.Equal(alone)] : setup.Beginners.Select(b => RaceFacts.First(alone, b)).ToList();
        return ([.. Enumerable.Range(0, alone.Count).Select(s => races.Average(r => r.Wins[s]))], new Pmf([.. Enumerable.Range(0, races.Max(r => r.Turns.Length)).Select(t => races.Average(r => r.Turns[t]))]));
    }

    /// <summary>More sections than this nobody draws.</summary>
    private const int MostDrawn = 60;

    /// <summary>The track on which a game takes ten minutes: turns grow evenly with sections, so two lengths tell the third.</summary>
    private static string ForTenMinutes(Setup setup, Facts facts, double secondsATurn, Spending spending)
    {
        var track = new DownLineTrack(setup);
        if (secondsATurn <= 0 || facts.Turns is not { Mean: > 0 and var turns } || track.Start.Any(s => s > track.Origin)) return "";
        double wanted = TenMinutes / secondsATurn;
        int guess = (int)Math.Clamp(Math.Round(track.Length * wanted / turns), 2, MostSections);
        if (guess == track.Length || track.Finish != Finish.Reach) return guess == track.Length ? " That is about ten minutes." : "";
        double there = Race(setup, track, guess, spending).Turns.Mean;
        double sections = track.Length + (guess - track.Length) * (wanted - turns) / (there - turns);
        return sections is >= 1 and <= MostDrawn ? $" For about ten minutes draw {Words.Count((int)Math.Round(sections), "section")}." : SuchGames(turns, secondsATurn);
    }

    protected internal override IReadOnlyList<string> SimulatedFacts(Setup setup) => [];

    protected internal override (string Heading, string Says)? InWords(Setup setup, Facts facts, double secondsATurn, Spending spending) => facts.Find("turnsMean") is ListFact { Items: var turns }
        ? ("Down the line", $"{Words.Sentence(Words.List(turns.Select((t, s) => $"{(turns.Count == 1 ? "" : $"{setup.Who(s)} takes ")}{Words.About(((NumberFact)t).Value, "roll")} to the end")))}{ForTenMinutes(setup, facts, secondsATurn, spending)}") : null;

    protected internal override IReadOnlyList<Journey> Journeys(Setup setup, Spending spending)
    {
        var track = new DownLineTrack(setup);
        return [.. Apart(setup, s => (track.Dice[s], track.Start[s])).Select(p => RaceFacts.Journey(p.Whose, track.Dice[p.Seat], track.Start[p.Seat], track.Length, track.Finish))];
    }

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) => Steps(setup, seat, Knobs.Dice);

    public override KnobValue? LeftOpen(Setup setup, Knob knob) => knob == Knobs.From ? new WholeValue(new DownLineTrack(setup).From) : null;

    public override string Summary(Setup setup) => $"{setup.Get(Knobs.Sections)} sections, {setup.Get(Knobs.Direction)}, {setup.Get(Knobs.Dice)}";

    public override string Summary(Setup setup, int seat) => OwnDice(setup, seat, OwnLevel(setup, seat));
}

/// <summary>The track of one setup, and what each seat rolls and is asked.</summary>
internal sealed record DownLineTrack : Seating
{
    public DownLineTrack(Setup setup) : base(setup)
    {
        Length = setup.Get(DownLine.Knobs.Sections).Number;
        Finish = Enum.Parse<Finish>(setup.Get(DownLine.Knobs.Finish).Id, true);
        Upwards = setup.Get(DownLine.Knobs.Direction).Id == DownLine.Up;
        From = setup.Get(DownLine.Knobs.From) is WholeValue given ? given.Number : Upwards ? 1 : Length;
        Labels = Enum.Parse<LineLabels>(setup.Get(DownLine.Knobs.Labels).Id, true);
        EqualGoes = setup.Get(CommonKnobs.Ending).Id == CommonKnobs.EqualGoes;
        int seats = setup.Seats.Length;
        Dice = [.. Enumerable.Range(0, seats).Select(s => setup.At(s, DownLine.Knobs.Dice).Dice)];
        Origin = setup.Get(DownLine.Knobs.Begin).Id == DownLine.On ? 1 : 0;
        Start = [.. Enumerable.Range(0, seats).Select(s => Origin + setup.At(s, DownLine.Knobs.HeadStart).Number)];
        var cups = Dice.Select(d => new DiceCup(d)).ToList();
        Places = [.. Enumerable.Range(0, seats).Select(s => new DownLineSeat(cups[s], Support[s], GrownUp[s], Level[s] != DownLine.Blank, Level[s] == DownLine.Say))];
        Kinds = new(Places.Select(p => p.SaysWhere ? (Length + 1.0) * p.Cup.Kinds : p.Cup.Kinds));
    }

    public int Length { get; }

    public Finish Finish { get; }

    public bool Upwards { get; }

    /// <summary>A round is played to its end.</summary>
    public bool EqualGoes { get; }

    /// <summary>The number on the first section.</summary>
    public int From { get; }

    public LineLabels Labels { get; }

    public Dice[] Dice { get; }

    /// <summary>Where everyone begins who has no head start: before the first section, 0, or on it, 1.</summary>
    public int Origin { get; }

    public int[] Start { get; }

    public DownLineSeat[] Places { get; }

    /// <summary>A turn is told by what she rolled, and by where she is if she says where she comes to.</summary>
    public TurnKinds Kinds { get; }

    /// <summary>Where a roll leads from a place.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Land(int place, int roll) => RaceFacts.Land(place, roll, Length, Finish);

    /// <summary>The number at a place, 0 being before the first section; −1 where that has none.</summary>
    public int NumberAt(int place) => Upwards ? From - 1 + place : From + 1 - place;
}

/// <summary>One seat, as the inner loop needs it.</summary>
/// <param name="SaysWhere">She says where she comes to; <paramref name="SaysAll"/>: and each number on the way.</param>
internal sealed record DownLineSeat(DiceCup Cup, Support Support, bool GrownUp, bool SaysWhere, bool SaysAll);

internal struct DownLineAt
{
    /// <summary>Who began.</summary>
    public byte First;

    /// <summary>Somebody is at the end.</summary>
    public bool Done;
    public EightCounts Place;
}

/// <summary>Down the Line: everyone moves her own piece by what she rolled.</summary>
internal readonly struct DownLineGame(DownLineTrack track) : IRollGame<DownLineAt>
{
    public int Seats => track.Seats;

    public int TurnKinds => track.Kinds.All;

    public void Start(ref DownLineAt at, int first)
    {
        at.First = (byte)first;
        for (int seat = 0; seat < Seats; seat++) Join(ref at, seat);
    }

    public void Join(ref DownLineAt at, int seat) => at.Place[seat] = (short)track.Start[seat];

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public DiceCup Cup(in DownLineAt at, int seat) => track.Places[seat].Cup;

    public Form Faces(int seat) => track.Faces[seat];

    /// <summary>How many were rolled; and, where the track has numbers for it, where that leads.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(int seat, in DownLineAt at, in Rolled rolled, Span<SeatAsk> into)
    {
        var mover = track.Places[seat];
        if (mover.GrownUp) return 0;
        into[0] = new(seat, mover.Cup.Asked(in rolled, track.Faces[seat], mover.Support));
        if (!mover.SaysWhere) return 1;
        int here = track.NumberAt(at.Place[seat]), there = track.NumberAt(track.Land(at.Place[seat], rolled.Total));
        if (here < 0 || here == there || there < 0) return 1;
        into[1] = new(seat, mover.SaysAll ? new Ask(AskKind.Words, here, there, Form.None, mover.Support)
            : there > here ? new Ask(AskKind.On, here, there - here, Form.Line, mover.Support)
            : new Ask(AskKind.Back, here, here - there, Form.Line, mover.Support));
        return 2;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int TurnKind(int seat, in DownLineAt at, in Rolled rolled)
    {
        var mover = track.Places[seat];
        int roll = track.Kinds[seat] + mover.Cup.Kind(in rolled);
        return mover.SaysWhere ? roll + at.Place[seat] * mover.Cup.Kinds : roll;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public bool Move(ref Head head, ref DownLineAt at, int roll)
    {
        int to = track.Land(at.Place[head.Mover], roll);
        at.Place[head.Mover] = (short)to;
        at.Done |= to == track.Length;
        if (!at.Done || track.EqualGoes) head.NextMover();
        return at.Done && (!track.EqualGoes || head.Mover == Beginner(in head, in at));
    }

    /// <summary>With whom a round begins: who began, or the next who is here.</summary>
    private int Beginner(in Head head, in DownLineAt at)
    {
        int seat = at.First;
        while (!head.Plays(seat)) seat = (seat + 1) % Seats;
        return seat;
    }

    public bool Settle(ref Head head, ref DownLineAt at) => false;

    public int Points(in DownLineAt at, int seat) => at.Place[seat];

    public bool AimReached(in DownLineAt at)
    {
        for (int seat = 0; seat < Seats; seat++)
            if (at.Place[seat] == track.Length) return true;
        return false;
    }

    public int Left(int seat, in DownLineAt at) => track.Length - at.Place[seat];

    public int Things => Seats;

    public Zone Board(in Head head, in DownLineAt at)
    {
        var pieces = new List<Piece>();
        for (int seat = 0; seat < Seats; seat++) pieces.Add(new(seat, at.Place[seat]));
        return new Track("The track", track.Length, track.NumberAt(1), track.Upwards ? 1 : -1, track.Labels, pieces);
    }

    public string Says(in Head head, in DownLineAt at) => head.Phase switch
    {
        StepKind.Over => "The end of the line.",
        StepKind.Chance => "Roll.",
        _ => track.Level[head.Mover] switch
        {
            DownLine.Blank => "How many? Move that many.",
            DownLine.Say => "Move, and say each number.",
            DownLine.Predict => "Where will you land?",
            _ => "How many? Where are you then?",
        },
    };

    public string Tells(int seat, in DownLineAt before, int roll) =>
        $"rolled {roll}, from {(before.Place[seat] == 0 ? "the start" : track.NumberAt(before.Place[seat]))} to {track.NumberAt(track.Land(before.Place[seat], roll))}";
}
